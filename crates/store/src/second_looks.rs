//! Second looks: a student asks for one at a line of a sheet, once; an instructor answers, once.

use cimento_diagnosis::marking::Override;
use diesel::prelude::*;
use diesel::sql_query;
use diesel::sql_types::{BigInt, Integer, Text};

use crate::database::Store;
use crate::error::StoreError;
use crate::marks::give;
use crate::names::in_lines;
use crate::people::User;
use crate::schema::second_looks;

const LONGEST: usize = 500;

/// What a student asked of a line, and what came of it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SecondLook {
    pub criterion: String,
    pub asked: String,
    pub asked_at: i64,
    pub answer: Option<SecondAnswer>,
}

/// How an instructor answered.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SecondAnswer {
    pub text: String,
    /// Other marks were given; otherwise the line was kept.
    pub changed: bool,
    pub at: i64,
    /// The name that others see of who answered.
    pub by: String,
}

/// A second look that waits for an answer.
#[derive(Debug, Clone, PartialEq, Eq, QueryableByName)]
pub struct OpenLook {
    #[diesel(sql_type = Integer)]
    pub attempt: i32,
    #[diesel(sql_type = Text)]
    pub student: String,
    #[diesel(sql_type = Text)]
    pub lesson: String,
    #[diesel(sql_type = Text)]
    pub criterion: String,
    #[diesel(sql_type = Text)]
    pub asked: String,
    #[diesel(sql_type = BigInt)]
    pub asked_at: i64,
}

type Row = (
    String,
    String,
    i64,
    Option<String>,
    bool,
    Option<i64>,
    Option<String>,
);

fn look((criterion, asked, asked_at, text, changed, at, by): Row) -> SecondLook {
    let answer = text.zip(at).map(|(text, at)| SecondAnswer {
        text,
        changed,
        at,
        by: by.unwrap_or_default(),
    });
    SecondLook {
        criterion,
        asked,
        asked_at,
        answer,
    }
}

impl Store {
    /// Every second look at an attempt, in the order they were asked for.
    ///
    /// # Errors
    /// When the database fails.
    pub fn second_looks(&self, attempt: i32) -> Result<Vec<SecondLook>, StoreError> {
        let rows: Vec<Row> = second_looks::table
            .filter(second_looks::attempt_id.eq(attempt))
            .order(second_looks::id)
            .select((
                second_looks::criterion,
                second_looks::asked,
                second_looks::asked_at,
                second_looks::answer,
                second_looks::changed,
                second_looks::answered_at,
                second_looks::answered_by,
            ))
            .load(&mut self.connection()?)?;
        Ok(rows.into_iter().map(look).collect())
    }

    /// Those that wait for an answer of somebody who teaches, the oldest first.
    ///
    /// # Errors
    /// When the database fails.
    pub fn open_looks(&self, instructor: i32) -> Result<Vec<OpenLook>, StoreError> {
        Ok(sql_query(
            "SELECT a.id AS attempt, u.display AS student, l.title AS lesson,
                    k.criterion, k.asked, k.asked_at
             FROM second_looks k JOIN attempts a ON a.id = k.attempt_id
             JOIN users u ON u.id = a.student_id JOIN lessons l ON l.id = a.lesson_id
             JOIN assignments s ON s.id = a.assignment_id
             JOIN members m ON m.class_id = s.class_id AND m.user_id = ?1
                  AND m.role = 'instructor'
             WHERE k.answered_at IS NULL ORDER BY k.id",
        )
        .bind::<Integer, _>(instructor)
        .load(&mut self.connection()?)?)
    }

    /// Asks for a second look.
    ///
    /// # Errors
    /// [`StoreError::NoWord`] where the text is nothing or too long, [`StoreError::AskedBefore`].
    pub fn ask_second_look(
        &self,
        attempt: i32,
        criterion: &str,
        asked: &str,
        at: i64,
    ) -> Result<(), StoreError> {
        let asked = in_lines(asked, LONGEST).ok_or(StoreError::NoWord(LONGEST))?;
        let added = diesel::insert_into(second_looks::table)
            .values((
                second_looks::attempt_id.eq(attempt),
                second_looks::criterion.eq(criterion),
                second_looks::asked.eq(asked),
                second_looks::asked_at.eq(at),
            ))
            .on_conflict_do_nothing()
            .execute(&mut self.writing()?)?;
        match added {
            0 => Err(StoreError::AskedBefore),
            _ => Ok(()),
        }
    }

    /// Answers one: other marks are given with it, or the line is kept. Both go on record, or neither.
    ///
    /// # Errors
    /// [`StoreError::NoWord`], or [`StoreError::Answered`] where nothing was asked or it has its answer.
    pub fn answer_second_look(
        &self,
        attempt: i32,
        criterion: &str,
        (text, marks): (&str, Option<f64>),
        by: &User,
        at: i64,
    ) -> Result<(), StoreError> {
        let text = in_lines(text, LONGEST).ok_or(StoreError::NoWord(LONGEST))?;
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let open = second_looks::table
                .filter(second_looks::attempt_id.eq(attempt))
                .filter(second_looks::criterion.eq(criterion))
                .filter(second_looks::answered_at.is_null());
            let answered = diesel::update(open)
                .set((
                    second_looks::answer.eq(text),
                    second_looks::changed.eq(marks.is_some()),
                    second_looks::answered_at.eq(at),
                    second_looks::answered_by.eq(&by.display),
                ))
                .execute(db)?;
            if answered == 0 {
                return Err(StoreError::Answered);
            }
            let given = marks.map(|marks| Override {
                criterion: criterion.to_owned(),
                marks: Some(marks),
                reason: text.to_owned(),
            });
            given.map_or(Ok(()), |given| give(db, &[attempt], &given, by.id, at))
        })
    }
}
