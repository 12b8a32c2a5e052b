//! Lesson documents, with their circuit in them.

use std::rc::Rc;

use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_model::circuit::read_json;
use fastrand::Rng;
use serde_json::Value;

use super::{Good, Outcome, Target, demo};

pub(super) struct Lessons {
    good: Rc<Good>,
    lessons: Vec<Value>,
}

impl Lessons {
    pub(super) fn new(good: Rc<Good>) -> Result<Self, String> {
        let course = demo().join("course");
        let read = |name: &str| -> Result<Value, String> {
            let text = std::fs::read_to_string(course.join(name));
            let text = text.map_err(|e| format!("{name}: {e}"))?;
            serde_json::from_str(&text).map_err(|e| format!("{name}: {e}"))
        };
        let mut lessons = Vec::new();
        let list = read("course.json")?;
        for entry in list["lessons"].as_array().into_iter().flatten() {
            let name = |of: &str| entry[of].as_str().unwrap_or_default().to_owned();
            let mut lesson = read(&name("lesson"))?;
            lesson["circuit"] = read(&name("circuit"))?;
            lessons.push(lesson);
        }
        Ok(Self { good, lessons })
    }
}

impl Target for Lessons {
    fn name(&self) -> &'static str {
        "lessons"
    }

    fn weight(&self) -> u32 {
        4
    }

    fn draw(&mut self, rng: &mut Rng) -> String {
        let good = &self.lessons[rng.usize(..self.lessons.len())];
        self.good.bad(good, "LessonDoc", rng)
    }

    fn take(&mut self, input: &str) -> Outcome {
        match read_json::<LessonDoc>(input).and_then(Lesson::new) {
            Ok(_) => Outcome::Taken,
            Err(_) => Outcome::Refused,
        }
    }
}
