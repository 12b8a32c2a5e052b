//! Writing down what is expected, where nothing is measured.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step};
use super::super::view::{BenchView, PredictedAt};
use super::take_reading::is_expectation;
use super::{Act, Evidence};
use crate::predict::Reason;

/// Write down what a reading that the lesson asks for will be; the last word on it counts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PredictReading {
    /// The number of the reading on the sheet, from 1.
    pub no: usize,
    /// In the student's hand.
    pub expected: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reason: Option<Reason>,
}

impl Act for PredictReading {
    fn said(&self, _: &Answer) -> String {
        format!("Predicted reading {}: {}", self.no, self.expected.trim())
    }

    fn is_written(&self) -> bool {
        true
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        let asked = self.no.checked_sub(1);
        let Some(truth) = asked.and_then(|n| session.lesson.predicted.get(n)) else {
            return bad(match session.lesson.predicted.len() {
                0 => "this lesson asks for no prediction on paper: take the reading".to_owned(),
                n => format!("there is no reading {}: expected 1 to {n}", self.no),
            });
        };
        is_expectation(&self.expected, truth.asked.function)?;
        match self.reason {
            Some(reason) if !truth.choice.contains(&reason) => {
                bad("that is no reason to choose from for this reading".to_owned())
            }
            _ => Ok((Answer::Noted, 0.0)),
        }
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        view.predicted.retain(|p| p.no != self.no);
        view.predicted.push(PredictedAt {
            step: step.no,
            no: self.no,
            expected: self.expected.trim().to_owned(),
            reason: self.reason,
        });
        view.predicted.sort_by_key(|p| p.no);
    }
}
