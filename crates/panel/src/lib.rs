//! What marks are held against: attempts of students of many kinds with the marks that a panel of instructors would
//! give them, as documents; and bots, students made of rules, who work every lesson of the panel.
//!
//! The bands were written from what the attempts are, before the marks were computed. Where a formula leaves a band,
//! the formula is wrong until somebody has a better sentence for the band.

pub mod bots;
mod course;
mod document;
mod lessons;
mod script;
mod term;
mod unreadable;

pub use course::{course, course_lesson};
pub use document::{Attempt, Band, attempts};
pub use lessons::{DEMO, LESSONS, Setting, lesson};
pub use script::{line_of, read_script, write_script};
pub use term::{Given, Marks, Term, TermError, Work, term};
pub use unreadable::Unreadable;
