//! Fitting a part that is known to be good, as a test.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::perform::Outcome;
use super::super::session::{Refusal, Session, bad};
use super::super::step::Answer;
use super::near::hands_in;
use super::{Act, Danger, EXCHANGE_MINUTES};
use crate::lesson::Means;
use cimento_bench::{Bench, BenchError};

/// Fit a part that is known to be good, as a test.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FitKnownGood {
    pub part: String,
}

/// Put the machine's own part back.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FitOwn {
    pub part: String,
}

impl Act for FitKnownGood {
    fn said(&self, _: &Answer) -> String {
        format!("Fitted a known-good {}", self.part)
    }

    fn needs() -> Option<Means> {
        Some(Means::KnownGood)
    }

    fn opens(&self) -> bool {
        true
    }

    fn minutes(&self, session: &Session) -> Result<f64, Refusal> {
        let part = session.part(&self.part)?;
        if !part.is_tried_by_another() {
            return bad(format!("there is no other {} to try", part.called()));
        }
        Ok(EXCHANGE_MINUTES + part.reach_minutes)
    }

    fn dangers(&self, bench: &Bench, _: &Answer) -> Vec<Danger> {
        hands_in(bench, &self.part).into_iter().collect()
    }

    fn perform(&self, bench: &mut Bench) -> Result<Outcome, BenchError> {
        if let Some(part) = bench.circuit.part(&self.part) {
            bench.lend(part)?;
        }
        Ok(Outcome::done())
    }
}

impl Act for FitOwn {
    fn said(&self, _: &Answer) -> String {
        format!("Put the machine's own {} back", self.part)
    }

    fn minutes(&self, session: &Session) -> Result<f64, Refusal> {
        Ok(EXCHANGE_MINUTES + session.part(&self.part)?.reach_minutes)
    }

    fn dangers(&self, bench: &Bench, _: &Answer) -> Vec<Danger> {
        hands_in(bench, &self.part).into_iter().collect()
    }

    fn perform(&self, bench: &mut Bench) -> Result<Outcome, BenchError> {
        if let Some(part) = bench.circuit.part(&self.part) {
            bench.give_back(part)?;
        }
        Ok(Outcome::done())
    }
}
