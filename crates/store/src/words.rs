//! What is said from the front of a room to the benches, and benches that stand still meanwhile.

use diesel::prelude::*;

use crate::classes::missing;
use crate::database::Store;
use crate::error::StoreError;
use crate::names::in_lines;
use crate::schema::{assignments, steps, words};

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

    /// Lets all benches of an assignment stand still, or go on.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub fn pause(&self, assignment: i32, at: Option<i64>) -> Result<(), StoreError> {
        let changed = diesel::update(assignments::table.find(assignment))
            .set(assignments::paused_at.eq(at))
            .execute(&mut self.writing()?)?;
        match changed {
            0 => Err(missing("assignment", assignment)),
            _ => Ok(()),
        }
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
