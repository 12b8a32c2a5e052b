//! Unplugging connectors, pulling fuses and relays, undoing grounds.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::perform::Outcome;
use super::super::session::{Refusal, Session, bad};
use super::super::step::Answer;
use super::{Act, PLACING_MINUTES};
use crate::lesson::Means;
use cimento_bench::{Bench, BenchError};
use cimento_model::state::OperatingState;

/// Unplug a connector, pull a fuse or relay out of its socket, or undo the ring terminals of a ground.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TakeApart {
    pub what: String,
}

/// Plug it in again.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PutBack {
    pub what: String,
}

fn minutes(session: &Session, what: &str) -> Result<f64, Refusal> {
    if !session.lesson.comes_apart.iter().any(|id| id == what) {
        return bad(format!(
            "{what} does not come apart by hand: choose a connector, fuse, relay, ground or the battery"
        ));
    }
    Ok(PLACING_MINUTES + session.lesson.circuit.reach_minutes(what))
}

impl Act for TakeApart {
    fn said(&self, _: &Answer) -> String {
        format!("Took {} apart", self.what)
    }

    fn needs() -> Option<Means> {
        Some(Means::TakingApart)
    }

    fn opens(&self) -> bool {
        true
    }

    fn minutes(&self, session: &Session) -> Result<f64, Refusal> {
        minutes(session, &self.what)
    }

    fn asks_for(&self, bench: &Bench) -> Option<OperatingState> {
        let mut state = bench.state().clone();
        state.take_apart(&bench.circuit, &self.what);
        Some(state)
    }
}

impl Act for PutBack {
    fn said(&self, _: &Answer) -> String {
        format!("Put {} back", self.what)
    }

    fn minutes(&self, session: &Session) -> Result<f64, Refusal> {
        minutes(session, &self.what)
    }

    fn asks_for(&self, bench: &Bench) -> Option<OperatingState> {
        let mut state = bench.state().clone();
        state.put_back(&self.what);
        Some(state)
    }

    /// Plugs that look alike may be mixed up.
    fn perform(&self, bench: &mut Bench) -> Result<Outcome, BenchError> {
        bench.put_back(&self.what)?;
        Ok(Outcome::done())
    }
}
