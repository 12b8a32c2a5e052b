//! Two at one bench: who works with whom, and what one of them has asked the machine while the other has still to say
//! what they expect.

use cimento_diagnosis::attempt::Action;
use diesel::prelude::*;

use crate::classes::missing;
use crate::database::Store;
use crate::error::StoreError;
use crate::schema::{asked, attempts, steps};

/// What one of two has asked.
#[derive(Debug, Clone, PartialEq)]
pub struct AskedRow {
    /// The attempt of who asks.
    pub by: i32,
    /// With what they expect, which is not their partner's to see.
    pub action: Action,
}

/// Sets two attempts that nobody has begun at one bench.
pub(crate) fn pair(db: &mut SqliteConnection, both: [i32; 2]) -> Result<(), StoreError> {
    let begun: i64 = steps::table
        .filter(steps::attempt_id.eq_any(both))
        .count()
        .get_result(db)?;
    if begun > 0 {
        return Err(StoreError::Begun);
    }
    for [one, other] in [both, [both[1], both[0]]] {
        diesel::update(attempts::table.find(one))
            .set(attempts::partner_id.eq(other))
            .execute(db)?;
    }
    Ok(())
}

impl Store {
    /// Each of two goes on alone from where both stood; both have the whole record.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the attempt is nobody's bench with another.
    pub fn part(&self, attempt: i32) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let partner: Option<i32> = attempts::table
                .find(attempt)
                .select(attempts::partner_id)
                .first(db)
                .optional()?
                .flatten();
            let partner = partner.ok_or_else(|| missing("pair at attempt", attempt))?;
            let both = [attempt, partner];
            diesel::update(attempts::table.filter(attempts::id.eq_any(both)))
                .set(attempts::partner_id.eq(None::<i32>))
                .execute(db)?;
            diesel::delete(asked::table.filter(asked::attempt_id.eq_any(both))).execute(db)?;
            Ok(())
        })
    }

    /// What one of two has asked and the other not yet answered.
    ///
    /// # Errors
    /// When the database fails or holds an action that cannot be read.
    pub fn asked(&self, both: [i32; 2]) -> Result<Option<AskedRow>, StoreError> {
        let found: Option<(i32, String)> = asked::table
            .filter(asked::attempt_id.eq_any(both))
            .select((asked::attempt_id, asked::action))
            .first(&mut self.connection()?)
            .optional()?;
        let row = |(by, action): (i32, String)| {
            Ok(AskedRow {
                by,
                action: serde_json::from_str(&action)?,
            })
        };
        found.map(row).transpose()
    }

    /// One of two asks the machine something: nothing where the other has asked before, and that is not answered.
    ///
    /// # Errors
    /// When the database fails.
    pub fn ask(
        &self,
        [by, partner]: [i32; 2],
        action: &Action,
        at: i64,
    ) -> Result<bool, StoreError> {
        let action = serde_json::to_string(action)?;
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let theirs: i64 = asked::table
                .filter(asked::attempt_id.eq(partner))
                .count()
                .get_result(db)?;
            if theirs > 0 {
                return Ok(false);
            }
            diesel::replace_into(asked::table)
                .values((
                    asked::attempt_id.eq(by),
                    asked::action.eq(action),
                    asked::at.eq(at),
                ))
                .execute(db)?;
            Ok(true)
        })
    }

    /// What was asked is asked no more: it was answered, or taken back.
    ///
    /// # Errors
    /// When the database fails.
    pub fn unask(&self, both: [i32; 2]) -> Result<(), StoreError> {
        diesel::delete(asked::table.filter(asked::attempt_id.eq_any(both)))
            .execute(&mut self.writing()?)?;
        Ok(())
    }
}
