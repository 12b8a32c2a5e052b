//! What is kept: people, circuits, lessons, attempts and their steps, in one SQLite file.
//!
//! Times are seconds since 1970 and are passed in. A step is committed before it is acknowledged;
//! the database refuses to change or delete one.

mod assignments;
mod attempts;
mod book;
mod circuits;
mod classes;
mod codes;
mod courses;
mod database;
mod error;
mod insight;
mod keeping;
mod lessons;
mod marks;
mod names;
mod own_data;
mod people;
mod placements;
mod roles;
mod roster;
mod rule_sets;
mod schema;
mod school;
mod seats;
mod second_looks;
mod sheets;
mod votes;
mod weights;
mod words;

pub use assignments::{AssignmentRow, Counts, SheetsShow, Terms, To};
pub use attempts::{AttemptRow, Given, NewStep, Standing, Whose};
pub use book::{BookEntry, BookOf};
pub use circuits::CircuitRow;
pub use classes::{ClassRow, Member};
pub use codes::CodedClass;
pub use courses::{CourseEntry, CourseRow, Done};
pub use database::{Store, rescued};
pub use error::StoreError;
pub use insight::{CriterionMean, MeanOf};
pub use keeping::{Held, Hold, check, hold, restore, take_place};
pub use lessons::{LessonLine, LessonRow};
pub use own_data::Retention;
pub use people::name_for;
pub use people::{From as SignInFrom, NewPerson, SignIn, User};
pub use roles::{Role, Roles};
pub use roster::{Change, Finding as RosterFinding, Plan as RosterPlan, Roster};
pub use rule_sets::RuleSet;
pub use school::AuditLine;
pub use seats::{MOST_COLUMNS, MOST_ROWS, Seat};
pub use second_looks::{OpenLook, SecondAnswer, SecondLook};
pub use sheets::{NewSheet, SheetRow};
pub use votes::Vote;
pub use weights::Sources;
pub use words::Word;
