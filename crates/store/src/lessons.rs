//! Lessons as documents.

use cimento_diagnosis::lesson::LessonDoc;
use diesel::prelude::*;

use crate::database::Store;
use crate::error::StoreError;
use crate::schema::lessons;

/// A stored lesson.
#[derive(Debug, Clone)]
pub struct LessonRow {
    pub id: i32,
    pub title: String,
    pub document: LessonDoc,
    pub created_at: i64,
}

impl Store {
    /// Stores a lesson and gives its number. A lesson never changes afterwards.
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
        Ok(diesel::insert_into(lessons::table)
            .values((
                lessons::title.eq(&document.title),
                lessons::document.eq(serde_json::to_string(document)?),
                lessons::author_id.eq(author),
                lessons::created_at.eq(now),
            ))
            .returning(lessons::id)
            .get_result(&mut db)?)
    }

    /// All lessons, newest first: number, title, time it was made.
    ///
    /// # Errors
    /// When the database fails.
    pub fn lessons(&self) -> Result<Vec<(i32, String, i64)>, StoreError> {
        let mut db = self.connection()?;
        Ok(lessons::table
            .order(lessons::id.desc())
            .select((lessons::id, lessons::title, lessons::created_at))
            .load(&mut db)?)
    }

    /// One lesson.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none with the number.
    pub fn lesson(&self, id: i32) -> Result<LessonRow, StoreError> {
        let mut db = self.connection()?;
        let row: Option<(i32, String, String, i32, i64)> =
            lessons::table.find(id).first(&mut db).optional()?;
        let (id, title, document, _, created_at) = row.ok_or(StoreError::NotFound {
            what: "lesson",
            id: id.to_string(),
        })?;
        Ok(LessonRow {
            id,
            title,
            document: serde_json::from_str(&document)?,
            created_at,
        })
    }
}
