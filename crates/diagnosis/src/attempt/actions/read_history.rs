//! Looking up what was done to the machine before.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step};
use super::super::view::{BenchView, ToldAt};
use super::ask_customer::MINUTES;
use super::{Act, Action, Evidence};

/// Look the machine up in the workshop's book. A part that is new on record may be bad, or the wrong one.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ReadHistory {}

impl Act for ReadHistory {
    fn said(&self, answer: &Answer) -> String {
        match answer {
            Answer::Told { text } => {
                format!("Looked up earlier work: {}", text.replace('\n', "; "))
            }
            _ => "Looked up earlier work".to_owned(),
        }
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        if !session.lesson.seeks_fault() {
            return bad("nobody has brought this machine in: there is no book of it".to_owned());
        }
        let same = |s: &Step| matches!(s.action, Action::ReadHistory(_));
        if session.steps().iter().any(same) {
            return bad("the book has been read: it stands beside the work order".to_owned());
        }
        let text = session.lesson.told.book();
        Ok((Answer::Told { text }, MINUTES))
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        view.told.extend(ToldAt::of(step, None, "Earlier work"));
    }
}
