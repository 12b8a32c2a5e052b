//! Saying that a sheet is another variant's.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step};
use super::super::view::{BenchView, DoubtedAt};
use super::open_sheet::titled;
use super::{Act, Evidence};

/// Say that what a sheet shows of something is not so on this machine: the sheet is another variant's.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DoubtSheet {
    pub sheet: String,
    /// What it shows wrongly: a connector.
    pub at: String,
}

impl Act for DoubtSheet {
    fn said(&self, _: &Answer) -> String {
        format!("Said that the sheet of {} is another variant's", self.at)
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        let (_, title) = titled(session, &self.sheet)?;
        if !session.opened().contains(&self.sheet) {
            return bad(format!("“{title}” has not been opened"));
        }
        if !session.lesson.circuit.doc.connectors.contains_key(&self.at) {
            return bad(format!("“{title}” shows no {}", self.at));
        }
        Ok((Answer::Noted, 0.0))
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        view.doubted.push(DoubtedAt {
            step: step.no,
            sheet: self.sheet.clone(),
            at: self.at.clone(),
        });
    }
}
