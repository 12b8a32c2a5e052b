//! Clearing the codes of a control module.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::perform::Outcome;
use super::super::session::{Refusal, Session, bad};
use super::super::step::Answer;
use super::{Act, HAND_MINUTES};
use cimento_bench::{Bench, BenchError};

/// Clear the codes of a control module.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ClearCodes {
    pub module: String,
}

impl Act for ClearCodes {
    fn said(&self, _: &Answer) -> String {
        format!("Cleared the codes of {}", self.module)
    }

    fn minutes(&self, session: &Session) -> Result<f64, Refusal> {
        match session.part(&self.module)?.kind.module() {
            Some(_) => Ok(HAND_MINUTES),
            None => bad(format!("{} is no control module", self.module)),
        }
    }

    fn perform(&self, bench: &mut Bench) -> Result<Outcome, BenchError> {
        if let Some(part) = bench.circuit.part(&self.module) {
            bench.clear_codes(part)?;
        }
        Ok(Outcome::done())
    }
}
