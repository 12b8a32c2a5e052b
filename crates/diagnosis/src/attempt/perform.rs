//! Doing an action to a machine: the same for the student's bench, a healthy one, and that of every
//! suspect.

use super::actions::Action;
use super::step::Answer;
use cimento_bench::{Bench, BenchError, Complaint};
use cimento_model::part::Notice;

/// What an action did to a machine beyond its new state.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Outcome {
    /// The action was one that is done to the machine.
    pub done: bool,
    /// The fuse in a lead went.
    pub lead_blew: bool,
    /// What was noticed, where the complaint was tried.
    pub said: Option<Complaint>,
}

impl Outcome {
    /// It was done, and nothing else came of it.
    pub(super) fn done() -> Self {
        Self {
            done: true,
            ..Self::default()
        }
    }

    /// Whether it is what the student saw.
    pub(crate) fn answers(&self, answer: &Answer) -> bool {
        match answer {
            Answer::Complaint { complaint } => {
                self.said.as_ref().is_some_and(|s| s.same_as(complaint))
            }
            Answer::LeadBlew { .. } => self.lead_blew,
            _ => !self.lead_blew,
        }
    }
}

/// Does an action to a machine. What only concerns the meter or the record does nothing.
///
/// # Errors
/// [`BenchError`] when the circuit has no solution afterwards.
pub fn perform(bench: &mut Bench, action: &Action) -> Result<Outcome, BenchError> {
    action.kind().perform(bench)
}

/// A complaint without what only a close look shows.
pub(crate) fn seen_from_the_seat(mut complaint: Complaint) -> Complaint {
    for trial in &mut complaint.trials {
        trial.notices.retain(|n: &Notice| !n.hidden);
    }
    complaint
}
