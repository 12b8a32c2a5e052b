//! The school itself, and the list of who did what to whom in it.

use cimento_diagnosis::marking::Scale;
use diesel::prelude::*;

use crate::database::Store;
use crate::error::StoreError;
use crate::names::in_a_line;
use crate::people::{NewPerson, User};
use crate::schema::{audit, school};

const LONGEST_NAME: usize = 60;
/// Lines of the audit list that are read at once.
const LINES: i64 = 500;

/// Something that was done to somebody, or to the school.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct AuditLine {
    pub at: i64,
    /// Who did it, by the name they sign in with.
    pub actor: String,
    pub act: String,
    pub whom: String,
}

fn fits(name: &str) -> Result<&str, StoreError> {
    in_a_line(name, LONGEST_NAME).ok_or(StoreError::NoSchoolName(LONGEST_NAME))
}

/// There is a school to set something of, also where its people were added on the machine itself.
pub(crate) fn one_school(db: &mut SqliteConnection) -> QueryResult<usize> {
    diesel::insert_or_ignore_into(school::table)
        .values((
            school::id.eq(1),
            school::name.eq("School"),
            school::opened_at.eq(0),
        ))
        .execute(db)
}

impl Store {
    /// The name of the school, once it is open.
    ///
    /// # Errors
    /// When the database fails.
    pub fn school(&self) -> Result<Option<String>, StoreError> {
        let name = school::table.select(school::name);
        Ok(name.first(&mut self.connection()?).optional()?)
    }

    /// Opens a school with the first person in it.
    ///
    /// # Errors
    /// [`StoreError::NoSchoolName`], or as [`Store::add_people`]; nothing is done then.
    pub fn open_school(&self, name: &str, first: &NewPerson, now: i64) -> Result<User, StoreError> {
        let name = fits(name)?;
        let mut added = self.add_people(std::slice::from_ref(first))?;
        diesel::insert_into(school::table)
            .values((
                school::id.eq(1),
                school::name.eq(name),
                school::opened_at.eq(now),
            ))
            .on_conflict(school::id)
            .do_update()
            .set(school::name.eq(name))
            .execute(&mut self.writing()?)?;
        added
            .pop()
            .ok_or_else(|| StoreError::Database("nobody was added".to_owned()))
    }

    /// Seconds that have passed at the school, as far as they are on record.
    ///
    /// # Errors
    /// When the database fails.
    pub fn passed_s(&self) -> Result<i64, StoreError> {
        let passed = school::table.select(school::passed_s);
        let kept = passed.first(&mut self.connection()?).optional()?;
        Ok(kept.unwrap_or(0))
    }

    /// Puts on record how many seconds have passed at the school, if that are more than are.
    ///
    /// # Errors
    /// When the database fails.
    pub fn keep_passed_s(&self, passed_s: i64) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        one_school(&mut db)?;
        diesel::update(school::table.filter(school::passed_s.lt(passed_s)))
            .set(school::passed_s.eq(passed_s))
            .execute(&mut db)?;
        Ok(())
    }

    /// How the school says marks.
    ///
    /// # Errors
    /// [`StoreError::Damaged`], or when the database fails.
    pub fn scale(&self) -> Result<Scale, StoreError> {
        let scale = school::table.select(school::scale);
        let kept: Option<String> = scale.first(&mut self.connection()?).optional()?;
        let read = |text: String| {
            serde_json::from_str(&text).map_err(|e| StoreError::Damaged(e.to_string()))
        };
        kept.map_or(Ok(Scale::default()), read)
    }

    /// Says marks another way from now on; a scale that was not checked is refused by who asks.
    ///
    /// # Errors
    /// When the database fails.
    pub fn set_scale(&self, scale: &Scale) -> Result<(), StoreError> {
        let text = serde_json::to_string(scale).map_err(|e| StoreError::Damaged(e.to_string()))?;
        let mut db = self.writing()?;
        one_school(&mut db)?;
        diesel::update(school::table)
            .set(school::scale.eq(text))
            .execute(&mut db)?;
        Ok(())
    }

    /// Gives the school another name.
    ///
    /// # Errors
    /// [`StoreError::NoSchoolName`], or when the database fails.
    pub fn rename_school(&self, name: &str) -> Result<(), StoreError> {
        let name = fits(name)?;
        diesel::update(school::table)
            .set(school::name.eq(name))
            .execute(&mut self.writing()?)?;
        Ok(())
    }

    /// Puts on record who did what to whom.
    ///
    /// # Errors
    /// When the database fails.
    pub fn note(&self, actor: &str, act: &str, whom: &str, at: i64) -> Result<(), StoreError> {
        diesel::insert_into(audit::table)
            .values((
                audit::at.eq(at),
                audit::actor.eq(actor),
                audit::act.eq(act),
                audit::whom.eq(whom),
            ))
            .execute(&mut self.writing()?)?;
        Ok(())
    }

    /// The latest of what was done, the last first.
    ///
    /// # Errors
    /// When the database fails.
    pub fn audit(&self) -> Result<Vec<AuditLine>, StoreError> {
        let rows: Vec<(i64, String, String, String)> = audit::table
            .order(audit::id.desc())
            .limit(LINES)
            .select((audit::at, audit::actor, audit::act, audit::whom))
            .load(&mut self.connection()?)?;
        let line = |(at, actor, act, whom)| AuditLine {
            at,
            actor,
            act,
            whom,
        };
        Ok(rows.into_iter().map(line).collect())
    }
}
