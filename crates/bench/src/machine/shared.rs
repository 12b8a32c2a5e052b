//! What benches of one circuit share, so that what one has worked out serves the next: what was factored, how
//! machines stood, and what their sparks came to. It only saves time: all of it could be worked out anew.

use std::collections::{HashMap, VecDeque};
use std::hash::{Hash, Hasher};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use cimento_solver::{Solver, Spares};
use indexmap::IndexSet;

use super::firing::Sparks;
use super::settle::Settled;
use cimento_model::faults::Fault;
use cimento_model::part::PartState;
use cimento_model::stamped::ElementTag;
use cimento_model::state::OperatingState;

/// When the sparks of so many machines are known they are forgotten.
const MOST_SPARKS: usize = 20_000;

/// When so many speeds of cranking are known they are forgotten: an engine that warms has many temperatures.
const MOST_WEATHERS: usize = 1_000;

/// Speeds and shares of charge that no spark feels, in rad/s and as a share.
const SPEED_STEP: f64 = 0.01;
const DRAINED_STEP: f64 = 1e-6;

/// What another machine was seen to do, where this one is only to be told from it.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Hash)]
pub(super) enum Beside {
    #[default]
    Nothing,
    /// It does not fire: one cylinder that lights tells this one from it.
    Dead,
    /// It fires evenly: one cylinder that does not tells this one from it.
    Even,
}

impl SparkKey {
    /// The same, for a look that ends as soon as the machine can be told from another.
    pub(super) fn beside(self, beside: Beside) -> Self {
        Self { beside, ..self }
    }
}

/// What benches share; cheap to clone.
#[derive(Default, Clone)]
pub struct Shared {
    solver: Arc<Mutex<Solver>>,
    /// What one look in time leaves for the next.
    spares: Arc<Spares>,
    known: Arc<Known>,
    /// Plugs that look alike can be mixed up.
    mixes_plugs: bool,
}

/// What is known of the machines of a circuit.
#[derive(Default)]
struct Known {
    states: Mutex<IndexSet<OperatingState>>,
    stands: Mutex<IndexSet<Stand>>,
    sparks: Mutex<HashMap<SparkKey, Sparks>>,
    /// Speeds at which a sound machine is cranked, in revolutions per minute, by the part that cranks and the
    /// bits of the temperature.
    usual_rpm: Mutex<HashMap<(usize, u64), f64>>,
    /// What the elements of the last few netlists are: thousands of machines differ in values alone.
    tags: Mutex<VecDeque<Arc<[ElementTag]>>>,
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
#[derive(Clone, PartialEq)]
pub(super) struct SparkKey {
    state: usize,
    /// The faults that are active.
    faults: Vec<Fault>,
    /// How many cylinders one has to look at to tell them from what was seen elsewhere.
    beside: Beside,
    /// The parts that are not as they were made, by position: level, and speed and what is drained in steps
    /// that no spark feels.
    parts: Vec<(usize, u64, i64, i64)>,
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
        self.beside.hash(hasher);
        self.parts.hash(hasher);
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
            spares: Arc::default(),
            known: Arc::clone(&self.known),
            mixes_plugs: self.mixes_plugs,
        }
    }

    /// The same for machines whose plugs can be mixed up where they look alike.
    #[must_use]
    pub fn mixing_plugs(self, whether: bool) -> Self {
        Self {
            mixes_plugs: whether,
            ..self
        }
    }

    pub(super) fn mixes_plugs(&self) -> bool {
        self.mixes_plugs
    }

    pub(super) fn solver(&self) -> MutexGuard<'_, Solver> {
        locked(&self.solver)
    }

    /// Speed at which a part cranks a sound machine at a temperature, once that was looked at.
    pub(super) fn usual_rpm(&self, part: usize, celsius: f64) -> Option<f64> {
        let key = (part, celsius.to_bits());
        locked(&self.known.usual_rpm).get(&key).copied()
    }

    pub(super) fn keep_usual_rpm(&self, part: usize, celsius: f64, rpm: f64) {
        let mut known = locked(&self.known.usual_rpm);
        if known.len() >= MOST_WEATHERS {
            known.clear();
        }
        known.insert((part, celsius.to_bits()), rpm);
    }

    pub(super) fn spares(&self) -> &Spares {
        &self.spares
    }

    /// Makes the netlists of a settled machine small.
    pub(super) fn keep(&self, settled: &mut Settled) {
        let mut last = locked(&self.known.tags);
        let own = settled.points.iter_mut();
        let own = own.filter_map(|point| Arc::get_mut(&mut point.wiring));
        own.for_each(|wiring| wiring.keep(&mut last));
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
        let counted = |(n, p): (usize, &PartState)| {
            let step = |value: f64, step: f64| (value / step).round() as i64;
            (
                n,
                p.level,
                step(p.speed, SPEED_STEP),
                step(p.drained, DRAINED_STEP),
            )
        };
        let parts = parts.iter().enumerate().map(counted);
        let used =
            parts.filter(|(_, level, speed, drained)| (*level, *speed, *drained) != (0, 0, 0));
        SparkKey {
            state: self.state(state),
            faults,
            beside: Beside::Nothing,
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
