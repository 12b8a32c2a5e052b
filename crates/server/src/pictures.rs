//! Pictures of screens to choose among: a class that sets its scopes alike has them worked out once.

use std::num::NonZeroUsize;
use std::sync::{Arc, Mutex, PoisonError};

use cimento_bench::instruments::Scope;
use cimento_diagnosis::lesson::Lesson;
use cimento_diagnosis::predict::Patterns;
use cimento_model::state::OperatingState;
use lru::LruCache;

/// Screens that are kept, the least recently used goes first: some ten kilobytes each.
const KEPT: usize = 128;

/// A lesson's machine in a state, and how the scope is set, as JSON.
type Of = (i32, OperatingState, String);

/// The pictures that are kept; cheap to clone.
#[derive(Clone)]
pub(crate) struct Pictures(Arc<Mutex<LruCache<Of, Arc<[Patterns]>>>>);

impl Default for Pictures {
    fn default() -> Self {
        let kept = NonZeroUsize::new(KEPT).unwrap_or(NonZeroUsize::MIN);
        Self(Arc::new(Mutex::new(LruCache::new(kept))))
    }
}

impl Pictures {
    /// The pictures of a screen of a lesson's machine; none where a healthy one has no such screen.
    pub(crate) fn of(
        &self,
        (id, lesson): (i32, &Lesson),
        state: OperatingState,
        scope: &Scope,
    ) -> Arc<[Patterns]> {
        let set = serde_json::to_string(scope).unwrap_or_default();
        let key = (id, state, set);
        let list = || self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(kept) = list().get(&key) {
            return Arc::clone(kept);
        }
        let found: Arc<[Patterns]> = lesson.patterns(&key.1, scope).unwrap_or_default().into();
        list().put(key, Arc::clone(&found));
        found
    }
}
