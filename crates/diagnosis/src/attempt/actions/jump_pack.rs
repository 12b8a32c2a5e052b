//! Supporting the machine with a jump pack.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session};
use super::super::step::Answer;
use super::{Act, PLACING_MINUTES};
use crate::lesson::Means;
use cimento_bench::Bench;
use cimento_model::state::{OperatingState, Supply};

/// The pack's volts and ohms; common practice.
const PACK: (f64, f64) = (12.8, 0.02);

/// Put a jump pack between two test points.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Support {
    pub plus: String,
    pub minus: String,
}

/// Take it off.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Unsupport {}

impl Act for Support {
    fn said(&self, _: &Answer) -> String {
        format!("Put a jump pack on {} and {}", self.plus, self.minus)
    }

    fn needs() -> Option<Means> {
        Some(Means::JumpPack)
    }

    fn minutes(&self, session: &Session) -> Result<f64, Refusal> {
        let way = session.way_minutes([&self.plus, &self.minus])?;
        Ok(PLACING_MINUTES + way)
    }

    fn asks_for(&self, bench: &Bench) -> Option<OperatingState> {
        let mut state = bench.state().clone();
        state.supplies.push(Supply {
            plus: self.plus.clone(),
            minus: self.minus.clone(),
            volts: PACK.0,
            ohms: PACK.1,
        });
        Some(state)
    }
}

impl Act for Unsupport {
    fn said(&self, _: &Answer) -> String {
        "Took the jump pack off".to_owned()
    }

    fn asks_for(&self, bench: &Bench) -> Option<OperatingState> {
        let mut state = bench.state().clone();
        state.supplies.clear();
        Some(state)
    }
}
