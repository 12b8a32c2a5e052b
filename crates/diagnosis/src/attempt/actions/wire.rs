//! Wiring a machine that is to be built: putting wires in and out.

use cimento_model::circuit::WireDoc;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session};
use super::super::step::Answer;
use super::{Act, Evidence};
use crate::build::Change;

/// Minutes of a wire cut, crimped and laid, and of one taken out again; common practice.
const LAYING_MINUTES: f64 = 4.0;
const TAKING_OUT_MINUTES: f64 = 1.0;

/// Put a wire in; one of the same name goes out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Wire {
    pub wire: WireDoc,
}

/// Take a wire out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Unwire {
    pub wire: String,
}

/// Put in all wires of a path as one says it: `F1.2 > 1.5 RD 0.6 > S1.1`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SayPath {
    pub line: String,
}

impl Wire {
    pub(crate) fn change(&self) -> Change<'_> {
        Change::Put(&self.wire)
    }
}

impl Unwire {
    pub(crate) fn change(&self) -> Change<'_> {
        Change::TakeOut(&self.wire)
    }
}

impl SayPath {
    pub(crate) fn change(&self) -> Change<'_> {
        Change::Say(&self.line)
    }
}

macro_rules! wires {
    ($name:ident, $said:expr, $minutes:expr) => {
        impl Act for $name {
            fn said(&self, _: &Answer) -> String {
                let said: fn(&Self) -> String = $said;
                said(self)
            }

            fn wires(&self) -> bool {
                true
            }

            fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
                session.rewire(&self.change())?;
                Ok((Answer::Noted, $minutes))
            }

            fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
                Evidence::Nothing
            }
        }
    };
}

wires!(
    Wire,
    |it| format!("Wired {} to {}", it.wire.from, it.wire.to),
    LAYING_MINUTES
);
wires!(
    Unwire,
    |it| format!("Took {} out", it.wire),
    TAKING_OUT_MINUTES
);
wires!(SayPath, |it| format!("Wired {}", it.line), LAYING_MINUTES);
