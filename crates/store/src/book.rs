//! The book of marks of a class: what its students have of what it was given.

use std::collections::BTreeMap;

use cimento_diagnosis::marking::Override;
use diesel::prelude::*;
use diesel::sql_query;
use diesel::sql_types::{BigInt, Double, Integer, Nullable};

use crate::database::Store;
use crate::error::StoreError;

/// An attempt as the book has it.
#[derive(Debug, Clone, PartialEq)]
pub struct BookEntry {
    pub attempt: i32,
    pub assignment: i32,
    pub student: i32,
    pub no: i32,
    pub steps: i32,
    /// When it was handed in.
    pub handed_in_at: Option<i64>,
    /// Marks as computed, once there are any.
    pub computed: Option<f64>,
    pub excused: bool,
    /// What an instructor gave instead, in the order it was given.
    pub given: Vec<Override>,
}

#[derive(QueryableByName)]
struct Row {
    #[diesel(sql_type = Integer)]
    id: i32,
    #[diesel(sql_type = Integer)]
    assignment_id: i32,
    #[diesel(sql_type = Integer)]
    student_id: i32,
    #[diesel(sql_type = Integer)]
    no: i32,
    #[diesel(sql_type = Integer)]
    steps: i32,
    #[diesel(sql_type = Nullable<BigInt>)]
    handed_in_at: Option<i64>,
    #[diesel(sql_type = Nullable<Double>)]
    computed: Option<f64>,
    #[diesel(sql_type = Nullable<BigInt>)]
    excused_at: Option<i64>,
}

#[derive(QueryableByName)]
struct GivenRow {
    #[diesel(sql_type = Integer)]
    attempt_id: i32,
    #[diesel(sql_type = diesel::sql_types::Text)]
    criterion: String,
    #[diesel(sql_type = Nullable<Double>)]
    marks: Option<f64>,
    #[diesel(sql_type = diesel::sql_types::Text)]
    reason: String,
}

/// Whose entries.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum BookOf {
    /// All that was given to a class.
    Class(i32),
    /// All that was given to a student.
    Student(i32),
}

impl Store {
    /// Every attempt of what was given to a class or a student, in the order they were given.
    ///
    /// # Errors
    /// When the database fails.
    pub fn book(&self, of: BookOf) -> Result<Vec<BookEntry>, StoreError> {
        let (whose, id) = match of {
            BookOf::Class(id) => ("s.class_id", id),
            BookOf::Student(id) => ("a.student_id", id),
        };
        let mut db = self.connection()?;
        let rows: Vec<Row> = sql_query(format!(
            "SELECT a.id, a.assignment_id, a.student_id, a.no,
                    coalesce((SELECT max(no) FROM steps WHERE attempt_id = a.id), 0) AS steps,
                    a.handed_in_at, h.computed, d.excused_at
             FROM assignments s JOIN attempts a ON a.assignment_id = s.id
             LEFT JOIN assigned d ON d.assignment_id = s.id AND d.user_id = a.student_id
             LEFT JOIN sheets h ON h.attempt_id = a.id AND h.stands
             WHERE {whose} = ?1 ORDER BY a.id",
        ))
        .bind::<Integer, _>(id)
        .load(&mut db)?;
        let given: Vec<GivenRow> = sql_query(format!(
            "SELECT g.attempt_id, g.criterion, g.marks, g.reason
             FROM given_marks g JOIN attempts a ON a.id = g.attempt_id
             JOIN assignments s ON s.id = a.assignment_id
             WHERE {whose} = ?1 ORDER BY g.id",
        ))
        .bind::<Integer, _>(id)
        .load(&mut db)?;
        let mut of: BTreeMap<i32, Vec<Override>> = BTreeMap::new();
        for row in given {
            of.entry(row.attempt_id).or_default().push(Override {
                criterion: row.criterion,
                marks: row.marks,
                reason: row.reason,
            });
        }
        let entry = |row: Row| BookEntry {
            given: of.remove(&row.id).unwrap_or_default(),
            attempt: row.id,
            assignment: row.assignment_id,
            student: row.student_id,
            no: row.no,
            steps: row.steps,
            handed_in_at: row.handed_in_at,
            computed: row.computed,
            excused: row.excused_at.is_some(),
        };
        Ok(rows.into_iter().map(entry).collect())
    }
}
