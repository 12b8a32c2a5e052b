//! Benches that are being worked at, kept alive between two requests. The journal of steps in the database
//! is the only truth: a bench that is gone, or does not stand where the journal ends, is rebuilt from it.

use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use cimento_diagnosis::attempt::Session;
use lru::LruCache;

use crate::problem::Problem;

/// Memory that living benches may take together, in bytes; the one least recently used goes first. One at a
/// starting circuit takes 40 to 50 kB after 30 steps, one with an ignition 100 to 140 kB and 30 kB a screen.
const KEPT_BYTES: usize = 256 << 20;

/// A bench behind its own lock.
type Slot = Arc<Mutex<Option<Session>>>;

struct Shelf {
    /// By attempt, with the bytes it took when it was last used.
    slots: LruCache<i32, (Slot, usize)>,
    bytes: usize,
}

/// The living benches; cheap to clone.
#[derive(Clone)]
pub(crate) struct Benches {
    shelf: Arc<Mutex<Shelf>>,
    most_bytes: usize,
}

impl Default for Benches {
    fn default() -> Self {
        Self::of(KEPT_BYTES)
    }
}

impl Benches {
    fn of(most_bytes: usize) -> Self {
        let slots = LruCache::unbounded();
        Self {
            shelf: Arc::new(Mutex::new(Shelf { slots, bytes: 0 })),
            most_bytes,
        }
    }

    fn shelf(&self) -> MutexGuard<'_, Shelf> {
        self.shelf.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Lets all of them go: attempts were erased, and their numbers may come again.
    pub(crate) fn clear(&self) {
        let mut shelf = self.shelf();
        shelf.slots.clear();
        shelf.bytes = 0;
    }

    /// Does something at the bench of an attempt, one at a time: with none, where it is to be rebuilt. One
    /// that did something which is not on record has to be given up.
    pub(crate) fn at<T>(
        &self,
        attempt: i32,
        work: impl FnOnce(&mut Option<Session>) -> Result<T, Problem>,
    ) -> Result<T, Problem> {
        let slot = {
            let mut shelf = self.shelf();
            let entry = shelf.slots.get_or_insert(attempt, Default::default);
            Arc::clone(&entry.0)
        };
        let mut bench = slot.lock().unwrap_or_else(|poisoned| {
            // Whoever held it fell over in the middle of something.
            let mut bench = poisoned.into_inner();
            *bench = None;
            slot.clear_poison();
            bench
        });
        let done = work(&mut bench);
        let bytes = bench.as_ref().map_or(0, Session::bytes);
        drop(bench);
        self.weigh(attempt, bytes);
        done
    }

    /// Notes what a bench takes, and lets go of those that nobody has used for longest.
    fn weigh(&self, attempt: i32, bytes: usize) {
        let mut shelf = self.shelf();
        let before = match shelf.slots.peek_mut(&attempt) {
            Some((_, known)) => std::mem::replace(known, bytes),
            None => return,
        };
        shelf.bytes = shelf.bytes + bytes - before;
        if bytes == 0 {
            shelf.slots.pop(&attempt);
        }
        while shelf.bytes > self.most_bytes {
            let Some((_, (_, gone))) = shelf.slots.pop_lru() else {
                break;
            };
            shelf.bytes -= gone;
        }
    }
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use super::*;
    use cimento_diagnosis::lesson::{Lesson, LessonDoc};

    fn session() -> Session {
        let text = include_str!("../../../demo/circuits/baggage-tug-starting.json");
        let circuit = cimento_parts::read_circuit(text).unwrap();
        let fault = cimento_model::faults::read_short_form("W8:open").unwrap();
        let doc = LessonDoc::of("t", circuit.doc.clone(), vec![fault]);
        Session::start(&Lesson::new(doc).unwrap())
    }

    fn use_it(benches: &Benches, attempt: i32, fresh: &Session) -> bool {
        let found = benches.at(attempt, |bench| {
            let had = bench.is_some();
            bench.get_or_insert_with(|| fresh.clone());
            Ok(had)
        });
        found.unwrap()
    }

    /// Room for two: the third takes the place of the one that was not used for longest.
    #[test]
    fn the_bench_least_recently_used_goes_first() {
        let fresh = session();
        let benches = Benches::of(fresh.bytes() * 5 / 2);
        assert!(!use_it(&benches, 1, &fresh));
        assert!(!use_it(&benches, 2, &fresh));
        assert!(use_it(&benches, 1, &fresh));
        assert!(!use_it(&benches, 3, &fresh));
        assert!(use_it(&benches, 1, &fresh));
        assert!(!use_it(&benches, 2, &fresh));
    }

    /// What fell over half-way is not gone on with, and takes no room.
    #[test]
    fn a_bench_that_was_given_up_is_gone() {
        let fresh = session();
        let benches = Benches::default();
        use_it(&benches, 1, &fresh);
        assert_eq!(benches.shelf().bytes, fresh.bytes());
        let fell = std::panic::catch_unwind(std::panic::AssertUnwindSafe(|| {
            benches.at(1, |_| -> Result<(), Problem> { panic!("fell over") })
        }));
        assert!(fell.is_err());
        assert!(!use_it(&benches, 1, &fresh));
        let given_up = benches.at(1, |bench| {
            *bench = None;
            Ok(())
        });
        assert!(given_up.is_ok());
        assert_eq!(benches.shelf().bytes, 0);
        assert!(!use_it(&benches, 1, &fresh));
    }
}
