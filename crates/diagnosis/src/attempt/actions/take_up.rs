//! Taking an attempt up again that was handed in.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session, bad};
use super::super::step::Answer;
use super::{Act, Evidence};

/// Let an attempt that was handed in go on where it stood: the instructor's to do.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TakeUp {}

impl Act for TakeUp {
    fn said(&self, _: &Answer) -> String {
        "Taken up again, by the instructor".to_owned()
    }

    fn is_written(&self) -> bool {
        true
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        match session.is_handed_in() {
            true => Ok((Answer::Noted, 0.0)),
            false => bad("it has not been handed in: its student goes on".to_owned()),
        }
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }
}
