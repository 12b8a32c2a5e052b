//! What the students are asked for.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::predict::Predict;

/// What the students are asked for.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Task {
    /// The fault is found, repaired and proved.
    #[default]
    Diagnose,
    /// Readings are written down before any is taken.
    Predict(Predict),
}

impl Task {
    /// A fault is looked for.
    pub fn is_diagnosis(&self) -> bool {
        *self == Self::Diagnose
    }
}
