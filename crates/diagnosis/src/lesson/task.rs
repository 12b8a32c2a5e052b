//! What the students are asked for.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::build::Build;
use crate::predict::Predict;
use crate::test_sheet::{CheckSheet, Identify, Survey};

/// What the students are asked for.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Task {
    /// The fault is found, repaired and proved.
    #[default]
    Diagnose,
    /// Readings are written down before any is taken.
    Predict(Predict),
    /// The drops of a heavy circuit are measured piece by piece: keep, clean, renew.
    Survey(Box<Survey>),
    /// A harness off the machine is checked run by run.
    CheckSheet(CheckSheet),
    /// Leads that nobody has marked are told apart.
    Identify(Identify),
    /// A machine is wired, and proved.
    Build(Build),
}

impl Task {
    /// A fault is looked for.
    pub fn is_diagnosis(&self) -> bool {
        *self == Self::Diagnose
    }

    /// In a word, for a list; empty where a fault is looked for, as it usually is.
    pub fn word(&self) -> &'static str {
        match self {
            Self::Diagnose => "",
            Self::Predict(_) => "predict",
            Self::Survey(_) => "survey",
            Self::CheckSheet(_) => "check sheet",
            Self::Identify(_) => "identify",
            Self::Build(_) => "build",
        }
    }

    /// In a sentence; empty where a fault is looked for.
    pub fn about(&self) -> &'static str {
        match self {
            Self::Diagnose => "",
            Self::Predict(_) => "Readings are predicted on paper; nothing is searched for.",
            Self::Survey(_) => "A heavy circuit is surveyed drop by drop: keep, clean, renew.",
            Self::CheckSheet(_) => "A harness off the machine is checked run by run.",
            Self::Identify(_) => "The leads of a plug without marks are told apart.",
            Self::Build(_) => "A machine is wired, measured and proved.",
        }
    }

    /// Nothing is measured.
    pub fn is_on_paper(&self) -> bool {
        matches!(self, Self::Predict(_))
    }
}
