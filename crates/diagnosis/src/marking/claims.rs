//! Claims: what a student cleared or held suspect, each judged by what was known at its own step.

use super::case::{Case, Taken, asked_between};
use crate::attempt::actions::{Clear, Suspect};
use crate::attempt::{Action, Step};
use crate::suspects::Suspects;
use cimento_bench::Bench;
use cimento_model::circuit::Place;
use cimento_model::units::Unit;

/// Below this nothing flows, in amperes.
const IDLE_A: f64 = 1e-3;

/// A place cleared or held suspect.
#[derive(Debug, Clone, PartialEq)]
pub struct Claim {
    pub step: usize,
    pub place: Place,
    pub kind: ClaimKind,
    /// The evidence up to its step bears it out.
    pub justified: bool,
    /// What was still believed of the place, as a share of the belief in the likeliest one: 0 to 1.
    pub belief: f64,
    /// What it overlooks, in words; empty when it is justified.
    pub overlooks: String,
    /// It was cleared by a voltage that was there while nothing flowed through the place.
    pub idle: bool,
    /// Resistance had been read across the place with its ends attached.
    pub attached: bool,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ClaimKind {
    Cleared,
    Suspected,
}

/// The claims of a step, once the suspects have been put through it.
pub(super) fn claim(case: &Case<'_>, suspects: &Suspects, step: &Step) -> Vec<Claim> {
    let (places, kind) = match &step.action {
        Action::Clear(Clear { places }) => (places, ClaimKind::Cleared),
        Action::Suspect(Suspect { places }) => (places, ClaimKind::Suspected),
        _ => return Vec::new(),
    };
    let weights = suspects.weights();
    let at_places = weights.iter().filter(|(p, _)| p.is_some());
    let most = at_places.map(|(_, w)| *w).fold(0.0, f64::max);
    let circuit = &case.lesson.circuit;
    let known = places.iter().filter_map(|id| circuit.place(id));
    known
        .map(|place| {
            let belief = weights.get(&Some(place)).map_or(0.0, |w| w / most);
            let still = belief > 0.0;
            let justified = still == (kind == ClaimKind::Suspected);
            let present = case.readings.last().is_some_and(|t| is_supply(case, t));
            let idle = present && flow(case.left.bench(), place) < IDLE_A;
            let attached = case.readings.iter().any(|t| {
                let ohms = t.reading.function.unit() == Unit::Ohm;
                ohms && t.attached && t.spans == Some(place)
            });
            let mut out = Claim {
                step: step.no,
                place,
                kind,
                justified,
                belief,
                overlooks: String::new(),
                idle,
                attached,
            };
            if !justified {
                out.overlooks = overlooked(case, suspects, &out);
            }
            out
        })
        .collect()
}

/// The claims that stand: what was said of a place between two acts on the machine is one claim, the last; what was
/// said already is none. A slip of the hand that is taken back at once never was one.
pub(super) fn standing(claims: Vec<Claim>, steps: &[Step]) -> Vec<Claim> {
    let mut out: Vec<Claim> = Vec::new();
    for (n, claim) in claims.iter().enumerate() {
        let same = |c: &&Claim| c.place == claim.place;
        let mut later = claims[n + 1..].iter().filter(same);
        let taken_back = later.any(|c| !asked_between(steps, claim.step, c.step));
        let before = out.iter().rev().find(same);
        let said = before.is_some_and(|b| b.kind == claim.kind && b.justified && claim.justified);
        if !taken_back && !said {
            out.push(claim.clone());
        }
    }
    out
}

/// Whether a reading says that there is a supply.
fn is_supply(case: &Case<'_>, taken: &Taken<'_>) -> bool {
    let volts = taken.reading.function.unit() == Unit::Volt;
    volts && taken.reading.shown.value.number() > case.lesson.circuit.doc.system_v / 2.0
}

/// The largest current through a place, in amperes.
fn flow(bench: &Bench, place: Place) -> f64 {
    let points = &bench.settled().points;
    let currents = points.iter().flat_map(|p| {
        let lines = p.wiring.tags().iter().filter(|l| l.place == place);
        lines.map(|l| p.op.current(l.element).abs())
    });
    currents.fold(0.0, f64::max)
}

/// One fault that a clearance overlooks, or the reading that had ruled a suspicion out.
fn overlooked(case: &Case<'_>, suspects: &Suspects, claim: &Claim) -> String {
    let id = case.lesson.circuit.place_id(claim.place);
    if claim.kind == ClaimKind::Suspected {
        return match case.gone_at().get(&claim.place) {
            Some(step) => format!("Step {step} had ruled {id} out."),
            None => format!("With a fault at {id} the machine would not do what it does."),
        };
    }
    let example = suspects.examples(claim.place).into_iter().next();
    let example = example.unwrap_or_else(|| format!("a fault at {id}"));
    match case.readings.last() {
        None => format!("nothing had been measured, and {example} would do what was seen."),
        Some(last) => {
            let shown = last.reading.shown.value.text(last.reading.function.unit());
            let why = if claim.idle {
                ", because nothing was drawing current through it"
            } else {
                ""
            };
            format!(
                "{example} would have shown the same {shown} at step {}{why}.",
                last.step
            )
        }
    }
}
