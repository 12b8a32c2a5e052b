//! Where the tracks of diagrams stand, by the shape of what is drawn.

use diesel::prelude::*;

use crate::database::Store;
use crate::error::StoreError;
use crate::schema::placements;

impl Store {
    /// The placement of a shape, as it was stored; nothing when it was not worked out yet.
    ///
    /// # Errors
    /// When the database fails.
    pub fn placement(&self, shape: &str) -> Result<Option<String>, StoreError> {
        let mut db = self.connection()?;
        let found = placements::table
            .find(shape)
            .select(placements::document)
            .first(&mut db);
        Ok(found.optional()?)
    }

    /// Stores the placement of a shape. One that is there stays: it is of the same shape.
    ///
    /// # Errors
    /// When the database fails.
    pub fn add_placement(&self, shape: &str, document: &str) -> Result<(), StoreError> {
        let mut db = self.connection()?;
        diesel::insert_or_ignore_into(placements::table)
            .values((
                placements::shape.eq(shape),
                placements::document.eq(document),
            ))
            .execute(&mut db)?;
        Ok(())
    }
}
