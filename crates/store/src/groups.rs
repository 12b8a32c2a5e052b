//! Some students of a class under a name, to whom work is given together.

use std::collections::BTreeMap;

use diesel::prelude::*;

use crate::classes::missing;
use crate::database::Store;
use crate::error::StoreError;
use crate::names::in_a_line;
use crate::roles::Role;
use crate::schema::{class_groups, grouped, members};

const LONGEST_NAME: usize = 60;
/// So many in a class.
const MOST: i64 = 40;

/// A group of a class.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Group {
    pub id: i32,
    pub name: String,
    /// Those of it who are students of the class.
    pub students: Vec<i32>,
}

impl Store {
    /// The groups of a class, by their names.
    ///
    /// # Errors
    /// When the database fails.
    pub fn groups(&self, class: i32) -> Result<Vec<Group>, StoreError> {
        let mut db = self.connection()?;
        let names: Vec<(i32, String)> = class_groups::table
            .filter(class_groups::class_id.eq(class))
            .order(class_groups::name)
            .select((class_groups::id, class_groups::name))
            .load(&mut db)?;
        let here = members::table
            .filter(members::class_id.eq(class))
            .filter(members::role.eq(Role::Student.name()))
            .select(members::user_id);
        let rows: Vec<(i32, i32)> = grouped::table
            .inner_join(class_groups::table)
            .filter(class_groups::class_id.eq(class))
            .filter(grouped::user_id.eq_any(here))
            .order(grouped::user_id)
            .select((grouped::group_id, grouped::user_id))
            .load(&mut db)?;
        let mut of: BTreeMap<i32, Vec<i32>> = BTreeMap::new();
        for (group, student) in rows {
            of.entry(group).or_default().push(student);
        }
        let group = |(id, name): (i32, String)| Group {
            students: of.remove(&id).unwrap_or_default(),
            id,
            name,
        };
        Ok(names.into_iter().map(group).collect())
    }

    /// Keeps students of a class as a group; the one of that name is replaced. Gives its number.
    ///
    /// # Errors
    /// [`StoreError::NoGroup`] for a name that is none, for nobody, or one more than there may be;
    /// [`StoreError::NotFound`] where one of the students is none of the class.
    pub fn keep_group(&self, class: i32, name: &str, students: &[i32]) -> Result<i32, StoreError> {
        let refused = || StoreError::NoGroup(LONGEST_NAME, MOST);
        let name = in_a_line(name, LONGEST_NAME).ok_or_else(refused)?;
        if students.is_empty() {
            return Err(refused());
        }
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let of_class: Vec<i32> = members::table
                .filter(members::class_id.eq(class))
                .filter(members::role.eq(Role::Student.name()))
                .select(members::user_id)
                .load(db)?;
            if let Some(other) = students.iter().find(|id| !of_class.contains(id)) {
                return Err(missing("student of this class with number", *other));
            }
            let of_class = class_groups::table.filter(class_groups::class_id.eq(class));
            let known: Option<i32> = of_class
                .filter(class_groups::name.eq(name))
                .select(class_groups::id)
                .first(db)
                .optional()?;
            let have: i64 = of_class.count().get_result(db)?;
            let id = match known {
                Some(id) => id,
                None if have >= MOST => return Err(refused()),
                None => diesel::insert_into(class_groups::table)
                    .values((
                        class_groups::class_id.eq(class),
                        class_groups::name.eq(name),
                    ))
                    .returning(class_groups::id)
                    .get_result(db)?,
            };
            diesel::delete(grouped::table.filter(grouped::group_id.eq(id))).execute(db)?;
            for student in students {
                diesel::insert_or_ignore_into(grouped::table)
                    .values((grouped::group_id.eq(id), grouped::user_id.eq(student)))
                    .execute(db)?;
            }
            Ok(id)
        })
    }

    /// Forgets a group of a class; what it was given stays given.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the class has none of that number.
    pub fn forget_group(&self, class: i32, id: i32) -> Result<(), StoreError> {
        let own = class_groups::table
            .filter(class_groups::id.eq(id))
            .filter(class_groups::class_id.eq(class));
        match diesel::delete(own).execute(&mut self.writing()?)? {
            0 => Err(missing("group of this class", id)),
            _ => Ok(()),
        }
    }
}
