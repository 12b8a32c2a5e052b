//! Conclusion: the right place and mode, and how far the readings proved it.

use super::case::Case;
use super::sheet::Detail;
use super::{Criterion, Judgement};
use crate::bench::BenchError;

/// Marks of the three parts, out of 20.
const PLACE: f64 = 10.0;
const MODE: f64 = 5.0;
const PROVEN: f64 = 5.0;
const WHOLE: f64 = PLACE + MODE + PROVEN;

pub(super) struct Conclusion;

impl Criterion for Conclusion {
    fn name(&self) -> &'static str {
        "conclusion"
    }

    fn title(&self) -> &'static str {
        "Conclusion"
    }

    fn judge(&self, case: &Case<'_>) -> Result<Judgement, BenchError> {
        let Some(named) = &case.named else {
            let text = "No fault was named before anything was repaired.".to_owned();
            return Ok(Judgement {
                share: Some(0.0),
                details: vec![Detail::new(None, text, 0.0, WHOLE)],
            });
        };
        let circuit = &case.lesson.circuit;
        let step = Some(named.step);
        let at = named.place;
        let right_place = at.is_some_and(|p| case.group.contains(&p));
        let place_id = at.map_or("nowhere", |p| circuit.place_id(p));
        let own = case.lesson.faults.iter().any(|f| Some(f.place) == at);
        let place = match (right_place, own) {
            (true, true) => format!("Named {place_id}, where the fault is."),
            (true, false) => format!(
                "Named {place_id}: no permitted reading tells it from the fault's own place, so it counts as right."
            ),
            _ => format!("Named {place_id}; the fault is elsewhere."),
        };
        let mode_right = right_place
            && case
                .lesson
                .faults
                .iter()
                .any(|f| f.mode.name() == named.mode);
        let said = named.mode.replace('_', " ");
        let mode = if mode_right {
            format!("Named the mode {said}, rightly.")
        } else if right_place {
            format!("Named the mode {said}, which it is not.")
        } else {
            format!("The mode {said} does not count at the wrong place.")
        };
        let proven = proven(case);
        let n = case.n.unwrap_or(case.n0);
        let proof = format!(
            "The complaint left {}, the readings up to here left {n}; {} at best.",
            places(case.n0),
            places(case.group.len()),
        );
        let details = vec![
            Detail::new(step, place, if right_place { PLACE } else { 0.0 }, PLACE),
            Detail::new(step, mode, if mode_right { MODE } else { 0.0 }, MODE),
            Detail::new(step, proof, PROVEN * proven, PROVEN),
        ];
        let sum: f64 = details.iter().map(|d| d.earned).sum();
        Ok(Judgement {
            share: Some(sum / WHOLE),
            details,
        })
    }
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
    let (n0, g) = (case.n0 as f64, case.group.len() as f64);
    let n = case.n.unwrap_or(case.n0).max(1) as f64;
    if n0 <= g {
        return 1.0;
    }
    ((n0 / n).log2() / (n0 / g).log2()).clamp(0.0, 1.0)
}
