//! Where the students of a class sit.

use std::collections::BTreeMap;

use diesel::prelude::*;

use crate::database::Store;
use crate::error::StoreError;
use crate::schema::{members, seats};

/// Columns and rows of the largest room.
pub const MOST_COLUMNS: i32 = 10;
pub const MOST_ROWS: i32 = 8;

/// A place in the room, counted from the front left, from 0.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Seat {
    pub column: i32,
    pub row: i32,
}

impl Store {
    /// Who sits where in a class; who has no seat is not in it.
    ///
    /// # Errors
    /// When the database fails.
    pub fn seats(&self, class: i32) -> Result<BTreeMap<i32, Seat>, StoreError> {
        let rows: Vec<(i32, i32, i32)> = seats::table
            .filter(seats::class_id.eq(class))
            .select((seats::user_id, seats::place_column, seats::place_row))
            .load(&mut self.connection()?)?;
        let seat = |(student, column, row)| (student, Seat { column, row });
        Ok(rows.into_iter().map(seat).collect())
    }

    /// Seats a student of a class, or takes their seat away; who sat there changes places with them.
    ///
    /// # Errors
    /// [`StoreError::NoSeat`] outside the room; [`StoreError::NotFound`] for nobody of the class.
    pub fn sit(&self, class: i32, student: i32, at: Option<Seat>) -> Result<(), StoreError> {
        if at.is_some_and(|s| {
            !(0..MOST_COLUMNS).contains(&s.column) || !(0..MOST_ROWS).contains(&s.row)
        }) {
            return Err(StoreError::NoSeat(MOST_COLUMNS, MOST_ROWS));
        }
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let known: i64 = members::table
                .find((class, student))
                .count()
                .get_result(db)?;
            if known == 0 {
                return Err(StoreError::NotFound {
                    what: "member of this class with number",
                    id: student.to_string(),
                });
            }
            let own = seats::table.find((class, student));
            let was: Option<(i32, i32)> = own
                .select((seats::place_column, seats::place_row))
                .first(db)
                .optional()?;
            diesel::delete(own).execute(db)?;
            let Some(at) = at else { return Ok(()) };
            let there = seats::table
                .filter(seats::class_id.eq(class))
                .filter(seats::place_column.eq(at.column))
                .filter(seats::place_row.eq(at.row));
            match was {
                Some((column, row)) => diesel::update(there)
                    .set((seats::place_column.eq(column), seats::place_row.eq(row)))
                    .execute(db)?,
                None => diesel::delete(there).execute(db)?,
            };
            diesel::insert_into(seats::table)
                .values((
                    seats::class_id.eq(class),
                    seats::user_id.eq(student),
                    seats::place_column.eq(at.column),
                    seats::place_row.eq(at.row),
                ))
                .execute(db)?;
            Ok(())
        })
    }
}
