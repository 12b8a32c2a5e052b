//! A course: lessons in order, what each practises, and the proof that each can be worked as it is given.

mod document;
mod maker;
mod proof;
mod shown;

pub use document::{COURSE_FORMAT, CourseDoc, CourseLesson, Held, assembled, untaught};
pub use maker::{MakerError, Proposed, Tried, Wish, propose};
pub use proof::{Hindrance, Practised, Proof};
pub use shown::shown;
