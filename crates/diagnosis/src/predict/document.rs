//! What is asked of the students, as a document.

use cimento_bench::instruments::Function;
use cimento_model::state::OperatingState;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Most readings that are asked for in one lesson.
pub const LONGEST: usize = 40;

/// Marks of 100 that the reasons take unless a lesson says otherwise.
const REASONS: f64 = 30.0;

fn reasons() -> f64 {
    REASONS
}

/// Readings to be predicted on a machine that is healthy, or has faults that the students are told.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Predict {
    /// In the order of the sheet.
    pub ask: Vec<AskedReading>,
    /// Marks of 100 for the reasons, the rest for the values; 0 asks for no reason.
    #[serde(default = "reasons")]
    pub reason_marks: f64,
}

/// A reading that is asked for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AskedReading {
    #[schemars(with = "String")]
    pub function: Function,
    /// A test point, or the wire or module that an instrument without a black lead goes to.
    pub red: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub black: Option<String>,
    /// The state of the machine.
    pub state: OperatingState,
}
