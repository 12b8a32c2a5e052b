//! The reference plan: after the complaint, the measurement that is worth most per minute, until
//! nothing tells any more.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::information::entropy;
use super::table::{Choice, Proposal, Table};
use super::tracks::Suspects;
use cimento_bench::BenchError;
use cimento_bench::instruments::Shown;

/// Below this a measurement promises too little to go by: the spans of candidates that are all but alike
/// overlap here and there, and what one reading leaves of that the next one leaves too.
const PROMISING_BITS: f64 = 0.5;
/// A plan is cut off here: it is a mistake in the circuit, not a long search.
const MOST_STEPS: usize = 60;

/// One step of a plan.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PlanStep {
    #[serde(flatten)]
    pub measure: Proposal,
    pub shown: Shown,
    /// Places that could still hold the fault afterwards.
    pub left: Vec<String>,
}

/// The reference plan for a machine.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Plan {
    /// Places possible after the complaint.
    pub begin: Vec<String>,
    pub steps: Vec<PlanStep>,
    /// Places that no measurement of the plan's kind tells from the fault's own.
    pub group: Vec<String>,
    /// Bits that the plan gains over places.
    pub bits: f64,
    /// Difficulty: minutes that the plan takes.
    pub minutes: f64,
    /// Wrong places that look plausible on the way, counted at each step.
    pub plausible: usize,
}

/// Follows the plan on a lesson's own machine.
///
/// # Errors
/// [`BenchError`] when a suspect that has to be asked has no solution.
pub fn reference_plan(suspects: &Suspects, table: &Table) -> Result<Plan, BenchError> {
    let circuit = &suspects.lesson().circuit;
    // A sound machine gives no sign of its own to settle by: whatever tells most of a fault is asked until none is left.
    let sound = suspects.lesson().faults.is_empty();
    let mut alive = suspects.living_roots();
    let first = alive.clone();
    let last = table.indistinguishable(alive.clone())?;
    let group = table.possibilities(&last);
    let mut out = Plan {
        begin: table.names(circuit, &first),
        steps: Vec::new(),
        group: table.names(circuit, &last),
        bits: 0.0,
        minutes: 0.0,
        plausible: 0,
    };
    let mut now = Some(0);
    let mut taken = Vec::new();
    // What promised most told nothing: its like at the next point promises as much, and tells as little.
    let mut broken = false;
    while out.steps.len() < MOST_STEPS && table.possibilities(&alive) != group {
        let best = table.best_but(&alive, now, &taken)?;
        let promises = |c: &Choice| sound || !broken && c.bits >= PROMISING_BITS;
        let promising = match best.filter(promises) {
            Some(choice) => Some(choice),
            None => settling(table, &alive, now, &taken)?,
        };
        let Some(choice) = promising else {
            break;
        };
        taken.push(choice.measurement);
        let left = table.left(choice.measurement, &alive)?;
        broken = left.len() == alive.len();
        alive = left;
        let left = table.names(circuit, &alive);
        now = Some(table.measurements[choice.measurement].state);
        out.minutes += choice.minutes;
        out.plausible += left.len().saturating_sub(1);
        out.steps.push(PlanStep {
            measure: table.proposal(choice),
            shown: table.shown(choice.measurement)?,
            left,
        });
    }
    out.bits = bits(out.begin.len()) - bits(table.names(circuit, &alive).len());
    Ok(out)
}

/// What hardly promises to tell may still have to be settled at the end: by what does settle most on this machine
/// for its minutes, of what settles about as much as anything.
fn settling(
    table: &Table,
    alive: &BTreeSet<usize>,
    now: Option<usize>,
    taken: &[usize],
) -> Result<Option<Choice>, BenchError> {
    let mut telling = Vec::new();
    for choice in table.choices(alive, now, taken)? {
        let left = table.left(choice.measurement, alive)?.len();
        if left < alive.len() {
            telling.push((bits(alive.len()) - bits(left.max(1)), choice));
        }
    }
    let most = telling
        .iter()
        .map(|(settles, _)| *settles)
        .fold(0.0, f64::max);
    let enough = telling
        .into_iter()
        .filter(|(settles, _)| *settles >= most / 2.0);
    let per_minute = |(settles, c): &(f64, Choice)| settles / c.minutes;
    let best = enough.max_by(|a, b| per_minute(a).total_cmp(&per_minute(b)));
    Ok(best.map(|(_, c)| c))
}

fn bits(places: usize) -> f64 {
    entropy(std::iter::repeat_n(1.0, places))
}
