//! Opening the database.

use std::path::{Path, PathBuf};
use std::sync::{Arc, OnceLock};
use std::time::Duration;

use diesel::RunQueryDsl;
use diesel::connection::SimpleConnection;
use diesel::migration::{Migration, MigrationSource, MigrationVersion};
use diesel::r2d2::{ConnectionManager, CustomizeConnection, Pool, PooledConnection};
use diesel::sqlite::{Sqlite, SqliteConnection};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};

use crate::error::StoreError;

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();
/// Longest wait for a connection.
const WAIT: Duration = Duration::from_secs(10);
const READERS: u32 = 6;

/// The school's database. Cheap to clone; every call blocks for as long as SQLite takes.
#[derive(Clone)]
pub struct Store {
    file: Arc<OpenFile>,
    /// Many read at once beside the one that writes: in write-ahead logging neither holds up the other.
    readers: Pool<ConnectionManager<SqliteConnection>>,
    writer: Pool<ConnectionManager<SqliteConnection>>,
}

/// The file that was opened. SQLite goes on with one that was deleted or moved away, and everything that it says to have
/// stored is lost when it ends.
struct OpenFile {
    path: PathBuf,
    /// What the system calls it, whatever its name.
    number: Option<u64>,
    /// A copy of all that was stored, once it was seen to be gone.
    rescued: OnceLock<Option<PathBuf>>,
}

#[cfg(unix)]
fn number(path: &Path) -> Option<u64> {
    use std::os::unix::fs::MetadataExt;
    std::fs::metadata(path).ok().map(|m| m.ino())
}

#[cfg(not(unix))]
fn number(_: &Path) -> Option<u64> {
    None
}

#[derive(Debug)]
struct Settings;

impl CustomizeConnection<SqliteConnection, diesel::r2d2::Error> for Settings {
    fn on_acquire(&self, connection: &mut SqliteConnection) -> Result<(), diesel::r2d2::Error> {
        // Full synchronisation: an acknowledged step survives the loss of power.
        connection
            .batch_execute(
                "PRAGMA busy_timeout = 5000; PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; PRAGMA foreign_keys = ON; PRAGMA secure_delete = ON;",
            )
            .map_err(diesel::r2d2::Error::QueryError)
    }
}

/// Nobody else on the machine reads a file of people, their passwords' hashes and their work.
pub(crate) fn own_only(file: &Path) -> Result<(), StoreError> {
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        let only = std::fs::Permissions::from_mode(0o600);
        std::fs::set_permissions(file, only).map_err(|e| StoreError::Database(e.to_string()))?;
    }
    Ok(())
}

impl Store {
    /// Writes a copy of the whole database, as it is at one moment, to a new file.
    ///
    /// # Errors
    /// [`StoreError::CannotOpen`] when the file is there already or cannot be written.
    pub fn backup(&self, to: &Path) -> Result<(), StoreError> {
        let cannot = |why: String| StoreError::CannotOpen {
            path: to.display().to_string(),
            why,
        };
        if to.exists() {
            return Err(cannot("it is there already".to_owned()));
        }
        let made = self.connection().and_then(|mut db| copy(&mut db, to));
        made.map_err(|e| cannot(e.to_string()))
    }

    /// Brings what was written into the database file itself, as one leaves it.
    ///
    /// # Errors
    /// When the database fails.
    pub fn checkpoint(&self) -> Result<(), StoreError> {
        self.writing()?
            .batch_execute("PRAGMA wal_checkpoint(TRUNCATE)")?;
        Ok(())
    }

    /// Opens a database file, creating it and its tables if need be. One of an earlier program is copied before it is
    /// changed, as `school.db.before-0018`.
    ///
    /// # Errors
    /// [`StoreError::CannotOpen`] with the path when the file is no database, damaged, locked or
    /// not to be written; [`StoreError::Newer`] when a later program made it.
    pub fn open(path: &Path) -> Result<Self, StoreError> {
        Self::opened(path, true)
    }

    /// Opens a database file and changes nothing of how it is built.
    pub(crate) fn open_as_it_is(path: &Path) -> Result<Self, StoreError> {
        Self::opened(path, false)
    }

    fn opened(path: &Path, upgrade: bool) -> Result<Self, StoreError> {
        let cannot = |why: String| StoreError::CannotOpen {
            path: path.display().to_string(),
            why,
        };
        if let Some(folder) = path.parent().filter(|f| !f.as_os_str().is_empty()) {
            std::fs::create_dir_all(folder).map_err(|e| cannot(e.to_string()))?;
        }
        // One plain connection first: a pool would retry for a long time and say little.
        let url = path.to_string_lossy().into_owned();
        let mut probe = <SqliteConnection as diesel::Connection>::establish(&url)
            .map_err(|e| cannot(e.to_string()))?;
        probe
            .batch_execute(
                "PRAGMA busy_timeout = 2000; PRAGMA schema_version; BEGIN IMMEDIATE; ROLLBACK;",
            )
            .map_err(|e| cannot(e.to_string()))?;
        // A table that is made anew is referred to meanwhile.
        probe
            .batch_execute("PRAGMA foreign_keys = OFF")
            .map_err(|e| cannot(e.to_string()))?;
        if upgrade {
            upgraded(&mut probe, path)?;
        }
        drop(probe);
        own_only(path).map_err(|e| cannot(e.to_string()))?;
        // All are opened now and kept. One that were opened once the file is gone would make an empty one in its place,
        // and share its log with those of the file that is gone: what is only in the log would be lost.
        let existing = existing(&url);
        let pool = |connections| {
            Pool::builder()
                .max_size(connections)
                .idle_timeout(None)
                .max_lifetime(None)
                .connection_timeout(WAIT)
                .connection_customizer(Box::new(Settings))
                .build(ConnectionManager::new(existing.clone()))
                .map_err(|e| cannot(e.to_string()))
        };
        Ok(Self {
            file: Arc::new(OpenFile {
                number: number(path),
                path: path.to_owned(),
                rescued: OnceLock::new(),
            }),
            readers: pool(READERS)?,
            writer: pool(1)?,
        })
    }

    pub(crate) fn connection(
        &self,
    ) -> Result<PooledConnection<ConnectionManager<SqliteConnection>>, StoreError> {
        Ok(self.readers.get()?)
    }

    /// The connection that writes.
    pub(crate) fn writing(
        &self,
    ) -> Result<PooledConnection<ConnectionManager<SqliteConnection>>, StoreError> {
        let mut db = self.writer.get()?;
        self.is_there(&mut db)?;
        Ok(db)
    }

    /// Whether what is written will be found again. Of a file that is gone all that was stored is put beside it, once.
    fn is_there(&self, db: &mut SqliteConnection) -> Result<(), StoreError> {
        let file = &self.file;
        if file.number.is_none() || number(&file.path) == file.number {
            return Ok(());
        }
        let rescued = file.rescued.get_or_init(|| {
            // One that was rescued before and not put back is kept.
            let names = (1..).map(|n| match n {
                1 => RESCUED.to_owned(),
                n => format!("{RESCUED}-{n}"),
            });
            let mut names = names.map(|name| beside(&file.path, &name));
            let to = names.find(|to| !to.exists())?;
            copy(db, &to).ok().map(|()| to)
        });
        Err(StoreError::Gone {
            path: file.path.display().to_string(),
            rescued: match rescued {
                Some(copy) => format!(
                    "what was stored is kept as {}: end the server and restore it",
                    copy.display()
                ),
                None => "end the server and restore a copy".to_owned(),
            },
        })
    }
}

/// Names a file that is there already and is never made; <https://www.sqlite.org/uri.html>.
fn existing(path: &str) -> String {
    let path = path.replace('%', "%25");
    let path = path.replace('?', "%3f").replace('#', "%23");
    format!("file:{path}?mode=rw")
}

/// What the name of a copy ends with of a database that was gone.
const RESCUED: &str = ".rescued";

/// What was rescued of a database that is not there.
pub fn rescued(database: &Path) -> Option<PathBuf> {
    let copy = beside(database, RESCUED);
    (!database.exists() && copy.exists()).then_some(copy)
}

/// A file beside the database, of its name with something behind it.
pub(crate) fn beside(database: &Path, what: &str) -> PathBuf {
    let mut name = database.as_os_str().to_owned();
    name.push(what);
    name.into()
}

/// Writes a copy of a database that nobody can sign in with. It has its name when it is whole, and not before: what was
/// begun when the power went is no copy.
fn copy(db: &mut SqliteConnection, to: &Path) -> Result<(), StoreError> {
    let begun = beside(to, ".part");
    let _ = std::fs::remove_file(&begun);
    let made = copied(db, &begun).and_then(|()| in_place(&begun, to));
    if made.is_err() {
        let _ = std::fs::remove_file(&begun);
    }
    made
}

fn copied(db: &mut SqliteConnection, to: &Path) -> Result<(), StoreError> {
    let url = to.to_string_lossy();
    diesel::sql_query("VACUUM INTO ?")
        .bind::<diesel::sql_types::Text, _>(&*url)
        .execute(db)?;
    own_only(to)?;
    let mut copy = <SqliteConnection as diesel::Connection>::establish(&url)
        .map_err(|e| StoreError::Database(e.to_string()))?;
    copy.batch_execute("PRAGMA journal_mode = DELETE;")?;
    // Who finds a copy signs in with nothing of it; one from before there were such tables has none.
    for table in ["sign_ins", "reset_links"] {
        let emptied = copy.batch_execute(&format!("DELETE FROM {table};"));
        if let Err(e) = emptied
            && !e.to_string().contains("no such table")
        {
            return Err(e.into());
        }
    }
    copy.batch_execute("VACUUM;")?;
    Ok(())
}

/// Gives a whole file its name, for good.
pub(crate) fn in_place(from: &Path, to: &Path) -> Result<(), StoreError> {
    let said = |e: std::io::Error| StoreError::Database(format!("{}: {e}", to.display()));
    let file = std::fs::File::open(from).map_err(said)?;
    file.sync_all().map_err(said)?;
    std::fs::rename(from, to).map_err(said)?;
    // The name is in the folder.
    if let Some(folder) = to.parent().filter(|f| !f.as_os_str().is_empty())
        && let Ok(folder) = std::fs::File::open(folder)
    {
        let _ = folder.sync_all();
    }
    Ok(())
}

/// Brings a database to where this program has it, with a copy of what it was.
fn upgraded(db: &mut SqliteConnection, path: &Path) -> Result<(), StoreError> {
    let cannot = |why: String| StoreError::CannotOpen {
        path: path.display().to_string(),
        why,
    };
    let applied = db.applied_migrations().map_err(|e| cannot(e.to_string()))?;
    let own: Vec<Box<dyn Migration<Sqlite>>> =
        MIGRATIONS.migrations().map_err(|e| cannot(e.to_string()))?;
    let known = |version: &MigrationVersion<'_>| own.iter().any(|m| m.name().version() == *version);
    if applied.iter().any(|version| !known(version)) {
        return Err(StoreError::Newer(path.display().to_string()));
    }
    let pending = db
        .has_pending_migration(MIGRATIONS)
        .map_err(|e| cannot(e.to_string()))?;
    if let (true, Some(last)) = (pending, applied.iter().max()) {
        let before = beside(path, &format!(".before-{last}"));
        // The same upgrade was begun before and not finished: what it began with is the copy to keep.
        if !before.exists() {
            copy(db, &before)
                .map_err(|e| cannot(format!("before its upgrade it could not be copied: {e}")))?;
        }
    }
    mended(db).map_err(|e| cannot(e.to_string()))?;
    db.run_pending_migrations(MIGRATIONS)
        .map_err(|e| cannot(e.to_string()))?;
    Ok(())
}

/// The migration 0008 was added to after programs had done it: what their databases lack is made up for, so that all
/// that follows finds it.
fn mended(db: &mut SqliteConnection) -> Result<(), StoreError> {
    #[derive(diesel::QueryableByName)]
    struct Column {
        #[diesel(sql_type = diesel::sql_types::Text)]
        name: String,
    }
    let columns: Vec<Column> =
        diesel::sql_query("SELECT name FROM pragma_table_info('attempts')").load(db)?;
    let has = |name: &str| columns.iter().any(|c| c.name == name);
    if has("assignment_id") && !has("handed_in_at") {
        db.batch_execute(
            "ALTER TABLE attempts ADD COLUMN handed_in_at BIGINT;
             UPDATE attempts SET handed_in_at = (
                 SELECT max(at) FROM steps
                 WHERE attempt_id = attempts.id AND action = '{\"do\":\"hand_in\"}');",
        )?;
    }
    Ok(())
}
