//! References of lessons: they take seconds, some of them minutes, to work out and serve every attempt at
//! their lesson.

use std::collections::VecDeque;
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

use cimento_bench::BenchError;
use cimento_diagnosis::lesson::Lesson;
use cimento_diagnosis::suspects::Reference;

use crate::problem::Problem;

/// References kept ready; one takes some tens to some hundreds of megabytes.
const KEPT: usize = 4;

/// A reference, or why there is none, once it has been worked out.
type Kept = Arc<OnceLock<Result<Reference, BenchError>>>;

/// The references last used, newest first; cheap to clone.
#[derive(Clone, Default)]
pub(crate) struct Reasoner {
    shelf: Arc<Mutex<VecDeque<(i32, Kept)>>>,
}

impl Reasoner {
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

    /// Asks the reference of a lesson; works it out, or waits for whoever does, where it is not there yet.
    pub(crate) fn ask<T>(
        &self,
        id: i32,
        lesson: &Arc<Lesson>,
        question: impl FnOnce(&Reference) -> Result<T, BenchError>,
    ) -> Result<T, Problem> {
        let kept = self.kept(id);
        let reference = kept.get_or_init(|| Reference::new(lesson));
        let reference = reference.as_ref().map_err(BenchError::clone)?;
        Ok(question(reference)?)
    }

    /// Has a reference worked out without waiting for it.
    pub(crate) fn prepare(&self, id: i32, lesson: &Arc<Lesson>) {
        let (kept, lesson) = (self.kept(id), Arc::clone(lesson));
        if kept.get().is_none() {
            std::thread::spawn(move || {
                if let Err(e) = kept.get_or_init(|| Reference::new(&lesson)) {
                    tracing::warn!("lesson {id}: {e}");
                }
            });
        }
    }
}
