//! The demo course's documents.

use std::path::PathBuf;

use cimento_diagnosis::course::{CourseDoc, assembled};
use cimento_diagnosis::lesson::LessonDoc;
use cimento_model::circuit::{Problem, Refused, read_json};
use serde::de::DeserializeOwned;

fn read<T: DeserializeOwned>(file: &str) -> Result<T, Refused> {
    let folder = PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/course"));
    let text = std::fs::read_to_string(folder.join(file))
        .map_err(|e| Refused(vec![Problem::refused(file, e.to_string())]))?;
    read_json(&text)
}

/// The course.
///
/// # Errors
/// [`Refused`] when its file is none.
pub fn course() -> Result<CourseDoc, Refused> {
    let course: CourseDoc = read("course.json")?;
    course.check().map_err(|p| Refused(vec![p]))?;
    Ok(course)
}

/// A lesson of the course, with its circuit.
///
/// # Errors
/// [`Refused`] when the course has none of that file, or a file of it is none.
pub fn course_lesson(file: &str) -> Result<LessonDoc, Refused> {
    let course = course()?;
    let entry = course.lessons.iter().find(|l| l.file() == Some(file));
    let entry = entry.ok_or_else(|| {
        let text = "the course has no such lesson";
        Refused(vec![Problem::refused(file, text)])
    })?;
    let circuit = read(entry.circuit.as_deref().unwrap_or_default())?;
    let doc = assembled(read(file)?, circuit, read)?;
    read_json(&doc.to_string())
}
