//! Readings that are written down before anything is measured: what is asked, and what it comes to.

mod document;
mod pattern;
mod propose;
mod reason;
mod truth;

pub use document::{AskedReading, LONGEST, Predict};
pub use pattern::{Pattern, Patterns};
pub use propose::propose;
pub use reason::Reason;
pub use truth::Truth;

pub(crate) use pattern::patterns;
pub(crate) use truth::truths;
