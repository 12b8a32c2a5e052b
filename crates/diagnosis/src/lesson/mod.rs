//! A lesson: a machine with something to find, what the student may do, and what counts as normal.

mod checked;
mod document;
mod experiments;
mod intro;
mod job;
mod prices;
mod rules;
mod schools;
mod sheets;
mod skill;
mod task;
mod told;
mod trial;
mod weights;
mod words;

pub use crate::limits::Limits;
pub use checked::Lesson;
pub use document::{LESSON_FORMAT, LessonDoc, Purpose, all_functions};
pub use experiments::{Experiment, experiments};
pub use intro::{Intro, IntroShown, Picture, PictureShown};
pub use job::Job;
pub use prices::Prices;
pub use rules::{Means, Papers};
pub use schools::{Method, School};
pub use sheets::{ProposedRow, ProposedSheet, ProposedSheets, propose_sheets};
pub use skill::{Skill, SkillCard};
pub use task::Task;
pub use told::{CustomerQuestion, CustomersAnswer, Earlier, Told};
pub use weights::Weights;
pub use words::contradictions;
