//! Suspects: which single faults could be present, given what was seen and read; what each
//! measurement is worth; what to measure next.
//!
//! A candidate must agree with every reading to stay. A reading is compared with the span between the
//! two ends of a segment of severity, widened by the meter's accuracy.

mod again;
mod ambiguity;
mod candidates;
mod closer;
mod hint;
mod information;
mod noted;
mod pairs;
mod plan;
mod progress;
mod question;
mod reference;
mod remembered;
mod room;
mod screens;
mod segments;
mod spans;
mod sweep;
mod table;
mod threads;
mod tracks;
mod tree;
mod variants;

pub use candidates::{Candidate, candidates};
pub use hint::{HINT_LEVELS, hint, next_level};
pub use information::{TELLS_NOTHING_BITS, entropy, gain_of_two};
pub use noted::{Left, Noted, what_is_left};
pub use plan::{Plan, PlanStep, reference_plan};
pub use progress::Progress;
pub use question::{Held, Question};
pub use reference::Reference;
pub use spans::Span;
pub use sweep::{SweepRow, sweep, swept};
pub use table::{Choice, Measurement, MeasuringState, Proposal, Table};
pub use tracks::{RuledOut, Suspects};
pub use tree::{Branching, Outcome, PlanTree, plan_tree};
pub use variants::{Band, DealError, deal};
