//! A circuit with faults in an operating state: settled, acted on, read.

mod firing;
mod flow;
mod heating;
mod joined;
mod plugs;
mod protection;
mod rippling;
mod settle;
mod shared;
mod symptom;
mod time;
mod usual;
mod wiring;

use cimento_model::stamped::StampedNetlist;
use cimento_model::state::{Engine, OperatingState, TrialState};
use std::sync::{Arc, OnceLock};

use cimento_solver::{Element, SolveError};

pub use flow::flow;
pub use protection::{burns_in_use, is_unprotected, unprotected_wires};
pub use settle::{Event, Point, Settled, Waves};
pub use shared::Shared;
pub use symptom::{Complaint, complaint, complaint_beside};
pub use time::{FROM_DEG, PEAK_TURNS, Spark};

use firing::{FIRING_RPM, Fired};
use heating::Heat;

use cimento_model::circuit::{Circuit, Place};
use cimento_model::faults::Fault;
use cimento_model::part::{Context, Look, Notice, NoticeKind, PartState};

/// Test of a part by itself: source, its resistance, and the largest resistance it finds.
const TEST_V: f64 = 1.5;
const TEST_OHMS: f64 = 1500.0;
const LARGEST_OHMS: f64 = 5e6;

/// Warming and cooling, in °C and minutes; common practice.
const RUNNING_C: f64 = 92.0;
const WARMS_MINUTES: f64 = 6.0;
const SOAKS_C: f64 = 70.0;
const SOAKED_C: f64 = 108.0;
const SOAK_MINUTES: f64 = 12.0;
const COOLS_MINUTES: f64 = 45.0;
/// Time passes in steps of this many minutes.
const TIME_STEP_MINUTES: f64 = 5.0;

/// Memory of a machine beside what it shares, and of each element of its netlists, in bytes: resident memory
/// of a thousand sessions at their beginning, on demo circuits of 48 to 390 elements.
const MACHINE_BYTES: usize = 14_000;
const ELEMENT_BYTES: usize = 90;

/// A machine on the bench.
#[derive(Clone)]
pub struct Bench {
    pub circuit: Arc<Circuit>,
    faults: Vec<Fault>,
    state: OperatingState,
    parts: Vec<PartState>,
    settled: Settled,
    /// What it passed on the way there.
    passed: Vec<settle::Passed>,
    /// The engine stopped by itself when it was brought into the present state.
    died: bool,
    /// It did not fire while it was cranked, and fires as the key is let go.
    coughs: bool,
    /// A plug sparks while its cylinder takes in mixture.
    backfires: bool,
    fired: Fired,
    heat: Heat,
    /// The highest volts of each node over two turns, once somebody has asked for them.
    peaks: OnceLock<Option<Arc<Vec<f64>>>>,
    /// Parts that known-good ones stand in for, with what was wrong with them.
    lent: Vec<(usize, PartState, Vec<Fault>)>,
    /// Connectors whose halves bear labels.
    labelled: Vec<String>,
    /// Connectors that were put back on each other's halves, with what that came to.
    crossed: Vec<([String; 2], Vec<Fault>)>,
    shared: Shared,
}

/// Why a bench has no answer.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum BenchError {
    /// The numerics failed; the sentence names the element.
    #[error("{0}")]
    NoSolution(String),
    /// What is to be read of it cannot be taken.
    #[error("a reading cannot be taken: {0}")]
    NotTaken(String),
    /// What was done to it cannot be done again.
    #[error("a step cannot be done again: {0}")]
    NotDone(String),
    /// Reasoning about it would take more memory than there is for one machine.
    #[error(
        "this machine is too large to reason about: more faults could be there, in more states, than {most_mb} MB hold; divide the circuit, or allow fewer instruments"
    )]
    TooLarge { most_mb: usize },
    /// Nobody wanted the rest of it.
    #[error("it was given up")]
    GivenUp,
    /// It goes to and fro, so that no one operating point stands for it.
    #[error("the machine chatters in this state: it has no operating point to export")]
    Chatters,
    /// There is nothing to follow in time.
    #[error("nothing turns in this state: there is nothing to follow in time")]
    NothingTurns,
}

impl Bench {
    /// A machine at rest: key off, everything plugged in.
    ///
    /// # Errors
    /// [`BenchError`] when the circuit has no solution.
    pub fn new(circuit: &Arc<Circuit>, faults: &[Fault]) -> Result<Self, BenchError> {
        Self::sharing(circuit, faults, &Shared::default())
    }

    /// The same beside other benches of the circuit, so that what one has worked out serves the next.
    ///
    /// # Errors
    /// As [`Bench::new`].
    pub fn sharing(
        circuit: &Arc<Circuit>,
        faults: &[Fault],
        shared: &Shared,
    ) -> Result<Self, BenchError> {
        let mut bench = Self {
            circuit: Arc::clone(circuit),
            faults: faults.to_vec(),
            state: OperatingState::at_rest(circuit),
            parts: vec![PartState::default(); circuit.parts.len()],
            settled: Settled::default(),
            passed: Vec::new(),
            died: false,
            coughs: false,
            backfires: false,
            fired: Fired::default(),
            heat: Heat::default(),
            peaks: OnceLock::new(),
            lent: Vec::new(),
            labelled: Vec::new(),
            crossed: Vec::new(),
            shared: shared.clone(),
        };
        bench.settle()?;
        Ok(bench)
    }

    /// Another machine of the circuit at rest, which shares what this one has factored.
    ///
    /// # Errors
    /// As [`Bench::new`].
    pub fn beside(&self, faults: &[Fault]) -> Result<Self, BenchError> {
        Self::sharing(&self.circuit, faults, &self.shared)
    }

    /// The machine with something taken out of it while it goes on as it does, as for a spark tester in
    /// place of a plug; it is not settled anew.
    pub fn without(&self, part: &str) -> Self {
        let mut out = self.clone();
        out.state.take_apart(&self.circuit, part);
        out
    }

    /// The same machine for another thread: it shares what is known, and factors for itself.
    #[must_use]
    pub fn for_another_thread(&self) -> Self {
        let shared = self.shared.for_another_thread();
        Self {
            shared,
            ..self.clone()
        }
    }

    /// Roughly the memory it takes beside what it shares, in bytes.
    pub fn bytes(&self) -> usize {
        let elements = |p: &Point| p.wiring.tags().len() * (1 + p.waves.len());
        let elements: usize = self.settled.points.iter().map(elements).sum();
        MACHINE_BYTES + elements * ELEMENT_BYTES
    }

    /// Has it share with other benches than until now.
    pub fn share_with(&mut self, shared: &Shared) {
        self.shared = shared.clone();
    }

    /// What this bench shares with others.
    pub fn shared(&self) -> &Shared {
        &self.shared
    }

    /// The present operating state.
    pub fn state(&self) -> &OperatingState {
        &self.state
    }

    /// The faults that are still there.
    pub fn faults(&self) -> &[Fault] {
        &self.faults
    }

    /// What the machine settled to.
    pub fn settled(&self) -> &Settled {
        &self.settled
    }

    /// Parts that are out while a known-good one stands in.
    pub fn lent_parts(&self) -> Vec<String> {
        let ids = self.lent.iter();
        ids.map(|(n, ..)| self.circuit.parts[*n].id.clone())
            .collect()
    }

    /// States of the parts, in the circuit's order.
    pub fn parts(&self) -> &[PartState] {
        &self.parts
    }

    /// Brings the machine into a state and lets it settle.
    ///
    /// # Errors
    /// [`BenchError`] when the circuit has no solution there.
    pub fn set(&mut self, state: OperatingState) -> Result<(), BenchError> {
        if state == self.state {
            return Ok(());
        }
        self.state = state;
        self.settle()
    }

    /// Takes over parts and wires as another bench left them: a blown fuse stays blown.
    pub fn carry_over(&mut self, other: &Bench) {
        self.parts.clone_from(&other.parts);
        self.heat.clone_from(&other.heat);
    }

    /// Repairs a place: its faults are gone, and a fuse there is new.
    ///
    /// # Errors
    /// As [`Bench::set`].
    pub fn repair(&mut self, place: Place) -> Result<(), BenchError> {
        // A part renewed is renewed with all its pins.
        let same = |other: Place| match (place, other) {
            (Place::Part(n) | Place::Pin(n, _), Place::Part(m) | Place::Pin(m, _)) => n == m,
            _ => place == other,
        };
        self.faults.retain(|f| !f.places().any(same));
        if let Place::Part(n) | Place::Pin(n, _) = place {
            self.parts[n] = PartState::default();
        }
        self.settle()
    }

    /// Exchanges two parts of one kind: what is wrong with each goes with it.
    ///
    /// # Errors
    /// As [`Bench::set`].
    pub fn swap(&mut self, a: usize, b: usize) -> Result<(), BenchError> {
        for fault in &mut self.faults {
            fault.place = match fault.place {
                Place::Part(n) if n == a => Place::Part(b),
                Place::Part(n) if n == b => Place::Part(a),
                Place::Pin(n, t) if n == a => Place::Pin(b, t),
                Place::Pin(n, t) if n == b => Place::Pin(a, t),
                place => place,
            };
        }
        self.parts.swap(a, b);
        self.settle()
    }

    /// Fits a part that is known to be good in place of the machine's own.
    ///
    /// # Errors
    /// As [`Bench::set`].
    pub fn lend(&mut self, part: usize) -> Result<(), BenchError> {
        if self.lent.iter().any(|(n, ..)| *n == part) {
            return Ok(());
        }
        let own = |f: &Fault| matches!(f.place, Place::Part(n) | Place::Pin(n, _) if n == part);
        let (faults, others) = self.faults.drain(..).partition(own);
        self.faults = others;
        self.lent.push((part, self.parts[part], faults));
        self.parts[part] = PartState::default();
        self.settle()
    }

    /// Puts the machine's own part back.
    ///
    /// # Errors
    /// As [`Bench::set`].
    pub fn give_back(&mut self, part: usize) -> Result<(), BenchError> {
        if let Some(at) = self.lent.iter().position(|(n, ..)| *n == part) {
            let (_, state, faults) = self.lent.swap_remove(at);
            self.parts[part] = state;
            self.faults.extend(faults);
        }
        self.settle()
    }

    /// Clears a module's codes, if it answers.
    ///
    /// # Errors
    /// As [`Bench::set`].
    pub fn clear_codes(&mut self, part: usize) -> Result<(), BenchError> {
        if let Some(module) = self.circuit.parts[part].kind.module()
            && self.look(part, |l| module.codes(l).is_some()) == Some(true)
        {
            self.parts[part].level = module.cleared(self.parts[part].level);
        }
        self.settle()
    }

    /// Lets time pass: a running engine grows warm, a stopped one first warmer under its cover and then
    /// cold, and a battery charges or runs down.
    ///
    /// # Errors
    /// As [`Bench::set`].
    pub fn pass_time(&mut self, minutes: f64) -> Result<(), BenchError> {
        let mut left = minutes;
        while left > 0.0 {
            let step = left.min(TIME_STEP_MINUTES);
            left -= step;
            let state = &mut self.state;
            let running = state.engine == Engine::Running;
            state.stopped_minutes = if running {
                0.0
            } else {
                state.stopped_minutes + step
            };
            // A hot engine that has just been stopped warms what stands around it.
            let soaks = state.temperature_c > SOAKS_C && state.stopped_minutes <= SOAK_MINUTES;
            let (toward_c, slow_min) = match (running, soaks) {
                (true, _) => (RUNNING_C, WARMS_MINUTES),
                (false, true) => (SOAKED_C, SOAK_MINUTES),
                (false, false) => (OperatingState::default().temperature_c, COOLS_MINUTES),
            };
            let share = 1.0 - (-step / slow_min).exp();
            state.temperature_c += (toward_c - state.temperature_c) * share;
            for n in 0..self.parts.len() {
                let kind = self.circuit.parts[n].kind;
                let per_s = self.look(n, |l| kind.charge_per_s(l)).unwrap_or(0.0);
                let drained = self.parts[n].drained - per_s * step * 60.0;
                self.parts[n].drained = drained.clamp(0.0, 1.0);
            }
            self.hold(step * 60.0)?;
        }
        Ok(())
    }

    fn settle(&mut self) -> Result<(), BenchError> {
        self.hold(settle::HOLD_S)
    }

    /// Lets the machine settle and stand as it is for so many seconds.
    fn hold(&mut self, seconds: f64) -> Result<(), BenchError> {
        let mut settled = self.held_with(seconds, &|_| ())?;
        if let Some(point) = settled.points.last() {
            self.parts.clone_from(&point.parts);
        }
        self.heat.pass(&self.circuit, &settled.passed);
        self.passed = settled.take_passed();
        self.shared.keep(&mut settled);
        self.settled = settled;
        self.peaks = OnceLock::new();
        self.warm_wires(seconds);
        self.died = false;
        self.coughs = false;
        self.fire()
    }

    /// The machine settled with something attached to it; the bench itself stays as it is.
    ///
    /// # Errors
    /// As [`Bench::set`].
    pub fn settled_with(
        &self,
        attach: &dyn Fn(&mut StampedNetlist),
    ) -> Result<Settled, BenchError> {
        self.held_with(settle::HOLD_S, attach)
    }

    fn held_with(
        &self,
        seconds: f64,
        attach: &dyn Fn(&mut StampedNetlist),
    ) -> Result<Settled, BenchError> {
        settle::settle(
            &mut self.shared.solver(),
            &self.circuit,
            &self.faults,
            &self.state,
            (&self.parts, seconds),
            attach,
        )
    }

    /// The constellations the machine has settled to, with something attached and with everything
    /// that goes to and fro in them.
    ///
    /// # Errors
    /// As [`Bench::set`].
    pub fn waves_with(&self, attach: &dyn Fn(&mut StampedNetlist)) -> Result<Waves, BenchError> {
        let solver = &mut self.shared.solver();
        let settled = &self.settled;
        settle::waves(
            solver,
            &self.circuit,
            &self.faults,
            &self.state,
            settled,
            attach,
        )
    }

    /// Every point since the last change of state, with something attached: the inrush too.
    ///
    /// # Errors
    /// As [`Bench::set`].
    pub fn passed_with(
        &self,
        attach: &dyn Fn(&mut StampedNetlist),
    ) -> Result<Vec<Point>, BenchError> {
        let solver = &mut self.shared.solver();
        let settled = (self.passed.as_slice(), &self.settled);
        settle::passed(
            solver,
            &self.circuit,
            &self.faults,
            &self.state,
            settled,
            attach,
        )
    }

    fn held<'a>(&'a self, point: &'a Point, nodes: (usize, usize), ohms: f64) -> settle::Held<'a> {
        settle::Held {
            circuit: &self.circuit,
            faults: &self.faults,
            state: &self.state,
            point,
            nodes,
            ohms,
        }
    }

    /// Whether a meter of so many ohms between two nodes hardly matters to the machine.
    pub fn hardly_loads(&self, a: usize, b: usize, ohms: f64) -> bool {
        let mut solver = self.shared.solver();
        let mut points = self.settled.points.iter();
        points.all(|p| self.held(p, (a, b), ohms).is_light(&mut solver))
    }

    /// Least and most volts between two nodes with a meter of so many ohms held there, where no part of the
    /// machine changes its state for it; `None` where the machine has to be settled anew.
    pub fn lightly_loaded(&self, a: usize, b: usize, ohms: f64) -> Option<(f64, f64)> {
        let mut solver = self.shared.solver();
        let alone = self.settled.points.len() == 1;
        let mut range: Option<(f64, f64)> = None;
        for point in &self.settled.points {
            let volts = self.held(point, (a, b), ohms).volts(&mut solver, alone)?;
            range = Some(range.map_or((volts, volts), |(l, m)| (l.min(volts), m.max(volts))));
        }
        range
    }

    /// Resistance along a conductor with everything around it taken off, in ohms.
    pub fn series_ohms(&self, conductor: usize) -> f64 {
        let active = settle::active(&self.circuit, &self.faults, &self.state);
        wiring::series_ohms(&self.circuit, conductor, &active)
    }

    /// Resistance between two nodes of a part with everything around it taken off, in ohms, as a
    /// test of a milliampere finds it.
    ///
    /// # Errors
    /// As [`Bench::set`].
    pub fn ohms_alone(&self, part: usize, (a, b): (usize, usize)) -> Result<f64, BenchError> {
        let active = settle::active(&self.circuit, &self.faults, &self.state);
        let at_rest = OperatingState::at_rest(&self.circuit);
        // Taken out, a relay falls off and a motor stands; what has melted stays melted.
        let mut parts = self.parts.clone();
        if !self.circuit.parts[part].kind.is_fuse() {
            parts[part] = PartState {
                drained: parts[part].drained,
                ..PartState::default()
            };
        }
        let mut wiring = wiring::part_alone(&self.circuit, &active, &at_rest, &parts, part);
        let (a, b) = (wiring.node(a), wiring.node(b));
        let test = wiring.net.attach(Element::source(a, b, TEST_V, TEST_OHMS));
        let solved = self.shared.solver().operating_point(&wiring.net);
        let op = solved.map_err(|e| named(&self.circuit, &wiring, e))?;
        let amps = -op.current(test);
        // What only the leaks carry is an open.
        Ok(if amps < TEST_V / LARGEST_OHMS {
            f64::INFINITY
        } else {
            TEST_V / amps - TEST_OHMS
        })
    }

    /// What a part looks at in the present state.
    pub fn look<R>(&self, part: usize, see: impl Fn(&Look<'_>) -> R) -> Option<R> {
        self.look_at(&self.settled, part, see)
    }

    /// What a part looks at where the machine has settled to something else.
    pub(crate) fn look_at<R>(
        &self,
        settled: &Settled,
        part: usize,
        see: impl Fn(&Look<'_>) -> R,
    ) -> Option<R> {
        let active = settle::active(&self.circuit, &self.faults, &self.state);
        Some(see(&self.looking(settled, &active, part)?))
    }

    fn looking<'a>(
        &'a self,
        settled: &'a Settled,
        active: &'a [Fault],
        part: usize,
    ) -> Option<Look<'a>> {
        let point = settled.points.last()?;
        Some(Look {
            context: Context {
                index: part,
                part: &self.circuit.parts[part],
                state: point.parts[part],
                operating: &self.state,
                faults: active,
                rpm: wiring::turning_rpm(&self.circuit, &self.state, &point.parts),
            },
            wiring: &point.wiring,
            op: &point.op,
            waves: &point.waves,
        })
    }

    /// Whether the engine would run by itself: it is turned fast enough and fires, as far as the
    /// circuit has to do with either.
    pub fn starts(&self) -> bool {
        self.cranks() && (!self.circuit.sparks() || self.firing().0 > 0)
    }

    /// Whether the engine of the machine as it stands starts when it is tried.
    ///
    /// # Errors
    /// [`BenchError`] when the machine has no solution on the way.
    pub fn starts_when_tried(&self) -> Result<bool, BenchError> {
        let mut tried = self.clone();
        let trials = OperatingState::trial(&self.circuit).into_iter();
        for trial in trials.filter(TrialState::starts_engine) {
            let mut state = tried.state().clone();
            (state.key, state.inputs) = (trial.state.key, trial.state.inputs);
            tried.set(state)?;
        }
        Ok(tried.starts())
    }

    /// Whether the engine turns fast enough to fire; true on a machine without a starter.
    fn cranks(&self) -> bool {
        let has_starter = self.circuit.parts.iter().any(|p| p.kind.cranks());
        let rpm = wiring::turning_rpm(
            &self.circuit,
            &OperatingState {
                engine: Engine::Stopped,
                ..self.state.clone()
            },
            &self.parts,
        );
        !has_starter || rpm >= FIRING_RPM
    }

    /// What a person at the machine notices in the present state.
    pub fn notices(&self) -> Vec<Notice> {
        let active = settle::active(&self.circuit, &self.faults, &self.state);
        let mut out = Vec::new();
        for (index, part) in self.circuit.parts.iter().enumerate() {
            let look = |point: &'_ Point| Context {
                index,
                part,
                state: point.parts[index],
                operating: &self.state,
                faults: &active,
                rpm: wiring::turning_rpm(&self.circuit, &self.state, &point.parts),
            };
            let looks: Vec<Look<'_>> = self
                .settled
                .points
                .iter()
                .map(|point| Look {
                    context: look(point),
                    wiring: &point.wiring,
                    op: &point.op,
                    waves: &point.waves,
                })
                .collect();
            let notice = part.kind.notice(&looks);
            out.extend(notice.map(|n| self.beside_a_sound_one(index, n)));
        }
        out.extend(self.notice_firing());
        out.extend(self.notice_smoke());
        // A battery that nothing charges is no complaint about charging.
        if !self.circuit.parts.iter().any(|p| p.kind.charges()) {
            out.retain(|n| n.kind != NoticeKind::Charging);
        }
        out.sort_by_key(|n| n.kind);
        out
    }
}

/// Turns a solver's error into a sentence that names the element as the circuit does.
fn named(circuit: &Circuit, wiring: &StampedNetlist, error: SolveError) -> BenchError {
    let element = match error {
        SolveError::Singular { element }
        | SolveError::NotConverged { element, .. }
        | SolveError::Residual { element, .. }
        | SolveError::BadValue { element } => element,
    };
    let line = wiring.tags().iter().find(|l| l.element.index() == element);
    let name = line.map_or_else(
        || "the battery's side of the circuit".to_owned(),
        |l| format!("{} ({})", circuit.place_id(l.place), l.name),
    );
    BenchError::NoSolution(format!("no operating point was found at {name}: {error}"))
}
