//! The lesson maker: faults of a circuit that make lessons of a wish, each proven.

use std::sync::Arc;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use cimento_bench::{BenchError, Complaint};
use cimento_model::circuit::Refused;
use cimento_model::faults::{Fault, FaultDoc};
use cimento_parts::build_circuit;

use super::proof::Proof;
use super::shown::can_show;
use crate::lesson::{Lesson, LessonDoc, Skill};
use crate::suspects::{Band, Candidate, Progress, Reference, candidates};

/// Minutes of two lessons within this share of each other are as hard as each other.
const FAIR: f64 = 0.2;

/// What a lesson is wished to be.
#[derive(Debug, Clone, PartialEq, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Wish {
    /// Skills that it is to practise. Those that a plan can show have to be shown by it; the others are declared.
    pub skills: Vec<Skill>,
    /// Difficulty, in minutes of its plan.
    pub band: Band,
    /// Faults that are not asked for any more.
    #[serde(default)]
    pub not: Vec<FaultDoc>,
    /// The same seed tries in the same order.
    pub seed: u64,
}

/// A lesson that is proposed.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Proposed {
    pub fault: FaultDoc,
    /// "W8 open".
    pub text: String,
    /// What a customer would say of it, to be put in better words.
    pub complaint: String,
    pub proof: Proof,
    /// How many of the others that are proposed are as hard as it: neighbours may have them.
    pub as_hard: usize,
}

/// Lessons of a wish, easiest first.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Tried {
    pub found: Vec<Proposed>,
    /// Faults that were tried, of all that the circuit can have.
    pub tried: usize,
    pub of: usize,
}

/// Proposes lessons. `base` is a lesson with everything but its fault; `go_on` says before each try whether more are
/// wanted, knowing how many were found.
///
/// # Errors
/// [`Refused`] when the base is no lesson's; [`BenchError`] within it when a circuit has no solution or nobody waits
/// any more.
pub fn propose(
    base: &LessonDoc,
    wish: &Wish,
    progress: &Arc<Progress>,
    go_on: impl Fn(usize) -> bool,
) -> Result<Tried, MakerError> {
    let circuit = build_circuit(base.circuit.clone())?;
    let not: Vec<Fault> = wish
        .not
        .iter()
        .filter_map(|doc| Fault::read(&circuit, doc, "not").ok())
        .collect();
    let all = candidates(&circuit, None);
    let all = all.into_iter().filter(|c| {
        let one = |f: &Fault| c.holds(std::slice::from_ref(f));
        !not.iter().any(one)
    });
    let order = in_order(all.collect(), wish.seed);
    let of = order.len();
    let mut out = Tried {
        found: Vec::new(),
        tried: 0,
        of,
    };
    let wanted: Vec<Skill> = wish
        .skills
        .iter()
        .copied()
        .filter(|s| can_show(*s))
        .collect();
    for faults in &order {
        if !go_on(out.found.len()) {
            break;
        }
        progress.step()?;
        out.tried += 1;
        let doc = LessonDoc {
            faults: faults.iter().map(|f| f.doc(&circuit)).collect(),
            skills: wish.skills.clone(),
            ..base.clone()
        };
        // What is not noticed, and what no permitted measurement shows, makes no lesson.
        let Ok(lesson) = Lesson::new(doc) else {
            continue;
        };
        let reference = Reference::watched(&lesson, progress)?;
        let proof = Proof::of(&reference)?;
        let shows = |skill: &Skill| proof.skills.iter().any(|p| p.skill == *skill && p.shown);
        let suits =
            wish.band.holds(proof.minutes) && proof.hinders.is_empty() && wanted.iter().all(shows);
        if !suits {
            continue;
        }
        let [fault] = &lesson.faults[..] else {
            continue;
        };
        let proposed = Proposed {
            fault: fault.doc(&circuit),
            text: fault.about(&circuit),
            complaint: draft(&lesson.symptom, &lesson.healthy_symptom),
            proof,
            as_hard: 0,
        };
        out.found.push(proposed);
    }
    out.found
        .sort_by(|a, b| a.proof.minutes.total_cmp(&b.proof.minutes));
    say_who_is_as_hard(&mut out.found);
    Ok(out)
}

/// Says of each how many of the others are as hard.
fn say_who_is_as_hard(all: &mut [Proposed]) {
    let minutes: Vec<f64> = all.iter().map(|p| p.proof.minutes).collect();
    for (n, proposed) in all.iter_mut().enumerate() {
        let own = minutes[n];
        let near = |m: &&f64| (**m - own).abs() <= FAIR * own.max(**m);
        proposed.as_hard = minutes.iter().filter(near).count() - 1;
    }
}

/// Why nothing can be proposed.
#[derive(Debug, thiserror::Error)]
pub enum MakerError {
    #[error(transparent)]
    Refused(#[from] Refused),
    #[error(transparent)]
    Bench(#[from] BenchError),
}

/// Faults by chance, the more likely in the trade the sooner; of those with a severity one from the middle, neither hardly
/// there nor as good as open.
fn in_order(all: Vec<Candidate>, seed: u64) -> Vec<Vec<Fault>> {
    let mut dice = fastrand::Rng::with_seed(seed);
    let mut keyed: Vec<(f64, Vec<Fault>)> = Vec::new();
    for candidate in all {
        let points = candidate.grid.len();
        // Efraimidis and Spirakis, Information Processing Letters 97, 2006: weighted by likelihood without repetition.
        let key = -dice.f64().max(f64::MIN_POSITIVE).ln() / candidate.prior;
        let at = dice.usize(points / 3..(2 * points / 3).max(points / 3 + 1));
        if let Some(faults) = candidate.grid.into_iter().nth(at) {
            keyed.push((key, faults));
        }
    }
    keyed.sort_by(|a, b| a.0.total_cmp(&b.0));
    keyed.into_iter().map(|(_, faults)| faults).collect()
}

/// What is otherwise than on a sound machine, as it was noticed, each once: with the key as it is said of it, with a lever after
/// its name.
fn draft(symptom: &Complaint, healthy: &Complaint) -> String {
    let mut told: Vec<&str> = Vec::new();
    let mut out = String::new();
    for trial in &symptom.trials {
        let same = healthy.trials.iter().filter(|t| t.label == trial.label);
        let usual: Vec<&str> = same
            .flat_map(|t| &t.notices)
            .map(|n| n.text.as_str())
            .collect();
        let noticed = trial.notices.iter().filter(|n| !n.hidden);
        let noticed = noticed.map(|n| n.text.as_str());
        let other: Vec<&str> = noticed
            .filter(|text| !usual.contains(text) && !told.contains(text))
            .collect();
        if other.is_empty() {
            continue;
        }
        let text = match trial.turns_key {
            true => other.join(", "),
            false => format!("{}: {}", trial.label, other.join(", ")),
        };
        let mut letters = text.chars();
        let first = letters.next().into_iter().flat_map(char::to_uppercase);
        let between = if out.is_empty() { "" } else { " " };
        out.extend(between.chars().chain(first).chain(letters).chain(['.']));
        told.extend(other);
    }
    out
}
