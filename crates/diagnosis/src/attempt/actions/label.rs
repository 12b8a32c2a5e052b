//! Labelling both halves of a connector before they are mixed up.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::perform::Outcome;
use super::super::session::{Refusal, Session, bad};
use super::super::step::Answer;
use super::{Act, Evidence};
use cimento_bench::{Bench, BenchError};

/// Minutes beyond the way there; common practice.
const MINUTES: f64 = 0.2;

/// Put labels on both halves of a connector.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Label {
    pub connector: String,
}

impl Act for Label {
    fn said(&self, _: &Answer) -> String {
        format!("Labelled both halves of {}", self.connector)
    }

    fn minutes(&self, session: &Session) -> Result<f64, Refusal> {
        let circuit = &session.lesson.circuit;
        if !circuit.doc.connectors.contains_key(&self.connector) {
            return bad(format!("{} is no connector", self.connector));
        }
        if session.bench().labelled().contains(&self.connector) {
            return bad(format!("{} bears its labels already", self.connector));
        }
        Ok(MINUTES + circuit.reach_minutes(&self.connector))
    }

    fn perform(&self, bench: &mut Bench) -> Result<Outcome, BenchError> {
        bench.label(&self.connector);
        Ok(Outcome::done())
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }
}
