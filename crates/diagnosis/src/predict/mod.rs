//! Readings that are written down before anything is measured: what is asked, what it comes to, what that earns.

mod document;
mod marks;
mod propose;
mod reason;
mod truth;

pub use document::{AskedReading, LONGEST, Predict};
pub use marks::{debrief, sheet};
pub use propose::propose;
pub use reason::Reason;
pub use truth::Truth;

pub(crate) use truth::truths;
