//! What a class can do, criterion by criterion and week by week: means over the sheets that stand.

use diesel::prelude::*;
use diesel::sql_query;
use diesel::sql_types::{BigInt, Double, Integer, Text};

use crate::database::Store;
use crate::error::StoreError;

/// Seconds of a week.
const WEEK_S: i64 = 7 * 24 * 3600;
/// From the Monday before the epoch to its beginning, in seconds.
const MONDAY_S: i64 = 3 * 24 * 3600;

/// A criterion's mean over some sheets of a class, as computed.
#[derive(Debug, Clone, PartialEq)]
pub struct CriterionMean {
    pub criterion: String,
    pub title: String,
    /// Of whom; of a week of the whole class, when it began, in seconds since 1970.
    pub of: MeanOf,
    /// 0 to 1.
    pub share: f64,
    /// Over so many sheets.
    pub sheets: i64,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum MeanOf {
    Student(i32),
    Week(i64),
}

#[derive(QueryableByName)]
struct Row {
    #[diesel(sql_type = Text)]
    criterion: String,
    #[diesel(sql_type = Text)]
    title: String,
    #[diesel(sql_type = BigInt)]
    of: i64,
    #[diesel(sql_type = Double)]
    share: f64,
    #[diesel(sql_type = BigInt)]
    sheets: i64,
}

impl Store {
    /// Means of every criterion over what was given to a class: by student, and by the week in which it was handed in.
    ///
    /// # Errors
    /// When the database fails.
    pub fn criteria(&self, class: i32) -> Result<Vec<CriterionMean>, StoreError> {
        self.means(
            class,
            "",
            ("l.criterion", "max(l.title)", "l.share"),
            "JOIN sheet_lines l ON l.sheet_id = h.id",
        )
    }

    /// The same of every skill that lessons declare: the share of all marks, over the lessons that practise it. The
    /// criterion and its title are the skill's name in documents.
    ///
    /// # Errors
    /// When the database fails.
    pub fn skills(&self, class: i32) -> Result<Vec<CriterionMean>, StoreError> {
        self.means(
            class,
            "WITH practised AS MATERIALIZED (
                 SELECT l.id AS lesson_id, k.value AS skill FROM lessons l, json_each(l.document, '$.skills') k
                 WHERE l.id IN (SELECT a.lesson_id FROM assignments s JOIN attempts a ON a.assignment_id = s.id
                                WHERE s.class_id = ?1))",
            ("p.skill", "p.skill", "h.computed / 100.0"),
            "JOIN practised p ON p.lesson_id = a.lesson_id",
        )
    }

    /// Means of something that sheets have, by student and by week.
    fn means(
        &self,
        class: i32,
        with: &str,
        (key, title, share): (&str, &str, &str),
        join: &str,
    ) -> Result<Vec<CriterionMean>, StoreError> {
        let mut db = self.connection()?;
        let mut grouped = |of: &str| -> Result<Vec<Row>, StoreError> {
            let text = format!(
                "{with} SELECT {key} AS criterion, {title} AS title, {of} AS of, avg({share}) AS share,
                        count(*) AS sheets
                 FROM assignments s JOIN attempts a ON a.assignment_id = s.id
                 JOIN sheets h ON h.attempt_id = a.id AND h.stands {join}
                 WHERE s.class_id = ?1 AND a.handed_in_at IS NOT NULL
                 GROUP BY {key}, 3 ORDER BY {of}, {key}"
            );
            Ok(sql_query(text).bind::<Integer, _>(class).load(&mut db)?)
        };
        // The epoch began on a Thursday, and weeks begin on a Monday.
        let weeks = grouped(&format!(
            "CAST((a.handed_in_at + {MONDAY_S}) / {WEEK_S} AS BIGINT) * {WEEK_S} - {MONDAY_S}"
        ))?;
        let students = grouped("CAST(a.student_id AS BIGINT)")?;
        let mean = |row: Row, of: MeanOf| CriterionMean {
            criterion: row.criterion,
            title: row.title,
            of,
            share: row.share,
            sheets: row.sheets,
        };
        let of_weeks = weeks.into_iter().map(|row| {
            let of = MeanOf::Week(row.of);
            mean(row, of)
        });
        let of_students = students.into_iter().map(|row| {
            let of = MeanOf::Student(i32::try_from(row.of).unwrap_or_default());
            mean(row, of)
        });
        Ok(of_weeks.chain(of_students).collect())
    }
}
