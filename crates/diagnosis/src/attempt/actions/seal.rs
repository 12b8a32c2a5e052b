//! Closing the hole that a needle left.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session, bad};
use super::super::step::Answer;
use super::{Act, Evidence};

/// Minutes that it takes; common practice.
const MINUTES: f64 = 1.0;

/// Close the hole that a needle left in a wire's insulation.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Seal {
    pub wire: String,
}

impl Act for Seal {
    fn said(&self, _: &Answer) -> String {
        format!("Sealed the insulation of {}", self.wire)
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        if !session.pierced().contains(&self.wire) {
            return bad(format!("{} has no hole to seal", self.wire));
        }
        Ok((Answer::Noted, MINUTES))
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }
}
