//! The document of a course.

use std::collections::BTreeSet;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use cimento_model::circuit::Problem;

use crate::lesson::{LessonDoc, Skill};

/// The format of course documents.
pub const COURSE_FORMAT: &str = "cimento/course";

/// A course as a document: lessons, by file or whole, in the order they are taught.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CourseDoc {
    /// Always `cimento/course`.
    pub format: String,
    pub version: u32,
    pub title: String,
    /// What it is about and whom it is for.
    #[serde(default)]
    pub about: String,
    pub lessons: Vec<CourseLesson>,
}

/// A lesson of a course, and the chapter that it is in.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CourseLesson {
    pub lesson: Held,
    /// The file of its circuit, beside the course's own; a lesson that is there whole holds its own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub circuit: Option<String>,
    pub chapter: String,
}

/// A lesson as a course holds it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(untagged, expecting = "expected the name of a file, or a lesson")]
pub enum Held {
    /// By its file, beside the course's own.
    File(String),
    Whole(Box<LessonDoc>),
}

impl CourseLesson {
    /// The name of its file; none where it is there whole.
    pub fn file(&self) -> Option<&str> {
        match &self.lesson {
            Held::File(file) => Some(file),
            Held::Whole(_) => None,
        }
    }
}

impl CourseDoc {
    /// Checks what does not need its files.
    ///
    /// # Errors
    /// What is wrong, with its path.
    pub fn check(&self) -> Result<(), Problem> {
        if self.format != COURSE_FORMAT {
            let text = format!(
                "“{}” is not a course: expected {COURSE_FORMAT}",
                self.format
            );
            return Err(Problem::refused("format", text));
        }
        if self.version != 1 {
            let text = format!("version {} cannot be read: expected 1", self.version);
            return Err(Problem::refused("version", text));
        }
        if self.title.trim().is_empty() {
            return Err(Problem::refused("title", "expected a title"));
        }
        if self.lessons.is_empty() {
            return Err(Problem::refused("lessons", "expected a lesson"));
        }
        Ok(())
    }
}

/// What each lesson needs that neither it nor any before it practises: position of the lesson, the skill that needs,
/// and the one that is missing.
pub fn untaught(lessons: &[Vec<Skill>]) -> Vec<(usize, Skill, Skill)> {
    let mut taught: BTreeSet<Skill> = BTreeSet::new();
    let mut out = Vec::new();
    for (n, skills) in lessons.iter().enumerate() {
        taught.extend(skills);
        for skill in skills {
            let missing = skill.needs().iter().filter(|s| !taught.contains(s));
            out.extend(missing.map(|s| (n, *skill, *s)));
        }
    }
    out
}

/// A lesson's document put together from files: its circuit, and the other circuits of its binder where they are files too.
///
/// # Errors
/// Whatever reading a file fails with.
pub fn assembled<E>(
    mut lesson: Value,
    circuit: Value,
    read: impl Fn(&str) -> Result<Value, E>,
) -> Result<Value, E> {
    lesson["circuit"] = circuit;
    let others = lesson.pointer_mut("/binder/others");
    for other in others.and_then(Value::as_array_mut).into_iter().flatten() {
        if let Some(file) = other.as_str() {
            *other = read(file)?;
        }
    }
    Ok(lesson)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_was_not_taught_before_is_found() {
        let order = [
            vec![Skill::Instruments, Skill::CurrentPath],
            vec![Skill::Drain],
            vec![Skill::Clamp],
        ];
        assert_eq!(untaught(&order), [(1, Skill::Drain, Skill::Clamp)]);
        let order = [order[0].clone(), order[2].clone(), order[1].clone()];
        assert_eq!(untaught(&order), []);
    }
}
