//! What every suspect says of every measurement worth thinking of: worked out once after the
//! complaint, and used at each step of an attempt to say what would have told most.

use crate::attempt::actions::{SetControl, TakeApart, WarmUp, Wet, Wiggle};
use std::collections::BTreeSet;
use std::ops::Range;
use std::sync::Arc;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::closer::{Closer, Says, Sources, outcomes};
use super::information::{Beliefs, Believed, Grouped};
use super::progress::Progress;
use super::question::{Held, Question};
use super::remembered::Remembered;
use super::room::Room;
use super::screens::ScreenSpan;
use super::spans::Span;
use super::threads;
use super::tracks::Suspects;
use crate::attempt::{Action, perform};
use crate::lesson::{Lesson, Means};
use cimento_bench::instruments::{Function, Reading, Shown, take};
use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::{Circuit, Conductor, ConductorKind, Place};
use cimento_model::faults::Condition;
use cimento_model::state::{EVERYTHING, Engine, OperatingState};

/// Minutes of a reading, and of each control moved or thing taken apart, beside the way; common
/// practice.
const READING_MINUTES: f64 = 0.5;
const MOVE_MINUTES: f64 = 0.1;
const APART_MINUTES: f64 = 0.5;

/// Where a measurement promises so much, nobody looks closer.
const ENOUGH_BITS: f64 = 0.5;

/// What is said where nothing may be wrong.
const NO_FAULT: &str = "no fault";

/// Below this nothing is told at all, but for rounding.
const ALIKE_BITS: f64 = 1e-9;

/// Segments whose machines stand in a state together, at least.
const STRETCH: usize = 48;

/// What whoever waits is told meanwhile.
const MEASURING: &str = "measuring on what is left of it, the second of two";

/// A measurement in a state.
#[derive(Debug, Clone, PartialEq)]
pub struct Measurement {
    /// Position of its state in [`Table::states`].
    pub state: usize,
    pub question: Question,
    /// Minutes to reach its points and take it, without the way to its state.
    pub minutes: f64,
}

impl Measurement {
    pub(super) fn reading(
        lesson: &Lesson,
        state: usize,
        function: Function,
        red: &str,
        black: Option<&str>,
    ) -> Self {
        let circuit = &lesson.circuit;
        let reach = |id: &str| circuit.test_point(id).map_or(1.0, |p| p.reach_minutes);
        Self {
            state,
            question: Question::reading(function, red, black),
            minutes: READING_MINUTES + reach(red) + black.map_or(0.0, reach),
        }
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

impl MeasuringState {
    /// A lesson's machine in it.
    pub(super) fn bench(&self, lesson: &Lesson) -> Result<Bench, BenchError> {
        put_through(lesson.brought_in(), &self.actions)
    }
}

/// A machine after some actions.
pub(super) fn put_through(mut bench: Bench, actions: &[Action]) -> Result<Bench, BenchError> {
    for action in actions {
        perform(&mut bench, action)?;
    }
    Ok(bench)
}

/// Measurements with what each segment says of them.
pub struct Table {
    pub states: Vec<MeasuringState>,
    /// What is known of every suspect beforehand, and then the closer questions.
    pub measurements: Vec<Measurement>,
    closer: Closer,
    /// The place of each segment after the complaint.
    at: Vec<(usize, Place)>,
    /// The segments that say that nothing is wrong.
    sound: BTreeSet<usize>,
    /// The living segments of each state.
    beliefs: Arc<Vec<Beliefs>>,
    /// For each measurement, what each living segment of its state says.
    spans: Arc<Vec<Vec<Span>>>,
    /// The same by what they say.
    grouped: Arc<Vec<Grouped>>,
    /// For each measurement that is known beforehand, what the machine itself shows.
    truth: Vec<Reading>,
    remembered: Remembered,
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
        let mut states = Vec::new();
        for state in worth_measuring_in(lesson) {
            let whole = state.unplugged.is_empty() && state.removed.is_empty();
            if (whole || by_itself) && is_reached(lesson, &state)? {
                states.push(state);
            }
        }
        // A state and a stretch at a time: there are millions of spans, and not all machines have to stand in all
        // states at once.
        let stretches = after_complaint.stretches(STRETCH);
        progress.begin(MEASURING, states.len() * stretches.len());
        let (mut reached, mut measurements, mut truth) = (Vec::new(), Vec::new(), Vec::new());
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
            reached.push(state.state);
            measurements.extend(state.measurements);
            truth.extend(state.truth);
        }
        let (closer, questions) = Closer::new(after_complaint, &reached, &states)?;
        measurements.extend(questions);
        Ok(Self {
            states: reached,
            measurements,
            closer,
            at: after_complaint.segment_places(),
            sound: after_complaint.sound_roots(),
            beliefs: Arc::new(all),
            spans: Arc::new(spans),
            grouped: Arc::new(grouped),
            truth,
            remembered: Remembered::default(),
        })
    }

    /// Lets what is learnt closer be steps of a computation, until it is let go of again.
    pub(super) fn watch(&self, progress: Option<Arc<Progress>>) {
        self.closer.watch(progress);
    }

    /// The same table for another machine with the same complaint: only what that machine shows is
    /// worked out anew.
    ///
    /// # Errors
    /// As [`Table::new`].
    pub fn for_machine(&self, lesson: &Arc<Lesson>) -> Result<Self, BenchError> {
        let mut truth = Vec::with_capacity(self.truth.len());
        let mut bench = None;
        for m in &self.measurements[..self.truth.len()] {
            let at = match bench {
                Some((state, ref bench)) if state == m.state => bench,
                _ => {
                    &bench
                        .insert((m.state, self.states[m.state].bench(lesson)?))
                        .1
                }
            };
            truth.push(read(at, &m.question)?);
        }
        Ok(Self {
            states: self.states.clone(),
            measurements: self.measurements.clone(),
            closer: self.closer.for_machine(lesson),
            at: self.at.clone(),
            sound: self.sound.clone(),
            beliefs: Arc::clone(&self.beliefs),
            spans: Arc::clone(&self.spans),
            grouped: Arc::clone(&self.grouped),
            truth,
            remembered: Remembered::default(),
        })
    }

    /// How many measurements every suspect's answer is known of; closer questions come after them.
    pub fn beforehand(&self) -> usize {
        self.truth.len()
    }

    fn sources(&self) -> Sources<'_> {
        Sources {
            states: &self.states,
            questions: &self.measurements[self.beforehand()..],
        }
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
    ///
    /// # Errors
    /// [`BenchError`] when a suspect that has to be asked has no solution.
    pub fn information_gain(
        &self,
        measurement: usize,
        alive: &BTreeSet<usize>,
    ) -> Result<f64, BenchError> {
        match measurement.checked_sub(self.beforehand()) {
            None => Ok(self.worth_while(measurement, &|root| alive.contains(&root))),
            Some(question) => {
                let (beliefs, says) = self.closer.says(&self.sources(), question, alive)?;
                let asked = &self.measurements[measurement].question;
                Ok(says.information_gain(&beliefs, asked))
            }
        }
    }

    fn worth_while(&self, measurement: usize, alive: &dyn Fn(usize) -> bool) -> f64 {
        let m = &self.measurements[measurement];
        let (beliefs, spans) = (&self.beliefs[m.state], &self.spans[measurement]);
        let function = m.question.held().map(|(function, ..)| function);
        self.grouped[measurement].information_gain(beliefs, spans, function, alive)
    }

    /// The measurement that is worth most per minute, with its bits and minutes; the way to another
    /// state counts, from the state of the last one. Closer questions are thought of where little is to be learnt
    /// from what is known of every suspect.
    ///
    /// # Errors
    /// As [`Table::information_gain`].
    pub fn best(
        &self,
        alive: &BTreeSet<usize>,
        now: Option<usize>,
    ) -> Result<Option<Choice>, BenchError> {
        let work_out = || self.best_but(alive, now, &[]);
        self.remembered.or(alive, now, work_out)
    }

    /// The same without those that have been taken.
    pub fn best_but(
        &self,
        alive: &BTreeSet<usize>,
        now: Option<usize>,
        taken: &[usize],
    ) -> Result<Option<Choice>, BenchError> {
        let open = self.open(alive, now, taken)?;
        Ok(most_per_minute(open.into_iter()))
    }

    /// What could be measured and tells something: what is known of every suspect, and closer questions where that
    /// tells little.
    fn open(
        &self,
        alive: &BTreeSet<usize>,
        now: Option<usize>,
        taken: &[usize],
    ) -> Result<Vec<Choice>, BenchError> {
        let mut open: Vec<Choice> = self.known_choices(alive, now, taken).collect();
        if most_per_minute(open.iter().copied()).is_none_or(|c| c.bits < ENOUGH_BITS) {
            open.extend(self.closer_choices(alive, now, taken)?);
        }
        open.retain(|c| c.bits >= super::information::TELLS_NOTHING_BITS);
        Ok(open)
    }

    /// Every measurement that has not been taken, with what it is worth.
    pub(super) fn choices(
        &self,
        alive: &BTreeSet<usize>,
        now: Option<usize>,
        taken: &[usize],
    ) -> Result<Vec<Choice>, BenchError> {
        let mut all: Vec<Choice> = self.known_choices(alive, now, taken).collect();
        all.extend(self.closer_choices(alive, now, taken)?);
        Ok(all)
    }

    fn known_choices<'a>(
        &'a self,
        alive: &'a BTreeSet<usize>,
        now: Option<usize>,
        taken: &'a [usize],
    ) -> impl Iterator<Item = Choice> + 'a {
        let open = (0..self.beforehand()).filter(|n| !taken.contains(n));
        let mut lives = vec![false; alive.last().map_or(0, |last| last + 1)];
        alive.iter().for_each(|root| lives[*root] = true);
        open.map(move |n| Choice {
            measurement: n,
            bits: self.worth_while(n, &|root| lives.get(root).copied().unwrap_or(false)),
            minutes: self.minutes(n, now),
        })
    }

    fn closer_choices(
        &self,
        alive: &BTreeSet<usize>,
        now: Option<usize>,
        taken: &[usize],
    ) -> Result<Vec<Choice>, BenchError> {
        let blocks = self.closer.asked(alive, &self.places(alive));
        let all = blocks.into_iter().flatten().map(|n| n + self.beforehand());
        let mut out = Vec::new();
        for n in all.filter(|n| !taken.contains(n)) {
            let bits = self.information_gain(n, alive)?;
            if bits > ALIKE_BITS {
                out.push(Choice {
                    measurement: n,
                    bits,
                    minutes: self.minutes(n, now),
                });
            }
        }
        Ok(out)
    }

    /// A choice as it is proposed to a person.
    pub fn proposal(&self, choice: Choice) -> Proposal {
        let m = &self.measurements[choice.measurement];
        let state = self.states[m.state].about.clone();
        Proposal {
            text: m.question.text(),
            state,
            question: m.question.clone(),
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
    ///
    /// # Errors
    /// As [`Table::information_gain`].
    pub fn left(
        &self,
        measurement: usize,
        alive: &BTreeSet<usize>,
    ) -> Result<BTreeSet<usize>, BenchError> {
        let Some(question) = measurement.checked_sub(self.beforehand()) else {
            let truth = &self.truth[measurement];
            let all = self.living(measurement, alive);
            let agree = all.filter(|(_, span)| span.agrees(truth, None));
            return Ok(agree.map(|(root, _)| root).collect());
        };
        let sources = self.sources();
        let (beliefs, says) = self.closer.says(&sources, question, alive)?;
        let agree = says.agree(&*self.closer.told(&sources, question)?);
        let both = beliefs.iter().zip(agree).filter(|(_, agrees)| *agrees);
        Ok(both.map(|(b, _)| b.root).collect())
    }

    /// What a measurement may show while some segments live, in words, lowest first: segments that a meter
    /// cannot tell apart, directly or by way of others, share an outcome.
    ///
    /// # Errors
    /// As [`Table::information_gain`].
    pub(super) fn outcomes(
        &self,
        measurement: usize,
        alive: &BTreeSet<usize>,
    ) -> Result<Vec<(String, BTreeSet<usize>)>, BenchError> {
        let asked = &self.measurements[measurement].question;
        let Some(question) = measurement.checked_sub(self.beforehand()) else {
            let living = self.living(measurement, alive).collect();
            return Ok(joined(living, asked));
        };
        let (beliefs, says) = self.closer.says(&self.sources(), question, alive)?;
        let roots = beliefs.iter().map(|b| b.root);
        Ok(match says {
            Says::Spans(spans) => joined(roots.zip(spans).collect(), asked),
            Says::Heard(heard, ways) => outcomes(roots.zip(heard), &ways),
            Says::Screens(screens) => ScreenSpan::joined(roots.zip(screens)),
        })
    }

    /// What the machine shows at a measurement.
    ///
    /// # Errors
    /// [`BenchError`] when the machine has no solution with the instrument in it.
    pub fn shown(&self, measurement: usize) -> Result<Shown, BenchError> {
        match measurement.checked_sub(self.beforehand()) {
            None => Ok(self.truth[measurement].shown.clone()),
            Some(question) => Ok(self.closer.told(&self.sources(), question)?.shown()),
        }
    }

    /// The places that some segments lie at.
    pub fn places(&self, alive: &BTreeSet<usize>) -> BTreeSet<Place> {
        let living = self.at.iter().filter(|(root, _)| alive.contains(root));
        living.map(|(_, place)| *place).collect()
    }

    /// Whether some segments say that nothing may be wrong.
    pub fn may_be_sound(&self, alive: &BTreeSet<usize>) -> bool {
        !self.sound.is_disjoint(alive)
    }

    /// What some segments say that may be: places, and that nothing is wrong.
    pub(super) fn possibilities(&self, alive: &BTreeSet<usize>) -> (BTreeSet<Place>, bool) {
        (self.places(alive), self.may_be_sound(alive))
    }

    /// The same in words.
    pub(super) fn names(&self, circuit: &Circuit, alive: &BTreeSet<usize>) -> Vec<String> {
        let places = self.places(alive).into_iter();
        let places = places.map(|p| circuit.place_id(p).to_owned());
        let sound = self.may_be_sound(alive).then(|| NO_FAULT.to_owned());
        places.chain(sound).collect()
    }

    /// The segments that a measurement whose answer is known of every suspect tells from a sound machine: whatever of
    /// the segment is there, or where it need not be `wholly`, the worst of it. All where no sound machine does what was
    /// seen.
    pub(super) fn findings(&self, wholly: bool) -> BTreeSet<usize> {
        let Some(sound) = self.sound.first() else {
            return self.at.iter().map(|(root, _)| *root).collect();
        };
        let mut out = BTreeSet::new();
        for (n, spans) in self.spans.iter().enumerate() {
            let beliefs = || self.beliefs[self.measurements[n].state].iter();
            let Some(at) = beliefs().position(|b| b.root == *sound) else {
                continue;
            };
            let healthy = spans[at];
            let function = self.measurements[n].question.held().map(|(f, ..)| f);
            let slack = healthy.slack(function);
            let found = beliefs().zip(spans).filter(|(_, span)| match wholly {
                true => !healthy.confusable(**span, slack),
                false => !span.is_within(healthy, slack),
            });
            out.extend(found.map(|(b, _)| b.root));
        }
        out
    }

    /// The segments that no measurement of the table tells from the machine.
    ///
    /// # Errors
    /// As [`Table::information_gain`].
    pub fn indistinguishable(
        &self,
        mut alive: BTreeSet<usize>,
    ) -> Result<BTreeSet<usize>, BenchError> {
        for n in 0..self.beforehand() {
            alive = self.left(n, &alive)?;
        }
        // What too many were left for to be asked may be asked of the few that a later question leaves.
        loop {
            let before = alive.len();
            for n in self.beforehand()..self.measurements.len() {
                let places = self.places(&alive);
                let question = n - self.beforehand();
                let several = places.len() + usize::from(self.may_be_sound(&alive)) > 1;
                let asked = several && self.closer.is_asked(question, &alive, &places);
                // What all of them answer alike, the machine does too.
                if asked && self.information_gain(n, &alive)? > ALIKE_BITS {
                    alive = self.left(n, &alive)?;
                }
            }
            if alive.len() == before {
                break;
            }
        }
        Ok(alive)
    }

    /// The measurement that a reading is, if the table has it.
    pub fn find(&self, reading: &Reading) -> Option<usize> {
        let all = self.measurements.iter();
        let mut here =
            all.map(|m| self.states[m.state].about == reading.state && m.question.is(reading));
        here.position(|is| is)
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
        let bench = put_through(lesson.brought_in(), &actions)?;
        let measurements = measurements(lesson, at, state);
        let truth = measurements.iter().map(|m| read(&bench, &m.question));
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
        let held = self.measurements.iter().filter_map(|m| m.question.held());
        let held: Vec<Held<'_>> = held.collect();
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
    /// "DC volts at K3.86 to BAT.-".
    #[serde(default)]
    pub text: String,
    pub state: String,
    #[serde(flatten)]
    pub question: Question,
    /// Bits that it is worth before it is taken.
    pub bits: f64,
    pub minutes: f64,
}

impl Proposal {
    /// "DC volts at K3.86 to BAT.- in start · clutch down".
    pub fn sentence(&self) -> String {
        format!("{} in {}", self.text, self.state)
    }
}

fn most_per_minute(all: impl Iterator<Item = Choice>) -> Option<Choice> {
    let per_minute = |c: &Choice| c.bits / c.minutes;
    all.max_by(|a, b| per_minute(a).total_cmp(&per_minute(b)))
}

/// Reads what a question asks for that is a reading.
fn read(bench: &Bench, question: &Question) -> Result<Reading, BenchError> {
    match question.held() {
        Some((function, red, black)) => Ok(take(bench, function, None, red, black)?),
        None => Err(BenchError::NotTaken(question.text())),
    }
}

/// Spans that one instrument can't tell apart, as one, in words.
fn joined(mut living: Vec<(usize, Span)>, asked: &Question) -> Vec<(String, BTreeSet<usize>)> {
    let Some((function, ..)) = asked.held() else {
        return Vec::new();
    };
    living.sort_by(|a, b| a.1.least.total_cmp(&b.1.least));
    let mut out: Vec<(Span, BTreeSet<usize>)> = Vec::new();
    for (root, span) in living {
        let slack = span.slack(Some(function));
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
    let text = |span: Span| match (span.wanders, span.steady) {
        (true, false) => format!("wanders within {}", span.text(function.unit())),
        _ => span.text(function.unit()),
    };
    out.into_iter().map(|(s, roots)| (text(s), roots)).collect()
}

/// The states worth measuring in: at rest, those of the trial, and each fuse and connector out by
/// itself.
fn worth_measuring_in(lesson: &Lesson) -> Vec<OperatingState> {
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

/// Whether a state can be brought about: an engine that does not start cannot be measured while it runs. What has the same
/// complaint starts or does not, all alike.
fn is_reached(lesson: &Lesson, state: &OperatingState) -> Result<bool, BenchError> {
    if state.engine == Engine::Stopped {
        return Ok(true);
    }
    let standing = OperatingState {
        engine: Engine::Stopped,
        ..state.clone()
    };
    put_through(lesson.brought_in(), &steps_to(lesson, &standing))?.starts_when_tried()
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
    let shows = shows_under(lesson).into_iter();
    shows
        .chain(moved)
        .chain(apart.map(|what| Action::TakeApart(TakeApart { what: what.clone() })))
        .collect()
}

/// What brings the lesson's condition about: a fault that comes and goes is measured while it is there.
fn shows_under(lesson: &Lesson) -> Option<Action> {
    let action: Action = match lesson.condition()? {
        Condition::Hot => WarmUp {}.into(),
        Condition::Wet => Wet {}.into(),
        Condition::Moved => {
            let what = EVERYTHING.to_owned();
            Wiggle { what }.into()
        }
        Condition::Vibrating | Condition::Always => return None,
    };
    let forbidden = action
        .means()
        .is_some_and(|m| lesson.forbidden.contains(&m));
    (!forbidden).then_some(action)
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
    let negative = circuit.point_at(0).map(|p| p.id.clone());
    let mut out = Vec::new();
    let mut add = |function: Function, red: &str, black: Option<&str>| {
        out.push(Measurement::reading(lesson, state, function, red, black));
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
