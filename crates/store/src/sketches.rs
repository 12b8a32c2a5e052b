//! What people sketched on the diagrams of machines: their own, from lesson to lesson.

use diesel::prelude::*;

use crate::database::Store;
use crate::error::StoreError;
use crate::schema::sketches;

/// Machines that one person sketches on at most; then the one that was left longest goes.
const MOST: i64 = 200;

impl Store {
    /// What somebody sketched on a machine, as JSON.
    ///
    /// # Errors
    /// When the database fails.
    pub fn sketch(&self, person: i32, machine: &str) -> Result<Option<String>, StoreError> {
        let own = sketches::table.find((person, machine));
        let marks = own.select(sketches::marks);
        Ok(marks.first(&mut self.connection()?).optional()?)
    }

    /// All that somebody sketched: the machine with its marks as JSON, by machine.
    ///
    /// # Errors
    /// When the database fails.
    pub fn sketches(&self, person: i32) -> Result<Vec<(String, String)>, StoreError> {
        let own = sketches::table.filter(sketches::user_id.eq(person));
        let all = own
            .order(sketches::machine)
            .select((sketches::machine, sketches::marks));
        Ok(all.load(&mut self.connection()?)?)
    }

    /// Keeps what somebody sketched on a machine in the place of what was there; nothing rubs it out.
    ///
    /// # Errors
    /// When the database fails.
    pub fn keep_sketch(
        &self,
        person: i32,
        machine: &str,
        marks: Option<&str>,
        at: i64,
    ) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            diesel::delete(sketches::table.find((person, machine))).execute(db)?;
            let Some(marks) = marks else {
                return Ok(());
            };
            let own = sketches::table.filter(sketches::user_id.eq(person));
            if own.count().get_result::<i64>(db)? >= MOST {
                let oldest: String = own
                    .order(sketches::changed_at)
                    .select(sketches::machine)
                    .first(db)?;
                diesel::delete(sketches::table.find((person, oldest))).execute(db)?;
            }
            diesel::insert_into(sketches::table)
                .values((
                    sketches::user_id.eq(person),
                    sketches::machine.eq(machine),
                    sketches::marks.eq(marks),
                    sketches::changed_at.eq(at),
                ))
                .execute(db)?;
            Ok(())
        })
    }
}
