//! A class as it works: who listens is told when something happens at a bench, and what a bench's steps have come to is
//! worked out once for all who look.

use std::num::NonZeroUsize;
use std::sync::{Arc, Mutex, PoisonError};

use cimento_diagnosis::attempt::{Action, Step};
use cimento_diagnosis::suspects::Reference;
use lru::LruCache;
use tokio::sync::broadcast;

use crate::problem::Problem;
use crate::reasoner::marked;

/// Happenings that one who listens may be behind; then it looks at everything.
const BEHIND: usize = 256;
/// No assignment's number: every one's.
pub(crate) const ALL: i32 = 0;
/// Benches whose state is kept.
const KEPT: NonZeroUsize = NonZeroUsize::new(2000).unwrap();

/// What is told of, and what is known; cheap to clone.
#[derive(Clone)]
pub(crate) struct Live {
    happened: broadcast::Sender<i32>,
    known: Arc<Mutex<LruCache<i32, (usize, Come)>>>,
}

/// What the steps of an attempt have come to.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Come {
    /// Places that are still possible, of how many; absent once the fault was named.
    pub left: Option<usize>,
    pub of: usize,
    /// The step after which the fewest were left for the first time.
    pub last_gain: usize,
    pub slips: Vec<String>,
    pub dangers: Vec<String>,
}

/// A step after which everything has come to the same.
fn tells_nothing(step: &Step) -> bool {
    matches!(step.action, Action::SetControl(_))
}

impl Live {
    pub(crate) fn new() -> Self {
        Self {
            happened: broadcast::Sender::new(BEHIND),
            known: Arc::new(Mutex::new(LruCache::new(KEPT))),
        }
    }

    /// Something happened at an assignment's benches.
    pub(crate) fn happened(&self, assignment: i32) {
        // Nobody may be listening.
        let _ = self.happened.send(assignment);
    }

    /// Something happened that every assignment of a class may show: whoever looks, looks again.
    pub(crate) fn happened_in_a_class(&self) {
        let _ = self.happened.send(ALL);
    }

    pub(crate) fn listen(&self) -> broadcast::Receiver<i32> {
        self.happened.subscribe()
    }

    /// What the steps of an attempt have come to, worked out where it is not known.
    pub(crate) fn come(
        &self,
        attempt: i32,
        reference: &Reference,
        steps: &[Step],
    ) -> Result<Come, Problem> {
        let lock = || self.known.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((count, come)) = lock().get(&attempt)
            && steps
                .get(*count..)
                .is_some_and(|new| new.iter().all(tells_nothing))
        {
            return Ok(come.clone());
        }
        let (sheet, debrief) = marked(reference, steps)?;
        let of = debrief.begin.len();
        let (mut left, mut last_gain, mut named) = (of, 0, false);
        for step in &debrief.steps {
            match &step.left {
                Some(now) if now.len() < left => (left, last_gain) = (now.len(), step.step),
                Some(_) => {}
                None => named = true,
            }
        }
        let come = Come {
            left: (!named).then_some(left),
            of,
            last_gain,
            slips: sheet.slips.into_iter().map(|s| s.text).collect(),
            dangers: sheet.safety.into_iter().map(|e| e.text).collect(),
        };
        lock().put(attempt, (steps.len(), come.clone()));
        Ok(come)
    }
}
