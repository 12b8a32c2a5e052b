//! What every suspect says of every measurement worth thinking of: worked out once after the
//! complaint, and used at each step of an attempt to say what would have told most.

use crate::attempt::actions::{SetControl, TakeApart};
use std::collections::BTreeSet;
use std::ops::Range;
use std::sync::Arc;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::information::{Beliefs, Believed, Grouped};
use super::progress::Progress;
use super::room::Room;
use super::spans::Span;
use super::threads;
use super::tracks::Suspects;
use crate::attempt::{Action, perform};
use crate::lesson::{Lesson, Means};
use cimento_bench::BenchError;
use cimento_bench::instruments::{Function, Reading, take};
use cimento_model::circuit::{Circuit, Conductor, ConductorKind, Place};
use cimento_model::state::OperatingState;

/// Minutes of a reading, and of each control moved or thing taken apart, beside the way; common
/// practice.
const READING_MINUTES: f64 = 0.5;
const MOVE_MINUTES: f64 = 0.1;
const APART_MINUTES: f64 = 0.5;

/// Segments whose machines stand in a state together, at least.
const STRETCH: usize = 48;

/// What whoever waits is told meanwhile.
const MEASURING: &str = "measuring on what is left of it, the second of two";

/// A measurement in a state.
#[derive(Debug, Clone, PartialEq)]
pub struct Measurement {
    /// Position of its state in [`Table::states`].
    pub state: usize,
    pub function: Function,
    pub red: String,
    pub black: Option<String>,
    /// Minutes to reach its points and take it, without the way to its state.
    pub minutes: f64,
}

impl Measurement {
    /// What is set on the meter, and where its leads are.
    fn held(&self) -> (Function, Option<&str>, Option<&str>) {
        (self.function, Some(&self.red), self.black.as_deref())
    }
}

/// A state to measure in.
#[derive(Debug, Clone)]
pub struct MeasuringState {
    /// "start · clutch down", as readings name it.
    pub about: String,
    /// What is done to come there from rest.
    pub actions: Vec<Action>,
    /// Minutes to come there from rest.
    pub minutes: f64,
}

/// Measurements with what each segment says of them.
pub struct Table {
    pub states: Vec<MeasuringState>,
    pub measurements: Vec<Measurement>,
    /// The place of each segment after the complaint.
    at: Vec<(usize, Place)>,
    /// The living segments of each state.
    beliefs: Arc<Vec<Beliefs>>,
    /// For each measurement, what each living segment of its state says.
    spans: Arc<Vec<Vec<Span>>>,
    /// The same by what they say.
    grouped: Arc<Vec<Grouped>>,
    /// For each measurement, what the machine itself shows.
    truth: Vec<Reading>,
}

impl Table {
    /// Works out the table for a lesson.
    ///
    /// # Errors
    /// [`BenchError`] when a circuit has no solution in one of the states.
    pub fn new(after_complaint: &Suspects) -> Result<Self, BenchError> {
        Self::watched(after_complaint, &Progress::default())
    }

    /// The same under the eyes of whoever waits.
    ///
    /// # Errors
    /// As [`Table::new`], and [`BenchError::GivenUp`].
    pub fn watched(after_complaint: &Suspects, progress: &Progress) -> Result<Self, BenchError> {
        let lesson = after_complaint.lesson();
        // A place by itself tells what is behind a fuse that has gone; else a working circuit does.
        // Windings of an ignition feed nothing while it stands: they are measured by themselves too.
        let dead = after_complaint.may_have_blown()
            || for_volts(lesson).is_none()
            || lesson.circuit.sparks();
        let by_itself = dead
            && !lesson.forbidden.contains(&Means::TakingApart)
            && lesson.functions.contains(&Function::OHMS);
        let mut states = states(lesson);
        states.retain(|s| by_itself || s.unplugged.is_empty() && s.removed.is_empty());
        // A state and a stretch at a time: there are millions of spans, and not all machines have to stand in all
        // states at once.
        let stretches = after_complaint.stretches(STRETCH);
        progress.begin(MEASURING, states.len() * stretches.len());
        let mut out = Self {
            states: Vec::new(),
            measurements: Vec::new(),
            at: after_complaint.segment_places(),
            beliefs: Arc::default(),
            spans: Arc::default(),
            grouped: Arc::default(),
            truth: Vec::new(),
        };
        let room = Room::default();
        let (mut all, mut spans, mut grouped) = (Vec::new(), Vec::new(), Vec::new());
        for (at, state) in states.iter().enumerate() {
            let state = Reached::new(lesson, state, at)?;
            let count = state.measurements.len() * after_complaint.segments.len();
            room.take(count * size_of::<Span>())?;
            let mut measured = threads::each(
                stretches.len(),
                || after_complaint.for_another_thread(),
                |suspects, n| {
                    progress.step()?;
                    state.measure(suspects, stretches[n].clone())
                },
            )?;
            let beliefs = measured.iter().flat_map(|m| &m.beliefs).copied();
            let beliefs: Beliefs = beliefs.collect();
            for n in 0..state.measurements.len() {
                let mut says = Vec::with_capacity(beliefs.iter().count());
                let parts = measured.iter_mut().map(|m| std::mem::take(&mut m.spans[n]));
                parts.for_each(|part| says.extend(part));
                grouped.push(Grouped::new(&beliefs, &says));
                spans.push(says);
            }
            all.push(beliefs);
            out.states.push(state.state);
            out.measurements.extend(state.measurements);
            out.truth.extend(state.truth);
        }
        out.beliefs = Arc::new(all);
        out.spans = Arc::new(spans);
        out.grouped = Arc::new(grouped);
        Ok(out)
    }

    /// The same table for another machine with the same complaint: only what that machine shows is
    /// worked out anew.
    ///
    /// # Errors
    /// As [`Table::new`].
    pub fn for_machine(&self, lesson: &Lesson) -> Result<Self, BenchError> {
        let mut truth = Vec::with_capacity(self.measurements.len());
        let mut bench = None;
        for m in &self.measurements {
            let at = match bench {
                Some((state, ref bench)) if state == m.state => bench,
                _ => {
                    let mut new = lesson.brought_in();
                    for action in &self.states[m.state].actions {
                        perform(&mut new, action)?;
                    }
                    &bench.insert((m.state, new)).1
                }
            };
            let reading = take(at, m.function, None, Some(&m.red), m.black.as_deref());
            truth.push(reading?);
        }
        Ok(Self {
            states: self.states.clone(),
            measurements: self.measurements.clone(),
            at: self.at.clone(),
            beliefs: Arc::clone(&self.beliefs),
            spans: Arc::clone(&self.spans),
            grouped: Arc::clone(&self.grouped),
            truth,
        })
    }

    /// The living among the segments, with what they say of a measurement.
    fn living<'a>(
        &'a self,
        measurement: usize,
        alive: &'a BTreeSet<usize>,
    ) -> impl Iterator<Item = (usize, Span)> + 'a {
        let beliefs = &self.beliefs[self.measurements[measurement].state];
        let all = beliefs.iter().zip(&self.spans[measurement]);
        all.filter(|(b, _)| alive.contains(&b.root))
            .map(|(b, span)| (b.root, *span))
    }

    /// Bits that a measurement is worth while some segments live.
    pub fn information_gain(&self, measurement: usize, alive: &BTreeSet<usize>) -> f64 {
        self.worth_while(measurement, &|root| alive.contains(&root))
    }

    fn worth_while(&self, measurement: usize, alive: &dyn Fn(usize) -> bool) -> f64 {
        let m = &self.measurements[measurement];
        let (beliefs, spans) = (&self.beliefs[m.state], &self.spans[measurement]);
        self.grouped[measurement].information_gain(beliefs, spans, m.function, alive)
    }

    /// The measurement that is worth most per minute, with its bits and minutes; the way to another
    /// state counts, from the state of the last one.
    pub fn best(&self, alive: &BTreeSet<usize>, now: Option<usize>) -> Option<Choice> {
        self.best_but(alive, now, &[])
    }

    /// The same without those that have been taken.
    pub(super) fn best_but(
        &self,
        alive: &BTreeSet<usize>,
        now: Option<usize>,
        taken: &[usize],
    ) -> Option<Choice> {
        self.choices(alive, now, taken)
            .filter(|c| c.bits >= super::information::TELLS_NOTHING_BITS)
            .max_by(|a, b| (a.bits / a.minutes).total_cmp(&(b.bits / b.minutes)))
    }

    /// Every measurement that has not been taken, with what it is worth.
    pub(super) fn choices<'a>(
        &'a self,
        alive: &'a BTreeSet<usize>,
        now: Option<usize>,
        taken: &'a [usize],
    ) -> impl Iterator<Item = Choice> + 'a {
        let open = (0..self.measurements.len()).filter(|n| !taken.contains(n));
        let mut lives = vec![false; alive.last().map_or(0, |last| last + 1)];
        alive.iter().for_each(|root| lives[*root] = true);
        open.map(move |n| Choice {
            measurement: n,
            bits: self.worth_while(n, &|root| lives.get(root).copied().unwrap_or(false)),
            minutes: self.minutes(n, now),
        })
    }

    /// A choice as it is proposed to a person.
    pub fn proposal(&self, choice: Choice) -> Proposal {
        let m = &self.measurements[choice.measurement];
        Proposal {
            state: self.states[m.state].about.clone(),
            function: m.function,
            red: m.red.clone(),
            black: m.black.clone(),
            bits: choice.bits,
            minutes: choice.minutes,
        }
    }

    /// Minutes of a measurement with the way to its state.
    pub fn minutes(&self, measurement: usize, now: Option<usize>) -> f64 {
        let m = &self.measurements[measurement];
        let way = match now {
            Some(now) if now == m.state => 0.0,
            _ => self.states[m.state].minutes,
        };
        m.minutes + way
    }

    /// The segments that are left when a measurement shows what the machine shows.
    pub fn left(&self, measurement: usize, alive: &BTreeSet<usize>) -> BTreeSet<usize> {
        let truth = &self.truth[measurement];
        let all = self.living(measurement, alive);
        all.filter(|(_, span)| span.agrees(truth, None))
            .map(|(root, _)| root)
            .collect()
    }

    /// What a measurement may show while some segments live, lowest first: segments that a meter
    /// cannot tell apart, directly or by way of others, share an outcome.
    pub(super) fn outcomes(
        &self,
        measurement: usize,
        alive: &BTreeSet<usize>,
    ) -> Vec<(Span, BTreeSet<usize>)> {
        let function = self.measurements[measurement].function;
        let mut living: Vec<(usize, Span)> = self.living(measurement, alive).collect();
        living.sort_by(|a, b| a.1.least.total_cmp(&b.1.least));
        let mut out: Vec<(Span, BTreeSet<usize>)> = Vec::new();
        for (root, span) in living {
            let slack = span.slack(function);
            // Sorted by its lower end, a segment can join a later outcome only over an earlier one.
            let mut joined = (span, BTreeSet::from([root]));
            let (same, apart): (Vec<_>, Vec<_>) = out
                .into_iter()
                .partition(|(s, _)| span.confusable(*s, slack));
            for (s, roots) in same {
                joined.0 = joined.0.hull(s);
                joined.1.extend(roots);
            }
            out = apart;
            out.push(joined);
        }
        out
    }

    /// What the machine shows at a measurement.
    pub fn truth(&self, measurement: usize) -> &Reading {
        &self.truth[measurement]
    }

    /// The places that some segments lie at.
    pub fn places(&self, alive: &BTreeSet<usize>) -> BTreeSet<Place> {
        let living = self.at.iter().filter(|(root, _)| alive.contains(root));
        living.map(|(_, place)| *place).collect()
    }

    /// The segments that no measurement of the table tells from the machine.
    pub fn indistinguishable(&self, mut alive: BTreeSet<usize>) -> BTreeSet<usize> {
        for n in 0..self.measurements.len() {
            alive = self.left(n, &alive);
        }
        alive
    }

    /// The measurement that a reading is, if the table has it.
    pub fn find(&self, reading: &Reading) -> Option<usize> {
        self.measurements.iter().position(|m| {
            self.states[m.state].about == reading.state
                && m.function == reading.function
                && Some(m.red.as_str()) == reading.red.as_deref()
                && m.black == reading.black
        })
    }

    /// The state that a reading was taken in, if the table has it.
    pub fn state_of(&self, reading: &Reading) -> Option<usize> {
        self.states.iter().position(|s| s.about == reading.state)
    }
}

/// A state with what is measured in it, and what the machine itself shows.
struct Reached {
    state: MeasuringState,
    measurements: Vec<Measurement>,
    truth: Vec<Reading>,
}

/// What a stretch of segments says of what is measured in a state.
struct Measured {
    beliefs: Vec<Believed>,
    /// For each measurement, of each segment.
    spans: Vec<Vec<Span>>,
}

impl Reached {
    fn new(lesson: &Lesson, state: &OperatingState, at: usize) -> Result<Self, BenchError> {
        let actions = steps_to(lesson, state);
        let mut bench = lesson.brought_in();
        for action in &actions {
            perform(&mut bench, action)?;
        }
        let measurements = measurements(lesson, at, state);
        let truth = measurements
            .iter()
            .map(|m| take(&bench, m.function, None, Some(&m.red), m.black.as_deref()));
        Ok(Self {
            truth: truth.collect::<Result<_, _>>()?,
            measurements,
            state: MeasuringState {
                about: bench.state().about(),
                minutes: actions.iter().map(|a| way_minutes(lesson, a)).sum(),
                actions,
            },
        })
    }

    fn measure(&self, suspects: &Suspects, stretch: Range<usize>) -> Result<Measured, BenchError> {
        let here = suspects.brought(stretch, &self.state.actions)?;
        let held: Vec<_> = self.measurements.iter().map(Measurement::held).collect();
        Ok(Measured {
            spans: here.say(&held)?,
            beliefs: here.beliefs().collect(),
        })
    }
}

/// A measurement chosen, with its worth and cost.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Choice {
    pub measurement: usize,
    pub bits: f64,
    pub minutes: f64,
}

/// A measurement as it is proposed to a person.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Proposal {
    pub state: String,
    pub function: Function,
    pub red: String,
    pub black: Option<String>,
    /// Bits that it is worth before it is taken.
    pub bits: f64,
    pub minutes: f64,
}

impl Proposal {
    /// "DC volts at K3.86 to BAT.- in start · clutch down".
    pub fn text(&self) -> String {
        let to = self
            .black
            .as_deref()
            .map_or(String::new(), |b| format!(" to {b}"));
        format!(
            "{} at {}{to} in {}",
            self.function.title(),
            self.red,
            self.state
        )
    }
}

/// The states worth measuring in: at rest, those of the trial, and each fuse and connector out by
/// itself.
fn states(lesson: &Lesson) -> Vec<OperatingState> {
    let circuit = &lesson.circuit;
    let rest = OperatingState::at_rest(circuit);
    let mut out = vec![rest.clone()];
    out.extend(OperatingState::trial(circuit).into_iter().map(|t| t.state));
    let fuses: Vec<&str> = circuit
        .parts
        .iter()
        .filter(|p| p.kind.is_fuse() && p.kind.plugs_in())
        .map(|p| p.id.as_str())
        .collect();
    let connectors = circuit.doc.connectors.keys().map(String::as_str);
    // With all fuses out each branch behind them stands by itself; each connector halves it.
    let mut bare = rest;
    for fuse in &fuses {
        bare.take_apart(circuit, fuse);
    }
    if !fuses.is_empty() {
        out.push(bare.clone());
    }
    if !fuses.is_empty() || circuit.sparks() {
        for connector in connectors {
            let mut state = bare.clone();
            state.take_apart(circuit, connector);
            out.push(state);
        }
    }
    // States that differ in nothing are one.
    let mut seen: Vec<String> = Vec::new();
    out.retain(|s| {
        let about = s.about();
        let new = !seen.contains(&about);
        seen.push(about);
        new
    });
    out
}

/// What is done to come to a state from rest.
fn steps_to(lesson: &Lesson, state: &OperatingState) -> Vec<Action> {
    let rest = OperatingState::at_rest(&lesson.circuit);
    let controls = lesson.circuit.controls().into_iter();
    // The engine runs once the key is on.
    let (first, last): (Vec<_>, Vec<_>) =
        controls.partition(|c| c.name != cimento_model::state::ENGINE);
    let moved = first.into_iter().chain(last).filter_map(|c| {
        let position = state.control(&c.name).to_owned();
        (position != rest.control(&c.name)).then_some(Action::SetControl(SetControl {
            control: c.name,
            position,
        }))
    });
    let apart = state.unplugged.iter().chain(&state.removed);
    moved
        .chain(apart.map(|what| Action::TakeApart(TakeApart { what: what.clone() })))
        .collect()
}

fn way_minutes(lesson: &Lesson, action: &Action) -> f64 {
    match action {
        Action::TakeApart(TakeApart { what }) => APART_MINUTES + lesson.circuit.reach_minutes(what),
        _ => MOVE_MINUTES,
    }
}

/// What a lesson lets one look for volts with: the finest there is.
fn for_volts(lesson: &Lesson) -> Option<Function> {
    let all = lesson.functions.iter().copied();
    let fine = all.filter_map(|f| Some((f.fineness()?, f)));
    fine.min_by_key(|(fineness, _)| *fineness).map(|(_, f)| f)
}

fn measurements(lesson: &Lesson, state: usize, operating: &OperatingState) -> Vec<Measurement> {
    let circuit = &lesson.circuit;
    let apart = !operating.unplugged.is_empty() || !operating.removed.is_empty();
    let permitted = |f: Function| lesson.functions.contains(&f);
    let reach = |id: &str| circuit.test_point(id).map_or(1.0, |p| p.reach_minutes);
    let negative = circuit.point_at(0).map(|p| p.id.clone());
    let mut out = Vec::new();
    let mut add = |function: Function, red: &str, black: Option<&str>| {
        let way = reach(red) + black.map_or(0.0, reach);
        out.push(Measurement {
            state,
            function,
            red: red.to_owned(),
            black: black.map(str::to_owned),
            minutes: READING_MINUTES + way,
        });
    };
    if !apart && let Some(volts) = for_volts(lesson) {
        for point in circuit.test_points.iter().filter(|p| p.node != 0) {
            add(volts, &point.id, negative.as_deref());
        }
    }
    if !apart {
        for function in Function::all().filter(|f| permitted(*f)) {
            for (red, black) in function.proposes(circuit, operating) {
                add(function, &red, black.as_deref());
            }
        }
    }
    if apart {
        for fuse in circuit
            .parts
            .iter()
            .filter(|p| p.kind.is_fuse() && p.kind.plugs_in())
        {
            for node in &fuse.nodes {
                if let Some(point) = circuit.point_at(*node) {
                    add(Function::OHMS, &point.id, negative.as_deref());
                }
            }
        }
    }
    if apart && circuit.sparks() {
        for connector in &operating.unplugged {
            for side in sides(circuit, connector) {
                for (n, red) in side.iter().enumerate() {
                    add(Function::OHMS, red, negative.as_deref());
                    let others = side[n + 1..].iter();
                    others.for_each(|black| add(Function::OHMS, red, Some(black)));
                }
            }
        }
    }
    out
}

/// The test points of a connector's two halves.
fn sides<'a>(circuit: &'a Circuit, connector: &str) -> [Vec<&'a str>; 2] {
    let cavities = circuit.conductors.iter().filter(|c| {
        let of = c.id.rsplit_once('.').map(|(of, _)| of);
        c.kind == ConductorKind::Cavity && of == Some(connector)
    });
    let id = |node: usize| circuit.point_at(node).map(|p| p.id.as_str());
    let half = |node: fn(&Conductor) -> usize| {
        let nodes = cavities.clone().map(node);
        nodes.filter_map(id).collect()
    };
    [half(|c| c.a), half(|c| c.b)]
}
