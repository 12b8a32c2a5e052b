//! A student's attempt: a list of actions on a lesson's bench, each with what the bench answered.
//! Everything else — the bench's state, the ledger, the mark sheet — follows from lesson and steps.

pub mod actions;
mod bounds;
mod missing;
mod pair;
mod perform;

mod second_visit;
mod session;
mod step;
mod touch;
mod view;
mod warnings;
mod way;

pub use crate::repairs::{RepairKind, cures, repairs};
pub use actions::{Action, seen};
pub(crate) use actions::{Danger, Evidence};
pub use pair::{PartnerExpects, PartnerSaid};
pub use perform::{Outcome, perform};
pub use session::{Refusal, Session, UNSETTLED};
pub use step::{Answer, Step, Supposed, Verdict};
pub use touch::{Touch, is_too_thick, pierced};
pub use view::{
    BenchView, ControlView, EnteredAt, HintAt, LedgerLine, PredictedAt, SeenAgain, SeenAt, ToldAt,
};
pub use warnings::{Warning, warnings};
pub use way::{brings_about, stands, way_to};
