//! The database's file: who works on it, whether it is whole, and putting a copy in its place.

use std::fs::{File, OpenOptions, TryLockError};
use std::path::{Path, PathBuf};

use diesel::connection::SimpleConnection;
use diesel::sqlite::SqliteConnection;
use diesel::{Connection, QueryableByName, RunQueryDsl, sql_query};

use crate::database::{Store, beside, in_place, own_only};
use crate::error::StoreError;

/// A program works on the database for as long as this is held; the system lets go of it when the program ends, however
/// it ends.
pub struct Held(#[expect(dead_code, reason = "what is held is let go of when it is dropped")] File);

/// How somebody works on a database.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Hold {
    /// A server, perhaps beside another.
    Shared,
    /// Whoever replaces the file: nobody else.
    Alone,
}

#[derive(QueryableByName)]
struct Checked {
    #[diesel(sql_type = diesel::sql_types::Text)]
    quick_check: String,
}

/// Takes hold of a database.
///
/// # Errors
/// [`StoreError::InUse`] when another program works on it in a way that does not bear this one.
pub fn hold(database: &Path, how: Hold) -> Result<Held, StoreError> {
    let lock = beside(database, ".lock");
    let cannot = |e: std::io::Error| StoreError::CannotOpen {
        path: lock.display().to_string(),
        why: e.to_string(),
    };
    let mut options = OpenOptions::new();
    let file = options
        .create(true)
        .truncate(false)
        .write(true)
        .open(&lock)
        .map_err(cannot)?;
    let taken = match how {
        Hold::Shared => file.try_lock_shared(),
        Hold::Alone => file.try_lock(),
    };
    match taken {
        Ok(()) => Ok(Held(file)),
        Err(TryLockError::WouldBlock) => Err(StoreError::InUse(database.display().to_string())),
        Err(TryLockError::Error(e)) => Err(cannot(e)),
    }
}

/// Whether a file is a whole database of this program, without changing it.
///
/// # Errors
/// [`StoreError::Damaged`] with what is wrong with it.
pub fn check(file: &Path) -> Result<(), StoreError> {
    let shown = file.display();
    let damaged = |why: &str| StoreError::Damaged(format!("{shown}: {why}"));
    if !file.is_file() {
        return Err(damaged("there is no such file"));
    }
    let mut db = SqliteConnection::establish(&file.to_string_lossy())
        .map_err(|e| damaged(&e.to_string()))?;
    // Whoever is just leaving it is waited for; a file that somebody holds is not a damaged one.
    let failed = |e: diesel::result::Error| match StoreError::from(e) {
        StoreError::Locked => StoreError::InUse(shown.to_string()),
        e => damaged(&e.to_string()),
    };
    db.batch_execute("PRAGMA busy_timeout = 5000; PRAGMA query_only = ON")
        .map_err(failed)?;
    let rows: Vec<Checked> = sql_query("SELECT quick_check FROM pragma_quick_check LIMIT 1")
        .load(&mut db)
        .map_err(failed)?;
    match rows.first().map(|r| r.quick_check.as_str()) {
        Some("ok") => {}
        other => return Err(damaged(other.unwrap_or("nothing can be read of it"))),
    }
    db.batch_execute("SELECT count(*) FROM users, steps LIMIT 0")
        .map_err(|_| damaged("it holds no school"))
}

/// Puts a copy in the place of a database, which is kept beside it under another name; says which, if there was one.
///
/// # Errors
/// [`StoreError::InUse`] while a server works on it; [`StoreError::Damaged`] when the copy is none; when a file cannot be
/// written. Nothing has changed then.
pub fn restore(copy: &Path, database: &Path, stamp: &str) -> Result<Option<PathBuf>, StoreError> {
    let _alone = hold(database, Hold::Alone)?;
    check(copy)?;
    let cannot = |path: &Path| {
        let path = path.display().to_string();
        move |e: std::io::Error| StoreError::CannotOpen {
            path,
            why: e.to_string(),
        }
    };
    // Whole in the same folder first: a rename is done or not.
    let new = beside(database, ".new");
    std::fs::copy(copy, &new).map_err(cannot(&new))?;
    own_only(&new)?;
    let kept = beside(database, &format!(".before-{stamp}"));
    let was = database.is_file();
    if was {
        // What was written and not yet in the file itself belongs to it; of a damaged one the log is kept beside it.
        if let Ok(store) = Store::open_as_it_is(database) {
            let _ = store.checkpoint();
        }
        // Under a second name first: there is no moment in which there is no database. Where a disk knows no second
        // names, there is one.
        if std::fs::hard_link(database, &kept).is_err() {
            std::fs::rename(database, &kept).map_err(cannot(database))?;
        }
    }
    // Also of a file that is gone itself: its log would be taken for the copy's.
    for log in ["-wal", "-shm"] {
        let own = beside(database, log);
        if own.is_file() {
            std::fs::rename(&own, beside(&kept, log)).map_err(cannot(&own))?;
        }
    }
    in_place(&new, database)?;
    Ok(was.then_some(kept))
}

/// Puts a database that was made beside it in the place of one in which nothing is.
///
/// # Errors
/// [`StoreError::InUse`] while another program works on it; when a file cannot be renamed.
pub fn take_place(made: &Path, database: &Path) -> Result<(), StoreError> {
    let _alone = hold(database, Hold::Alone)?;
    for log in ["-wal", "-shm"] {
        let _ = std::fs::remove_file(beside(database, log));
    }
    in_place(made, database)
}
