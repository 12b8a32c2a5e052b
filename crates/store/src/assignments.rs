//! What was given out: a lesson to a class or some of it, from when until when, how often, and when its marks show.

use std::collections::BTreeMap;

use cimento_diagnosis::lesson::LessonDoc;
use diesel::prelude::*;
use diesel::sql_query;
use diesel::sql_types::{BigInt, Bool, Integer, Nullable, Text};

use crate::classes::{give_one, missing};
use crate::database::Store;
use crate::error::StoreError;
use crate::lessons::insert;
use crate::pairs::pair;
use crate::roles::Role;
use crate::schema::{assigned, assignments, attempts, members, pools, steps};

/// Which of several attempts counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Counts {
    Last,
    Best,
    Mean,
}

/// When students see the sheets of what is marked.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SheetsShow {
    /// Once they have handed in.
    HandedIn,
    /// Once everybody has, or it is closed.
    AllDone,
    /// When the instructor says so.
    Released,
}

/// How a lesson is given.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Terms {
    /// Seconds of the epoch, each where there is one.
    pub opens_at: Option<i64>,
    pub due_at: Option<i64>,
    pub closes_at: Option<i64>,
    /// How many attempts each has.
    pub attempts: i32,
    pub counts: Counts,
    pub sheets: SheetsShow,
    /// What kind of work it is, as its class weighs it; empty for none.
    pub category: String,
}

impl Default for Terms {
    fn default() -> Self {
        Self {
            opens_at: None,
            due_at: None,
            closes_at: None,
            attempts: 1,
            counts: Counts::Best,
            sheets: SheetsShow::AllDone,
            category: String::new(),
        }
    }
}

/// An assignment.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct AssignmentRow {
    pub id: i32,
    pub class: i32,
    pub class_name: String,
    pub lesson: i32,
    pub lesson_title: String,
    pub whole_class: bool,
    pub terms: Terms,
    pub released_at: Option<i64>,
    /// Its benches stand still since then.
    pub paused_at: Option<i64>,
    pub made_at: i64,
    /// How many lessons of one difficulty are dealt in it; none where all have the same.
    pub dealt: usize,
    /// Students it was given to, and those of them who have handed in.
    pub given: usize,
    pub handed_in: usize,
}

macro_rules! named {
    ($kind:ident { $($variant:ident = $name:literal),+ }) => {
        impl $kind {
            pub const ALL: &[Self] = &[$(Self::$variant),+];

            /// As stored and sent.
            pub fn name(self) -> &'static str {
                match self {
                    $(Self::$variant => $name),+
                }
            }

            /// What has a name, if anything.
            pub fn named(text: &str) -> Option<Self> {
                Self::ALL.iter().copied().find(|one| one.name() == text)
            }
        }
    };
}
named!(Counts { Last = "last", Best = "best", Mean = "mean" });
named!(SheetsShow { HandedIn = "handed_in", AllDone = "all_done", Released = "released" });

/// Columns of an assignment's terms as a query gives them.
#[derive(QueryableByName)]
pub(crate) struct TermsRow {
    #[diesel(sql_type = Nullable<BigInt>)]
    opens_at: Option<i64>,
    #[diesel(sql_type = Nullable<BigInt>)]
    due_at: Option<i64>,
    #[diesel(sql_type = Nullable<BigInt>)]
    closes_at: Option<i64>,
    #[diesel(sql_type = Nullable<Integer>)]
    allowed: Option<i32>,
    #[diesel(sql_type = Nullable<Text>)]
    counts: Option<String>,
    #[diesel(sql_type = Nullable<Text>)]
    sheets: Option<String>,
    #[diesel(sql_type = Nullable<Text>)]
    category: Option<String>,
}

/// What a query names to get a [`TermsRow`] of an assignment `s`.
pub(crate) const TERMS: &str =
    "s.opens_at, s.due_at, s.closes_at, s.attempts AS allowed, s.counts, s.sheets, s.category";

impl TermsRow {
    /// What was agreed, or that there is nothing to agree on.
    pub(crate) fn terms(self) -> Result<Terms, StoreError> {
        let usual = Terms::default();
        let damaged = |text: &str| StoreError::Damaged(format!("an assignment's “{text}”"));
        let counts = self.counts.as_deref().map_or(Ok(usual.counts), |text| {
            Counts::named(text).ok_or_else(|| damaged(text))
        })?;
        let sheets = self.sheets.as_deref().map_or(Ok(usual.sheets), |text| {
            SheetsShow::named(text).ok_or_else(|| damaged(text))
        })?;
        Ok(Terms {
            opens_at: self.opens_at,
            due_at: self.due_at,
            closes_at: self.closes_at,
            attempts: self.allowed.unwrap_or(usual.attempts),
            counts,
            sheets,
            category: self.category.unwrap_or_default(),
        })
    }
}

#[derive(QueryableByName)]
struct Row {
    #[diesel(sql_type = Integer)]
    id: i32,
    #[diesel(sql_type = Integer)]
    class_id: i32,
    #[diesel(sql_type = Text)]
    class_name: String,
    #[diesel(sql_type = Integer)]
    lesson_id: i32,
    #[diesel(sql_type = Text)]
    title: String,
    #[diesel(sql_type = Bool)]
    whole_class: bool,
    #[diesel(embed)]
    terms: TermsRow,
    #[diesel(sql_type = Nullable<BigInt>)]
    released_at: Option<i64>,
    #[diesel(sql_type = Nullable<BigInt>)]
    paused_at: Option<i64>,
    #[diesel(sql_type = BigInt)]
    made_at: i64,
    #[diesel(sql_type = Integer)]
    dealt: i32,
    #[diesel(sql_type = Integer)]
    given: i32,
    #[diesel(sql_type = Integer)]
    handed_in: i32,
}

/// How many of an assignment's students have handed in.
pub(crate) const HANDED_IN: &str = "
(SELECT count(DISTINCT h.student_id) FROM attempts h
 WHERE h.assignment_id = s.id AND h.handed_in_at IS NOT NULL)";

/// To how many students of an assignment's it was given, those aside who are excused or have left.
pub(crate) const GIVEN: &str = "
(SELECT count(*) FROM assigned g JOIN users w ON w.id = g.user_id
 WHERE g.assignment_id = s.id AND g.excused_at IS NULL AND w.retired_at IS NULL)";

impl Row {
    fn assignment(self) -> Result<AssignmentRow, StoreError> {
        let count = |n: i32| usize::try_from(n).unwrap_or(0);
        Ok(AssignmentRow {
            id: self.id,
            class: self.class_id,
            class_name: self.class_name,
            lesson: self.lesson_id,
            lesson_title: self.title,
            whole_class: self.whole_class,
            terms: self.terms.terms()?,
            released_at: self.released_at,
            paused_at: self.paused_at,
            made_at: self.made_at,
            dealt: count(self.dealt),
            given: count(self.given),
            handed_in: count(self.handed_in),
        })
    }
}

/// To whom a lesson is given.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum To<'a> {
    /// All students of the class, and whoever joins it.
    Class,
    /// Some of its students.
    Some(&'a [i32]),
}

/// Who works with whom: students, two at a bench each.
pub type Pairs<'a> = &'a [[i32; 2]];

impl Store {
    /// Gives a lesson to a class or some of it: the assignment's number, and its attempts' in the order of the
    /// students.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where one of the students is none of the class; when class or lesson do not exist.
    pub fn assign(
        &self,
        class: i32,
        lesson: i32,
        to: To<'_>,
        terms: &Terms,
        now: i64,
    ) -> Result<(i32, Vec<i32>), StoreError> {
        self.assign_in_pairs(class, lesson, (to, &[]), terms, now)
    }

    /// The same with two at a bench each, and alone who is in no pair.
    ///
    /// # Errors
    /// As [`Store::assign`]; [`StoreError::NotFound`] also where one of a pair is not given it, or is in another pair.
    pub fn assign_in_pairs(
        &self,
        class: i32,
        lesson: i32,
        (to, pairs): (To<'_>, Pairs<'_>),
        terms: &Terms,
        now: i64,
    ) -> Result<(i32, Vec<i32>), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            give(db, class, lesson, (to, pairs), |_| lesson, (terms, now))
        })
    }

    /// Stores lessons and deals them to students of a class, each with the place among the lessons of the one that they
    /// get: one assignment of all of them. Whoever has another attempt gets one that they have not had. Gives the
    /// lessons' numbers.
    ///
    /// # Errors
    /// As [`Store::assign_in_pairs`]; [`StoreError::NotFound`] also where there is no such lesson. Nothing is stored then.
    pub fn deal(
        &self,
        class: i32,
        (pool, author): (&[&LessonDoc], i32),
        (dealt, pairs): (&[(i32, usize)], Pairs<'_>),
        terms: &Terms,
        now: i64,
    ) -> Result<Vec<i32>, StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let stored = pool.iter().map(|doc| insert(db, doc, author, now));
            let lessons: Vec<i32> = stored.collect::<Result<_, _>>()?;
            let nothing = || missing("lesson in the pool", 0);
            let mut got: BTreeMap<i32, i32> = BTreeMap::new();
            for (student, at) in dealt {
                got.insert(*student, *lessons.get(*at).ok_or_else(nothing)?);
            }
            let first = *lessons.first().ok_or_else(nothing)?;
            let students: Vec<i32> = dealt.iter().map(|(student, _)| *student).collect();
            let of = |student: i32| got.get(&student).copied().unwrap_or(first);
            let to = (To::Some(&students), pairs);
            let (assignment, _) = give(db, class, first, to, of, (terms, now))?;
            for lesson in &lessons {
                diesel::insert_into(pools::table)
                    .values((
                        pools::assignment_id.eq(assignment),
                        pools::lesson_id.eq(lesson),
                    ))
                    .execute(db)?;
            }
            Ok(lessons)
        })
    }

    /// Changes the terms of an assignment.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub fn change_terms(&self, id: i32, terms: &Terms) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        let changed = diesel::update(assignments::table.find(id))
            .set(columns(terms))
            .execute(&mut db)?;
        match changed {
            0 => Err(missing("assignment", id)),
            _ => Ok(()),
        }
    }

    /// Shows its sheets to its students, or hides them again.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub fn release(&self, id: i32, at: Option<i64>) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        let changed = diesel::update(assignments::table.find(id))
            .set(assignments::released_at.eq(at))
            .execute(&mut db)?;
        match changed {
            0 => Err(missing("assignment", id)),
            _ => Ok(()),
        }
    }

    /// Takes an assignment back, which nobody has begun.
    ///
    /// # Errors
    /// [`StoreError::Begun`] where somebody has.
    pub fn withdraw(&self, id: i32) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let begun: i64 = attempts::table
                .inner_join(steps::table)
                .filter(attempts::assignment_id.eq(id))
                .count()
                .get_result(db)?;
            if begun > 0 {
                return Err(StoreError::Begun);
            }
            diesel::delete(attempts::table.filter(attempts::assignment_id.eq(id))).execute(db)?;
            match diesel::delete(assignments::table.find(id)).execute(db)? {
                0 => Err(missing("assignment", id)),
                _ => Ok(()),
            }
        })
    }

    /// Gives a student another attempt of what they were given, and gives its number.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where they were not given it.
    pub fn give_again(&self, id: i32, student: i32, now: i64) -> Result<i32, StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| again(db, id, student, None, now))
    }

    /// Gives the two of an attempt another one at one bench, and gives the number of who asks.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the attempt is nobody's bench with another.
    pub fn give_again_to_both(&self, attempt: i32, now: i64) -> Result<i32, StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let of = |db: &mut SqliteConnection, id: i32| -> Result<_, StoreError> {
                let columns = (
                    attempts::student_id,
                    attempts::assignment_id,
                    attempts::partner_id,
                );
                let row: Option<(i32, Option<i32>, Option<i32>)> = attempts::table
                    .find(id)
                    .select(columns)
                    .first(db)
                    .optional()?;
                row.ok_or_else(|| missing("attempt", id))
            };
            let (student, assignment, partner) = of(db, attempt)?;
            let (Some(assignment), Some(partner)) = (assignment, partner) else {
                return Err(missing("pair at attempt", attempt));
            };
            let (other, ..) = of(db, partner)?;
            let own = again(db, assignment, student, None, now)?;
            let lesson = attempts::table
                .find(own)
                .select(attempts::lesson_id)
                .first(db)?;
            let theirs = again(db, assignment, other, Some(lesson), now)?;
            pair(db, [own, theirs])?;
            Ok(own)
        })
    }

    /// Gives a student more time, or excuses them, or no longer.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where they were not given it.
    pub fn allow(
        &self,
        id: i32,
        student: i32,
        extra_minutes: f64,
        excused_at: Option<i64>,
    ) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        let changed = diesel::update(assigned::table.find((id, student)))
            .set((
                assigned::extra_minutes.eq(extra_minutes),
                assigned::excused_at.eq(excused_at),
            ))
            .execute(&mut db)?;
        match changed {
            0 => Err(missing("assignment", id)),
            _ => Ok(()),
        }
    }

    /// What was given out in classes whose instructor or assistant somebody is, newest first.
    ///
    /// # Errors
    /// When the database fails.
    pub fn assignments(&self, staff: i32) -> Result<Vec<AssignmentRow>, StoreError> {
        self.select(
            "JOIN members m ON m.class_id = s.class_id AND m.user_id = ?1 AND m.role <> 'student'
             ORDER BY s.id DESC",
            staff,
        )
    }

    /// One assignment.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub fn assignment(&self, id: i32) -> Result<AssignmentRow, StoreError> {
        let found = self.select("WHERE s.id = ?1", id)?;
        found
            .into_iter()
            .next()
            .ok_or_else(|| missing("assignment", id))
    }

    fn select(&self, rest: &str, bound: i32) -> Result<Vec<AssignmentRow>, StoreError> {
        let query = format!(
            "SELECT s.id, s.class_id, c.name AS class_name, s.lesson_id, l.title, s.whole_class, {TERMS},
                    s.released_at, s.paused_at, s.made_at,
                    (SELECT count(*) FROM pools p WHERE p.assignment_id = s.id) AS dealt, {GIVEN} AS given, {HANDED_IN} AS handed_in
             FROM assignments s JOIN classes c ON c.id = s.class_id JOIN lessons l ON l.id = s.lesson_id {rest}"
        );
        let mut db = self.connection()?;
        let rows: Vec<Row> = sql_query(query).bind::<Integer, _>(bound).load(&mut db)?;
        rows.into_iter().map(Row::assignment).collect()
    }
}

/// Gives a lesson, or to each student one of their own.
fn give(
    db: &mut SqliteConnection,
    class: i32,
    lesson: i32,
    (to, pairs): (To<'_>, Pairs<'_>),
    lesson_of: impl Fn(i32) -> i32,
    (terms, now): (&Terms, i64),
) -> Result<(i32, Vec<i32>), StoreError> {
    let class_s: Vec<i32> = members::table
        .filter(members::class_id.eq(class))
        .filter(members::role.eq(Role::Student.name()))
        .select(members::user_id)
        .load(db)?;
    let students = match to {
        To::Class => &class_s[..],
        To::Some(students) => students,
    };
    if let Some(other) = students.iter().find(|id| !class_s.contains(id)) {
        return Err(missing("student of this class with number", *other));
    }
    let assignment: i32 = diesel::insert_into(assignments::table)
        .values((
            assignments::class_id.eq(class),
            assignments::lesson_id.eq(lesson),
            assignments::whole_class.eq(to == To::Class),
            assignments::made_at.eq(now),
            columns(terms),
        ))
        .returning(assignments::id)
        .get_result(db)?;
    let begin = |student: &i32| give_one(db, (assignment, lesson_of(*student)), *student, now);
    let attempts: Vec<i32> = students.iter().map(begin).collect::<Result<_, _>>()?;
    let with = students.iter().copied().zip(attempts.iter().copied());
    let mut alone: BTreeMap<i32, i32> = with.collect();
    for both in pairs {
        let mut take = |student: i32| {
            let found = alone.remove(&student);
            found.ok_or_else(|| missing("student without a partner with number", student))
        };
        pair(db, [take(both[0])?, take(both[1])?])?;
    }
    Ok((assignment, attempts))
}

/// One more attempt of a student's at an assignment, with its lesson or the one to be given.
fn again(
    db: &mut SqliteConnection,
    assignment: i32,
    student: i32,
    lesson: Option<i32>,
    now: i64,
) -> Result<i32, StoreError> {
    let usual: i32 = assignments::table
        .inner_join(assigned::table)
        .filter(assignments::id.eq(assignment))
        .filter(assigned::user_id.eq(student))
        .select(assignments::lesson_id)
        .first(db)
        .optional()?
        .ok_or_else(|| missing("assignment", assignment))?;
    let lesson = match lesson {
        Some(lesson) => lesson,
        None => fresh(db, assignment, student)?.unwrap_or(usual),
    };
    let before: i64 = attempts::table
        .filter(attempts::assignment_id.eq(assignment))
        .filter(attempts::student_id.eq(student))
        .count()
        .get_result(db)?;
    Ok(diesel::insert_into(attempts::table)
        .values((
            attempts::lesson_id.eq(lesson),
            attempts::student_id.eq(student),
            attempts::given_at.eq(now),
            attempts::assignment_id.eq(assignment),
            attempts::no.eq(i32::try_from(before + 1).unwrap_or(i32::MAX)),
        ))
        .returning(attempts::id)
        .get_result(db)?)
}

/// Of the pool that an assignment deals from, what a student has had least often, and the class least.
fn fresh(
    db: &mut SqliteConnection,
    assignment: i32,
    student: i32,
) -> Result<Option<i32>, StoreError> {
    #[derive(QueryableByName)]
    struct Lesson {
        #[diesel(sql_type = Integer)]
        lesson_id: i32,
    }
    let found: Option<Lesson> = sql_query(
        "SELECT p.lesson_id FROM pools p
         LEFT JOIN attempts a ON a.assignment_id = p.assignment_id AND a.lesson_id = p.lesson_id
         WHERE p.assignment_id = ?1 GROUP BY p.lesson_id
         ORDER BY coalesce(sum(a.student_id = ?2), 0), count(a.id), p.lesson_id LIMIT 1",
    )
    .bind::<Integer, _>(assignment)
    .bind::<Integer, _>(student)
    .get_result(db)
    .optional()?;
    Ok(found.map(|l| l.lesson_id))
}

type Columns<'a> = (
    diesel::dsl::Eq<assignments::opens_at, Option<i64>>,
    diesel::dsl::Eq<assignments::due_at, Option<i64>>,
    diesel::dsl::Eq<assignments::closes_at, Option<i64>>,
    diesel::dsl::Eq<assignments::attempts, i32>,
    diesel::dsl::Eq<assignments::counts, &'static str>,
    diesel::dsl::Eq<assignments::sheets, &'static str>,
    diesel::dsl::Eq<assignments::category, &'a str>,
);

fn columns(terms: &Terms) -> Columns<'_> {
    (
        assignments::opens_at.eq(terms.opens_at),
        assignments::due_at.eq(terms.due_at),
        assignments::closes_at.eq(terms.closes_at),
        assignments::attempts.eq(terms.attempts),
        assignments::counts.eq(terms.counts.name()),
        assignments::sheets.eq(terms.sheets.name()),
        assignments::category.eq(terms.category.as_str()),
    )
}
