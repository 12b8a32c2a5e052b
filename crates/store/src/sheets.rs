//! Mark sheets as they were given, and what lessons are in for: texts that were worked out once and are read
//! from then on. A sheet stays as it is; what changes is which one stands.

use diesel::prelude::*;

use crate::database::Store;
use crate::error::StoreError;
use crate::schema::{prospects, sheets};

/// A mark sheet with its debrief, as an engine made them.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SheetRow {
    pub id: i32,
    /// The engine that made it.
    pub engine: String,
    pub made_at: i64,
    /// JSON of the sheet, without an instructor's own marks.
    pub sheet: String,
    /// JSON of the debrief.
    pub debrief: String,
    /// It is the one that counts.
    pub stands: bool,
}

/// A sheet to be kept.
pub struct NewSheet<'a> {
    pub engine: &'a str,
    pub made_at: i64,
    pub sheet: &'a str,
    pub debrief: &'a str,
    /// The total of the sheet, as computed.
    pub computed: f64,
}

type Row = (i32, String, i64, String, String, bool);

fn row((id, engine, made_at, sheet, debrief, stands): Row) -> SheetRow {
    SheetRow {
        id,
        engine,
        made_at,
        sheet,
        debrief,
        stands,
    }
}

impl Store {
    /// Every sheet of an attempt, oldest first.
    ///
    /// # Errors
    /// When the database fails.
    pub fn sheets(&self, attempt: i32) -> Result<Vec<SheetRow>, StoreError> {
        let mut db = self.connection()?;
        let rows: Vec<Row> = sheets::table
            .filter(sheets::attempt_id.eq(attempt))
            .order(sheets::id)
            .select(COLUMNS)
            .load(&mut db)?;
        Ok(rows.into_iter().map(row).collect())
    }

    /// The sheet that counts, if there is one.
    ///
    /// # Errors
    /// When the database fails.
    pub fn standing_sheet(&self, attempt: i32) -> Result<Option<SheetRow>, StoreError> {
        let mut db = self.connection()?;
        let found: Option<Row> = sheets::table
            .filter(sheets::attempt_id.eq(attempt))
            .filter(sheets::stands)
            .select(COLUMNS)
            .first(&mut db)
            .optional()?;
        Ok(found.map(row))
    }

    /// Keeps a sheet. It stands where none does; else it lies beside the one that does until it is told to.
    ///
    /// # Errors
    /// When the database fails.
    pub fn keep_sheet(&self, attempt: i32, new: &NewSheet<'_>) -> Result<(), StoreError> {
        self.writing()?
            .immediate_transaction(|db| keep(db, attempt, new))
    }

    /// Lets another sheet of an attempt stand.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the attempt has no such sheet; nothing has changed then.
    pub fn let_stand(&self, attempt: i32, sheet: i32) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let own = sheets::table.filter(sheets::attempt_id.eq(attempt));
            diesel::update(own.filter(sheets::stands))
                .set(sheets::stands.eq(false))
                .execute(db)?;
            let changed = diesel::update(own.filter(sheets::id.eq(sheet)))
                .set(sheets::stands.eq(true))
                .execute(db)?;
            match changed {
                1 => Ok(()),
                _ => Err(StoreError::NotFound {
                    what: "mark sheet",
                    id: sheet.to_string(),
                }),
            }
        })
    }

    /// What an engine found a lesson to be in for, as JSON; none where it has not been worked out by it.
    ///
    /// # Errors
    /// When the database fails.
    pub fn prospect(&self, lesson: i32, engine: &str) -> Result<Option<String>, StoreError> {
        let mut db = self.connection()?;
        Ok(prospects::table
            .find(lesson)
            .filter(prospects::engine.eq(engine))
            .select(prospects::prospect)
            .first(&mut db)
            .optional()?)
    }

    /// Keeps that, in the place of what an older engine found.
    ///
    /// # Errors
    /// When the database fails.
    pub fn keep_prospect(&self, lesson: i32, engine: &str, text: &str) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        diesel::replace_into(prospects::table)
            .values((
                prospects::lesson_id.eq(lesson),
                prospects::engine.eq(engine),
                prospects::prospect.eq(text),
            ))
            .execute(&mut db)?;
        Ok(())
    }
}

/// No sheet of an attempt stands any more, until there is another.
pub(crate) fn stands_no_more(db: &mut SqliteConnection, attempt: i32) -> Result<(), StoreError> {
    diesel::update(sheets::table.filter(sheets::attempt_id.eq(attempt)))
        .set(sheets::stands.eq(false))
        .execute(db)?;
    Ok(())
}

/// Keeps a sheet within a transaction.
pub(crate) fn keep(
    db: &mut SqliteConnection,
    attempt: i32,
    new: &NewSheet<'_>,
) -> Result<(), StoreError> {
    let have: i64 = sheets::table
        .filter(sheets::attempt_id.eq(attempt))
        .filter(sheets::stands)
        .count()
        .get_result(db)?;
    diesel::insert_into(sheets::table)
        .values((
            sheets::attempt_id.eq(attempt),
            sheets::engine.eq(new.engine),
            sheets::made_at.eq(new.made_at),
            sheets::sheet.eq(new.sheet),
            sheets::debrief.eq(new.debrief),
            sheets::computed.eq(new.computed),
            sheets::stands.eq(have == 0),
        ))
        .execute(db)?;
    Ok(())
}

const COLUMNS: (
    sheets::id,
    sheets::engine,
    sheets::made_at,
    sheets::sheet,
    sheets::debrief,
    sheets::stands,
) = (
    sheets::id,
    sheets::engine,
    sheets::made_at,
    sheets::sheet,
    sheets::debrief,
    sheets::stands,
);
