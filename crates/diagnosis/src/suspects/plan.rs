//! The reference plan: after the complaint, the measurement that is worth most per minute, until
//! nothing tells any more.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::information::entropy;
use super::table::{Choice, Proposal, Table};
use super::tracks::Suspects;
use cimento_bench::instruments::Shown;
use cimento_model::circuit::{Circuit, Place};

/// Below this a measurement promises too little to go by: the spans of candidates that are all but alike
/// overlap here and there, and what one reading leaves of that the next one leaves too.
const PROMISING_BITS: f64 = 0.1;
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
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
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
pub fn reference_plan(suspects: &Suspects, table: &Table) -> Plan {
    let circuit = &suspects.lesson().circuit;
    let mut alive = suspects.living_roots();
    let begin = table.places(&alive);
    let group = table.places(&table.indistinguishable(alive.clone()));
    let mut out = Plan {
        begin: names(circuit, &begin),
        steps: Vec::new(),
        group: names(circuit, &group),
        bits: 0.0,
        minutes: 0.0,
        plausible: 0,
    };
    let mut now = Some(0);
    let mut taken = Vec::new();
    while out.steps.len() < MOST_STEPS && table.places(&alive) != group {
        // What hardly promises to tell may still have to be settled at the end: by what does settle most
        // on this machine.
        let last = || {
            let left = |c: &Choice| table.left(c.measurement, &alive).len();
            let open = table.choices(&alive, now, &taken);
            let telling = open
                .map(|c| (left(&c), c))
                .filter(|(n, _)| *n < alive.len());
            telling.min_by_key(|(n, _)| *n).map(|(_, c)| c)
        };
        let best = table.best_but(&alive, now, &taken);
        let promising = best.filter(|c| c.bits >= PROMISING_BITS);
        let Some(choice) = promising.or_else(last) else {
            break;
        };
        taken.push(choice.measurement);
        alive = table.left(choice.measurement, &alive);
        let left = table.places(&alive);
        now = Some(table.measurements[choice.measurement].state);
        out.minutes += choice.minutes;
        out.plausible += left.len().saturating_sub(1);
        out.steps.push(PlanStep {
            measure: table.proposal(choice),
            shown: table.truth(choice.measurement).shown.clone(),
            left: names(circuit, &left),
        });
    }
    out.bits = bits(begin.len()) - bits(table.places(&alive).len());
    out
}

fn bits(places: usize) -> f64 {
    entropy(std::iter::repeat_n(1.0, places))
}

fn names(circuit: &Circuit, places: &BTreeSet<Place>) -> Vec<String> {
    places
        .iter()
        .map(|p| circuit.place_id(*p).to_owned())
        .collect()
}
