//! Attempts and their steps. Steps are only ever added.

use cimento_diagnosis::attempt::actions::HandIn;
use cimento_diagnosis::attempt::{Action, Answer, Step};
use diesel::prelude::*;
use diesel::sql_query;
use diesel::sql_types::{BigInt, Integer, Nullable, Text};

use crate::database::Store;
use crate::error::StoreError;
use crate::schema::steps;

/// An attempt: a lesson given to a student.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct AttemptRow {
    pub id: i32,
    pub lesson_id: i32,
    pub lesson_title: String,
    pub student_id: i32,
    pub student: String,
    pub given_at: i64,
    pub steps: usize,
    pub handed_in: bool,
}

/// A step to be stored.
pub struct NewStep<'a> {
    pub step: &'a Step,
    /// A key of the asker's own choice: the same key is stored once.
    pub request: &'a str,
    pub at: i64,
}

/// How far an attempt has come.
#[derive(Debug, Clone, PartialEq)]
pub struct Standing {
    pub attempt: AttemptRow,
    /// When its first step was taken, in seconds since 1970, if it was.
    pub began: Option<i64>,
    /// What was done last.
    pub last: Option<Action>,
    /// The number of the step that a request made, if it was stored before.
    pub done: Option<usize>,
}

/// A row of [`SELECT`].
#[derive(QueryableByName)]
struct Row {
    #[diesel(sql_type = Integer)]
    id: i32,
    #[diesel(sql_type = Integer)]
    lesson_id: i32,
    #[diesel(sql_type = Integer)]
    student_id: i32,
    #[diesel(sql_type = BigInt)]
    given_at: i64,
    #[diesel(sql_type = Text)]
    title: String,
    #[diesel(sql_type = Text)]
    display: String,
    #[diesel(sql_type = Integer)]
    steps: i32,
    #[diesel(sql_type = Nullable<Text>)]
    last: Option<String>,
    #[diesel(sql_type = Nullable<BigInt>)]
    began: Option<i64>,
    #[diesel(sql_type = Nullable<Integer>)]
    done: Option<i32>,
}

/// Attempts with their lesson, their student and how far they have come, in one query; the request that
/// may have been stored is bound first.
const SELECT: &str = "
SELECT a.id, a.lesson_id, a.student_id, a.given_at, l.title, u.display,
       coalesce((SELECT max(no) FROM steps WHERE attempt_id = a.id), 0) AS steps,
       (SELECT action FROM steps WHERE attempt_id = a.id ORDER BY no DESC LIMIT 1) AS last,
       (SELECT at FROM steps WHERE attempt_id = a.id AND no = 1) AS began,
       (SELECT no FROM steps WHERE attempt_id = a.id AND request = ?1) AS done
FROM attempts a JOIN lessons l ON l.id = a.lesson_id JOIN users u ON u.id = a.student_id";

impl Row {
    fn standing(self) -> Result<Standing, StoreError> {
        let last = self.last.map(|text| serde_json::from_str::<Action>(&text));
        let last = last.transpose()?;
        Ok(Standing {
            attempt: AttemptRow {
                id: self.id,
                lesson_id: self.lesson_id,
                lesson_title: self.title,
                student_id: self.student_id,
                student: self.display,
                given_at: self.given_at,
                steps: usize::try_from(self.steps).unwrap_or(0),
                handed_in: last == Some(Action::HandIn(HandIn {})),
            },
            began: self.began,
            last,
            done: self.done.and_then(|n| usize::try_from(n).ok()),
        })
    }
}

impl Store {
    /// The attempts of a student, or of a lesson, or all.
    ///
    /// # Errors
    /// When the database fails.
    pub fn attempts(
        &self,
        student: Option<i32>,
        lesson: Option<i32>,
    ) -> Result<Vec<AttemptRow>, StoreError> {
        let mut db = self.connection()?;
        let query = format!(
            "{SELECT} WHERE (?2 IS NULL OR a.student_id = ?2) AND (?3 IS NULL OR a.lesson_id = ?3) ORDER BY a.id DESC"
        );
        let rows: Vec<Row> = sql_query(query)
            .bind::<Text, _>("")
            .bind::<Nullable<Integer>, _>(student)
            .bind::<Nullable<Integer>, _>(lesson)
            .load(&mut db)?;
        let rows = rows.into_iter().map(Row::standing);
        rows.map(|row| Ok(row?.attempt)).collect()
    }

    /// One attempt.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none with the number.
    pub fn attempt(&self, id: i32) -> Result<AttemptRow, StoreError> {
        Ok(self.standing(id, "")?.attempt)
    }

    /// How far an attempt has come, and whether a request was stored before.
    ///
    /// # Errors
    /// As [`Store::attempt`].
    pub fn standing(&self, id: i32, request: &str) -> Result<Standing, StoreError> {
        let mut db = self.connection()?;
        let row: Option<Row> = sql_query(format!("{SELECT} WHERE a.id = ?2"))
            .bind::<Text, _>(request)
            .bind::<Integer, _>(id)
            .get_result(&mut db)
            .optional()?;
        let row = row.ok_or(StoreError::NotFound {
            what: "attempt",
            id: id.to_string(),
        })?;
        row.standing()
    }

    /// The steps of an attempt in order, as they were answered.
    ///
    /// # Errors
    /// When the database fails or holds a step that cannot be read.
    pub fn steps(&self, attempt: i32) -> Result<Vec<Step>, StoreError> {
        let mut db = self.connection()?;
        let rows: Vec<(i32, String, String, f64)> = steps::table
            .filter(steps::attempt_id.eq(attempt))
            .order(steps::no)
            .select((steps::no, steps::action, steps::answer, steps::minutes))
            .load(&mut db)?;
        let step = |(no, action, answer, minutes): (i32, String, String, f64)| {
            Ok(Step {
                no: usize::try_from(no).map_err(|e| StoreError::Damaged(e.to_string()))?,
                action: serde_json::from_str::<Action>(&action)?,
                answer: serde_json::from_str::<Answer>(&answer)?,
                minutes,
            })
        };
        rows.into_iter().map(step).collect()
    }

    /// Adds a step. When this returns, the step is on disk.
    ///
    /// # Errors
    /// [`StoreError::MovedOn`] when another step has come first; nothing is stored then.
    pub fn add_step(&self, attempt: i32, new: &NewStep<'_>) -> Result<(), StoreError> {
        let (action, answer) = (
            serde_json::to_string(&new.step.action)?,
            serde_json::to_string(&new.step.answer)?,
        );
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let have: i64 = steps::table
                .filter(steps::attempt_id.eq(attempt))
                .count()
                .get_result(db)?;
            let have = usize::try_from(have).unwrap_or(0);
            if have + 1 != new.step.no {
                return Err(StoreError::MovedOn {
                    have,
                    expected: new.step.no - 1,
                });
            }
            diesel::insert_into(steps::table)
                .values((
                    steps::attempt_id.eq(attempt),
                    steps::no.eq(i32::try_from(new.step.no).unwrap_or(i32::MAX)),
                    steps::request.eq(new.request),
                    steps::action.eq(action),
                    steps::answer.eq(answer),
                    steps::minutes.eq(new.step.minutes),
                    steps::at.eq(new.at),
                ))
                .execute(db)?;
            Ok(())
        })
    }
}
