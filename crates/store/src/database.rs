//! Opening the database.

use std::path::Path;
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
    /// Many read at once beside the one that writes: in write-ahead logging neither holds up the other.
    readers: Pool<ConnectionManager<SqliteConnection>>,
    writer: Pool<ConnectionManager<SqliteConnection>>,
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
        let made = self.copy_to(to);
        if made.is_err() {
            // A copy that was begun is none.
            let _ = std::fs::remove_file(to);
        }
        made.map_err(|e| cannot(e.to_string()))
    }

    fn copy_to(&self, to: &Path) -> Result<(), StoreError> {
        let url = to.to_string_lossy();
        let mut db = self.connection()?;
        diesel::sql_query("VACUUM INTO ?")
            .bind::<diesel::sql_types::Text, _>(&*url)
            .execute(&mut db)?;
        own_only(to)?;
        // Who finds a copy signs in with nothing of it.
        let mut copy = <SqliteConnection as diesel::Connection>::establish(&url)
            .map_err(|e| StoreError::Database(e.to_string()))?;
        copy.batch_execute(
            "PRAGMA journal_mode = DELETE; DELETE FROM sign_ins; DELETE FROM reset_links; VACUUM;",
        )?;
        Ok(())
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
        let pool = |connections| {
            Pool::builder()
                .max_size(connections)
                .min_idle(Some(1))
                .connection_timeout(WAIT)
                .connection_customizer(Box::new(Settings))
                .build(ConnectionManager::new(url.clone()))
                .map_err(|e| cannot(e.to_string()))
        };
        Ok(Self {
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
        Ok(self.writer.get()?)
    }
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
        let mut copy = path.as_os_str().to_owned();
        copy.push(format!(".before-{last}"));
        let copy = std::path::PathBuf::from(copy);
        // The same upgrade was begun before and not finished: what it began with is the copy to keep.
        if !copy.exists() {
            diesel::sql_query("VACUUM INTO ?")
                .bind::<diesel::sql_types::Text, _>(&*copy.to_string_lossy())
                .execute(db)
                .map_err(|e| cannot(format!("before its upgrade it could not be copied: {e}")))?;
            own_only(&copy)?;
        }
    }
    db.run_pending_migrations(MIGRATIONS)
        .map_err(|e| cannot(e.to_string()))?;
    Ok(())
}
