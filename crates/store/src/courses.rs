//! Courses: lessons in the order they are taught, and which class takes which.

use std::collections::BTreeMap;

use cimento_diagnosis::lesson::LessonDoc;
use diesel::prelude::*;
use diesel::sql_query;
use diesel::sql_types::{BigInt, Integer, Text};

use crate::classes::missing;
use crate::database::Store;
use crate::error::StoreError;
use crate::names::in_a_line;
use crate::schema::{classes, course_lessons, courses};

const LONGEST_TITLE: usize = 120;
const LONGEST_ABOUT: usize = 1000;
/// More lessons than this in a course are a mistake.
const MOST_LESSONS: usize = 200;

/// A course without its lessons.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct CourseRow {
    pub id: i32,
    pub title: String,
    pub about: String,
    pub made_at: i64,
    /// When it was put away.
    pub retired_at: Option<i64>,
}

/// A lesson's place in a course.
#[derive(Debug, Clone, PartialEq, Eq, QueryableByName)]
pub struct CourseEntry {
    /// The lesson at its latest version.
    #[diesel(sql_type = Integer)]
    pub lesson: i32,
    /// What all its versions have in common.
    #[diesel(sql_type = Integer)]
    pub family: i32,
    #[diesel(sql_type = Text)]
    pub title: String,
    #[diesel(sql_type = Text)]
    pub chapter: String,
}

/// How far a class is with a lesson.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Done {
    /// Attempts given.
    pub given: usize,
    pub handed_in: usize,
}

type Row = (i32, String, String, i64, Option<i64>);

fn row((id, title, about, made_at, retired_at): Row) -> CourseRow {
    CourseRow {
        id,
        title,
        about,
        made_at,
        retired_at,
    }
}

type Columns = (
    courses::id,
    courses::title,
    courses::about,
    courses::made_at,
    courses::retired_at,
);
const COLUMNS: Columns = (
    courses::id,
    courses::title,
    courses::about,
    courses::made_at,
    courses::retired_at,
);

impl Store {
    /// All courses, by title.
    ///
    /// # Errors
    /// When the database fails.
    pub fn courses(&self) -> Result<Vec<CourseRow>, StoreError> {
        let rows: Vec<Row> = courses::table
            .order((courses::title, courses::id))
            .select(COLUMNS)
            .load(&mut self.connection()?)?;
        Ok(rows.into_iter().map(row).collect())
    }

    /// One course.
    ///
    /// # Errors
    /// [`StoreError::NotFound`].
    pub fn course(&self, id: i32) -> Result<CourseRow, StoreError> {
        let found: Option<Row> = courses::table
            .find(id)
            .select(COLUMNS)
            .first(&mut self.connection()?)
            .optional()?;
        found.map(row).ok_or_else(|| missing("course", id))
    }

    /// The lessons of a course, in its order.
    ///
    /// # Errors
    /// When the database fails.
    pub fn course_lessons(&self, id: i32) -> Result<Vec<CourseEntry>, StoreError> {
        let entries = sql_query(
            "SELECT l.id AS lesson, l.family, l.title, c.chapter FROM course_lessons c
             JOIN lessons l ON l.family = c.family
             AND l.version = (SELECT MAX(version) FROM lessons WHERE family = c.family)
             WHERE c.course_id = ?1 ORDER BY c.place",
        );
        let entries = entries.bind::<Integer, _>(id);
        Ok(entries.load(&mut *self.connection()?)?)
    }

    /// Makes a course without lessons, and gives its number.
    ///
    /// # Errors
    /// [`StoreError::NoCourseTitle`].
    pub fn add_course(
        &self,
        title: &str,
        about: &str,
        author: i32,
        now: i64,
    ) -> Result<i32, StoreError> {
        let (title, about) = (titled(title)?, said(about)?);
        insert(&mut *self.writing()?, title, about, (author, now))
    }

    /// Takes in a course with its lessons, each in the folder of its chapter: all of it or nothing.
    ///
    /// # Errors
    /// As [`Store::add_course`] and [`Store::change_course`].
    pub fn take_in_course(
        &self,
        (title, about): (&str, &str),
        lessons: &[(&LessonDoc, &str)],
        author: i32,
        now: i64,
    ) -> Result<i32, StoreError> {
        let (title, about) = (titled(title)?, said(about)?);
        if lessons.len() > MOST_LESSONS {
            return Err(StoreError::NoCourse(MOST_LESSONS));
        }
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let course = insert(db, title, about, (author, now))?;
            for (place, (lesson, chapter)) in lessons.iter().enumerate() {
                let chapter = titled(chapter)?;
                let lesson = crate::lessons::insert(db, lesson, author, now)?;
                crate::lessons::file(db, lesson, chapter, None)?;
                place_in(db, course, place, (lesson, chapter))?;
            }
            Ok(course)
        })
    }

    /// Names a course anew, puts it away or back, and gives it these lessons in this order, each with its chapter; a
    /// lesson is there at whatever version.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], [`StoreError::NoCourseTitle`], and [`StoreError::NoCourse`] where a lesson comes twice.
    pub fn change_course(
        &self,
        course: &CourseRow,
        lessons: &[(i32, String)],
    ) -> Result<(), StoreError> {
        let (title, about) = (titled(&course.title)?, said(&course.about)?);
        if lessons.len() > MOST_LESSONS {
            return Err(StoreError::NoCourse(MOST_LESSONS));
        }
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let changed = diesel::update(courses::table.find(course.id))
                .set((
                    courses::title.eq(title),
                    courses::about.eq(about),
                    courses::retired_at.eq(course.retired_at),
                ))
                .execute(db)?;
            if changed == 0 {
                return Err(missing("course", course.id));
            }
            let own = course_lessons::table.filter(course_lessons::course_id.eq(course.id));
            diesel::delete(own).execute(db)?;
            let mut families = Vec::new();
            for (place, (lesson, chapter)) in lessons.iter().enumerate() {
                let family = crate::lessons::one_line(db, *lesson)?.family;
                if families.contains(&family) {
                    return Err(StoreError::NoCourse(MOST_LESSONS));
                }
                families.push(family);
                place_in(db, course.id, place, (family, titled(chapter)?))?;
            }
            Ok(())
        })
    }

    /// Which course each class takes that takes one.
    ///
    /// # Errors
    /// When the database fails.
    pub fn courses_of_classes(&self) -> Result<BTreeMap<i32, i32>, StoreError> {
        let rows: Vec<(i32, Option<i32>)> = classes::table
            .select((classes::id, classes::course_id))
            .load(&mut self.connection()?)?;
        let takes = rows.into_iter();
        Ok(takes.filter_map(|(class, c)| Some((class, c?))).collect())
    }

    /// Lets a class take a course, or none.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] for a course or class that there is not.
    pub fn take_course(&self, class: i32, course: Option<i32>) -> Result<(), StoreError> {
        if let Some(course) = course {
            self.course(course)?;
        }
        let changed = diesel::update(classes::table.find(class))
            .set(classes::course_id.eq(course))
            .execute(&mut *self.writing()?)?;
        match changed {
            0 => Err(missing("class", class)),
            _ => Ok(()),
        }
    }

    /// How far a class is with each lesson that was given to it, by the number of the lesson's latest version.
    ///
    /// # Errors
    /// When the database fails.
    pub fn done_in_class(&self, class: i32) -> Result<BTreeMap<i32, Done>, StoreError> {
        #[derive(QueryableByName)]
        struct Counted {
            #[diesel(sql_type = Integer)]
            lesson: i32,
            #[diesel(sql_type = BigInt)]
            given: i64,
            #[diesel(sql_type = BigInt)]
            handed_in: i64,
        }
        let counted: Vec<Counted> = sql_query(
            "SELECT (SELECT id FROM lessons v WHERE v.family = l.family ORDER BY v.version DESC LIMIT 1) AS lesson,
             COUNT(DISTINCT t.student_id) AS given,
             COUNT(DISTINCT CASE WHEN t.handed_in_at IS NOT NULL THEN t.student_id END) AS handed_in
             FROM assignments a JOIN lessons l ON l.id = a.lesson_id
             JOIN attempts t ON t.assignment_id = a.id
             WHERE a.class_id = ?1 GROUP BY l.family",
        )
        .bind::<Integer, _>(class)
        .load(&mut *self.connection()?)?;
        let done = |c: Counted| {
            let done = Done {
                given: c.given as usize,
                handed_in: c.handed_in as usize,
            };
            (c.lesson, done)
        };
        Ok(counted.into_iter().map(done).collect())
    }
}

/// Makes a course within a transaction.
fn insert(
    db: &mut SqliteConnection,
    title: &str,
    about: &str,
    (author, now): (i32, i64),
) -> Result<i32, StoreError> {
    Ok(diesel::insert_into(courses::table)
        .values((
            courses::title.eq(title),
            courses::about.eq(about),
            courses::author_id.eq(author),
            courses::made_at.eq(now),
        ))
        .returning(courses::id)
        .get_result(db)?)
}

/// Puts a lesson, by what all its versions have in common, into a place of a course.
fn place_in(
    db: &mut SqliteConnection,
    course: i32,
    place: usize,
    (family, chapter): (i32, &str),
) -> Result<(), StoreError> {
    diesel::insert_into(course_lessons::table)
        .values((
            course_lessons::course_id.eq(course),
            course_lessons::place.eq(i32::try_from(place).unwrap_or(i32::MAX)),
            course_lessons::family.eq(family),
            course_lessons::chapter.eq(chapter),
        ))
        .execute(db)?;
    Ok(())
}

fn titled(title: &str) -> Result<&str, StoreError> {
    in_a_line(title, LONGEST_TITLE).ok_or(StoreError::NoCourseTitle(LONGEST_TITLE))
}

fn said(about: &str) -> Result<&str, StoreError> {
    let about = about.trim();
    match about.chars().count() <= LONGEST_ABOUT {
        true => Ok(about),
        false => Err(StoreError::NoAbout(LONGEST_ABOUT)),
    }
}
