//! What benches of one circuit share, so that what one has worked out serves the next: what was factored, how
//! machines stood, and what their sparks came to. It only saves time: all of it could be worked out anew.

use std::collections::HashMap;
use std::hash::{Hash, Hasher};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use cimento_solver::Solver;
use indexmap::IndexSet;

use super::firing::Sparks;
use cimento_model::faults::Fault;
use cimento_model::part::PartState;
use cimento_model::state::OperatingState;

/// When the sparks of so many machines are known they are forgotten.
const MOST_SPARKS: usize = 20_000;

/// What benches share; cheap to clone.
#[derive(Default, Clone)]
pub struct Shared {
    solver: Arc<Mutex<Solver>>,
    known: Arc<Known>,
}

/// What is known of the machines of a circuit.
#[derive(Default)]
struct Known {
    states: Mutex<IndexSet<OperatingState>>,
    stands: Mutex<IndexSet<Stand>>,
    sparks: Mutex<HashMap<SparkKey, Sparks>>,
}

/// How a machine stands, as far as two machines are asked whether they do alike: its state, the level of
/// each part and whether it turns, and how many faults it has.
#[derive(PartialEq, Eq, Hash)]
struct Stand {
    state: usize,
    levels: Vec<(u64, bool)>,
    faults: usize,
}

/// All that a machine's sparks hang on.
#[derive(PartialEq)]
pub(super) struct SparkKey {
    state: usize,
    /// The faults that are active.
    faults: Vec<Fault>,
    /// The parts that are not as they were made, by position.
    parts: Vec<(usize, PartState)>,
}

// Its numbers were computed from a circuit's: none of them is no number.
impl Eq for SparkKey {}

impl Hash for SparkKey {
    fn hash<H: Hasher>(&self, hasher: &mut H) {
        self.state.hash(hasher);
        for fault in &self.faults {
            (fault.place, fault.mode.name()).hash(hasher);
            let numbers = [fault.at, fault.mode.severity().unwrap_or(0.0)];
            numbers.map(f64::to_bits).hash(hasher);
        }
        for (n, part) in &self.parts {
            let numbers = [part.speed, part.wear, part.drained];
            (n, part.level, numbers.map(f64::to_bits)).hash(hasher);
        }
    }
}

fn locked<T>(what: &Mutex<T>) -> MutexGuard<'_, T> {
    what.lock().unwrap_or_else(PoisonError::into_inner)
}

impl Shared {
    /// A solver of its own beside what is known already: for another thread.
    #[must_use]
    pub fn for_another_thread(&self) -> Self {
        Self {
            solver: Arc::default(),
            known: Arc::clone(&self.known),
        }
    }

    pub(super) fn solver(&self) -> MutexGuard<'_, Solver> {
        locked(&self.solver)
    }

    fn state(&self, state: &OperatingState) -> usize {
        let mut states = locked(&self.known.states);
        match states.get_index_of(state) {
            Some(n) => n,
            None => states.insert_full(state.clone()).0,
        }
    }

    /// The number of the way in which a machine stands.
    pub(super) fn stand(
        &self,
        state: &OperatingState,
        parts: &[PartState],
        faults: usize,
    ) -> usize {
        let stand = Stand {
            state: self.state(state),
            levels: parts.iter().map(|p| (p.level, p.speed > 0.0)).collect(),
            faults,
        };
        locked(&self.known.stands).insert_full(stand).0
    }

    /// What the sparks of a machine hang on. `faults` are those that are active.
    pub(super) fn spark_key(
        &self,
        state: &OperatingState,
        faults: Vec<Fault>,
        parts: &[PartState],
    ) -> SparkKey {
        let parts = parts.iter().copied().enumerate();
        let used = parts.filter(|(_, p)| *p != PartState::default());
        SparkKey {
            state: self.state(state),
            faults,
            parts: used.collect(),
        }
    }

    pub(super) fn sparks(&self, key: &SparkKey) -> Option<Sparks> {
        locked(&self.known.sparks).get(key).cloned()
    }

    pub(super) fn keep_sparks(&self, key: SparkKey, sparks: Sparks) {
        let mut known = locked(&self.known.sparks);
        if known.len() >= MOST_SPARKS {
            known.clear();
        }
        known.insert(key, sparks);
    }
}
