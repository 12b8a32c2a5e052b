//! Moving a place or a harness.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session};
use super::super::step::Answer;
use super::{Act, PLACING_MINUTES};
use crate::lesson::Means;
use cimento_bench::Bench;
use cimento_model::state::OperatingState;

/// Move a place or a whole harness, and keep it moving.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Wiggle {
    pub what: String,
}

/// Let everything rest again.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Rest {}

impl Act for Wiggle {
    fn said(&self, _: &Answer) -> String {
        format!("Moved {}", self.what)
    }

    fn needs() -> Option<Means> {
        Some(Means::Moving)
    }

    fn minutes(&self, _: &Session) -> Result<f64, Refusal> {
        Ok(PLACING_MINUTES)
    }

    fn asks_for(&self, bench: &Bench) -> Option<OperatingState> {
        let mut state = bench.state().clone();
        state.moved = vec![self.what.clone()];
        Some(state)
    }
}

impl Act for Rest {
    fn said(&self, _: &Answer) -> String {
        "Let everything rest".to_owned()
    }

    fn asks_for(&self, bench: &Bench) -> Option<OperatingState> {
        let mut state = bench.state().clone();
        state.moved.clear();
        Some(state)
    }
}
