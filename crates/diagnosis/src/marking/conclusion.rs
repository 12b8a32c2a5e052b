//! Conclusion: the right place and mode, and how far the readings proved it. Of several faults each
//! counts its share.

use super::case::{Case, Named, same_unit};
use super::sheet::Detail;
use super::{Criterion, Judgement};
use cimento_bench::BenchError;
use cimento_model::faults::Fault;

/// Marks of the three parts, out of 20.
const PLACE: f64 = 10.0;
const MODE: f64 = 5.0;
const PROVEN: f64 = 5.0;
const WHOLE: f64 = PLACE + MODE + PROVEN;

/// Ways in which a wire that still leads may have lost copper: a meter sees the ohms, not where they come from. Common
/// practice: the wire is renewed either way.
const LESS_COPPER: [&str; 2] = ["high_resistance", "strands_cut"];

pub(super) struct Conclusion;

impl Criterion for Conclusion {
    fn name(&self) -> &'static str {
        "conclusion"
    }

    fn title(&self) -> &'static str {
        "Conclusion"
    }

    fn judge(&self, case: &Case<'_>) -> Result<Judgement, BenchError> {
        if case.named.is_empty() {
            let text = "No fault was named before anything was repaired: say where it is and how it failed.".to_owned();
            return Ok(Judgement::of(
                vec![Detail::new(None, text, 0.0, WHOLE)],
                WHOLE,
            ));
        }
        let several = case.lesson.faults.len();
        let mut details = Vec::new();
        for named in &case.named {
            details.extend(one(case, named, 1.0 / several as f64));
        }
        let n = case.n;
        let proof = format!(
            "The complaint left {} suspect, your evidence up to here {n}; it could have left {}.",
            places(case.n0),
            case.group().len(),
        );
        let step = case.named.last().map(|n| n.step);
        // Of several faults no more can be proven than were found.
        let found = case
            .named
            .iter()
            .filter(|n| n.place.is_some_and(|p| case.is_guilty(p)))
            .count();
        let share = if several > 1 {
            found as f64 / several as f64
        } else {
            1.0
        };
        details.push(Detail::new(
            step,
            proof,
            PROVEN * proven(case) * share,
            PROVEN,
        ));
        Ok(Judgement::of(details, WHOLE))
    }
}

/// Place and mode of one naming.
fn one(case: &Case<'_>, named: &Named, share: f64) -> [Detail; 2] {
    let circuit = &case.lesson.circuit;
    let step = Some(named.step);
    let at = named.place;
    let right_place = at.is_some_and(|p| case.is_guilty(p));
    let place_id = at.map_or("nowhere", |p| circuit.place_id(p));
    let here = |f: &&Fault| at.is_some_and(|p| f.places().any(|at| same_unit(at, p)));
    let own = case.lesson.faults.iter().find(here);
    let track = case.track.iter().find(|t| t.step == named.step);
    let possible = track.map_or(&[][..], |t| &t.left);
    let still = at.is_some_and(|at| possible.iter().any(|(p, _)| same_unit(at, *p)));
    let left = possible.len();
    let near = match still && !right_place && left >= 2 && case.n0 > 1 {
        true => (1.0 - (left as f64).log2() / (case.n0 as f64).log2()).max(0.0),
        false => 0.0,
    };
    let place = match (right_place, own) {
        (true, Some(fault)) if fault.places().any(|p| Some(p) == at) => {
            format!("Named {place_id}, where the fault is.")
        }
        (true, Some(fault)) => {
            let exact = circuit.place_id(fault.place);
            format!("Named {place_id}: the fault is at {exact}, which comes as one with it.")
        }
        (true, None) => format!(
            "Named {place_id}: no permitted reading tells it from the fault's own place, so it counts as right."
        ),
        _ if near > 0.0 => format!(
            "Named {place_id}; the fault is elsewhere, though {place_id} was one of the {left} places that your readings had left: near."
        ),
        _ if still => format!("Named {place_id}; the fault is elsewhere."),
        _ => {
            format!("Named {place_id}, which your readings had ruled out; the fault is elsewhere.")
        }
    };
    let same = |f: &Fault| f.mode.name() == named.mode;
    let mode_right = right_place && own.map_or(case.lesson.faults.iter().any(same), same);
    // What no permitted reading tells apart is one.
    let alike = right_place && !mode_right && {
        let mut modes = case.reference.modes.iter();
        let mut alike =
            modes.any(|(p, mode)| *mode == named.mode && at.is_some_and(|at| same_unit(at, *p)));
        alike |= own.is_some_and(|f| {
            let both = [f.mode.name(), named.mode.as_str()];
            both.iter().all(|mode| LESS_COPPER.contains(mode))
        });
        alike
    };
    let said = named.mode.replace('_', " ");
    let mode = if alike {
        format!(
            "Named the mode {said}: no permitted reading tells it from what it is, so it counts as right."
        )
    } else if mode_right {
        format!("Named the mode {said}, rightly.")
    } else if right_place {
        format!("Named the mode {said}, which it is not.")
    } else {
        format!("The mode {said} does not count at the wrong place.")
    };
    let place_marks = if right_place { PLACE } else { PLACE * near };
    let mode_marks = if mode_right || alike { MODE } else { 0.0 };
    [
        Detail::new(step, place, place_marks * share, PLACE * share),
        Detail::new(step, mode, mode_marks * share, MODE * share),
    ]
}

fn places(n: usize) -> String {
    if n == 1 {
        "1 place".to_owned()
    } else {
        format!("{n} places")
    }
}

/// `log₂(n0 ÷ n) ÷ log₂(n0 ÷ g)`, from 0 to 1. A complaint that leaves only the group proves it.
fn proven(case: &Case<'_>) -> f64 {
    let (n0, g) = (case.n0 as f64, case.group().len() as f64);
    let n = case.n.max(1) as f64;
    if n0 <= g {
        return 1.0;
    }
    ((n0 / n).log2() / (n0 / g).log2()).clamp(0.0, 1.0)
}
