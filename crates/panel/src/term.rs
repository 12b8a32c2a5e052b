//! A term of work as a class of bots does it: what the demo school's second year has behind it. Made once by a command
//! and kept as data, so that the demo opens in seconds; a test replays it.

use cimento_diagnosis::attempt::{Action, Session, Step};
use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_diagnosis::marking::{Case, Debrief, MarkSheet, debrief, sheet};
use cimento_diagnosis::suspects::Reference;
use serde::{Deserialize, Serialize};

use crate::bots::{BOTS, Bot, BotError, sensible_with};
use crate::course::{course, course_lesson};

/// A term: whose, what they were given, and what each did.
#[derive(Serialize, Deserialize)]
pub struct Term {
    pub class: String,
    pub students: Vec<String>,
    pub given: Vec<Given>,
    pub attempts: Vec<Work>,
}

/// Something given out.
#[derive(Serialize, Deserialize)]
pub struct Given {
    pub lesson: LessonDoc,
    pub category: String,
    /// Days before the term is looked at.
    pub opened_days_ago: i64,
    pub due_days_ago: i64,
}

/// What a student did of it.
#[derive(Serialize, Deserialize)]
pub struct Work {
    pub given: usize,
    pub student: usize,
    /// When it was begun, in minutes before the term is looked at.
    pub began_minutes_ago: i64,
    pub steps: Vec<Step>,
    /// Absent while it is worked on.
    pub marks: Option<Marks>,
}

/// A mark sheet with its debrief.
#[derive(Serialize, Deserialize)]
pub struct Marks {
    pub sheet: MarkSheet,
    pub debrief: Debrief,
}

/// Why a term could not be made.
#[derive(Debug, thiserror::Error)]
pub enum TermError {
    #[error("{0}")]
    Refused(String),
    #[error(transparent)]
    Bot(#[from] BotError),
    #[error(transparent)]
    Bench(#[from] cimento_bench::BenchError),
}

impl From<cimento_diagnosis::attempt::Refusal> for TermError {
    fn from(refusal: cimento_diagnosis::attempt::Refusal) -> Self {
        Self::Refused(refusal.to_string())
    }
}

/// Lessons of the demo course that the class was given, a week after the other.
const LECTURES: [&str; 8] = [
    "05-will-not-crank.json",
    "06-takes-its-fuse.json",
    "07-neutral-and-still-nothing.json",
    "08-it-only-chatters.json",
    "09-cranks-slowly.json",
    "11-paint-under-the-foot.json",
    "15-charge-lamp-never-lit.json",
    "22-two-ends-of-one-wire.json",
];

/// A student: how often they took a sensible step when the term began, and when it ended.
struct Pupil {
    name: &'static str,
    began: f64,
    ended: f64,
}

const fn pupil(name: &'static str, began: f64, ended: f64) -> Pupil {
    Pupil { name, began, ended }
}

const PUPILS: [Pupil; 12] = [
    pupil("Arno Abelind", 0.6, 0.95),
    pupil("Brisa Bolgrad", 0.8, 1.0),
    pupil("Cato Corvane", 0.3, 0.5),
    pupil("Dunja Dravec", 0.5, 0.9),
    pupil("Emeric Estvale", 0.2, 0.6),
    pupil("Fina Falkrest", 0.7, 0.9),
    pupil("Goran Gildast", 0.4, 0.4),
    pupil("Hella Hovring", 0.9, 1.0),
    pupil("Ivo Istrand", 0.1, 0.4),
    pupil("Jorun Jaskell", 0.5, 0.7),
    pupil("Kuno Kelmare", 0.3, 0.8),
    pupil("Lenka Lorvik", 0.6, 0.6),
];

const DAY_MINUTES: i64 = 24 * 60;

/// Lets a class of bots work through a term.
///
/// # Errors
/// [`TermError`] when a lesson is none, or a circuit that has to be computed has no solution.
pub fn term() -> Result<Term, TermError> {
    let mut out = Term {
        class: "Ground equipment, second year".to_owned(),
        students: PUPILS.iter().map(|p| p.name.to_owned()).collect(),
        given: Vec::new(),
        attempts: Vec::new(),
    };
    let last = LECTURES.len() - 1;
    for (week, lecture) in LECTURES.iter().enumerate() {
        let refused = |e: cimento_model::circuit::Refused| TermError::Refused(e.to_string());
        let doc = course_lesson(lecture).map_err(refused)?;
        let of_course = course().map_err(refused)?.lessons.into_iter();
        let chapter = of_course
            .filter(|l| l.file() == Some(lecture))
            .map(|l| l.chapter);
        let lesson = Lesson::new(doc.clone()).map_err(refused)?;
        let reference = Reference::new(&lesson)?;
        let weeks_ago = (last - week) as i64;
        out.given.push(Given {
            lesson: doc,
            category: chapter.collect(),
            opened_days_ago: 7 * weeks_ago + 5,
            // The last one is due in two days.
            due_days_ago: 7 * weeks_ago - 2,
        });
        for (n, pupil) in PUPILS.iter().enumerate() {
            // Some are absent now and then; of the last one some are at work, and some have not begun.
            let seed = (week * PUPILS.len() + n) as u64;
            let mut dice = fastrand::Rng::with_seed(seed);
            let absent = dice.f64() < 0.06 || week == last && n % 4 == 3;
            if absent {
                continue;
            }
            let share = week as f64 / last as f64;
            let sense = pupil.began + (pupil.ended - pupil.began) * share;
            let actions = bot(sense, &mut dice).work(&reference, seed)?;
            let at_work = week == last && n % 4 == 2;
            let kept = if at_work {
                actions.len() / 2
            } else {
                actions.len()
            };
            out.attempts.push(Work {
                given: week,
                student: n,
                began_minutes_ago: match at_work {
                    true => 25,
                    false => began_ago(weeks_ago, &mut dice),
                },
                ..worked(&reference, &actions[..kept])?
            });
        }
    }
    Ok(out)
}

/// Between the day it opened and a day after it was due.
fn began_ago(weeks_ago: i64, dice: &mut fastrand::Rng) -> i64 {
    let days = 7 * weeks_ago - 3 + dice.i64(0..8);
    days.max(1) * DAY_MINUTES + dice.i64(0..6 * 60)
}

/// One who works as well as that, by the way that such students take.
fn bot(sense: f64, dice: &mut fastrand::Rng) -> Bot {
    let named = |name: &str| BOTS.iter().find(|b| b.name == name).copied();
    let way = if sense > 0.85 {
        named(if dice.bool() { "plan" } else { "halving" })
    } else if sense < 0.35 && dice.f64() < 0.4 {
        named(["wrong guess", "parts changer", "right guess"][dice.usize(0..3)])
    } else if dice.f64() < 0.25 {
        named("in order").map(|bot| Bot { sense, ..bot })
    } else {
        None
    };
    way.unwrap_or_else(|| sensible_with(sense))
}

fn worked(reference: &Reference, actions: &[Action]) -> Result<Work, TermError> {
    let session = Session::replay(&reference.lesson, actions)?;
    let steps = session.steps().to_vec();
    let marks = match session.is_handed_in() {
        false => None,
        true => {
            let case = Case::new(reference, &steps)?;
            Some(Marks {
                sheet: sheet(&case)?,
                debrief: debrief(&case),
            })
        }
    };
    Ok(Work {
        given: 0,
        student: 0,
        began_minutes_ago: 0,
        steps,
        marks,
    })
}
