//! Repairing a place.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::perform::Outcome;
use super::super::repairs::{RepairKind, cures, repairs};
use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step};
use super::super::view::BenchView;
use super::Act;
use cimento_bench::{Bench, BenchError};

/// Repair a place in one of the ways that it allows.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Repair {
    pub place: String,
    pub how: RepairKind,
}

impl Act for Repair {
    fn said(&self, _: &Answer) -> String {
        format!("Repaired: {} {}", self.place, self.how.text())
    }

    fn concludes(&self) -> bool {
        true
    }

    fn opens(&self) -> bool {
        true
    }

    /// What it does not cure stays.
    fn perform(&self, bench: &mut Bench) -> Result<Outcome, BenchError> {
        if let Some(place) = bench.circuit.place(&self.place) {
            let faults = bench.faults().iter();
            let mut here = faults.filter(|f| f.places().any(|p| p == place));
            if here.all(|f| cures(&bench.circuit, place, f.mode.spec, self.how)) {
                bench.repair(place)?;
            }
        }
        Ok(Outcome::done())
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        let place = session.place(&self.place)?;
        let text = format!("{} {}", self.place, self.how.text());
        if !repairs(&session.lesson.circuit, place).contains(&self.how) {
            return bad(format!("{} cannot be {}", self.place, self.how.text()));
        }
        self.perform(&mut session.bench)?;
        Ok((Answer::Repaired { text }, self.how.minutes()))
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        if let Answer::Repaired { text } = &step.answer {
            view.repairs.push(text.clone());
        }
    }
}
