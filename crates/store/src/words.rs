//! What is said from the front of a room to the benches, and benches that stand still meanwhile.

use diesel::prelude::*;

use crate::classes::missing;
use crate::database::Store;
use crate::error::StoreError;
use crate::names::in_lines;
use crate::schema::{assignments, attempts, steps, words};

const LONGEST: usize = 300;

/// Something said to a bench.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Word {
    pub id: i32,
    pub author: String,
    pub said: String,
    pub at: i64,
}

impl Store {
    /// Says something to a student's bench, or to all benches of an assignment.
    ///
    /// # Errors
    /// [`StoreError::NoWord`] where it is nothing or too long.
    pub fn say(
        &self,
        assignment: i32,
        student: Option<i32>,
        author: &str,
        said: &str,
        at: i64,
    ) -> Result<(), StoreError> {
        let said = in_lines(said, LONGEST).ok_or(StoreError::NoWord(LONGEST))?;
        diesel::insert_into(words::table)
            .values((
                words::assignment_id.eq(assignment),
                words::student_id.eq(student),
                words::author.eq(author),
                words::said.eq(said),
                words::at.eq(at),
            ))
            .execute(&mut self.writing()?)?;
        Ok(())
    }

    /// What was said to a student about an assignment, in order.
    ///
    /// # Errors
    /// When the database fails.
    pub fn heard(&self, assignment: i32, student: i32) -> Result<Vec<Word>, StoreError> {
        let rows: Vec<(i32, String, String, i64)> = words::table
            .filter(words::assignment_id.eq(assignment))
            .filter(
                words::student_id
                    .is_null()
                    .or(words::student_id.eq(student)),
            )
            .order(words::id)
            .select((words::id, words::author, words::said, words::at))
            .load(&mut self.connection()?)?;
        let word = |(id, author, said, at)| Word {
            id,
            author,
            said,
            at,
        };
        Ok(rows.into_iter().map(word).collect())
    }

    /// Lets all benches of an assignment stand still: `passed_s` is the time that has passed at the school
    /// ([`Store::passed_s`]), from which on nobody's time runs.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub fn pause(&self, assignment: i32, at: i64, passed_s: i64) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            if standing(db, assignment)?.is_none() {
                diesel::update(assignments::table.find(assignment))
                    .set((
                        assignments::paused_at.eq(at),
                        assignments::paused_passed_s.eq(passed_s),
                    ))
                    .execute(db)?;
            }
            Ok(())
        })
    }

    /// Lets them go on: what has passed meanwhile is nobody's.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub fn go_on(&self, assignment: i32, passed_s: i64) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            if let Some(since) = standing(db, assignment)? {
                let stood = (passed_s - since).max(0);
                diesel::update(attempts::table)
                    .filter(attempts::assignment_id.eq(assignment))
                    .filter(attempts::handed_in_at.is_null())
                    .set(attempts::began_passed_s.eq(attempts::began_passed_s + stood))
                    .execute(db)?;
            }
            diesel::update(assignments::table.find(assignment))
                .set((
                    assignments::paused_at.eq(None::<i64>),
                    assignments::paused_passed_s.eq(None::<i64>),
                ))
                .execute(db)?;
            Ok(())
        })
    }

    /// When each step of an attempt was taken, in order.
    ///
    /// # Errors
    /// When the database fails.
    pub fn step_times(&self, attempt: i32) -> Result<Vec<i64>, StoreError> {
        Ok(steps::table
            .filter(steps::attempt_id.eq(attempt))
            .order(steps::no)
            .select(steps::at)
            .load(&mut self.connection()?)?)
    }
}

/// Since when an assignment's benches stand still, by the time that passes at the school.
fn standing(db: &mut SqliteConnection, assignment: i32) -> Result<Option<i64>, StoreError> {
    let found: Option<Option<i64>> = assignments::table
        .find(assignment)
        .select(assignments::paused_passed_s)
        .first(db)
        .optional()?;
    found.ok_or_else(|| missing("assignment", assignment))
}
