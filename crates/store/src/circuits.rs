//! Circuits as documents.

use cimento_core::circuit::CircuitDoc;
use diesel::prelude::*;

use crate::database::Store;
use crate::error::StoreError;
use crate::schema::circuits;

/// A stored circuit.
#[derive(Debug, Clone)]
pub struct CircuitRow {
    pub id: i32,
    pub title: String,
    pub document: CircuitDoc,
    pub updated_at: i64,
}

impl Store {
    /// Stores a circuit and gives its number.
    ///
    /// # Errors
    /// When the database fails.
    pub fn add_circuit(&self, document: &CircuitDoc, now: i64) -> Result<i32, StoreError> {
        let mut db = self.connection()?;
        Ok(diesel::insert_into(circuits::table)
            .values((
                circuits::title.eq(&document.title),
                circuits::document.eq(serde_json::to_string(document)?),
                circuits::updated_at.eq(now),
            ))
            .returning(circuits::id)
            .get_result(&mut db)?)
    }

    /// All circuits: number, title, time of the last change.
    ///
    /// # Errors
    /// When the database fails.
    pub fn circuits(&self) -> Result<Vec<(i32, String, i64)>, StoreError> {
        let mut db = self.connection()?;
        Ok(circuits::table
            .order(circuits::title)
            .select((circuits::id, circuits::title, circuits::updated_at))
            .load(&mut db)?)
    }

    /// One circuit.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none with the number.
    pub fn circuit(&self, id: i32) -> Result<CircuitRow, StoreError> {
        let mut db = self.connection()?;
        let row: Option<(i32, String, String, i64)> =
            circuits::table.find(id).first(&mut db).optional()?;
        let (id, title, document, updated_at) = row.ok_or(StoreError::NotFound {
            what: "circuit",
            id: id.to_string(),
        })?;
        Ok(CircuitRow {
            id,
            title,
            document: serde_json::from_str(&document)?,
            updated_at,
        })
    }
}
