//! Attempts and their steps. Steps are only ever added.

use std::collections::BTreeSet;

use cimento_diagnosis::attempt::{Action, Answer, Step};
use diesel::prelude::*;
use diesel::sql_query;
use diesel::sql_types::{BigInt, Double, Integer, Nullable, Text};

use crate::assignments::{GIVEN, HANDED_IN, TERMS, Terms, TermsRow};
use crate::classes::missing;
use crate::database::Store;
use crate::error::StoreError;
use crate::roles::Role;
use crate::schema::{asked, attempts, steps};
use crate::sheets::{NewSheet, keep, stands_no_more};

/// An attempt: a lesson given to a student.
#[derive(Debug, Clone, PartialEq)]
pub struct AttemptRow {
    pub id: i32,
    pub lesson_id: i32,
    pub lesson_title: String,
    pub student_id: i32,
    pub student: String,
    pub given_at: i64,
    pub steps: usize,
    pub handed_in: bool,
    /// The first, the second …
    pub no: usize,
    /// What it belongs to; an instructor's own trial belongs to nothing.
    pub given: Option<Given>,
    /// The other of two at one bench.
    pub partner: Option<Partner>,
}

/// The other of two at one bench, who has an attempt and a record of their own.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Partner {
    pub attempt: i32,
    pub student: String,
}

/// The assignment of an attempt.
#[derive(Debug, Clone, PartialEq)]
pub struct Given {
    pub assignment: i32,
    pub class: i32,
    pub class_name: String,
    pub terms: Terms,
    pub released_at: Option<i64>,
    /// All its benches stand still.
    pub paused: bool,
    /// Since when, by the time that passes at the school.
    pub paused_passed_s: Option<i64>,
    /// Everybody to whom it was given has handed in.
    pub all_done: bool,
    /// More time for this student, in minutes; of two at one bench, what either has.
    pub extra_minutes: f64,
    pub excused: bool,
    /// What whoever asks is in the class.
    pub asker: Option<Role>,
}

/// A step to be stored.
pub struct NewStep<'a> {
    pub step: &'a Step,
    /// A key of the asker's own choice: the same key is stored once.
    pub request: &'a str,
    pub at: i64,
    /// When the attempt began by the time that has passed at the school, where that is not on record yet.
    pub began_passed_s: Option<i64>,
}

/// How far an attempt has come.
#[derive(Debug, Clone, PartialEq)]
pub struct Standing {
    pub attempt: AttemptRow,
    /// When its first step was taken, in seconds since 1970, if it was.
    pub began: Option<i64>,
    /// The same by the time that has passed at the school ([`Store::passed_s`]).
    pub began_passed_s: Option<i64>,
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
    #[diesel(sql_type = Nullable<BigInt>)]
    began_passed_s: Option<i64>,
    #[diesel(sql_type = Nullable<Integer>)]
    done: Option<i32>,
    #[diesel(sql_type = Integer)]
    no: i32,
    #[diesel(sql_type = Nullable<BigInt>)]
    handed_in_at: Option<i64>,
    #[diesel(sql_type = Nullable<Integer>)]
    assignment_id: Option<i32>,
    #[diesel(sql_type = Nullable<Integer>)]
    class_id: Option<i32>,
    #[diesel(sql_type = Nullable<Text>)]
    class_name: Option<String>,
    #[diesel(embed)]
    terms: TermsRow,
    #[diesel(sql_type = Nullable<BigInt>)]
    released_at: Option<i64>,
    #[diesel(sql_type = Nullable<BigInt>)]
    paused_at: Option<i64>,
    #[diesel(sql_type = Nullable<BigInt>)]
    paused_passed_s: Option<i64>,
    #[diesel(sql_type = Integer)]
    given: i32,
    #[diesel(sql_type = Integer)]
    handed_in: i32,
    #[diesel(sql_type = Nullable<Double>)]
    extra_minutes: Option<f64>,
    #[diesel(sql_type = Nullable<BigInt>)]
    excused_at: Option<i64>,
    #[diesel(sql_type = Nullable<Text>)]
    asker: Option<String>,
    #[diesel(sql_type = Nullable<Integer>)]
    partner_id: Option<i32>,
    #[diesel(sql_type = Nullable<Text>)]
    partner: Option<String>,
}

/// Attempts with their lesson, their student, what they belong to and how far they have come, in one query; bound are
/// the request that may have been stored, and who asks.
fn select() -> String {
    format!(
        "
SELECT a.id, a.lesson_id, a.student_id, a.given_at, l.title, u.display,
       coalesce((SELECT max(no) FROM steps WHERE attempt_id = a.id), 0) AS steps,
       (SELECT action FROM steps WHERE attempt_id = a.id ORDER BY no DESC LIMIT 1) AS last,
       (SELECT at FROM steps WHERE attempt_id = a.id AND no = 1) AS began,
       a.began_passed_s,
       (SELECT no FROM steps WHERE attempt_id = a.id AND request = ?1) AS done,
       a.no, a.handed_in_at, a.assignment_id, s.class_id, c.name AS class_name, {TERMS}, s.released_at, s.paused_at,
       s.paused_passed_s,
       {GIVEN} AS given, {HANDED_IN} AS handed_in, d.excused_at, m.role AS asker, a.partner_id, w.display AS partner,
       max(coalesce(d.extra_minutes, 0.0), coalesce(b.extra_minutes, 0.0)) AS extra_minutes
FROM attempts a JOIN lessons l ON l.id = a.lesson_id JOIN users u ON u.id = a.student_id
LEFT JOIN assignments s ON s.id = a.assignment_id
LEFT JOIN classes c ON c.id = s.class_id
LEFT JOIN assigned d ON d.assignment_id = s.id AND d.user_id = a.student_id
LEFT JOIN members m ON m.class_id = s.class_id AND m.user_id = ?2
LEFT JOIN attempts p ON p.id = a.partner_id
LEFT JOIN users w ON w.id = p.student_id
LEFT JOIN assigned b ON b.assignment_id = s.id AND b.user_id = p.student_id"
    )
}

/// So many attempts of one's own at one lesson.
const MOST_TRIALS: usize = 20;

/// Which attempts.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Whose {
    /// A student's own.
    Of(i32),
    /// Those in classes whose instructor or assistant somebody is, and their own trials.
    SeenBy(i32),
    /// Those of an assignment, as somebody of the class sees them.
    In { assignment: i32, asker: i32 },
}

impl Row {
    fn standing(self) -> Result<Standing, StoreError> {
        let last = self.last.map(|text| serde_json::from_str::<Action>(&text));
        let last = last.transpose()?;
        let given = match self.assignment_id.zip(self.class_id) {
            None => None,
            Some((assignment, class)) => Some(Given {
                assignment,
                class,
                class_name: self.class_name.unwrap_or_default(),
                terms: self.terms.terms()?,
                released_at: self.released_at,
                paused: self.paused_at.is_some(),
                paused_passed_s: self.paused_passed_s,
                all_done: self.handed_in >= self.given,
                extra_minutes: self.extra_minutes.unwrap_or(0.0),
                excused: self.excused_at.is_some(),
                asker: self.asker.as_deref().map(Role::parse).transpose()?,
            }),
        };
        Ok(Standing {
            attempt: AttemptRow {
                id: self.id,
                lesson_id: self.lesson_id,
                lesson_title: self.title,
                student_id: self.student_id,
                student: self.display,
                given_at: self.given_at,
                steps: usize::try_from(self.steps).unwrap_or(0),
                handed_in: self.handed_in_at.is_some(),
                no: usize::try_from(self.no).unwrap_or(1),
                given,
                partner: self.partner_id.map(|attempt| Partner {
                    attempt,
                    student: self.partner.unwrap_or_default(),
                }),
            },
            began: self.began,
            began_passed_s: self.began_passed_s,
            last,
            done: self.done.and_then(|n| usize::try_from(n).ok()),
        })
    }
}

impl Store {
    /// The attempts at which something was done after a time.
    ///
    /// # Errors
    /// When the database fails.
    pub fn active_since(&self, at: i64) -> Result<BTreeSet<i32>, StoreError> {
        let mut db = self.connection()?;
        let ids: Vec<i32> = steps::table
            .filter(steps::at.gt(at))
            .select(steps::attempt_id)
            .distinct()
            .load(&mut db)?;
        Ok(ids.into_iter().collect())
    }

    /// Attempts, the latest first.
    ///
    /// # Errors
    /// When the database fails.
    pub fn attempts(&self, whose: Whose) -> Result<Vec<AttemptRow>, StoreError> {
        let (asker, which) = match whose {
            Whose::Of(student) => (student, "a.student_id = ?2".to_owned()),
            Whose::SeenBy(staff) => (
                staff,
                "m.role <> 'student' OR (a.assignment_id IS NULL AND a.student_id = ?2)".to_owned(),
            ),
            Whose::In { assignment, asker } => (
                asker,
                format!("a.assignment_id = {assignment} AND m.role <> 'student'"),
            ),
        };
        let rows: Vec<Row> = sql_query(format!("{} WHERE {which} ORDER BY a.id DESC", select()))
            .bind::<Text, _>("")
            .bind::<Integer, _>(asker)
            .load(&mut self.connection()?)?;
        let rows = rows.into_iter().map(Row::standing);
        rows.map(|row| Ok(row?.attempt)).collect()
    }

    /// How far an attempt has come, what whoever asks has to do with it, and whether a request was stored before.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none with the number.
    pub fn standing(&self, id: i32, request: &str, asker: i32) -> Result<Standing, StoreError> {
        let row: Option<Row> = sql_query(format!("{} WHERE a.id = ?3", select()))
            .bind::<Text, _>(request)
            .bind::<Integer, _>(asker)
            .bind::<Integer, _>(id)
            .get_result(&mut self.connection()?)
            .optional()?;
        row.ok_or_else(|| missing("attempt", id))?.standing()
    }

    /// Somebody's own trial of a lesson: the one that they have, or a new one.
    ///
    /// # Errors
    /// When lesson or person do not exist.
    pub fn own_trial(&self, lesson: i32, person: i32, now: i64) -> Result<i32, StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let known: Option<i32> = attempts::table
                .filter(attempts::lesson_id.eq(lesson))
                .filter(attempts::student_id.eq(person))
                .filter(attempts::assignment_id.is_null())
                .select(attempts::id)
                .first(db)
                .optional()?;
            if let Some(known) = known {
                return Ok(known);
            }
            begin_trial(db, (lesson, person), 1, now)
        })
    }

    /// Somebody's own attempt of a lesson that nothing was done in yet: one that they have, or a new one; the latest where
    /// they have many.
    ///
    /// # Errors
    /// When lesson or person do not exist.
    pub fn fresh_trial(&self, lesson: i32, person: i32, now: i64) -> Result<i32, StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let own = attempts::table
                .filter(attempts::lesson_id.eq(lesson))
                .filter(attempts::student_id.eq(person))
                .filter(attempts::assignment_id.is_null());
            let all: Vec<i32> = own
                .order(attempts::id.desc())
                .select(attempts::id)
                .load(db)?;
            let begun: Vec<i32> = steps::table
                .filter(steps::attempt_id.eq_any(&all))
                .select(steps::attempt_id)
                .distinct()
                .load(db)?;
            let fresh = all.iter().find(|id| !begun.contains(id));
            let many = all.first().filter(|_| all.len() >= MOST_TRIALS);
            if let Some(known) = fresh.or(many) {
                return Ok(*known);
            }
            begin_trial(db, (lesson, person), all.len() + 1, now)
        })
    }

    /// The steps of an attempt in order, as they were answered.
    ///
    /// # Errors
    /// When the database fails or holds a step that cannot be read.
    pub fn steps(&self, attempt: i32) -> Result<Vec<Step>, StoreError> {
        let mut db = self.connection()?;
        type Columns = (i32, String, String, f64, bool);
        let rows: Vec<Columns> = steps::table
            .filter(steps::attempt_id.eq(attempt))
            .order(steps::no)
            .select((
                steps::no,
                steps::action,
                steps::answer,
                steps::minutes,
                steps::by_partner,
            ))
            .load(&mut db)?;
        let step = |(no, action, answer, minutes, by_partner): Columns| {
            Ok(Step {
                no: usize::try_from(no).map_err(|e| StoreError::Damaged(e.to_string()))?,
                action: serde_json::from_str::<Action>(&action)?,
                answer: serde_json::from_str::<Answer>(&answer)?,
                minutes,
                by_partner,
            })
        };
        rows.into_iter().map(step).collect()
    }

    /// Adds a step, for two at one bench to the record of each. When this returns, the step is on disk.
    ///
    /// # Errors
    /// [`StoreError::MovedOn`] when another step has come first; nothing is stored then.
    pub fn add_step(&self, attempt: i32, new: &NewStep<'_>) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            add(db, attempt, new)?;
            let partner: Option<i32> = attempts::table
                .find(attempt)
                .select(attempts::partner_id)
                .first(db)?;
            if let Some(partner) = partner {
                let step = new.step.clone().of_partner();
                add(
                    db,
                    partner,
                    &NewStep {
                        step: &step,
                        ..*new
                    },
                )?;
            }
            Ok(())
        })
    }

    /// Records the work of an attempt that nobody has begun: its steps, each with its time, and its sheet.
    ///
    /// # Errors
    /// When the database fails; nothing is recorded then.
    pub fn record(
        &self,
        attempt: i32,
        work: &[(&Step, i64)],
        sheet: Option<&NewSheet<'_>>,
    ) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            for (step, at) in work {
                diesel::insert_into(steps::table)
                    .values((
                        steps::attempt_id.eq(attempt),
                        steps::no.eq(i32::try_from(step.no).unwrap_or(i32::MAX)),
                        steps::request.eq(format!("recorded {}", step.no)),
                        steps::action.eq(serde_json::to_string(&step.action)?),
                        steps::answer.eq(serde_json::to_string(&step.answer)?),
                        steps::minutes.eq(step.minutes),
                        steps::at.eq(at),
                        steps::by_partner.eq(step.by_partner),
                    ))
                    .execute(db)?;
                if matches!(step.action, Action::HandIn(_)) {
                    diesel::update(attempts::table.find(attempt))
                        .set(attempts::handed_in_at.eq(at))
                        .execute(db)?;
                }
            }
            match sheet {
                Some(sheet) => keep(db, attempt, sheet),
                None => Ok(()),
            }
        })
    }
}

/// One more attempt of somebody's own.
fn begin_trial(
    db: &mut SqliteConnection,
    (lesson, person): (i32, i32),
    no: usize,
    now: i64,
) -> Result<i32, StoreError> {
    Ok(diesel::insert_into(attempts::table)
        .values((
            attempts::lesson_id.eq(lesson),
            attempts::student_id.eq(person),
            attempts::given_at.eq(now),
            attempts::no.eq(i32::try_from(no).unwrap_or(i32::MAX)),
        ))
        .returning(attempts::id)
        .get_result(db)?)
}

/// Adds a step to the record of one attempt.
fn add(db: &mut SqliteConnection, attempt: i32, new: &NewStep<'_>) -> Result<(), StoreError> {
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
            steps::action.eq(serde_json::to_string(&new.step.action)?),
            steps::answer.eq(serde_json::to_string(&new.step.answer)?),
            steps::minutes.eq(new.step.minutes),
            steps::at.eq(new.at),
            steps::by_partner.eq(new.step.by_partner),
        ))
        .execute(db)?;
    if new.step.action.asks_for_expectations() || matches!(new.step.action, Action::HandIn(_)) {
        // What one of two asked is answered, or nobody's question any more.
        diesel::delete(asked::table.find(attempt)).execute(db)?;
    }
    let row = attempts::table.find(attempt);
    if let Some(passed) = new.began_passed_s {
        diesel::update(row)
            .set(attempts::began_passed_s.eq(passed))
            .execute(db)?;
    }
    let handed_in = match new.step.action {
        Action::HandIn(_) => Some(new.at),
        Action::TakeUp(_) => {
            // What was marked of it is not the whole of it any more.
            stands_no_more(db, attempt)?;
            None
        }
        _ => return Ok(()),
    };
    diesel::update(row)
        .set(attempts::handed_in_at.eq(handed_in))
        .execute(db)?;
    Ok(())
}
