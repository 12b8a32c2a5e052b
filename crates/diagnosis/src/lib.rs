//! Diagnosis: lessons, their answer keys, attempts at them, what each attempt's evidence leaves possible, and
//! what it is worth in marks.

pub mod attempt;
pub mod binder;
pub mod build;
pub mod course;
pub mod craft;
pub mod key;
pub mod lesson;
mod limits;
pub mod marking;
pub mod predict;
mod repairs;
pub mod suspects;
pub mod test_sheet;

/// The engine that works out readings and marks: its version, and a digest of its sources.
pub const ENGINE: &str = concat!(env!("CARGO_PKG_VERSION"), "+", env!("CIMENTO_ENGINE"));
