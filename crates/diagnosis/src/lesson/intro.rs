//! What the students read before they begin: what a lesson is for, what to know, and one small picture.

use std::collections::BTreeMap;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use cimento_model::circuit::{CircuitDoc, Problem, Refused};
use cimento_model::faults::{Fault, FaultDoc};
use cimento_model::state::OperatingState;
use cimento_parts::{build_circuit, say_path};

use crate::key::{Staircase, staircases};

/// Words of goal and text together: what is longer is not read.
const MOST_WORDS: usize = 150;
/// Path lines of a picture.
const MOST_PATHS: usize = 6;

/// What the students read before they begin.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Intro {
    /// What one can do afterwards; it must not narrow the fault.
    pub goal: String,
    /// What to know for it.
    pub know: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub picture: Option<Picture>,
}

/// A small circuit of its own whose voltages are worked out for the picture.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Picture {
    /// What is to be seen.
    pub title: String,
    /// Its circuit, a current path a line; the first one is shown.
    pub paths: Vec<String>,
    /// What is wrong with it where the picture shows a fault.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub faults: Vec<FaultDoc>,
    /// What its controls are set to.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub set: BTreeMap<String, String>,
}

/// The same as it is shown, with its picture worked out.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct IntroShown {
    pub goal: String,
    pub know: String,
    pub picture: Option<PictureShown>,
}

/// A picture, worked out.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PictureShown {
    pub title: String,
    pub staircase: Staircase,
    /// Something is wrong with its circuit: both lines say something.
    pub faulted: bool,
}

impl Intro {
    /// Checks it and works its picture out.
    ///
    /// # Errors
    /// What is wrong, with its path below `intro`.
    pub fn shown(&self) -> Result<IntroShown, Problem> {
        for (field, text) in [("goal", &self.goal), ("know", &self.know)] {
            if text.trim().is_empty() {
                return Err(Problem::refused(
                    format!("intro.{field}"),
                    "expected a sentence",
                ));
            }
        }
        let words = self.goal.split_whitespace().count() + self.know.split_whitespace().count();
        if words > MOST_WORDS {
            return Err(Problem::refused(
                "intro",
                format!("{words} words: expected at most {MOST_WORDS}"),
            ));
        }
        let picture = match &self.picture {
            Some(picture) => Some(PictureShown {
                title: picture.title.clone(),
                staircase: picture.drawn()?,
                faulted: !picture.faults.is_empty(),
            }),
            None => None,
        };
        Ok(IntroShown {
            goal: self.goal.clone(),
            know: self.know.clone(),
            picture,
        })
    }
}

impl Picture {
    /// The staircase of its first path, healthy and, where something is wrong with it, faulted.
    ///
    /// # Errors
    /// What is wrong with it, with its path below `intro.picture`.
    fn drawn(&self) -> Result<Staircase, Problem> {
        let at = |field: &str| format!("intro.picture.{field}");
        let refused = |field: &str, message: String| Problem::refused(at(field), message);
        if !(1..=MOST_PATHS).contains(&self.paths.len()) {
            return Err(refused(
                "paths",
                format!("expected 1 to {MOST_PATHS} lines"),
            ));
        }
        let mut doc = CircuitDoc::new(&self.title);
        for (n, line) in self.paths.iter().enumerate() {
            doc =
                say_path(&doc, line).map_err(|e| refused(&format!("paths[{n}]"), e.to_string()))?;
        }
        let circuit = build_circuit(doc).map_err(|e| refused("paths", e.to_string()))?;
        let mut faults = Vec::new();
        for (n, fault) in self.faults.iter().enumerate() {
            faults.push(Fault::read(&circuit, fault, &at(&format!("faults[{n}]")))?);
        }
        let mut state = OperatingState::at_rest(&circuit);
        for (control, position) in &self.set {
            state.set_control(control, position.clone());
        }
        state
            .check(&circuit)
            .map_err(|problems| refused("set", Refused(problems).to_string()))?;
        let stairs =
            staircases(&circuit, &faults, &[state]).map_err(|e| refused("paths", e.to_string()))?;
        stairs
            .into_iter()
            .next()
            .ok_or_else(|| refused("paths", "expected a path from the battery".to_owned()))
    }
}
