//! Layouts of diagrams by the shape of what is drawn.

use diesel::prelude::*;

use crate::database::Store;
use crate::error::StoreError;
use crate::schema::layouts;

impl Store {
    /// The layout of a shape, as it was stored.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when nobody has laid it out yet.
    pub fn layout(&self, shape: &str) -> Result<String, StoreError> {
        let mut db = self.connection()?;
        let found: Option<String> = layouts::table
            .find(shape)
            .select(layouts::document)
            .first(&mut db)
            .optional()?;
        found.ok_or(StoreError::NotFound {
            what: "layout",
            id: shape.to_owned(),
        })
    }

    /// Stores the layout of a shape. One that is there stays: it is of the same shape.
    ///
    /// # Errors
    /// When the database fails.
    pub fn add_layout(&self, shape: &str, document: &str) -> Result<(), StoreError> {
        let mut db = self.connection()?;
        diesel::insert_or_ignore_into(layouts::table)
            .values((layouts::shape.eq(shape), layouts::document.eq(document)))
            .execute(&mut db)?;
        Ok(())
    }
}
