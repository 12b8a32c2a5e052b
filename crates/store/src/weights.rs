//! How a class weighs the categories of what it is given.

use std::collections::BTreeMap;

use diesel::prelude::*;

use crate::database::Store;
use crate::error::StoreError;
use crate::schema::{assignments, category_weights, classes, members, users};

/// Names by which a student information system knows things, where they came from one.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Sources {
    pub class: Option<String>,
    pub people: BTreeMap<i32, String>,
}

impl Store {
    /// The weights that a class has set, by category.
    ///
    /// # Errors
    /// When the database fails.
    pub fn category_weights(&self, class: i32) -> Result<BTreeMap<String, f64>, StoreError> {
        let mut db = self.connection()?;
        let rows: Vec<(String, f64)> = category_weights::table
            .filter(category_weights::class_id.eq(class))
            .select((category_weights::category, category_weights::weight))
            .load(&mut db)?;
        Ok(rows.into_iter().collect())
    }

    /// Sets them, in the place of those that were set.
    ///
    /// # Errors
    /// When the class does not exist, or the database fails.
    pub fn weigh_categories(
        &self,
        class: i32,
        weights: &BTreeMap<String, f64>,
    ) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            diesel::delete(category_weights::table.filter(category_weights::class_id.eq(class)))
                .execute(db)?;
            for (category, weight) in weights {
                diesel::insert_into(category_weights::table)
                    .values((
                        category_weights::class_id.eq(class),
                        category_weights::category.eq(category),
                        category_weights::weight.eq(weight),
                    ))
                    .execute(db)?;
            }
            Ok(())
        })
    }

    /// The categories of what a class was given.
    ///
    /// # Errors
    /// When the database fails.
    pub fn categories(&self, class: i32) -> Result<Vec<String>, StoreError> {
        let mut db = self.connection()?;
        Ok(assignments::table
            .filter(assignments::class_id.eq(class))
            .select(assignments::category)
            .distinct()
            .order(assignments::category)
            .load(&mut db)?)
    }

    /// What a class and its people are called where they came from.
    ///
    /// # Errors
    /// When the database fails.
    pub fn sources(&self, class: i32) -> Result<Sources, StoreError> {
        let mut db = self.connection()?;
        let own: Option<Option<String>> = classes::table
            .find(class)
            .select(classes::source)
            .first(&mut db)
            .optional()?;
        let people: Vec<(i32, Option<String>)> = members::table
            .inner_join(users::table.on(users::id.eq(members::user_id)))
            .filter(members::class_id.eq(class))
            .select((users::id, users::source))
            .load(&mut db)?;
        let known = people.into_iter();
        Ok(Sources {
            class: own.flatten(),
            people: known.filter_map(|(id, s)| Some((id, s?))).collect(),
        })
    }
}
