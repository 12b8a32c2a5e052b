//! Handing the attempt in.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session};
use super::super::step::Answer;
use super::{Act, Evidence};

/// Hand the attempt in: nothing more can be done on its bench.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct HandIn {}

impl Act for HandIn {
    fn said(&self, _: &Answer) -> String {
        "Handed in".to_owned()
    }

    fn concludes(&self) -> bool {
        true
    }

    fn is_written(&self) -> bool {
        true
    }

    fn act(&self, _: &mut Session) -> Result<(Answer, f64), Refusal> {
        Ok((Answer::HandedIn, 0.0))
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }
}
