//! A student's attempt: a list of actions on a lesson's bench, each with what the bench answered.
//! Everything else — the bench's state, the ledger, the mark sheet — follows from lesson and steps.

mod action;
mod experiments;
mod lesson;
mod perform;
mod repair;
mod rules;
mod session;
mod touch;
mod view;
mod words;

pub use action::{Action, Answer, Step, Supposed, Verdict};
pub use experiments::{Experiment, experiments};
pub use lesson::{LESSON_FORMAT, Lesson, LessonDoc, Purpose, all_functions};
pub use perform::{Outcome, perform, seen};
pub use repair::{RepairKind, cures, repairs};
pub use rules::{HealthySheet, Means, Method, Papers, healthy_sheets};
pub use session::{Refusal, Session};
pub use touch::{Touch, is_too_thick, pierced};
pub use view::{BenchView, ControlView, HintAt, LedgerLine, SeenAt};
pub use words::contradictions;
