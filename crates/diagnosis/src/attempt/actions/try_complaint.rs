//! Trying the complaint.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::perform::{Outcome, seen_from_the_seat};
use super::super::session::{Refusal, Session};
use super::super::step::{Answer, Step};
use super::super::view::BenchView;
use super::Act;
use cimento_bench::{Bench, BenchError, complaint};

/// Minutes that a trial takes; common practice.
pub(crate) const MINUTES: f64 = 1.0;

/// Work the machine as the work order says and see what it does.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TryComplaint {}

impl Act for TryComplaint {
    fn said(&self, answer: &Answer) -> String {
        match answer {
            Answer::Complaint { complaint } => format!("Tried the complaint: {}", complaint.text),
            _ => "Tried the complaint".to_owned(),
        }
    }

    fn perform(&self, bench: &mut Bench) -> Result<Outcome, BenchError> {
        Ok(Outcome {
            said: Some(complaint(bench)?),
            ..Outcome::done()
        })
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        let complaint = seen_from_the_seat(complaint(&mut session.bench)?);
        Ok((Answer::Complaint { complaint }, MINUTES))
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        if let Answer::Complaint { complaint } = &step.answer {
            view.tried = Some(complaint.clone());
        }
    }
}
