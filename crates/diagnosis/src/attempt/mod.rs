//! A student's attempt: a list of actions on a lesson's bench, each with what the bench answered.
//! Everything else — the bench's state, the ledger, the mark sheet — follows from lesson and steps.

mod action;
mod perform;
mod repair;
mod session;
mod touch;
mod view;

pub use action::{Action, Answer, Step, Supposed, Verdict};
pub use perform::{Outcome, perform, seen};
pub use repair::{RepairKind, cures, repairs};
pub use session::{Refusal, Session};
pub use touch::{Touch, is_too_thick, pierced};
pub use view::{BenchView, ControlView, HintAt, LedgerLine, SeenAt};
