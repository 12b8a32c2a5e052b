//! What a database holds, seen by somebody beside whoever works on it.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::path::Path;

use diesel::connection::SimpleConnection;
use diesel::sqlite::SqliteConnection;
use diesel::{Connection, QueryResult, QueryableByName, RunQueryDsl, sql_query};

/// What is worked out by the way, when nobody waits for it: sheets and prospects, and where a diagram's tracks stand.
const BY_THE_WAY: &str = "'sheets', 'prospects', 'placements'";

/// Looks at a database.
pub struct Watching {
    db: SqliteConnection,
    /// A number that is another one after any change, and a number for what was there then.
    seen: (i64, u64),
}

#[derive(QueryableByName)]
struct Version {
    #[diesel(sql_type = diesel::sql_types::BigInt)]
    data_version: i64,
}

#[derive(QueryableByName)]
struct Text {
    #[diesel(sql_type = diesel::sql_types::Nullable<diesel::sql_types::Text>)]
    text: Option<String>,
}

impl Watching {
    /// # Errors
    /// What SQLite says.
    pub fn new(database: &Path) -> Result<Self, String> {
        let path = database.to_string_lossy();
        let mut db = SqliteConnection::establish(&path).map_err(|e| e.to_string())?;
        let set = db.batch_execute("PRAGMA busy_timeout = 2000");
        set.map_err(|e| e.to_string())?;
        Ok(Self { db, seen: (-1, 0) })
    }

    /// A number for everything that somebody put there.
    pub fn holds(&mut self) -> u64 {
        let version = sql_query("PRAGMA data_version").get_result::<Version>(&mut self.db);
        let version = version.map_or(-1, |v| v.data_version);
        if version != self.seen.0 {
            let all = self.all().unwrap_or_else(|e| vec![e.to_string()]);
            let mut hasher = DefaultHasher::new();
            all.hash(&mut hasher);
            self.seen = (version, hasher.finish());
        }
        self.seen.1
    }

    /// Every row of every table, as text.
    fn all(&mut self) -> QueryResult<Vec<String>> {
        let tables = format!(
            "SELECT name AS text FROM sqlite_master WHERE type = 'table' AND name NOT IN ({BY_THE_WAY})"
        );
        let mut out = Vec::new();
        for table in sql_query(tables).load::<Text>(&mut self.db)? {
            let table = table.text.unwrap_or_default();
            let columns = format!(
                "SELECT group_concat('quote(\"' || name || '\")', '||') AS text FROM pragma_table_info('{table}')"
            );
            let columns = sql_query(columns).get_result::<Text>(&mut self.db)?;
            let rows = format!(
                "SELECT {} AS text FROM \"{table}\" ORDER BY 1",
                columns.text.unwrap_or_default()
            );
            let rows = sql_query(rows).load::<Text>(&mut self.db)?;
            out.extend(rows.into_iter().map(|r| r.text.unwrap_or_default()));
        }
        Ok(out)
    }
}
