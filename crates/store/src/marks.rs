//! Marks that an instructor gave instead of computed ones.

use cimento_diagnosis::marking::Override;
use diesel::prelude::*;

use crate::database::Store;
use crate::error::StoreError;
use crate::schema::given_marks;

impl Store {
    /// What was given on an attempt, in the order it was given.
    ///
    /// # Errors
    /// When the database fails.
    pub fn given_marks(&self, attempt: i32) -> Result<Vec<Override>, StoreError> {
        let mut db = self.connection()?;
        let rows: Vec<(String, Option<f64>, String)> = given_marks::table
            .filter(given_marks::attempt_id.eq(attempt))
            .order(given_marks::id)
            .select((
                given_marks::criterion,
                given_marks::marks,
                given_marks::reason,
            ))
            .load(&mut db)?;
        let one = |(criterion, marks, reason)| Override {
            criterion,
            marks,
            reason,
        };
        Ok(rows.into_iter().map(one).collect())
    }

    /// Puts one on record.
    ///
    /// # Errors
    /// When the database fails.
    pub fn give_marks(
        &self,
        attempt: i32,
        given: &Override,
        author: i32,
        at: i64,
    ) -> Result<(), StoreError> {
        self.give_many_marks(&[attempt], given, author, at)
    }

    /// Puts the same on record for several attempts, or for none of them.
    ///
    /// # Errors
    /// When the database fails.
    pub fn give_many_marks(
        &self,
        attempts: &[i32],
        given: &Override,
        author: i32,
        at: i64,
    ) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.transaction(|db| give(db, attempts, given, author, at))
    }
}

/// Puts the same on record for several attempts.
pub(crate) fn give(
    db: &mut SqliteConnection,
    attempts: &[i32],
    given: &Override,
    author: i32,
    at: i64,
) -> Result<(), StoreError> {
    let one = |attempt: &i32| {
        (
            given_marks::attempt_id.eq(*attempt),
            given_marks::criterion.eq(&given.criterion),
            given_marks::marks.eq(given.marks),
            given_marks::reason.eq(&given.reason),
            given_marks::author_id.eq(author),
            given_marks::at.eq(at),
        )
    };
    let rows: Vec<_> = attempts.iter().map(one).collect();
    diesel::insert_into(given_marks::table)
        .values(&rows)
        .execute(db)?;
    Ok(())
}
