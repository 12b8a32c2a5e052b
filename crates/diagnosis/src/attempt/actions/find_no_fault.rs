//! Saying that nothing is wrong.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session};
use super::super::step::{Answer, Step};
use super::super::view::BenchView;
use super::{Act, Evidence};

/// Say that no fault was found: the machine is sound and goes back as it is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FindNoFault {}

impl Act for FindNoFault {
    fn said(&self, _: &Answer) -> String {
        "No fault found: back as it is".to_owned()
    }

    fn concludes(&self) -> bool {
        true
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        match session.lesson.job.may_be_sound() {
            true => Ok((Answer::Noted, 0.0)),
            false => Err(Refusal::BadAction(
                "this machine did not come in to be found sound: name what is wrong with it"
                    .to_owned(),
            )),
        }
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        view.named = None;
        view.no_fault = Some(step.no);
    }
}
