//! References of lessons, and the marks that are held against them: worked out by a pool, kept where they
//! are asked for again.

use std::collections::VecDeque;
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::{Arc, Mutex, OnceLock, PoisonError};
use std::thread::available_parallelism;

use cimento_bench::BenchError;
use cimento_diagnosis::ENGINE;
use cimento_diagnosis::attempt::Step;
use cimento_diagnosis::lesson::Lesson;
use cimento_diagnosis::marking::{Case, Debrief, MarkSheet, debrief, sheet};
use cimento_diagnosis::suspects::{Progress, Reference};
use cimento_store::{NewSheet, Store};

use crate::clock::now;
use crate::pool::{Pool, Ticket, Urgency};
use crate::problem::Problem;
use crate::prospect::Prospect;

/// References kept ready; one takes some tens to some hundreds of megabytes.
const KEPT: usize = 4;

/// What the pool works at.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub(crate) enum Task {
    /// The reference of a lesson.
    Reference(i32),
    /// The marks of an attempt that was handed in.
    Marks(i32),
    /// The reference of a lesson that is not saved.
    Preview(u64),
}

/// A reference once it has been worked out.
type Kept = Arc<OnceLock<Arc<Reference>>>;

/// Who works out references and marks; cheap to clone.
#[derive(Clone)]
pub(crate) struct Reasoner {
    store: Store,
    pub(crate) pool: Pool<Task>,
    /// The references last used, newest first.
    shelf: Arc<Mutex<VecDeque<(i32, Kept)>>>,
    previews: Arc<AtomicU64>,
}

impl Reasoner {
    pub(crate) fn new(store: Store) -> Self {
        // One core is left to those who work at their benches.
        let cores = available_parallelism().map_or(1, usize::from);
        Self {
            store,
            pool: Pool::new(cores.saturating_sub(1).max(1)),
            shelf: Arc::default(),
            previews: Arc::default(),
        }
    }

    fn kept(&self, id: i32) -> Kept {
        let mut shelf = self.shelf.lock().unwrap_or_else(PoisonError::into_inner);
        let at = shelf.iter().position(|(have, _)| *have == id);
        let found = at.and_then(|at| shelf.remove(at));
        let entry = found.unwrap_or_else(|| (id, Kept::default()));
        let kept = Arc::clone(&entry.1);
        shelf.truncate(KEPT - 1);
        shelf.push_front(entry);
        kept
    }

    /// A reference that is at hand.
    pub(crate) fn at_hand(&self, id: i32) -> Option<Arc<Reference>> {
        self.kept(id).get().cloned()
    }

    /// The reference of a lesson, here and now: on a worker's thread.
    fn work_out(
        &self,
        id: i32,
        lesson: &Arc<Lesson>,
        progress: &Arc<Progress>,
    ) -> Result<Arc<Reference>, BenchError> {
        let kept = self.kept(id);
        if let Some(known) = kept.get() {
            return Ok(Arc::clone(known));
        }
        let reference = Arc::new(Reference::watched(lesson, progress)?);
        let reference = kept.get_or_init(|| reference);
        self.keep_prospect(id, reference);
        Ok(Arc::clone(reference))
    }

    /// What the lesson is in for is read from then on.
    fn keep_prospect(&self, id: i32, reference: &Reference) {
        let prospect = match Prospect::of(reference) {
            Ok(prospect) => prospect,
            Err(e) => return tracing::warn!("lesson {id}: {e}"),
        };
        let text = serde_json::to_string(&prospect);
        let kept = text.map(|text| self.store.keep_prospect(id, ENGINE, &text));
        if let Ok(Err(e)) = kept {
            tracing::warn!("lesson {id}: {e}");
        }
    }

    /// Asks for the reference of a lesson.
    ///
    /// # Errors
    /// As [`Pool::ask`].
    pub(crate) fn reference(
        &self,
        id: i32,
        lesson: &Arc<Lesson>,
        urgency: Urgency,
    ) -> Result<Ticket, Problem> {
        // Sparks are followed in time: what is quick need not wait for them.
        let urgency = match urgency {
            Urgency::Idle if lesson.circuit.sparks() => Urgency::IdleLong,
            urgency => urgency,
        };
        let (own, lesson) = (self.clone(), Arc::clone(lesson));
        self.pool
            .ask(Task::Reference(id), urgency, move |progress| {
                own.work_out(id, &lesson, progress)?;
                Ok(())
            })
    }

    /// Asks for something about a lesson that is not saved.
    ///
    /// # Errors
    /// As [`Pool::ask`].
    pub(crate) fn preview(
        &self,
        run: impl FnOnce(&Arc<Progress>) -> Result<(), Problem> + Send + 'static,
    ) -> Result<Ticket, Problem> {
        let nth = self.previews.fetch_add(1, Ordering::Relaxed);
        self.pool.ask(Task::Preview(nth), Urgency::GivenOut, run)
    }

    /// Asks for the marks of an attempt, which are kept when they are there.
    ///
    /// # Errors
    /// As [`Pool::ask`].
    pub(crate) fn marks(
        &self,
        attempt: i32,
        (lesson_id, lesson): (i32, &Arc<Lesson>),
        steps: Vec<Step>,
    ) -> Result<Ticket, Problem> {
        let (own, lesson) = (self.clone(), Arc::clone(lesson));
        let needs = Task::Reference(lesson_id);
        self.pool.ask_with(
            Task::Marks(attempt),
            Urgency::Mark,
            Some(&needs),
            move |progress| {
                let reference = own.work_out(lesson_id, &lesson, progress)?;
                let (sheet, debrief) = marked(&reference, &steps)?;
                let text = |e: serde_json::Error| {
                    tracing::error!("attempt {attempt}: {e}");
                    Problem::internal()
                };
                let made = NewSheet {
                    engine: ENGINE,
                    made_at: now(),
                    sheet: &serde_json::to_string(&sheet).map_err(text)?,
                    debrief: &serde_json::to_string(&debrief).map_err(text)?,
                    computed: sheet.computed,
                };
                Ok(own.store.keep_sheet(attempt, &made)?)
            },
        )
    }
}

/// Sheet and debrief of an attempt.
pub(crate) fn marked(
    reference: &Reference,
    steps: &[Step],
) -> Result<(MarkSheet, Debrief), BenchError> {
    let case = Case::new(reference, steps)?;
    Ok((sheet(&case)?, debrief(&case)))
}
