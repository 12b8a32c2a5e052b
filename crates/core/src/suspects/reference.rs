//! What a lesson is held against: the suspects after its complaint, what every measurement would
//! show, the reference plan and the fault's ambiguity group. Worked out once for a lesson, it serves
//! every attempt at it.

use std::collections::BTreeSet;

use super::ambiguity::ambiguity_group;
use super::plan::{Plan, reference_plan};
use super::table::Table;
use super::tracks::Suspects;
use crate::attempt::Lesson;
use crate::bench::BenchError;
use crate::circuit::Place;

/// The reference of a lesson.
pub struct Reference<'l> {
    pub lesson: &'l Lesson,
    pub after_complaint: Suspects<'l>,
    pub table: Table,
    pub plan: Plan,
    /// The fault's ambiguity group.
    pub group: BTreeSet<Place>,
}

impl<'l> Reference<'l> {
    /// Works it out.
    ///
    /// # Errors
    /// [`BenchError`] when one of the circuits has no solution.
    pub fn new(lesson: &'l Lesson) -> Result<Self, BenchError> {
        let after_complaint = Suspects::after_complaint(lesson)?;
        let table = Table::new(&after_complaint)?;
        let plan = reference_plan(&after_complaint, &table);
        let group = ambiguity_group(&after_complaint, &table);
        Ok(Self {
            lesson,
            after_complaint,
            table,
            plan,
            group,
        })
    }
}
