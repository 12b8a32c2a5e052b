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
        let mut db = self.connection()?;
        let mut grouped = |of: &str| -> Result<Vec<Row>, StoreError> {
            let text = format!(
                "SELECT l.criterion, max(l.title) AS title, {of} AS of, avg(l.share) AS share, count(*) AS sheets
                 FROM assignments s JOIN attempts a ON a.assignment_id = s.id
                 JOIN sheets h ON h.attempt_id = a.id AND h.stands
                 JOIN sheet_lines l ON l.sheet_id = h.id
                 WHERE s.class_id = ?1 AND a.handed_in_at IS NOT NULL
                 GROUP BY l.criterion, 3 ORDER BY {of}, l.criterion"
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
