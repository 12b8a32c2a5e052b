//! Exchanging two parts of one kind.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::perform::Outcome;
use super::super::session::{Refusal, Session, bad};
use super::super::step::Answer;
use super::near::hands_in;
use super::{Act, Danger, EXCHANGE_MINUTES};
use crate::lesson::Means;
use cimento_bench::{Bench, BenchError};

/// Exchange two parts of one kind.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Swap {
    pub a: String,
    pub b: String,
}

impl Act for Swap {
    fn said(&self, _: &Answer) -> String {
        format!("Exchanged {} and {}", self.a, self.b)
    }

    fn needs() -> Option<Means> {
        Some(Means::Swapping)
    }

    fn opens(&self) -> bool {
        true
    }

    fn minutes(&self, session: &Session) -> Result<f64, Refusal> {
        let (a, b) = (session.part(&self.a)?, session.part(&self.b)?);
        if a.id == b.id || !a.is_like(b) {
            return bad(format!("{} and {} are not alike", a.id, b.id));
        }
        Ok(EXCHANGE_MINUTES + a.reach_minutes + b.reach_minutes)
    }

    fn dangers(&self, bench: &Bench, _: &Answer) -> Vec<Danger> {
        let either = hands_in(bench, &self.a).or_else(|| hands_in(bench, &self.b));
        either.into_iter().collect()
    }

    fn perform(&self, bench: &mut Bench) -> Result<Outcome, BenchError> {
        let (a, b) = (bench.circuit.part(&self.a), bench.circuit.part(&self.b));
        if let (Some(a), Some(b)) = (a, b) {
            bench.swap(a, b)?;
        }
        Ok(Outcome::done())
    }
}
