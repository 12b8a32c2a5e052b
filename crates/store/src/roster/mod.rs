//! A school's own records of people and classes: read from the files of OneRoster 1.1 (1EdTech, CSV tables), held
//! against what is there, and taken over. Whoever is no longer in them leaves; work is never touched.

mod plan;
mod read;

pub use plan::{Change, Plan};
pub use read::{Finding, Roster};
