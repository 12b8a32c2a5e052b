//! The document of a lesson.

use super::{Intro, Job, Limits, Means, Method, Papers, Prices, Skill, Task, Told, Weights};
use crate::binder::BinderDoc;
use crate::craft::Craft;
use cimento_bench::instruments::Function;
use cimento_model::circuit::CircuitDoc;
use cimento_model::faults::FaultDoc;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The format of lesson documents.
pub const LESSON_FORMAT: &str = "cimento/lesson";

/// A lesson as a document. It holds its circuit whole, so that it never changes under a student.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LessonDoc {
    /// Always `cimento/lesson`.
    pub format: String,
    pub version: u32,
    pub title: String,
    /// The complaint in the customer's words.
    pub complaint: String,
    pub circuit: CircuitDoc,
    #[serde(default)]
    pub faults: Vec<FaultDoc>,
    /// What the lesson is for.
    #[serde(default, skip_serializing_if = "Purpose::is_default")]
    pub purpose: Purpose,
    /// What the machine comes in for.
    #[serde(default, skip_serializing_if = "Job::is_default")]
    pub job: Job,
    /// What the students are asked for.
    #[serde(default, skip_serializing_if = "Task::is_diagnosis")]
    pub task: Task,
    /// The student writes down what to expect before each reading.
    #[serde(default = "yes")]
    pub predictions: bool,
    /// Which meter the students get: its small errors come from this number; 0 has none.
    #[serde(default)]
    pub meter_seed: u64,
    /// What the meter may be set to.
    #[serde(default = "all_functions")]
    #[schemars(with = "Vec<String>")]
    pub functions: Vec<Function>,
    /// The students may use the oscilloscope.
    #[serde(default = "yes")]
    pub scope: bool,
    /// What the students may not do to the machine.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub forbidden: Vec<Means>,
    #[serde(default)]
    pub papers: Papers,
    #[serde(default)]
    pub method: Method,
    /// Minutes by the clock from the first step on; without end when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[serde(rename = "limit_min")]
    pub limit_minutes: Option<f64>,
    #[serde(default)]
    #[schemars(with = "serde_json::Value")]
    pub limits: Limits,
    #[serde(default)]
    #[schemars(with = "serde_json::Value")]
    pub weights: Weights,
    /// It counts how the repair is made, and the machine is seen a second time.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub craft: Option<Craft>,
    /// What the customer and the workshop's book say.
    #[serde(default, skip_serializing_if = "Told::is_empty")]
    pub told: Told,
    /// Plugs that look alike are put back crossed where they were apart together without a label.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub look_alikes: bool,
    /// The machine's papers come as a binder, whose sheets are opened one by one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub binder: Option<BinderDoc>,
    /// What minutes and parts cost the customer.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub prices: Option<Prices>,
    /// Skills that it practises, beside those that its plan shows; no student sees them before handing in.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub skills: Vec<Skill>,
    /// What the students read before they begin.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub intro: Option<Intro>,
}

/// What a lesson is for.
#[derive(
    Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema,
)]
#[serde(rename_all = "snake_case")]
pub enum Purpose {
    /// It is marked.
    #[default]
    Marks,
    /// No marks, and hints that cost minutes.
    Practice,
    /// A healthy machine to learn the instruments on: no fault, no marks, no time.
    Tools,
}

impl Purpose {
    fn is_default(&self) -> bool {
        *self == Self::Marks
    }
}

impl LessonDoc {
    /// A lesson that asks for no predictions and permits every instrument.
    pub fn of(title: &str, circuit: CircuitDoc, faults: Vec<FaultDoc>) -> Self {
        Self {
            format: LESSON_FORMAT.to_owned(),
            version: 1,
            title: title.to_owned(),
            complaint: String::new(),
            circuit,
            faults,
            purpose: Purpose::default(),
            job: Job::default(),
            task: Task::default(),
            predictions: false,
            meter_seed: 0,
            functions: all_functions(),
            scope: true,
            forbidden: Vec::new(),
            papers: Papers::default(),
            method: Method::default(),
            limit_minutes: None,
            limits: Limits::default(),
            weights: Weights::default(),
            craft: None,
            told: Told::default(),
            look_alikes: false,
            binder: None,
            prices: None,
            skills: Vec::new(),
            intro: None,
        }
    }
}

impl LessonDoc {
    /// A fault is looked for: it has suspects, a plan, and a place that the marks go by.
    pub fn seeks_fault(&self) -> bool {
        self.purpose != Purpose::Tools && self.task.is_diagnosis()
    }
}

fn yes() -> bool {
    true
}

/// Everything a meter, a test lamp and a clamp can do.
pub fn all_functions() -> Vec<Function> {
    Function::all().collect()
}
