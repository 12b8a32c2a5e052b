//! What is kept: people, circuits, lessons, attempts and their steps, in one SQLite file.
//!
//! Times are seconds since 1970 and are passed in. A step is committed before it is acknowledged;
//! the database refuses to change or delete one.

mod attempts;
mod circuits;
mod database;
mod error;
mod layouts;
mod lessons;
mod marks;
mod people;
mod schema;
mod sheets;

pub use attempts::{AttemptRow, NewStep, Standing};
pub use circuits::CircuitRow;
pub use database::Store;
pub use error::StoreError;
pub use lessons::LessonRow;
pub use people::{NewPerson, Role, User};
pub use sheets::{NewSheet, SheetRow};
