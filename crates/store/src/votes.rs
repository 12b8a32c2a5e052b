//! Readings that a class is asked to predict before they are shown.

use diesel::prelude::*;

use crate::database::Store;
use crate::error::StoreError;
use crate::schema::{vote_answers, votes};

/// What a class is asked, and what it has answered so far.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Vote {
    pub id: i32,
    /// The question as JSON.
    pub asked: String,
    pub shown_at: Option<i64>,
    /// Who answered what, in no order that means anything.
    pub answers: Vec<(i32, String)>,
}

impl Store {
    /// Asks the class of an assignment something, in the place of what it was asked before.
    ///
    /// # Errors
    /// When the database fails.
    pub fn ask_class(&self, assignment: i32, asked: &str, at: i64) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            end(db, assignment, at)?;
            diesel::insert_into(votes::table)
                .values((
                    votes::assignment_id.eq(assignment),
                    votes::asked.eq(asked),
                    votes::asked_at.eq(at),
                ))
                .execute(db)?;
            Ok(())
        })
    }

    /// What the class of an assignment is being asked, if anything.
    ///
    /// # Errors
    /// When the database fails.
    pub fn vote(&self, assignment: i32) -> Result<Option<Vote>, StoreError> {
        let mut db = self.connection()?;
        let found: Option<(i32, String, Option<i64>)> = votes::table
            .filter(votes::assignment_id.eq(assignment))
            .filter(votes::ended_at.is_null())
            .order(votes::id.desc())
            .select((votes::id, votes::asked, votes::shown_at))
            .first(&mut db)
            .optional()?;
        let Some((id, asked, shown_at)) = found else {
            return Ok(None);
        };
        let answers = vote_answers::table
            .filter(vote_answers::vote_id.eq(id))
            .select((vote_answers::user_id, vote_answers::expected))
            .order(vote_answers::expected)
            .load(&mut db)?;
        Ok(Some(Vote {
            id,
            asked,
            shown_at,
            answers,
        }))
    }

    /// Answers for a student, in the place of what they answered before; nothing once it is shown. Says whether it
    /// counts.
    ///
    /// # Errors
    /// When the database fails.
    pub fn answer_vote(&self, id: i32, student: i32, expected: &str) -> Result<bool, StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let open: i64 = votes::table
                .find(id)
                .filter(votes::shown_at.is_null())
                .filter(votes::ended_at.is_null())
                .count()
                .get_result(db)?;
            if open == 0 {
                return Ok(false);
            }
            diesel::replace_into(vote_answers::table)
                .values((
                    vote_answers::vote_id.eq(id),
                    vote_answers::user_id.eq(student),
                    vote_answers::expected.eq(expected),
                ))
                .execute(db)?;
            Ok(true)
        })
    }

    /// Shows the reading.
    ///
    /// # Errors
    /// When the database fails.
    pub fn show_vote(&self, assignment: i32, at: i64) -> Result<(), StoreError> {
        diesel::update(
            votes::table
                .filter(votes::assignment_id.eq(assignment))
                .filter(votes::ended_at.is_null()),
        )
        .set(votes::shown_at.eq(at))
        .execute(&mut self.writing()?)?;
        Ok(())
    }

    /// Asks no more.
    ///
    /// # Errors
    /// When the database fails.
    pub fn end_vote(&self, assignment: i32, at: i64) -> Result<(), StoreError> {
        Ok(end(&mut *self.writing()?, assignment, at)?)
    }
}

fn end(db: &mut SqliteConnection, assignment: i32, at: i64) -> Result<(), diesel::result::Error> {
    let open = votes::table
        .filter(votes::assignment_id.eq(assignment))
        .filter(votes::ended_at.is_null());
    diesel::update(open)
        .set(votes::ended_at.eq(at))
        .execute(db)?;
    Ok(())
}
