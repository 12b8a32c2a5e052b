//! Attempts and their steps. Steps are only ever added.

use cimento_diagnosis::attempt::actions::HandIn;
use cimento_diagnosis::attempt::{Action, Answer, Step};
use diesel::prelude::*;

use crate::database::Store;
use crate::error::StoreError;
use crate::schema::{attempts, lessons, steps, users};

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

type Joined = (i32, i32, i32, i64, String, String);

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
        let mut query = attempts::table
            .inner_join(lessons::table)
            .inner_join(users::table)
            .order(attempts::id.desc())
            .select((
                attempts::id,
                attempts::lesson_id,
                attempts::student_id,
                attempts::given_at,
                lessons::title,
                users::display,
            ))
            .into_boxed();
        if let Some(student) = student {
            query = query.filter(attempts::student_id.eq(student));
        }
        if let Some(lesson) = lesson {
            query = query.filter(attempts::lesson_id.eq(lesson));
        }
        let rows: Vec<Joined> = query.load(&mut db)?;
        rows.into_iter()
            .map(|row| with_progress(&mut db, row))
            .collect()
    }

    /// One attempt.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none with the number.
    pub fn attempt(&self, id: i32) -> Result<AttemptRow, StoreError> {
        let mut db = self.connection()?;
        let row: Option<Joined> = attempts::table
            .inner_join(lessons::table)
            .inner_join(users::table)
            .filter(attempts::id.eq(id))
            .select((
                attempts::id,
                attempts::lesson_id,
                attempts::student_id,
                attempts::given_at,
                lessons::title,
                users::display,
            ))
            .first(&mut db)
            .optional()?;
        let row = row.ok_or(StoreError::NotFound {
            what: "attempt",
            id: id.to_string(),
        })?;
        with_progress(&mut db, row)
    }

    /// When the first step of an attempt was taken, in seconds since 1970, if it was.
    ///
    /// # Errors
    /// When the database fails.
    pub fn began(&self, attempt: i32) -> Result<Option<i64>, StoreError> {
        let mut db = self.connection()?;
        Ok(steps::table
            .filter(steps::attempt_id.eq(attempt))
            .order(steps::no)
            .select(steps::at)
            .first(&mut db)
            .optional()?)
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

    /// The number of the step that a request made, if it was stored before.
    ///
    /// # Errors
    /// When the database fails.
    pub fn step_of_request(
        &self,
        attempt: i32,
        request: &str,
    ) -> Result<Option<usize>, StoreError> {
        let mut db = self.connection()?;
        let no: Option<i32> = steps::table
            .filter(steps::attempt_id.eq(attempt))
            .filter(steps::request.eq(request))
            .select(steps::no)
            .first(&mut db)
            .optional()?;
        Ok(no.and_then(|n| usize::try_from(n).ok()))
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
        let mut db = self.connection()?;
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

fn with_progress(db: &mut SqliteConnection, row: Joined) -> Result<AttemptRow, StoreError> {
    let (id, lesson_id, student_id, given_at, lesson_title, student) = row;
    let own = steps::table.filter(steps::attempt_id.eq(id));
    let count: i64 = own.count().get_result(db)?;
    let last: Option<String> = own
        .order(steps::no.desc())
        .select(steps::action)
        .first(db)
        .optional()?;
    let last = last
        .map(|text| serde_json::from_str::<Action>(&text))
        .transpose()?;
    Ok(AttemptRow {
        id,
        lesson_id,
        lesson_title,
        student_id,
        student,
        given_at,
        steps: usize::try_from(count).unwrap_or(0),
        handed_in: last == Some(Action::HandIn(HandIn {})),
    })
}
