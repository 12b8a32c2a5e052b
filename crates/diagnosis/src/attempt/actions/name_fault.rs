//! Naming the fault.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session};
use super::super::step::{Answer, Step};
use super::super::view::{BenchView, NamedFault};
use super::{Act, Evidence};

/// Say where the fault sits and how the place has failed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NameFault {
    pub place: String,
    pub mode: String,
    /// Steps that prove it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub because: Vec<usize>,
}

impl Act for NameFault {
    fn said(&self, _: &Answer) -> String {
        format!("Named {}: {}", self.place, self.mode.replace('_', " "))
    }

    fn concludes(&self) -> bool {
        true
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        session.may_fail(&self.place, &self.mode)?;
        for step in &self.because {
            session.reading(*step)?;
        }
        Ok((Answer::Noted, 0.0))
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        view.no_fault = None;
        view.named = Some(NamedFault {
            step: step.no,
            place: self.place.clone(),
            mode: self.mode.clone(),
        });
    }
}
