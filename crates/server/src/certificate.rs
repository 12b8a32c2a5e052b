//! The server's own certificate: read when it starts, and again when its files were renewed.

use std::io;
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant, SystemTime};

use rustls::ServerConfig;
use rustls::crypto::ring;
use rustls::pki_types::pem::PemObject;
use rustls::pki_types::{CertificateDer, PrivateKeyDer};
use rustls::server::{ClientHello, ResolvesServerCert};
use rustls::sign::CertifiedKey;
use thiserror::Error;
use tokio_rustls::TlsAcceptor;

/// How often it is looked whether the files were renewed.
const LOOKS: Duration = Duration::from_secs(60);

/// A certificate that cannot be served with.
#[derive(Debug, Error)]
pub enum CertificateError {
    #[error("{path}: {why}: expected a certificate with its chain as PEM")]
    Chain { path: String, why: String },
    #[error("{path}: {why}: expected a private key as PEM")]
    Key { path: String, why: String },
    #[error("the certificate {chain} and the key {key} do not go together: {why}")]
    Pair {
        chain: String,
        key: String,
        why: String,
    },
}

/// A certificate with its key; cheap to clone.
#[derive(Clone)]
pub struct Certificate {
    pub(crate) acceptor: TlsAcceptor,
}

impl Certificate {
    /// Reads a chain and a key.
    ///
    /// # Errors
    /// Which of the two is not what it should be, or that they do not belong together.
    pub fn read(chain: &Path, key: &Path) -> Result<Self, CertificateError> {
        let files = Files {
            chain: chain.to_owned(),
            key: key.to_owned(),
        };
        let held = Held {
            key: files.read()?,
            written: files.written(),
            looked: Instant::now(),
        };
        let provider = Arc::new(ring::default_provider());
        let mut config = ServerConfig::builder_with_provider(provider)
            .with_safe_default_protocol_versions()
            .map_err(|e| files.pair(&e.to_string()))?
            .with_no_client_auth()
            .with_cert_resolver(Arc::new(Renewed {
                files,
                held: Mutex::new(held),
            }));
        config.alpn_protocols = vec![b"http/1.1".to_vec()];
        Ok(Self {
            acceptor: TlsAcceptor::from(Arc::new(config)),
        })
    }
}

#[derive(Debug)]
struct Files {
    chain: PathBuf,
    key: PathBuf,
}

impl Files {
    fn pair(&self, why: &str) -> CertificateError {
        CertificateError::Pair {
            chain: self.chain.display().to_string(),
            key: self.key.display().to_string(),
            why: why.to_owned(),
        }
    }

    fn read(&self) -> Result<Arc<CertifiedKey>, CertificateError> {
        let no_chain = |why: String| CertificateError::Chain {
            path: self.chain.display().to_string(),
            why,
        };
        let chain = CertificateDer::pem_file_iter(&self.chain);
        let chain = chain.and_then(Iterator::collect::<Result<Vec<_>, _>>);
        let chain = chain.map_err(|e| no_chain(e.to_string()))?;
        if chain.is_empty() {
            return Err(no_chain("it holds none".to_owned()));
        }
        let key = PrivateKeyDer::from_pem_file(&self.key);
        let key = key.map_err(|e| CertificateError::Key {
            path: self.key.display().to_string(),
            why: e.to_string(),
        })?;
        let both = CertifiedKey::from_der(chain, key, &ring::default_provider());
        Ok(Arc::new(both.map_err(|e| self.pair(&e.to_string()))?))
    }

    fn written(&self) -> Option<(SystemTime, SystemTime)> {
        let at = |path: &Path| -> io::Result<SystemTime> { std::fs::metadata(path)?.modified() };
        Some((at(&self.chain).ok()?, at(&self.key).ok()?))
    }
}

#[derive(Debug)]
struct Held {
    key: Arc<CertifiedKey>,
    written: Option<(SystemTime, SystemTime)>,
    looked: Instant,
}

#[derive(Debug)]
struct Renewed {
    files: Files,
    held: Mutex<Held>,
}

impl ResolvesServerCert for Renewed {
    fn resolve(&self, _: ClientHello<'_>) -> Option<Arc<CertifiedKey>> {
        let mut held = self.held.lock().unwrap_or_else(PoisonError::into_inner);
        if held.looked.elapsed() >= LOOKS {
            held.looked = Instant::now();
            let written = self.files.written();
            if written != held.written {
                // One of the two may be written before the other: then it is tried again.
                match self.files.read() {
                    Ok(key) => {
                        held.key = key;
                        held.written = written;
                    }
                    Err(e) => tracing::warn!("the old certificate is kept: {e}"),
                }
            }
        }
        Some(Arc::clone(&held.key))
    }
}
