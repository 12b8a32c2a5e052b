//! Looking at the oscilloscope.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step};
use super::super::view::{BenchView, CaptureAt};
use super::{Act, Evidence, PLACING_MINUTES};
use cimento_bench::instruments::{Looks, Probe, Scope, TakeError, capture};
use cimento_model::circuit::Circuit;

/// Minutes beyond reaching the points; common practice.
const MINUTES: f64 = 2.0;

/// Look at up to four channels of the oscilloscope.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TakeCapture {
    pub scope: Scope,
    /// What each channel of a healthy machine shows, as the student says.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub expected: Vec<Looks>,
    /// What the other of two at one bench says; said by them alone.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub partner_expected: Vec<Looks>,
}

/// Minutes of looking at a screen, with the way to its points.
pub(crate) fn minutes(circuit: &Circuit, scope: &Scope) -> f64 {
    let reach = |probe: &Probe| match probe {
        Probe::Leads { red, black } => {
            let points = [red, black]
                .into_iter()
                .filter_map(|id| circuit.test_point(id));
            points.map(|p| p.reach_minutes).sum()
        }
        Probe::Pickup { .. } | Probe::Clamp { .. } => PLACING_MINUTES,
    };
    MINUTES + scope.channels.iter().map(reach).sum::<f64>()
}

impl TakeCapture {
    /// Whether it can be taken at all, before anything is measured.
    pub(in super::super) fn may_be_taken(&self, session: &Session) -> Result<(), Refusal> {
        if !session.lesson.scope {
            return bad("this lesson does not use the oscilloscope".to_owned());
        }
        let said = self.expected.len();
        let asked = session.lesson.predictions && session.showed.is_none();
        if said != self.scope.channels.len() && (said > 0 || asked) {
            return bad(
                "say of each channel what a healthy machine shows before you capture".to_owned(),
            );
        }
        Ok(())
    }
}

impl Act for TakeCapture {
    fn said(&self, answer: &Answer) -> String {
        let Answer::Captured { capture } = answer else {
            return "Looked at the oscilloscope".to_owned();
        };
        let traces = capture.traces.iter();
        let said = traces.map(|t| format!("{} {}", t.name, t.features.said.join(", ")));
        format!(
            "Looked at the oscilloscope: {}",
            said.collect::<Vec<_>>().join("; ")
        )
    }

    fn minutes_in_vain(&self, session: &Session) -> Result<f64, Refusal> {
        Ok(minutes(&session.lesson.circuit, &self.scope))
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        self.may_be_taken(session)?;
        let minutes = minutes(&session.lesson.circuit, &self.scope);
        let answer = match &session.showed {
            Some(Answer::Captured { capture }) => Answer::Captured {
                capture: capture.clone(),
            },
            _ => match capture(&session.bench, &self.scope) {
                Ok(capture) => Answer::Captured { capture },
                // That so much is there was measured: it costs what a screen does.
                Err(e @ TakeError::TooMuch { .. }) => Answer::CameToNothing {
                    text: e.to_string(),
                },
                Err(e) => return Err(session.not_taken(e)),
            },
        };
        Ok((answer, minutes))
    }

    fn evidence<'a>(&'a self, answer: &'a Answer) -> Evidence<'a> {
        let scope = &self.scope;
        match answer {
            Answer::Captured { capture } => Evidence::Screen { scope, capture },
            _ => Evidence::Nothing,
        }
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        if let Answer::Captured { capture } = &step.answer {
            view.captures.push(CaptureAt {
                step: step.no,
                capture: capture.clone(),
                expected: self.expected.clone(),
                partner_expected: self.partner_expected.clone(),
                verdict: None,
                by_partner: step.by_partner,
                partner: None,
                note: None,
            });
        }
    }
}
