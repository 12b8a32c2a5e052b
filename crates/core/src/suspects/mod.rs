//! Suspects: which single faults could be present, given what was seen and read.
//!
//! A candidate is a place, a mode and a segment of severity between two neighbours of a grid. Each
//! end of a segment has a bench of its own that is put through everything the student's bench was
//! put through; a reading is compared with the span between the two ends, widened by the meter's
//! accuracy. A candidate must agree with every reading to stay.

mod ambiguity;
mod candidates;
mod tracks;

pub use ambiguity::ambiguity_group;
pub use candidates::{Candidate, candidates};
pub use tracks::Suspects;
