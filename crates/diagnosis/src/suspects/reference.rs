//! What a lesson is held against: the suspects after its complaint, what every measurement would
//! show, the reference plan and the fault's ambiguity group. Worked out once for a lesson, it serves
//! every attempt at it.

use std::collections::BTreeSet;
use std::sync::Arc;

use super::ambiguity::ambiguity_group;
use super::plan::{Plan, reference_plan};
use super::progress::Progress;
use super::table::Table;
use super::tracks::Suspects;
use crate::lesson::Lesson;
use cimento_bench::BenchError;
use cimento_model::circuit::Place;

/// The reference of a lesson.
pub struct Reference {
    pub lesson: Arc<Lesson>,
    pub after_complaint: Suspects,
    pub table: Table,
    pub plan: Plan,
    /// The fault's ambiguity group.
    pub group: BTreeSet<Place>,
    /// What no permitted reading tells from the fault: places, each with a way in which it may have failed.
    pub modes: BTreeSet<(Place, &'static str)>,
}

impl Reference {
    /// Works it out.
    ///
    /// # Errors
    /// [`BenchError`] when one of the circuits has no solution.
    pub fn new(lesson: &Arc<Lesson>) -> Result<Self, BenchError> {
        Self::watched(lesson, &Arc::default())
    }

    /// Works it out under the eyes of whoever waits.
    ///
    /// # Errors
    /// As [`Reference::new`], and [`BenchError::GivenUp`] when nobody waits any more.
    pub fn watched(lesson: &Arc<Lesson>, progress: &Arc<Progress>) -> Result<Self, BenchError> {
        let after_complaint = Suspects::watched(lesson, progress)?;
        let table = Table::watched(&after_complaint, progress)?;
        let after_complaint = after_complaint.in_question(&table);
        table.watch(Some(Arc::clone(progress)));
        let plan = reference_plan(&after_complaint, &table)?;
        let alike = table.indistinguishable(after_complaint.living_roots())?;
        let group = ambiguity_group(&after_complaint, &table, &alike);
        let modes = after_complaint.modes(&alike);
        // From now on it serves others, who wait for themselves.
        table.watch(None);
        Ok(Self {
            lesson: Arc::clone(lesson),
            after_complaint,
            table,
            plan,
            group,
            modes,
        })
    }

    /// Whether some suspects are no more than what cannot be told apart.
    pub fn is_proven(&self, suspects: &Suspects) -> bool {
        let sound = self.lesson.faults.is_empty();
        suspects.places().is_subset(&self.group) && (sound || !suspects.may_be_sound())
    }

    /// How many possibilities no permitted measurement tells from what is there.
    pub fn alike(&self) -> usize {
        self.group.len().max(1)
    }

    /// How many possibilities the plan leaves.
    pub fn places_after_plan(&self) -> usize {
        let last = self.plan.steps.last().map(|s| s.left.len());
        last.unwrap_or(self.plan.begin.len())
    }
}

// A reference serves every attempt at its lesson, on whatever thread they are; benches and what follows them go
// from one thread to the next.
const _: () = {
    const fn is_shared<T: Send + Sync>() {}
    is_shared::<cimento_model::circuit::Circuit>();
    is_shared::<Lesson>();
    is_shared::<cimento_bench::Bench>();
    is_shared::<crate::attempt::Session>();
    is_shared::<Suspects>();
    is_shared::<Table>();
    is_shared::<Reference>();
};
