//! A lesson: a circuit, its fault, the complaint, and what the student may do.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::rules::{Means, Method, Papers};
use crate::bench::{Bench, BenchError, Complaint, EVERYTHING, OperatingState, complaint};
use crate::circuit::{Circuit, CircuitDoc, Problem, Refused, read_json};
use crate::faults::{Condition, Fault, FaultDoc};
use crate::instruments::Function;
use crate::key::Limits;
use crate::marking::Weights;

/// The format of lesson documents.
pub const LESSON_FORMAT: &str = "cimento/lesson";
/// Heat under which a fault that shows when hot is tried, in °C.
const HOT_TRIAL_C: f64 = 90.0;
/// Longest time limit, in minutes.
const LONGEST_MIN: f64 = 600.0;
/// More faults than this in one lesson are a mistake.
const MOST_FAULTS: usize = 10;

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
    pub limit_min: Option<f64>,
    #[serde(default)]
    #[schemars(with = "serde_json::Value")]
    pub limits: Limits,
    #[serde(default)]
    #[schemars(with = "serde_json::Value")]
    pub weights: Weights,
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
            predictions: false,
            meter_seed: 0,
            functions: all_functions(),
            scope: true,
            forbidden: Vec::new(),
            papers: Papers::default(),
            method: Method::default(),
            limit_min: None,
            limits: Limits::default(),
            weights: Weights::default(),
        }
    }
}

fn yes() -> bool {
    true
}

/// Everything a meter, a test lamp and a clamp can do.
pub fn all_functions() -> Vec<Function> {
    Function::all().collect()
}

/// A checked lesson.
pub struct Lesson {
    pub title: String,
    /// The complaint in the customer's words.
    pub words: String,
    pub circuit: Circuit,
    pub faults: Vec<Fault>,
    pub purpose: Purpose,
    pub predictions: bool,
    pub meter_seed: u64,
    pub functions: Vec<Function>,
    pub scope: bool,
    pub forbidden: Vec<Means>,
    pub papers: Papers,
    pub method: Method,
    pub limit_min: Option<f64>,
    pub limits: Limits,
    pub weights: Weights,
}

impl Lesson {
    /// Checks a lesson document.
    ///
    /// # Errors
    /// [`Refused`] with the path of every mistake, also when the fault does not show in the
    /// complaint: a lesson needs something to find.
    pub fn new(doc: LessonDoc) -> Result<Self, Refused> {
        let refuse = |path: &str, message: String| Refused(vec![Problem::refused(path, message)]);
        if doc.format != LESSON_FORMAT {
            return Err(refuse(
                "format",
                format!("“{}” is not a lesson: expected {LESSON_FORMAT}", doc.format),
            ));
        }
        if doc.version != 1 {
            return Err(refuse(
                "version",
                format!("version {} cannot be read: expected 1", doc.version),
            ));
        }
        if doc.title.trim().is_empty() {
            return Err(refuse("title", "expected a title".to_owned()));
        }
        let healthy = doc.purpose == Purpose::Tools;
        if healthy && !doc.faults.is_empty() {
            return Err(refuse(
                "faults",
                "a bench for trying the tools is healthy: expected no faults".to_owned(),
            ));
        }
        if !healthy && doc.faults.is_empty() || doc.faults.len() > MOST_FAULTS {
            return Err(refuse(
                "faults",
                format!("expected 1 to {MOST_FAULTS} faults"),
            ));
        }
        if doc
            .limit_min
            .is_some_and(|m| !(1.0..=LONGEST_MIN).contains(&m))
        {
            let text = format!("expected 1 to {LONGEST_MIN} minutes");
            return Err(refuse("limit_min", text));
        }
        doc.limits
            .check()
            .map_err(|message| refuse("limits", message))?;
        doc.weights
            .check()
            .map_err(|message| refuse("weights", message))?;
        let circuit = Circuit::new(doc.circuit).map_err(|Refused(problems)| {
            let within = problems.into_iter().map(|p| Problem {
                path: format!("circuit.{}", p.path),
                ..p
            });
            Refused(within.collect())
        })?;
        let mut faults = Vec::new();
        for (n, fault) in doc.faults.iter().enumerate() {
            let fault = Fault::read(&circuit, fault, &format!("faults[{n}]"));
            faults.push(fault.map_err(|p| Refused(vec![p]))?);
        }
        let lesson = Self {
            title: doc.title,
            words: doc.complaint,
            circuit,
            faults,
            purpose: doc.purpose,
            predictions: doc.predictions,
            meter_seed: doc.meter_seed,
            functions: doc.functions,
            scope: doc.scope,
            forbidden: doc.forbidden,
            papers: doc.papers,
            method: doc.method,
            limit_min: doc.limit_min,
            limits: doc.limits,
            weights: doc.weights,
        };
        if healthy {
            return match lesson.symptom() {
                Ok(_) => Ok(lesson),
                Err(e) => Err(refuse("circuit", e.to_string())),
            };
        }
        let compare = || -> Result<bool, BenchError> {
            Ok(lesson.symptom()?.same_as(&lesson.healthy_symptom()?))
        };
        match compare() {
            Ok(false) => Ok(lesson),
            Ok(true) => Err(refuse(
                "faults",
                "with this fault the machine behaves as if it were healthy: choose one that shows"
                    .to_owned(),
            )),
            Err(e) => Err(refuse("circuit", e.to_string())),
        }
    }

    /// Reads and checks a JSON document.
    ///
    /// # Errors
    /// As [`Lesson::new`].
    pub fn read(text: &str) -> Result<Self, Refused> {
        Self::new(read_json(text)?)
    }

    /// The condition under which the complaint shows, if there is one: that of the faults, when none of
    /// them is there always.
    pub fn condition(&self) -> Option<Condition> {
        let first = self.faults.first().map(|f| f.when)?;
        let never_always = self.faults.iter().all(|f| f.when != Condition::Always);
        never_always.then_some(first)
    }

    /// A state with the lesson's condition brought about: warm, wet, or everything moved, so that the
    /// trial does not tell the place. Vibration comes with the running engine.
    pub fn under_condition(&self, mut state: OperatingState) -> OperatingState {
        match self.condition() {
            Some(Condition::Hot) => state.temperature_c = HOT_TRIAL_C,
            Some(Condition::Wet) => state.wet = true,
            Some(Condition::Moved) => state.moved = vec![EVERYTHING.to_owned()],
            Some(Condition::Vibrating | Condition::Always) | None => {}
        }
        state
    }

    /// What the machine does with the fault.
    ///
    /// # Errors
    /// [`BenchError`] when the circuit has no solution.
    pub fn symptom(&self) -> Result<Complaint, BenchError> {
        self.tried(&self.faults)
    }

    /// What the machine does without it.
    ///
    /// # Errors
    /// As [`Lesson::symptom`].
    pub fn healthy_symptom(&self) -> Result<Complaint, BenchError> {
        self.tried(&[])
    }

    fn tried(&self, faults: &[Fault]) -> Result<Complaint, BenchError> {
        let mut bench = Bench::new(&self.circuit, faults)?;
        bench.set(self.under_condition(bench.state().clone()))?;
        complaint(&mut bench)
    }
}
