//! What the attempts at one lesson have in common: what misled, where was measured, which slips came back, what could
//! not be predicted, and whether the lesson itself is to blame. Each with its number.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use serde::Serialize;
use utoipa::ToSchema;

use super::case::same_unit;
use super::sheet::MarkSheet;
use crate::attempt::actions::{NameFault, Repair, Suspect};
use crate::attempt::{Action, Answer, Step};
use crate::lesson::Lesson;
use cimento_bench::instruments::{Function, Reading};
use cimento_model::circuit::Place;

/// Of fewer attempts nothing is concluded about the lesson.
const ENOUGH: usize = 3;
/// Below this share of its marks in every attempt a line may be broken; above the other in all a lesson is easy.
const ALL_FAIL: f64 = 0.2;
const ALL_DO: f64 = 0.95;

/// An attempt that was marked.
pub struct Worked {
    pub lesson: Arc<Lesson>,
    pub steps: Vec<Step>,
    pub sheet: MarkSheet,
}

/// Something with how many attempts it was in.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Counted {
    pub what: String,
    pub attempts: usize,
    /// How often in all.
    pub times: usize,
}

/// What was earned on the mean.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Earned {
    pub what: String,
    /// 0 to 1.
    pub share: f64,
    /// Over so many readings or attempts.
    pub of: usize,
}

/// What the attempts at a lesson have in common.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Insight {
    /// Attempts that were marked.
    pub attempts: usize,
    /// Wrong places that were named, mended or held suspect, in most attempts first.
    pub misled: Vec<Counted>,
    /// Test points with how many attempts measured there.
    pub measured: Vec<Counted>,
    /// Slips of technique and dangerous acts, in most attempts first.
    pub slips: Vec<Counted>,
    /// Predictions by what was measured, the worst first.
    pub predictions: Vec<Earned>,
    /// Lines of the sheet, as the sheet has them.
    pub lines: Vec<Earned>,
    /// What speaks against the lesson as it is, a sentence each.
    pub doubts: Vec<String>,
}

/// Counts what is in each attempt once, and how often in all.
#[derive(Default)]
struct Tally(BTreeMap<String, (BTreeSet<usize>, usize)>);

impl Tally {
    fn count(&mut self, attempt: usize, what: String) {
        let (attempts, times) = self.0.entry(what).or_default();
        attempts.insert(attempt);
        *times += 1;
    }

    /// In most attempts first.
    fn counted(self) -> Vec<Counted> {
        let each = self.0.into_iter();
        let mut all: Vec<Counted> = each
            .map(|(what, (attempts, times))| Counted {
                what,
                attempts: attempts.len(),
                times,
            })
            .collect();
        all.sort_by_key(|c| std::cmp::Reverse((c.attempts, c.times)));
        all
    }
}

/// Sums what was earned, in the order in which it was first seen.
#[derive(Default)]
struct Means(Vec<(String, f64, usize)>);

impl Means {
    fn add(&mut self, what: &str, share: f64) {
        match self.0.iter_mut().find(|(w, ..)| w == what) {
            Some((_, sum, of)) => (*sum, *of) = (*sum + share, *of + 1),
            None => self.0.push((what.to_owned(), share, 1)),
        }
    }

    fn earned(self) -> Vec<Earned> {
        let each = self.0.into_iter();
        each.map(|(what, sum, of)| Earned {
            what,
            share: sum / of as f64,
            of,
        })
        .collect()
    }
}

/// What some attempts at a lesson, or at several of one pool, have in common.
pub fn insight(all: &[Worked]) -> Insight {
    let (mut misled, mut measured, mut slips) =
        (Tally::default(), Tally::default(), Tally::default());
    let (mut predictions, mut lines) = (Means::default(), Means::default());
    for (n, worked) in all.iter().enumerate() {
        let lesson = &*worked.lesson;
        for (place, how) in worked.steps.iter().flat_map(|s| claimed(lesson, s)) {
            if !is_guilty(lesson, &worked.sheet, place) {
                misled.count(n, format!("{} {how}", lesson.circuit.place_id(place)));
            }
        }
        let mut readings = BTreeMap::new();
        for step in &worked.steps {
            if let Answer::Reading { reading } = &step.answer {
                let leads = [&reading.red, &reading.black];
                for point in leads.into_iter().flatten() {
                    measured.count(n, point.clone());
                }
                readings.insert(step.no, reading);
            }
        }
        for slip in &worked.sheet.slips {
            slips.count(n, slip.kind.text().to_owned());
        }
        for _ in &worked.sheet.safety {
            slips.count(n, "something dangerous done".to_owned());
        }
        for line in worked.sheet.lines.iter().filter(|l| l.out_of > 0.0) {
            lines.add(&line.title, line.marks / line.out_of);
            if line.criterion != super::prediction::PREDICTION {
                continue;
            }
            for detail in line.details.iter().filter(|d| d.possible > 0.0) {
                let reading = detail.step.and_then(|no| readings.get(&no));
                if let Some(reading) = reading {
                    predictions.add(&quantity(lesson, reading), detail.earned / detail.possible);
                }
            }
        }
    }
    let mut predictions = predictions.earned();
    predictions.sort_by(|a, b| a.share.total_cmp(&b.share));
    Insight {
        attempts: all.len(),
        misled: misled.counted(),
        measured: measured.counted(),
        slips: slips.counted(),
        predictions,
        lines: lines.earned(),
        doubts: doubts(all),
    }
}

/// The places that a step says are at fault, with how.
fn claimed(lesson: &Lesson, step: &Step) -> Vec<(Place, &'static str)> {
    let place = |id: &String| lesson.circuit.place(id);
    match &step.action {
        Action::NameFault(NameFault { place: id, .. }) => {
            place(id).map(|p| (p, "named")).into_iter().collect()
        }
        Action::Repair(Repair { place: id, .. }) => {
            let mended = place(id).filter(|p| !is_fuse(lesson, *p));
            mended.map(|p| (p, "mended")).into_iter().collect()
        }
        Action::Suspect(Suspect { places }) => {
            let known = places.iter().filter_map(place);
            known.map(|p| (p, "suspected")).collect()
        }
        _ => Vec::new(),
    }
}

/// A fuse that is renewed is tried.
fn is_fuse(lesson: &Lesson, place: Place) -> bool {
    matches!(place, Place::Part(n) if lesson.circuit.parts[n].kind.is_fuse())
}

fn is_guilty(lesson: &Lesson, sheet: &MarkSheet, place: Place) -> bool {
    let own = lesson.faults.iter().flat_map(|f| f.places());
    let alike = sheet
        .ambiguity
        .iter()
        .filter_map(|id| lesson.circuit.place(id));
    own.chain(alike).any(|p| same_unit(p, place))
}

/// What a reading is of: volts at a point and volts lost between two are predicted by different thoughts.
fn quantity(lesson: &Lesson, reading: &Reading) -> String {
    if reading.function != Function::DC_VOLTS {
        return reading.function.title().to_owned();
    }
    let black = reading.black.as_deref();
    let node = black.and_then(|id| lesson.circuit.test_point(id));
    match node.is_some_and(|p| p.node == 0) {
        true => "volts at a point".to_owned(),
        false => "volts lost between two points".to_owned(),
    }
}

/// What speaks against the lesson: a line that everybody failed, or that nobody found it hard.
fn doubts(all: &[Worked]) -> Vec<String> {
    if all.len() < ENOUGH {
        return Vec::new();
    }
    let mut shares: BTreeMap<&str, Vec<f64>> = BTreeMap::new();
    for line in all.iter().flat_map(|w| &w.sheet.lines) {
        if line.out_of > 0.0 {
            let of = shares.entry(line.title.as_str()).or_default();
            of.push(line.marks / line.out_of);
        }
    }
    let n = all.len();
    let failed = shares
        .iter()
        .filter(|(_, of)| of.len() == n && of.iter().all(|share| *share <= ALL_FAIL));
    let mut out: Vec<String> = failed
        .map(|(title, _)| {
            format!(
                "All {n} lost most of {title}: either it was not taught, or this lesson does not let it be shown."
            )
        })
        .collect();
    let mut totals = all.iter().map(|w| w.sheet.total / 100.0);
    if totals.all(|share| share >= ALL_DO) {
        out.push(format!(
            "All {n} have {:.0} marks or more: this lesson asks too little of them.",
            100.0 * ALL_DO
        ));
    }
    out
}
