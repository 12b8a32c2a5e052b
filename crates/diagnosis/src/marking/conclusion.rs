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
        if let Some(step) = case.no_fault {
            return Ok(Judgement::of(no_fault(case, step), WHOLE));
        }
        if case.named.is_empty() {
            let text = "No fault was named before anything was repaired: say where it is and how it failed.".to_owned();
            return Ok(Judgement::of(
                vec![Detail::new(None, text, 0.0, WHOLE)],
                WHOLE,
            ));
        }
        let several = case.lesson.faults.len().max(1);
        let mut details = Vec::new();
        for named in &case.named {
            details.extend(one(case, named, 1.0 / several as f64));
        }
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
            proof(case),
            PROVEN * proven(case) * share,
            PROVEN,
        ));
        Ok(Judgement::of(details, WHOLE))
    }
}

/// That nothing is wrong: right of a sound machine, near while that is one of a few possibilities, wrong else.
fn no_fault(case: &Case<'_>, step: usize) -> Vec<Detail> {
    let sound = case.lesson.faults.is_empty();
    let after = &case.reference.after_complaint;
    let still = !sound && after.may_be_sound() && !shown_out(case, step);
    let share = match (sound, still) {
        (true, _) => 1.0,
        (false, true) => near(case.n, case.n0),
        (false, false) => 0.0,
    };
    let text = match (sound, still) {
        (true, _) => "Found no fault, and there is none.".to_owned(),
        (false, true) if share > 0.0 => format!(
            "Found no fault, and there is one; your readings had left {} possibilities, no fault among them: near.",
            case.n
        ),
        (false, true) => "Found no fault, and there is one.".to_owned(),
        (false, false) => {
            "Found no fault, though your readings had shown that there is one.".to_owned()
        }
    };
    let whole = PLACE + if sound { MODE } else { 0.0 };
    vec![
        Detail::new(Some(step), text, whole * share, PLACE + MODE),
        Detail::new(Some(step), proof(case), PROVEN * proven(case), PROVEN),
    ]
}

/// Whether a reading up to a step was not as on a sound machine.
fn shown_out(case: &Case<'_>, step: usize) -> bool {
    let mut readings = case.readings.iter().filter(|t| t.step < step);
    readings.any(|t| !crate::key::agree(&t.healthy.shown, &t.reading.shown, t.tolerance))
}

/// What a miss among so many possibilities is worth of so many at the beginning, 0 to 1.
fn near(left: usize, n0: usize) -> f64 {
    match left >= 2 && n0 > 1 {
        true => (1.0 - (left as f64).log2() / (n0 as f64).log2()).max(0.0),
        false => 0.0,
    }
}

fn proof(case: &Case<'_>) -> String {
    format!(
        "The complaint left {} suspect, your evidence up to here {}; it could have left {}.",
        places(case.n0),
        case.n,
        case.reference.alike(),
    )
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
    let near = match still && !right_place {
        true => near(left, case.n0),
        false => 0.0,
    };
    let sound = case.lesson.faults.is_empty();
    let place = match (right_place, own) {
        _ if sound => format!("Named {place_id}; nothing is wrong with this machine."),
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
            "Named the fault type {said}: no permitted reading tells it from what it is, so it counts as right."
        )
    } else if mode_right {
        format!("Named the fault type {said}: correct.")
    } else if right_place {
        format!("Named the fault type {said}: it is another.")
    } else {
        format!("Wrong place: fault type {said} not marked.")
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
    let alike = case.reference.alike();
    if case.n0 <= alike {
        return 1.0;
    }
    case.towards(alike)
}
