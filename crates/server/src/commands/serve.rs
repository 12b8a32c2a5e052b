//! `cimento serve` and `cimento backup`.

use std::io::{ErrorKind, Write as _};
use std::path::{Path, PathBuf};
use std::time::Duration;

use cimento_store::{Held, Hold, Store, StoreError, check, hold, rescued};
use clap::Args;
use tokio::net::TcpListener;
use tracing_subscriber::EnvFilter;

use super::Failure;
use super::settings::{Kept, Serving, Settings};
use crate::clock::{RECORDED, stamp};
use crate::connections::{self, Limits};
use crate::routes::erase_old;
use crate::state::WORKS;
use crate::{AppState, passwords, router};

/// How long the last answers may take when the program is to end.
const LAST_ANSWERS: Duration = Duration::from_secs(3);
/// How often it is looked for what has been kept for its time.
const DAY: Duration = Duration::from_secs(24 * 3600);
/// What the name of a copy begins with.
const COPY: &str = "cimento-";
/// Files of the page read at once.
const FILES: usize = 6;

#[derive(Args)]
pub(super) struct ServeArgs {
    #[command(flatten)]
    kept: Kept,
    #[command(flatten)]
    serving: Serving,
}

#[derive(Args)]
pub(super) struct BackupArgs {
    #[command(flatten)]
    kept: Kept,
    /// The file to write, which must not be there yet; with --keep the folder that copies are kept in.
    to: PathBuf,
    /// Keep so many copies in a folder, each named after its time; older ones of them are thrown away.
    #[arg(long)]
    keep: Option<std::num::NonZeroUsize>,
}

pub(super) fn serve(args: &ServeArgs) -> Result<(), Failure> {
    let settings = args.kept.settings(&args.serving)?;
    let database = args.kept.database()?;
    let (_held, store) = to_serve(&database)?;
    run(settings, store, "info", &[])
}

pub(super) fn backup(args: &BackupArgs) -> Result<(), Failure> {
    let bad = |text: String| Failure::BadInput(text);
    let database = args.kept.database()?;
    let from = database.display();
    if !database.is_file() {
        return Err(bad(format!("there is no database {from}")));
    }
    let to = match args.keep {
        None => args.to.clone(),
        Some(_) => {
            std::fs::create_dir_all(&args.to)
                .map_err(|e| bad(format!("{}: {e}", args.to.display())))?;
            args.to.join(format!("{COPY}{}.db", stamp()))
        }
    };
    open(&database)?
        .backup(&to)
        .map_err(|e| bad(e.to_string()))?;
    println!("{from} copied to {}", to.display());
    if let Some(keep) = args.keep {
        for old in beyond(&args.to, keep.get())? {
            std::fs::remove_file(&old).map_err(|e| bad(format!("{}: {e}", old.display())))?;
            println!("{} thrown away", old.display());
        }
    }
    Ok(())
}

/// Copies in a folder that are more than so many, the oldest; other files are none of this program's.
fn beyond(folder: &Path, keep: usize) -> Result<Vec<PathBuf>, Failure> {
    let bad = |e: std::io::Error| Failure::BadInput(format!("{}: {e}", folder.display()));
    let mut copies = Vec::new();
    for entry in std::fs::read_dir(folder).map_err(bad)? {
        let entry = entry.map_err(bad)?;
        let name = entry.file_name().to_string_lossy().into_owned();
        if name.starts_with(COPY) && name.ends_with(".db") {
            copies.push(entry.path());
        }
    }
    // They are named after their times.
    copies.sort();
    copies.truncate(copies.len().saturating_sub(keep));
    Ok(copies)
}

/// Opens a database for a server: it is looked at first, and held as long as the server works on it.
pub(super) fn to_serve(database: &Path) -> Result<(Held, Store), Failure> {
    let bad = |e: StoreError| Failure::BadInput(e.to_string());
    if let Some(folder) = database.parent() {
        std::fs::create_dir_all(folder)
            .map_err(|e| Failure::BadInput(format!("{}: {e}", folder.display())))?;
    }
    // An empty school in the place of one that was moved or deleted would hide what was kept of it.
    if let Some(copy) = rescued(database) {
        return Err(Failure::BadInput(format!(
            "{} is not there, and what was stored in it is kept as {}. Put it back: cimento restore {} --database {}",
            database.display(),
            copy.display(),
            copy.display(),
            database.display()
        )));
    }
    let held = hold(database, Hold::Shared).map_err(bad)?;
    // A file that was copied over while a server worked on it, or a disk that lost some of it.
    if database.is_file() && std::fs::metadata(database).is_ok_and(|m| m.len() > 0) {
        let whole = check(database);
        whole.map_err(|e| match e {
            StoreError::Damaged(_) => Failure::BadInput(format!(
                "{e}. Put a copy in its place: cimento restore COPY --database {}",
                database.display()
            )),
            e => bad(e),
        })?;
    }
    Ok((held, Store::open(database).map_err(bad)?))
}

pub(super) fn open(database: &Path) -> Result<Store, Failure> {
    Store::open(database).map_err(|e| Failure::BadInput(e.to_string()))
}

/// Serves until it is told to end, and logs at a level unless the settings name another.
pub(super) fn run(
    settings: Settings,
    store: Store,
    level: &str,
    hints: &[String],
) -> Result<(), Failure> {
    let index = settings.web.join("index.html");
    if !index.is_file() {
        return Err(Failure::BadInput(format!(
            "the page is not built: {} is missing; run `make build` first",
            index.display()
        )));
    }
    let level = settings.log.as_deref().unwrap_or(level);
    tracing_subscriber::fmt()
        .with_env_filter(log_filter(level)?)
        .with_ansi(false)
        .with_target(false)
        .with_writer(std::io::stderr)
        .init();
    // As many threads as there is work at once, and some for the files of the page: what waits needs none.
    let runtime = tokio::runtime::Builder::new_multi_thread()
        .enable_all()
        .max_blocking_threads(WORKS + FILES)
        .build()
        .map_err(|e| Failure::BadInput(e.to_string()))?;
    let closing = store.clone();
    runtime.block_on(async {
        let listener = listen(&settings).await?;
        let bound = listener.local_addr().map_err(|e| Failure::BadInput(e.to_string()))?;
        let secure = settings.certificate.is_some();
        let how = if secure { "https" } else { "http" };
        let mut said = vec![format!("Cimento is ready at {how}://{bound}")];
        if !secure && !bound.ip().is_loopback() && settings.proxies.is_empty() {
            said.push("  without a certificate, whoever is on this network can read what goes over it, passwords too: give --certificate, or put a proxy before it that has one".to_owned());
        }
        let empty = store.is_empty().map_err(|e| Failure::BadInput(e.to_string()))?;
        let code = empty.then(passwords::made);
        if let Some(code) = &code {
            said.push(format!("  nobody is in this school yet: open it there with the code {code}"));
        }
        said.extend(hints.iter().map(|hint| format!("  sign in as {hint}")));
        // Whoever started it may have read the first line and gone.
        let _ = writeln!(std::io::stdout(), "{}", said.join("\n"));
        let state = AppState::new(store.clone(), settings.web)
            .with_rate(settings.rate)
            .thinking_ahead(settings.thinks_ahead)
            .behind(settings.proxies);
        let state = match &code {
            Some(code) => state.to_open(code),
            None => state,
        };
        tokio::spawn(erase_daily(state.clone()));
        tokio::spawn(keep_time(state.clone()));
        let (tell, mut told) = tokio::sync::watch::channel(false);
        let end = async move {
            let _ = told.wait_for(|end| *end).await;
        };
        let limits = Limits::of_this_machine();
        let serving = connections::serve(listener, router(state), limits, settings.certificate, end);
        // What is being answered is answered; who only listens is not waited for.
        let ending = async {
            asked_to_end().await;
            let _ = tell.send(true);
            tokio::time::sleep(LAST_ANSWERS).await;
        };
        tokio::select! {
            served = serving => served.map_err(|e| Failure::BadInput(format!("the server stopped: {e}"))),
            () = ending => Ok(()),
        }
    })?;
    // A computation that is going on is not waited for either: it is begun anew when it is asked for again.
    runtime.shutdown_background();
    closing
        .checkpoint()
        .map_err(|e| Failure::Finding(e.to_string()))
}

/// Erases what has been kept for its time, when it starts and each day.
async fn erase_daily(state: AppState) {
    let mut days = tokio::time::interval(DAY);
    loop {
        days.tick().await;
        match state.work(erase_old).await {
            Ok(0) => {}
            Ok(erased) => tracing::info!("{erased} attempts were kept for their time and erased"),
            Err(problem) => tracing::error!("old work was not erased: {}", problem.detail),
        }
    }
}

/// Puts on record how much time has passed, while somebody works by it.
async fn keep_time(state: AppState) {
    let mut ticks = tokio::time::interval(RECORDED);
    loop {
        ticks.tick().await;
        if let Err(problem) = state.work(|s| Ok(s.passing.keep(&s.store)?)).await {
            tracing::error!("the time that has passed was not kept: {}", problem.detail);
        }
    }
}

/// What is logged: of this program at a level, of what it stands on what is wrong.
fn log_filter(level: &str) -> Result<EnvFilter, Failure> {
    let known = ["off", "error", "warn", "info", "debug"];
    if !known.contains(&level) {
        let known = known.join(", ");
        return Err(Failure::BadInput(format!(
            "log: expected one of {known}, found {level}"
        )));
    }
    let others = if level == "off" { "off" } else { "error" };
    Ok(EnvFilter::new(format!("{others},cimento_server={level}")))
}

async fn listen(settings: &Settings) -> Result<TcpListener, Failure> {
    let address = settings.listen;
    TcpListener::bind(address).await.map_err(|e| {
        Failure::BadInput(match e.kind() {
            ErrorKind::AddrInUse => format!(
                "port {} is in use by another program: stop it, or choose another with --listen (PORT=8421 make demo)",
                address.port()
            ),
            ErrorKind::AddrNotAvailable => {
                format!("{} is no address of this machine", address.ip())
            }
            _ => format!("{address} cannot be listened on: {e}"),
        })
    })
}

/// Somebody, or the system, ends the program.
async fn asked_to_end() {
    let interrupted = tokio::signal::ctrl_c();
    #[cfg(unix)]
    {
        use tokio::signal::unix::{SignalKind, signal};
        if let Ok(mut terminated) = signal(SignalKind::terminate()) {
            tokio::select! {
                _ = interrupted => {}
                _ = terminated.recv() => {}
            }
            return;
        }
    }
    let _ = interrupted.await;
}
