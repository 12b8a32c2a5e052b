//! The proof that a lesson can be worked as it is given.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use cimento_bench::BenchError;
use cimento_bench::instruments::{Function, Looks};
use cimento_model::circuit::Place;
use cimento_model::faults::Fault;
use cimento_model::units::Quantity;

use super::shown::{has_no_occasion, shown};
use crate::attempt::actions::{TakeCapture, TakeReading, TryComplaint};
use crate::attempt::{Action, Session, Step, Touch, brings_about, stands, way_to};
use crate::lesson::{Lesson, Purpose, School, Skill, contradictions};
use crate::suspects::{Question, Reference, TELLS_NOTHING_BITS};

/// A skill that a lesson practises.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Practised {
    pub skill: Skill,
    /// Its plan shows it; else the lesson declares it.
    pub shown: bool,
}

/// What is proven of a lesson.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Proof {
    /// Places that could hold the fault after the complaint.
    pub places: usize,
    pub readings: usize,
    /// Difficulty: minutes that the plan takes.
    pub minutes: f64,
    /// What it has to tell apart, in bits.
    pub bits: f64,
    /// Wrong places that look plausible on the way.
    pub misleading: usize,
    /// The fault's ambiguity group.
    pub group: Vec<String>,
    pub skills: Vec<Practised>,
    /// Why it cannot be given as it stands, each in a sentence.
    pub hinders: Vec<Hindrance>,
}

/// Why a lesson cannot be given as it stands.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Hindrance {
    /// What of its document it is about: faults, skills, complaint, method.
    pub of: String,
    pub text: String,
}

fn of(field: &str, text: String) -> Hindrance {
    Hindrance {
        of: field.to_owned(),
        text,
    }
}

impl Proof {
    /// Proves what there is to prove of a lesson.
    ///
    /// # Errors
    /// [`BenchError`] when a circuit that has to be computed has no solution.
    pub fn of(reference: &Reference) -> Result<Self, BenchError> {
        let lesson = &reference.lesson;
        let names = |p: &_| lesson.circuit.place_id(*p).to_owned();
        let shown = shown(reference);
        let declared = || lesson.skills.iter().copied();
        let all: BTreeSet<Skill> = shown.iter().copied().chain(declared()).collect();
        let mut hinders = Vec::new();
        if reference.places_after_plan() > reference.alike() {
            hinders.push(of(
                "faults",
                format!(
                    "what is allowed does not lead to the fault: {} places are left where {} cannot be told apart",
                    reference.places_after_plan(),
                    reference.alike()
                ),
            ));
        }
        for skill in declared().filter(|s| has_no_occasion(reference, *s)) {
            hinders.push(of(
                "skills",
                format!(
                    "“{}” is declared, and there is nothing to use it on",
                    skill.name()
                ),
            ));
        }
        let texts: Vec<String> = match unsafe_acts(reference) {
            Ok(dangers) => {
                let danger = |text| format!("who follows the plan is in danger: {text}");
                dangers.into_iter().map(danger).collect()
            }
            Err(e) => vec![format!("what the plan does cannot be done: {e}")],
        };
        hinders.extend(texts.into_iter().map(|text| of("faults", text)));
        for text in contradictions(&lesson.words, &lesson.symptom) {
            hinders.push(of("complaint", text));
        }
        hinders.extend(
            told_before(lesson)
                .into_iter()
                .map(|text| of("intro", text)),
        );
        for school in lesson.method.schools() {
            if !can_begin(reference, school)? {
                hinders.push(of(
                    "method",
                    format!(
                        "“{}” is asked for, and nothing that it allows tells anything",
                        school.text()
                    ),
                ));
            }
        }
        Ok(Self {
            places: reference.plan.begin.len(),
            readings: reference.plan.steps.len(),
            minutes: reference.plan.minutes,
            bits: reference.plan.bits,
            misleading: reference.plan.plausible,
            group: {
                let own: BTreeSet<_> = lesson.faults.iter().flat_map(Fault::places).collect();
                let others = reference.group.difference(&own);
                own.iter().chain(others).map(names).collect()
            },
            skills: all
                .into_iter()
                .map(|skill| Practised {
                    skill,
                    shown: shown.contains(&skill),
                })
                .collect(),
            hinders,
        })
    }
}

/// Where the page before the bench narrows the fault of a lesson that is marked: it shows a fault, or names where it is and
/// the customer does not.
fn told_before(lesson: &Lesson) -> Vec<String> {
    let Some(intro) = lesson
        .intro
        .as_ref()
        .filter(|_| lesson.purpose == Purpose::Marks)
    else {
        return Vec::new();
    };
    let mut out = Vec::new();
    if intro.picture.as_ref().is_some_and(|p| p.faulted) {
        out.push("its picture shows a fault: show a good circuit where it is marked".to_owned());
    }
    let title = intro.picture.as_ref().map_or("", |p| p.title.as_str());
    let read = [intro.goal.as_str(), intro.know.as_str(), title]
        .join(" ")
        .to_lowercase();
    let said = [lesson.title.as_str(), lesson.words.as_str()]
        .join(" ")
        .to_lowercase();
    let circuit = &lesson.circuit;
    for place in lesson.faults.iter().flat_map(Fault::places) {
        let part = match place {
            Place::Part(n) | Place::Pin(n, _) => Some(circuit.parts[n].name.as_str()),
            Place::Conductor(_) => None,
        };
        for name in [Some(circuit.place_id(place)), part].into_iter().flatten() {
            let word = name.to_lowercase();
            if holds_word(&read, &word) && !holds_word(&said, &word) {
                out.push(format!("it names {name}, where the fault is"));
            }
        }
    }
    out
}

/// Whether a text holds some words by themselves: W1 does not stand in W12.
fn holds_word(text: &str, word: &str) -> bool {
    let part_of_one = |c: Option<char>| c.is_some_and(char::is_alphanumeric);
    text.match_indices(word).any(|(at, _)| {
        let (before, after) = (&text[..at], &text[at + word.len()..]);
        !part_of_one(before.chars().next_back()) && !part_of_one(after.chars().next())
    })
}

/// Whether something that a school begins with tells anything after the complaint.
fn can_begin(reference: &Reference, school: School) -> Result<bool, BenchError> {
    let table = &reference.table;
    let alive = reference.after_complaint.living_roots();
    if school == School::SymptomFirst {
        return Ok(true);
    }
    if school == School::SupplyFirst {
        return Ok(reference.lesson.functions.contains(&Function::DC_VOLTS));
    }
    for n in 0..table.beforehand() {
        let held = table.measurements[n].question.held();
        let takes = held.is_some_and(|(function, ..)| school.takes(function));
        if takes && table.information_gain(n, &alive)? >= TELLS_NOTHING_BITS {
            return Ok(true);
        }
    }
    Ok(false)
}

/// What would hurt somebody who does as the plan says. What the bench refuses of it is an error: the lesson forbids what
/// its plan needs.
fn unsafe_acts(reference: &Reference) -> Result<Vec<String>, BenchError> {
    let mut session = Session::start(&reference.lesson);
    let mut out = Vec::new();
    let mut act = |session: &mut Session, action: Action| -> Result<(), BenchError> {
        let step: Step = session.act(action)?.clone();
        let dangers = step.action.kind().dangers(session.bench(), &step.answer);
        out.extend(dangers.into_iter().map(|d| d.text));
        Ok(())
    };
    let condition = reference.lesson.condition();
    let brought_about = condition.and_then(brings_about);
    for action in brought_about.into_iter().chain([TryComplaint {}.into()]) {
        act(&mut session, action)?;
    }
    for step in &reference.plan.steps {
        let states = reference.table.states.iter();
        let mut same = states.filter(|s| s.about == step.measure.state);
        let wanted = same.next().map_or(&[][..], |s| &s.actions);
        for action in way_to(session.bench(), wanted) {
            if !stands(&action, session.bench().state()) {
                act(&mut session, action)?;
            }
        }
        for action in at_the_bench(&step.measure.question) {
            act(&mut session, action)?;
        }
    }
    Ok(out)
}

/// A question as it is put at the bench.
fn at_the_bench(question: &Question) -> Vec<Action> {
    match question {
        Question::Reading {
            function,
            red,
            black,
        } => vec![
            TakeReading {
                function: *function,
                range: None,
                red: Some(red.clone()),
                black: black.clone(),
                expected: Some(Quantity::Number(0.0).text(function.unit())),
                supposing: None,
                touch: Touch::default(),
                partner: None,
            }
            .into(),
        ],
        Question::Screen { scope } => vec![
            TakeCapture {
                scope: scope.clone(),
                expected: vec![Looks::default(); scope.channels.len()],
                partner_expected: Vec::new(),
            }
            .into(),
        ],
        Question::Exchange { .. } => question.actions(),
    }
}
