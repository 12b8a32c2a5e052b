//! Questions for when few suspects are left: what takes long to follow, or is too many to be worked out of every
//! suspect beforehand. Each is answered only for those that are still possible when somebody comes to need it,
//! and the answers are kept.

use std::collections::{BTreeMap, BTreeSet};
use std::ops::Range;
use std::sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError};

use super::information::{Beliefs, Believed, entropy, information_gain};
use super::progress::Progress;
use super::question::Question;
use super::screens::ScreenSpan;
use super::spans::Span;
use super::table::{Measurement, MeasuringState, put_through};
use super::threads;
use super::tracks::Suspects;
use crate::attempt::actions::{EXCHANGE_MINUTES, TRIAL_MINUTES, screen_minutes};
use crate::attempt::{Action, perform};
use crate::lesson::{Lesson, Means};
use cimento_bench::instruments::{
    Capture, Function, Reading, Scope, Shown, Standing, capture, swinging, take, telling,
};
use cimento_bench::{Bench, BenchError, Complaint};
use cimento_model::circuit::Place;
use cimento_model::state::OperatingState;
use cimento_model::units::Quantity;

/// Questions are asked of so many segments of severity that answering them takes about so many looks of two
/// turns each at a machine in time: some seconds.
const MOST_LOOKS: f64 = 400.0;
/// Between so few places an exchange decides what no instrument may: there it may take so many times as much.
const FEW_PLACES: usize = 3;
const FOR_FEW: f64 = 4.0;
/// What beside a look a trial of the machine takes, a reading that loads it, and one that does not.
const TRIAL_LOOKS: f64 = 10.0;
const LOADING_LOOKS: f64 = 0.1;
const LIGHT_LOOKS: f64 = 0.002;
/// Segments that one thread takes at a time, at least.
const STRETCH: usize = 4;

/// Questions that are answered together: those of one kind in one state.
pub(super) struct Block {
    state: usize,
    /// By position among all closer questions.
    questions: Range<usize>,
    /// They are about exchanging this part, and only asked while it is suspected.
    part: Option<usize>,
    /// Looks that it takes to answer them all of one segment.
    looks: f64,
    /// One look at these screens answers them all.
    glance: Vec<Scope>,
}

/// What the segments that were asked said.
#[derive(Default)]
struct Known {
    roots: BTreeSet<usize>,
    beliefs: Vec<Believed>,
    /// For each question of the block.
    says: Vec<Says>,
    /// The ways in which a machine was heard to do after an exchange, by number.
    heard: Vec<Complaint>,
}

/// What each segment says of one question.
#[derive(Clone)]
pub(super) enum Says {
    Spans(Vec<Span>),
    Screens(Vec<ScreenSpan>),
    /// With the ways that were heard of all.
    Heard(Vec<Heard>, Vec<Complaint>),
}

/// The ways in which the machines of a segment's ends were heard to do after an exchange, by number; none where it
/// may be any.
pub(super) type Heard = BTreeSet<usize>;

/// What the machine itself answers.
pub(super) enum Told {
    Reading(Reading),
    Screen(Capture),
    Tried(Complaint),
    /// Nothing, and why.
    Refused(String),
}

/// The closer questions of a lesson.
pub(super) struct Closer {
    /// Where the machines of the suspects stand after the complaint.
    suspects: Arc<Suspects>,
    blocks: Arc<Vec<Block>>,
    known: Arc<Vec<Mutex<Known>>>,
    lesson: Arc<Lesson>,
    truth: Vec<OnceLock<Arc<Told>>>,
    /// Who waits for what is learnt, while a reference is worked out: nobody else has it then.
    watched: Mutex<Option<Arc<Progress>>>,
}

impl Closer {
    /// The questions, with what they cost, and what is to be known of them.
    pub fn new(
        suspects: &Suspects,
        states: &[MeasuringState],
        operating: &[OperatingState],
    ) -> Result<(Self, Vec<Measurement>), BenchError> {
        let lesson = suspects.lesson();
        let (mut blocks, mut questions) = (Vec::new(), Vec::new());
        let mut followed = Vec::new();
        for (state, (reached, operating)) in states.iter().zip(operating).enumerate() {
            let apart = !operating.unplugged.is_empty() || !operating.removed.is_empty();
            if apart {
                continue;
            }
            let bench = reached.bench(lesson)?;
            // An engine that turns in one state turns alike in others: the first that cranks and the first that
            // runs are followed in time.
            let turns = (bench.rpm() > 0.0).then_some(operating.engine);
            let swinging = match turns {
                Some(engine) if !followed.contains(&engine) => {
                    followed.push(engine);
                    swinging(&sound(lesson, reached)?)?
                }
                _ => Vec::new(),
            };
            let mut block =
                |all: Vec<Measurement>, part: Option<usize>, looks: f64, glance: Vec<Scope>| {
                    if !all.is_empty() {
                        let from = questions.len();
                        questions.extend(all);
                        let questions = from..questions.len();
                        blocks.push(Block {
                            state,
                            questions,
                            part,
                            looks,
                            glance,
                        });
                    }
                };
            let mut glanced = Vec::new();
            for function in lesson.functions.iter().copied() {
                let asked = readings(lesson, state, (operating, &swinging), function);
                if function == Function::PEAK_VOLTS {
                    glanced.extend(asked);
                    continue;
                }
                let looks = looks_of(function, asked.len());
                block(asked, None, looks, Vec::new());
            }
            if !swinging.is_empty() {
                let scopes = telling(&lesson.circuit, &swinging, bench.rpm());
                if lesson.scope {
                    glanced.extend(scopes.iter().map(|s| screen(lesson, state, s)));
                }
                block(glanced, None, 1.0, scopes);
            }
            if state == 0 {
                for (part, asked) in exchanges(lesson, state) {
                    let looks = TRIAL_LOOKS * asked.len() as f64;
                    block(asked, Some(part), looks, Vec::new());
                }
            }
        }
        let closer = Self {
            suspects: Arc::new(suspects.clone()),
            known: Arc::new(blocks.iter().map(|_| Mutex::default()).collect()),
            blocks: Arc::new(blocks),
            lesson: Arc::clone(lesson),
            truth: questions.iter().map(|_| OnceLock::new()).collect(),
            watched: Mutex::default(),
        };
        Ok((closer, questions))
    }

    /// The same for another machine with the same complaint.
    pub fn for_machine(&self, lesson: &Arc<Lesson>) -> Self {
        Self {
            suspects: Arc::clone(&self.suspects),
            blocks: Arc::clone(&self.blocks),
            known: Arc::clone(&self.known),
            lesson: Arc::clone(lesson),
            truth: self.truth.iter().map(|_| OnceLock::new()).collect(),
            watched: Mutex::default(),
        }
    }

    /// Lets each stretch of what is learnt be a step of a computation, until it is let go of again.
    pub fn watch(&self, progress: Option<Arc<Progress>>) {
        *self.watched() = progress;
    }

    fn watched(&self) -> MutexGuard<'_, Option<Arc<Progress>>> {
        self.watched.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// The questions that are asked while some segments live, a block at a time.
    pub fn asked(&self, alive: &BTreeSet<usize>, places: &BTreeSet<Place>) -> Vec<Range<usize>> {
        let asked = self
            .blocks
            .iter()
            .filter(|b| self.is_block_asked(b, alive, places));
        asked.map(|b| b.questions.clone()).collect()
    }

    /// Whether a question is asked while some segments live.
    pub fn is_asked(
        &self,
        question: usize,
        alive: &BTreeSet<usize>,
        places: &BTreeSet<Place>,
    ) -> bool {
        self.is_block_asked(&self.blocks[self.block_of(question)], alive, places)
    }

    fn is_block_asked(
        &self,
        block: &Block,
        alive: &BTreeSet<usize>,
        places: &BTreeSet<Place>,
    ) -> bool {
        let of = |part: usize| move |p: &Place| matches!(p, Place::Part(n) | Place::Pin(n, _) if *n == part);
        let suspected = block.part.is_none_or(|part| places.iter().any(of(part)));
        let decides = block.part.is_some() && places.len() <= FEW_PLACES;
        let most = MOST_LOOKS * if decides { FOR_FEW } else { 1.0 };
        suspected && alive.len() as f64 * block.looks <= most
    }

    fn block_of(&self, question: usize) -> usize {
        let before = self
            .blocks
            .iter()
            .position(|b| b.questions.contains(&question));
        before.unwrap_or_default()
    }

    /// The living segments, with what they say of a question.
    pub fn says(
        &self,
        table: &Sources<'_>,
        question: usize,
        alive: &BTreeSet<usize>,
    ) -> Result<(Vec<Believed>, Says), BenchError> {
        let at = self.block_of(question);
        let block = &self.blocks[at];
        let mut known = self.known[at]
            .lock()
            .unwrap_or_else(PoisonError::into_inner);
        let missing: BTreeSet<usize> = alive.difference(&known.roots).copied().collect();
        if !missing.is_empty() {
            self.learn(table, block, &mut known, missing)?;
        }
        let lives = |b: &&Believed| alive.contains(&b.root);
        let beliefs = known.beliefs.iter().filter(lives).copied().collect();
        let keep = |n: &usize| alive.contains(&known.beliefs[*n].root);
        let living = || (0..known.beliefs.len()).filter(keep);
        let says = match &known.says[question - block.questions.start] {
            Says::Spans(all) => Says::Spans(living().map(|n| all[n]).collect()),
            Says::Screens(all) => Says::Screens(living().map(|n| all[n].clone()).collect()),
            Says::Heard(all, _) => {
                let each = living().map(|n| all[n].clone()).collect();
                Says::Heard(each, known.heard.clone())
            }
        };
        Ok((beliefs, says))
    }

    /// Asks segments that have not been asked.
    fn learn(
        &self,
        table: &Sources<'_>,
        block: &Block,
        known: &mut Known,
        roots: BTreeSet<usize>,
    ) -> Result<(), BenchError> {
        let state = &table.states[block.state];
        let questions = &table.questions[block.questions.clone()];
        let those = self.suspects.only(&roots);
        let stretches = those.stretches(STRETCH);
        let watched = self.watched().clone();
        let answers = threads::each(
            stretches.len(),
            || those.for_another_thread(),
            |own, n| {
                let asked = || {
                    // What is more urgent is done between two stretches.
                    watched.as_deref().map_or(Ok(()), Progress::step)?;
                    let here = own.brought(stretches[n].clone(), &state.actions)?;
                    let answers = answers(&here, questions, &block.glance)?;
                    Ok::<_, BenchError>((here.beliefs().collect::<Vec<_>>(), answers))
                };
                match asked() {
                    // A machine that can't be followed here may show anything: nothing is ruled out by it.
                    Err(e) if e != BenchError::GivenUp => {
                        let those = stretches[n].clone();
                        let beliefs: Vec<Believed> = own.beliefs().collect();
                        let beliefs = beliefs[those].to_vec();
                        let anything = questions.iter().map(|q| anything(q, beliefs.len()));
                        let anything = anything.collect();
                        Ok((beliefs, anything))
                    }
                    answered => answered,
                }
            },
        )?;
        for (beliefs, answers) in answers {
            known.beliefs.extend(beliefs);
            if known.says.is_empty() {
                known.says = answers.iter().map(|a| a.nothing()).collect();
            }
            for (says, answer) in known.says.iter_mut().zip(answers) {
                match (says, answer) {
                    (Says::Spans(all), Answers::Spans(more)) => all.extend(more),
                    (Says::Screens(all), Answers::Screens(more)) => all.extend(more),
                    (Says::Heard(all, _), Answers::Heard(more)) => {
                        all.extend(more.iter().map(|heard| numbered(&mut known.heard, heard)));
                    }
                    // The questions of a block are of one kind.
                    _ => {}
                }
            }
        }
        known.roots.extend(roots);
        Ok(())
    }

    fn ask(&self, table: &Sources<'_>, question: usize) -> Result<Told, BenchError> {
        let block = &self.blocks[self.block_of(question)];
        let mut bench = table.states[block.state].bench(&self.lesson)?;
        let asked = &table.questions[question].question;
        Ok(match asked {
            Question::Reading {
                function,
                red,
                black,
            } => Told::Reading(take(&bench, *function, None, Some(red), black.as_deref())?),
            Question::Screen { scope } => Told::Screen(capture(&bench, scope)?),
            Question::Exchange { .. } => Told::Tried(tried(&mut bench, &asked.actions())?),
        })
    }

    /// What the machine itself answers.
    pub fn told(&self, table: &Sources<'_>, question: usize) -> Result<Arc<Told>, BenchError> {
        if let Some(told) = self.truth[question].get() {
            return Ok(Arc::clone(told));
        }
        let told = match self.ask(table, question) {
            Err(BenchError::GivenUp) => return Err(BenchError::GivenUp),
            Err(e) => Told::Refused(e.to_string()),
            Ok(told) => told,
        };
        let told = Arc::new(told);
        Ok(Arc::clone(self.truth[question].get_or_init(|| told)))
    }
}

/// What so many segments say of a question that can't be answered: anything.
fn anything(asked: &Measurement, count: usize) -> Answers {
    match &asked.question {
        Question::Reading { .. } => Answers::Spans(vec![Span::anything(); count]),
        Question::Screen { scope } => Answers::Screens(vec![ScreenSpan::anything(scope); count]),
        Question::Exchange { .. } => Answers::Heard(vec![Vec::new(); count]),
    }
}

/// What the table holds for its closer questions.
pub(super) struct Sources<'a> {
    pub states: &'a [MeasuringState],
    pub questions: &'a [Measurement],
}

impl Says {
    /// Bits that the question is worth.
    pub fn information_gain(&self, beliefs: &[Believed], question: &Question) -> f64 {
        let all: Beliefs = beliefs.iter().copied().collect();
        match self {
            Self::Spans(spans) => {
                let function = question.held().map(|(function, ..)| function);
                information_gain(&all, spans, function)
            }
            Self::Heard(heard, _) => gain_of_hearing(beliefs, heard),
            Self::Screens(screens) => ScreenSpan::information_gain(&all, screens),
        }
    }

    /// Of each segment, whether it could have answered as the machine did.
    pub fn agree(&self, told: &Told) -> Vec<bool> {
        match (self, told) {
            (Self::Spans(all), Told::Reading(reading)) => {
                all.iter().map(|s| s.agrees(reading, None)).collect()
            }
            (Self::Heard(all, ways), Told::Tried(heard)) => {
                // What lies between two ends does each thing as one of them does.
                let may = |one: &usize, other: &usize| match one == other {
                    true => heard.same_as(&ways[*one]),
                    false => heard.lies_between(&ways[*one], &ways[*other]),
                };
                let any = |h: &Heard| h.is_empty() || h.iter().any(|a| h.iter().any(|b| may(a, b)));
                all.iter().map(any).collect()
            }
            (Self::Screens(all), Told::Screen(seen)) => {
                all.iter().map(|s| s.agrees(seen)).collect()
            }
            (Self::Spans(all), _) => vec![true; all.len()],
            (Self::Screens(all), _) => vec![true; all.len()],
            (Self::Heard(all, _), _) => vec![true; all.len()],
        }
    }
}

impl Told {
    /// What one sees.
    pub fn shown(&self) -> Shown {
        let words = |text: String| Shown {
            text,
            unit: String::new(),
            range: String::new(),
            value: Quantity::Number(0.0),
            wanders: None,
            beeps: false,
        };
        match self {
            Self::Reading(reading) => reading.shown.clone(),
            Self::Screen(capture) => {
                let said = capture.traces.iter().map(|t| t.features.said.join(", "));
                words(said.collect::<Vec<_>>().join("; "))
            }
            Self::Tried(complaint) => words(complaint.text.clone()),
            Self::Refused(why) => words(why.clone()),
        }
    }
}

/// What a stretch of segments says of one question.
enum Answers {
    Spans(Vec<Span>),
    Screens(Vec<ScreenSpan>),
    /// What the machines of each segment's ends were heard to do.
    Heard(Vec<Vec<Complaint>>),
}

impl Answers {
    fn nothing(&self) -> Says {
        match self {
            Self::Screens(_) => Says::Screens(Vec::new()),
            Self::Spans(_) => Says::Spans(Vec::new()),
            Self::Heard(_) => Says::Heard(Vec::new(), Vec::new()),
        }
    }
}

fn answers(
    here: &Suspects,
    questions: &[Measurement],
    glance: &[Scope],
) -> Result<Vec<Answers>, BenchError> {
    if !glance.is_empty() {
        return glances(here, questions, glance);
    }
    let held: Option<Vec<_>> = questions.iter().map(|q| q.question.held()).collect();
    if let Some(held) = held {
        let spans = here.say(&held)?;
        return Ok(spans.into_iter().map(Answers::Spans).collect());
    }
    let one = |q: &Measurement| Ok(Answers::Heard(here.heard(&q.question.actions())?));
    questions.iter().map(one).collect()
}

/// Screens and peaks, in one look at each machine.
fn glances(
    here: &Suspects,
    questions: &[Measurement],
    scopes: &[Scope],
) -> Result<Vec<Answers>, BenchError> {
    let glances = here.glance(scopes)?;
    let one = |q: &Measurement| {
        let shows = |s: &Scope| match &q.question {
            Question::Screen { scope } => s == scope,
            asked => asked
                .held()
                .is_some_and(|(_, red, black)| s.is_at(red, black)),
        };
        // A peak is looked for where there is a screen, so there is one.
        let n = scopes.iter().position(shows).unwrap_or_default();
        match &q.question {
            Question::Screen { .. } => {
                Answers::Screens(glances.iter().map(|g| g.screens[n].clone()).collect())
            }
            _ => Answers::Spans(glances.iter().map(|g| g.peaks[n]).collect()),
        }
    };
    Ok(questions.iter().map(one).collect())
}

/// What was heard, each way by its number.
fn numbered(known: &mut Vec<Complaint>, heard: &[Complaint]) -> Heard {
    let number = |complaint: &Complaint| {
        let at = known.iter().position(|k| k.same_as(complaint));
        at.unwrap_or_else(|| {
            known.push(complaint.clone());
            known.len() - 1
        })
    };
    heard.iter().map(number).collect()
}

/// What an exchange may end in, in words: segments that may do the same share an outcome.
pub(super) fn outcomes(
    living: impl Iterator<Item = (usize, Heard)>,
    ways: &[Complaint],
) -> Vec<(String, BTreeSet<usize>)> {
    let mut out: Vec<(Heard, BTreeSet<usize>)> = Vec::new();
    for (root, heard) in living {
        let mut own = (heard, BTreeSet::from([root]));
        let (same, apart): (Vec<_>, Vec<_>) =
            out.into_iter().partition(|(h, _)| !h.is_disjoint(&own.0));
        for (heard, roots) in same {
            own.0.extend(heard);
            own.1.extend(roots);
        }
        out = apart;
        out.push(own);
    }
    let text = |heard: &Heard| {
        let all: Vec<&str> = heard.iter().map(|n| ways[*n].text.as_str()).collect();
        all.join(" or ")
    };
    let both = out.into_iter();
    both.map(|(heard, roots)| (text(&heard), roots)).collect()
}

/// The expected fall in entropy over places when one of the ways is heard, each way of each segment in turn.
fn gain_of_hearing(beliefs: &[Believed], heard: &[Heard]) -> f64 {
    let of = |keep: &dyn Fn(&Heard) -> bool| {
        let mut places: BTreeMap<Option<Place>, f64> = BTreeMap::new();
        for (b, _) in beliefs.iter().zip(heard).filter(|(_, h)| keep(h)) {
            *places.entry(b.place).or_default() += b.weight;
        }
        entropy(places.into_values().collect::<Vec<_>>().into_iter())
    };
    let total: f64 = beliefs.iter().map(|b| b.weight).sum();
    let each = beliefs.iter().zip(heard).flat_map(|(b, own)| {
        let share = b.weight / total / own.len().max(1) as f64;
        own.iter().map(move |way| (share, *way))
    });
    let told: f64 = each
        .map(|(share, way)| share * of(&|h| h.is_empty() || h.contains(&way)))
        .sum();
    // What may be heard of a machine that can't be followed tells nothing.
    let open = beliefs.iter().zip(heard).filter(|(_, h)| h.is_empty());
    let open: f64 = open.map(|(b, _)| b.weight / total).sum();
    (of(&|_| true) * (1.0 - open) - told).max(0.0)
}

/// Exchanges something on a machine and tries the complaint.
pub(super) fn tried(bench: &mut Bench, actions: &[Action]) -> Result<Complaint, BenchError> {
    let mut said = None;
    for action in actions {
        said = perform(bench, action)?.said;
    }
    said.ok_or_else(|| BenchError::NotTaken("nothing was tried".to_owned()))
}

/// A sound machine in a state.
fn sound(lesson: &Lesson, reached: &MeasuringState) -> Result<Bench, BenchError> {
    let (sound, _) = lesson.trial().run(&[], lesson.brought_in().shared())?;
    put_through(sound, &reached.actions)
}

fn readings(
    lesson: &Lesson,
    state: usize,
    standing: Standing<'_>,
    function: Function,
) -> Vec<Measurement> {
    if function.follows_time() && standing.1.is_empty() {
        return Vec::new();
    }
    let leads = function
        .proposes_closer(&lesson.circuit, standing)
        .into_iter();
    let one = |(red, black): (String, Option<String>)| {
        Measurement::reading(lesson, state, function, &red, black.as_deref())
    };
    leads.map(one).collect()
}

/// Looks that it takes to answer so many questions to an instrument; one serves all points of a machine.
fn looks_of(function: Function, count: usize) -> f64 {
    match (function.follows_time(), function.has_one_lead()) {
        (true, false) => 1.0,
        (true, true) => count as f64,
        (false, _) if function.is_lamp() => LOADING_LOOKS * count as f64,
        (false, _) => LIGHT_LOOKS * count as f64,
    }
}

fn screen(lesson: &Lesson, state: usize, scope: &Scope) -> Measurement {
    Measurement {
        state,
        minutes: screen_minutes(&lesson.circuit, scope),
        question: Question::Screen {
            scope: scope.clone(),
        },
    }
}

/// The exchanges that a lesson allows, by part.
fn exchanges(lesson: &Lesson, state: usize) -> Vec<(usize, Vec<Measurement>)> {
    let circuit = &lesson.circuit;
    let allows = |means: Means| !lesson.forbidden.contains(&means);
    let one = |part: usize| -> Vec<Measurement> {
        let id = &circuit.parts[part].id;
        let mut all: Vec<Option<String>> = Vec::new();
        if allows(Means::Swapping) {
            let of = |pair: &&[String; 2]| pair.contains(id);
            let like = lesson
                .alike
                .iter()
                .find(of)
                .and_then(|pair| pair.iter().find(|p| *p != id));
            all.extend(like.map(|like| Some(like.clone())));
        }
        if allows(Means::KnownGood) && circuit.parts[part].is_tried_by_another() {
            all.push(None);
        }
        let asked = all.into_iter().map(|like| {
            let reach = |id: &str| {
                circuit
                    .part(id)
                    .map_or(0.0, |n| circuit.parts[n].reach_minutes)
            };
            let way = reach(id) + like.as_deref().map_or(0.0, reach);
            Measurement {
                state,
                // It is put back before anything else is asked.
                minutes: 2.0 * (EXCHANGE_MINUTES + way) + TRIAL_MINUTES,
                question: Question::Exchange {
                    part: id.clone(),
                    like,
                },
            }
        });
        asked.collect()
    };
    (0..circuit.parts.len()).map(|n| (n, one(n))).collect()
}
