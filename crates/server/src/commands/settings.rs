//! Settings of the program: flags, then the environment, then one file.

use std::net::SocketAddr;
use std::path::PathBuf;

use clap::Args;
use ipnet::IpNet;
use serde::Deserialize;

use super::{Failure, files};
use crate::Rate;
use crate::certificate::Certificate;

const DATABASE: &str = "var/cimento.db";
const WEB: &str = "web/dist";
const PORT: u16 = 8420;

/// Where the school is kept.
#[derive(Args)]
pub(super) struct Kept {
    /// A file of settings: what is set here by flag or environment, as TOML, such as listen = "0.0.0.0:8420".
    #[arg(long, env = "CIMENTO_CONFIG", global = true)]
    config: Option<PathBuf>,
    /// The database file [default: var/cimento.db].
    #[arg(long, env = "CIMENTO_DATABASE", global = true)]
    database: Option<PathBuf>,
}

/// Who is served, and how.
#[derive(Args, Deserialize, Default)]
#[serde(default, deny_unknown_fields, rename_all = "kebab-case")]
pub(super) struct Serving {
    /// In the file; the flag is every command's.
    #[arg(skip)]
    database: Option<PathBuf>,
    /// Folder of the built page [default: web/dist].
    #[arg(long, env = "CIMENTO_WEB")]
    web: Option<PathBuf>,
    /// Address and port that are listened on, such as 0.0.0.0:8420 for a whole network [default: 127.0.0.1:8420].
    #[arg(long, env = "CIMENTO_LISTEN", conflicts_with = "port")]
    listen: Option<SocketAddr>,
    /// The same on this machine alone: a port; 0 takes a free one.
    #[arg(long)]
    port: Option<u16>,
    /// The server's certificate with its chain (PEM): then it is asked by HTTPS.
    #[arg(long, env = "CIMENTO_CERTIFICATE", requires = "certificate_key")]
    certificate: Option<PathBuf>,
    /// The certificate's private key (PEM).
    #[arg(long, env = "CIMENTO_CERTIFICATE_KEY", requires = "certificate")]
    certificate_key: Option<PathBuf>,
    /// A proxy, or a network of them, that is believed when it says for whom it asks; several with commas.
    #[arg(long, env = "CIMENTO_TRUSTED_PROXY", value_delimiter = ',')]
    trusted_proxy: Option<Vec<IpNet>>,
    /// Questions a second that one person may ask for long [default: 20].
    #[arg(long, env = "CIMENTO_RATE")]
    rate: Option<f64>,
    /// Whether a lesson is thought through when it is made, given out or begun, before anybody waits for that; without, on a
    /// machine with little to spare, marks come later [default: true].
    #[arg(long, env = "CIMENTO_THINK_AHEAD")]
    think_ahead: Option<bool>,
    /// What is logged: off, error, warn, info (a line a request) or debug [default: info].
    #[arg(long, env = "CIMENTO_LOG")]
    log: Option<String>,
}

/// Settings as they are used.
pub(super) struct Settings {
    pub(super) web: PathBuf,
    pub(super) listen: SocketAddr,
    pub(super) certificate: Option<Certificate>,
    pub(super) proxies: Vec<IpNet>,
    pub(super) rate: Rate,
    pub(super) thinks_ahead: bool,
    pub(super) log: Option<String>,
}

impl Kept {
    fn file(&self) -> Result<Serving, Failure> {
        let Some(path) = &self.config else {
            return Ok(Serving::default());
        };
        let bad = |e| Failure::BadInput(format!("{}: {e}", path.display()));
        toml::from_str(&files::text(path)?).map_err(bad)
    }

    /// The database file.
    pub(super) fn database(&self) -> Result<PathBuf, Failure> {
        let given = match &self.database {
            Some(given) => Some(given.clone()),
            None => self.file()?.database,
        };
        Ok(given.unwrap_or_else(|| DATABASE.into()))
    }

    /// All settings.
    pub(super) fn settings(&self, flags: &Serving) -> Result<Settings, Failure> {
        let file = self.file()?;
        let bad = Failure::BadInput;
        let port = |port: Option<u16>| port.map(|p| SocketAddr::from(([127, 0, 0, 1], p)));
        let listen = flags.listen.or(port(flags.port));
        let listen = listen
            .or(file.listen)
            .or(port(file.port))
            .or(port(Some(PORT)));
        let both = |of: &Serving| of.certificate.clone().zip(of.certificate_key.clone());
        if file.certificate.is_some() != file.certificate_key.is_some() {
            let text =
                "the file of settings names one of certificate and certificate-key: name both";
            return Err(bad(text.to_owned()));
        }
        let certificate = match both(flags).or(both(&file)) {
            Some((chain, key)) => {
                Some(Certificate::read(&chain, &key).map_err(|e| bad(e.to_string()))?)
            }
            None => None,
        };
        let per_s = flags.rate.or(file.rate);
        if per_s.is_some_and(|r| !(0.1..=1e9).contains(&r)) {
            return Err(bad(
                "rate: expected 0.1 to 1e9 questions a second".to_owned()
            ));
        }
        let usual = Rate::default();
        let rate = per_s.map_or(usual, |per_s| Rate {
            burst: usual.burst.max(10.0 * per_s),
            per_s,
        });
        Ok(Settings {
            web: flags.web.clone().or(file.web).unwrap_or_else(|| WEB.into()),
            listen: listen.ok_or_else(|| bad("nothing to listen on".to_owned()))?,
            certificate,
            proxies: flags
                .trusted_proxy
                .clone()
                .or(file.trusted_proxy)
                .unwrap_or_default(),
            rate,
            thinks_ahead: flags.think_ahead.or(file.think_ahead).unwrap_or(true),
            log: flags.log.clone().or(file.log),
        })
    }
}
