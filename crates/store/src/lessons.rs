//! Lessons as documents. One that is changed is another version of it: what was begun keeps the version that it began
//! with, and what was not moves on.

use cimento_diagnosis::lesson::LessonDoc;
use diesel::prelude::*;
use diesel::sql_query;
use diesel::sql_types::Integer;

use crate::classes::missing;
use crate::database::Store;
use crate::error::StoreError;
use crate::schema::{assignments, lessons, users};

const LONGEST_FOLDER: usize = 60;

/// A stored lesson.
#[derive(Debug, Clone)]
pub struct LessonRow {
    pub id: i32,
    pub title: String,
    pub document: LessonDoc,
    pub created_at: i64,
}

/// A lesson in a list, at its latest version.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct LessonLine {
    pub id: i32,
    /// The number of its first version, which all have in common.
    pub family: i32,
    pub version: i32,
    pub title: String,
    pub folder: String,
    pub created_at: i64,
    /// When it was put away.
    pub retired_at: Option<i64>,
}

type Line = (i32, i32, i32, String, String, i64, Option<i64>);

fn line((id, family, version, title, folder, created_at, retired_at): Line) -> LessonLine {
    LessonLine {
        id,
        family,
        version,
        title,
        folder,
        created_at,
        retired_at,
    }
}

impl Store {
    /// Stores a lesson and gives its number. What is stored under a number never changes afterwards.
    ///
    /// # Errors
    /// When the database fails.
    pub fn add_lesson(
        &self,
        document: &LessonDoc,
        author: i32,
        now: i64,
    ) -> Result<i32, StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| insert(db, document, author, now))
    }

    /// The number of a lesson that the program brings with it: stored where it is not yet, by whoever was first in the
    /// school, and put away, for it is nobody's to give out.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] in a school without people.
    pub fn built_in_lesson(&self, document: &LessonDoc, now: i64) -> Result<i32, StoreError> {
        let text = serde_json::to_string(document)?;
        let known = |db: &mut SqliteConnection| {
            let own = lessons::table
                .filter(lessons::title.eq(&document.title))
                .filter(lessons::document.eq(&text))
                .filter(lessons::retired_at.is_not_null());
            own.select(lessons::id).first::<i32>(db).optional()
        };
        if let Some(id) = known(&mut *self.connection()?)? {
            return Ok(id);
        }
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            if let Some(id) = known(db)? {
                return Ok(id);
            }
            let first: Option<i32> = users::table.select(diesel::dsl::min(users::id)).first(db)?;
            let author = first.ok_or_else(|| missing("person", 1))?;
            let id = insert(db, document, author, now)?;
            diesel::update(lessons::table.find(id))
                .set(lessons::retired_at.eq(now))
                .execute(db)?;
            Ok(id)
        })
    }

    /// Stores another version of a lesson and gives its number. Assignments, and attempts that nobody has begun, go on
    /// with it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`]; [`StoreError::LessonMovedOn`] where there is a later version than the one it was
    /// made from.
    pub fn change_lesson(
        &self,
        from: i32,
        document: &LessonDoc,
        author: i32,
        now: i64,
    ) -> Result<i32, StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| {
            let before = one_line(db, from)?;
            let latest: Option<i32> = lessons::table
                .filter(lessons::family.eq(before.family))
                .select(diesel::dsl::max(lessons::version))
                .first(db)?;
            if latest != Some(before.version) {
                return Err(StoreError::LessonMovedOn(latest.unwrap_or(0)));
            }
            let id: i32 = diesel::insert_into(lessons::table)
                .values((
                    lessons::title.eq(&document.title),
                    lessons::document.eq(serde_json::to_string(document)?),
                    lessons::author_id.eq(author),
                    lessons::created_at.eq(now),
                    lessons::family.eq(before.family),
                    lessons::version.eq(before.version + 1),
                    lessons::folder.eq(&before.folder),
                    lessons::retired_at.eq(before.retired_at),
                ))
                .returning(lessons::id)
                .get_result(db)?;
            let of_family = lessons::table
                .filter(lessons::family.eq(before.family))
                .select(lessons::id);
            let own: Vec<i32> = of_family.load(db)?;
            diesel::update(assignments::table.filter(assignments::lesson_id.eq_any(&own)))
                .set(assignments::lesson_id.eq(id))
                .execute(db)?;
            sql_query(
                "UPDATE OR IGNORE pools SET lesson_id = ?1
                 WHERE lesson_id IN (SELECT id FROM lessons WHERE family = ?2)",
            )
            .bind::<Integer, _>(id)
            .bind::<Integer, _>(before.family)
            .execute(db)?;
            sql_query(
                "UPDATE attempts SET lesson_id = ?1
                 WHERE lesson_id IN (SELECT id FROM lessons WHERE family = ?2)
                 AND id NOT IN (SELECT attempt_id FROM steps)",
            )
            .bind::<Integer, _>(id)
            .bind::<Integer, _>(before.family)
            .execute(db)?;
            Ok(id)
        })
    }

    /// Puts a lesson into a folder, and away or back.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] or [`StoreError::NoFolder`].
    pub fn file_lesson(
        &self,
        id: i32,
        folder: &str,
        retired_at: Option<i64>,
    ) -> Result<(), StoreError> {
        let mut db = self.writing()?;
        db.immediate_transaction(|db| file(db, id, folder, retired_at))
    }

    /// All versions of all lessons, the newest lesson first and of each its latest version first.
    ///
    /// # Errors
    /// When the database fails.
    pub fn lessons(&self) -> Result<Vec<LessonLine>, StoreError> {
        let rows: Vec<Line> = lessons::table
            .order((lessons::family.desc(), lessons::version.desc()))
            .select(COLUMNS)
            .load(&mut self.connection()?)?;
        Ok(rows.into_iter().map(line).collect())
    }

    /// One lesson as it stands in a list.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none with the number.
    pub fn lesson_line(&self, id: i32) -> Result<LessonLine, StoreError> {
        one_line(&mut *self.connection()?, id)
    }

    /// One lesson.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none with the number.
    pub fn lesson(&self, id: i32) -> Result<LessonRow, StoreError> {
        let row: Option<(String, String, i64)> = lessons::table
            .find(id)
            .select((lessons::title, lessons::document, lessons::created_at))
            .first(&mut self.connection()?)
            .optional()?;
        let (title, document, created_at) = row.ok_or_else(|| missing("lesson", id))?;
        Ok(LessonRow {
            id,
            title,
            document: serde_json::from_str(&document)?,
            created_at,
        })
    }
}

/// Stores a lesson within a transaction.
pub(crate) fn insert(
    db: &mut SqliteConnection,
    document: &LessonDoc,
    author: i32,
    now: i64,
) -> Result<i32, StoreError> {
    let id: i32 = diesel::insert_into(lessons::table)
        .values((
            lessons::title.eq(&document.title),
            lessons::document.eq(serde_json::to_string(document)?),
            lessons::author_id.eq(author),
            lessons::created_at.eq(now),
            // The number is not known yet, and no other lesson's.
            lessons::family.eq(-1),
        ))
        .returning(lessons::id)
        .get_result(db)?;
    diesel::update(lessons::table.find(id))
        .set(lessons::family.eq(id))
        .execute(db)?;
    Ok(id)
}

/// Puts a lesson into a folder, and away or back, within a transaction.
pub(crate) fn file(
    db: &mut SqliteConnection,
    id: i32,
    folder: &str,
    retired_at: Option<i64>,
) -> Result<(), StoreError> {
    let folder = folder.trim();
    if folder.chars().count() > LONGEST_FOLDER || folder.chars().any(char::is_control) {
        return Err(StoreError::NoFolder(LONGEST_FOLDER));
    }
    let family = one_line(db, id)?.family;
    diesel::update(lessons::table.filter(lessons::family.eq(family)))
        .set((
            lessons::folder.eq(folder),
            lessons::retired_at.eq(retired_at),
        ))
        .execute(db)?;
    Ok(())
}

type Columns = (
    lessons::id,
    lessons::family,
    lessons::version,
    lessons::title,
    lessons::folder,
    lessons::created_at,
    lessons::retired_at,
);
const COLUMNS: Columns = (
    lessons::id,
    lessons::family,
    lessons::version,
    lessons::title,
    lessons::folder,
    lessons::created_at,
    lessons::retired_at,
);

pub(crate) fn one_line(db: &mut SqliteConnection, id: i32) -> Result<LessonLine, StoreError> {
    let row: Option<Line> = lessons::table
        .find(id)
        .select(COLUMNS)
        .first(db)
        .optional()?;
    row.map(line).ok_or_else(|| missing("lesson", id))
}
