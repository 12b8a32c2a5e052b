//! Lesson documents, with their circuit in them.

use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_model::circuit::read_json;
use fastrand::Rng;
use serde_json::{Value, json};

use super::{Good, Outcome, Target, demo, documents};

pub(super) struct Lessons {
    good: Good,
    lessons: Vec<Value>,
}

impl Lessons {
    pub(super) fn new(good: Good) -> Result<Self, String> {
        let mut lessons = documents(&demo().join("course"))?;
        lessons.retain(|l| l["lessons"].is_null());
        // The name of a file stands for the circuit in it.
        for lesson in &mut lessons {
            if let Some(name) = lesson["circuit"].as_str() {
                let file = demo().join("course").join(name);
                let text = std::fs::read_to_string(&file).map_err(|e| format!("{name}: {e}"))?;
                lesson["circuit"] = serde_json::from_str(&text).unwrap_or(json!(null));
            }
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
        match read_json::<LessonDoc>(input).map(Lessons::made) {
            Ok(true) => Outcome::Taken,
            _ => Outcome::Refused,
        }
    }
}

impl Lessons {
    fn made(doc: LessonDoc) -> bool {
        Lesson::new(doc).is_ok()
    }
}
