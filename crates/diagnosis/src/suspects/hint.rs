//! Hints for practice: from a question back to the student up to the next best measurement and why.

use crate::attempt::actions::Clear;
use std::collections::BTreeSet;

use super::reference::Reference;
use crate::attempt::{Action, Answer, Step};
use cimento_bench::BenchError;
use cimento_model::circuit::Place;

/// Most places that a hint names.
const NAMED: usize = 8;
/// The last level: it says what to measure.
pub const HINT_LEVELS: u8 = 3;

/// The level of the next hint: one more for each that was asked since the last measurement.
pub fn next_level(steps: &[Step]) -> u8 {
    let measured = |s: &Step| matches!(s.answer, Answer::Reading { .. } | Answer::Captured { .. });
    let since = steps.iter().rev().take_while(|s| !measured(s));
    let asked = since.filter(|s| matches!(s.action, Action::Hint(_)));
    (asked.count() as u8 + 1).min(HINT_LEVELS)
}

/// What is said to a student at a step.
///
/// # Errors
/// [`BenchError`] when a candidate's circuit has no solution.
pub fn hint(reference: &Reference, steps: &[Step], level: u8) -> Result<String, BenchError> {
    let circuit = &reference.lesson.circuit;
    let mut suspects = reference.after_complaint.clone();
    let began = suspects.places();
    let mut marked: BTreeSet<Place> = BTreeSet::new();
    let mut now = Some(0);
    for step in steps {
        match (&step.action, &step.answer) {
            (Action::Clear(Clear { places }), _) => {
                marked.extend(places.iter().filter_map(|id| circuit.place(id)));
            }
            (_, Answer::Reading { reading }) => now = reference.table.state_of(reading),
            _ => {}
        }
        suspects.follow(step)?;
    }
    let left = suspects.places();
    let names = |places: &mut dyn Iterator<Item = Place>| {
        let all: Vec<&str> = places.map(|p| circuit.place_id(p)).collect();
        let more = all.len().saturating_sub(NAMED);
        let text = all[..all.len() - more].join(", ");
        match more {
            0 => text,
            more => format!("{text} and {more} more"),
        }
    };
    let likely = || {
        let belief = suspects.belief();
        names(&mut belief.into_iter().map(|(place, _)| place))
    };
    let sound = suspects.may_be_sound();
    if sound && left.is_empty() {
        return Ok("What you know leaves nothing that could be wrong: what follows?".to_owned());
    }
    if !sound && left.len() <= 1 || reference.is_proven(&suspects) {
        return Ok(match level {
            1 => "What you know leaves nothing more to measure: where must it be?".to_owned(),
            _ => format!("Only {} is left: name the fault.", likely()),
        });
    }
    let unmarked: Vec<Place> = began
        .iter()
        .filter(|p| !left.contains(p) && !marked.contains(p))
        .copied()
        .collect();
    Ok(match level {
        1 if !unmarked.is_empty() => format!(
            "{} places could explain the complaint; what you have seen since clears {} that you have not marked. Which half is it, and which reading says so?",
            began.len(),
            unmarked.len()
        ),
        1 => format!(
            "{} places are still possible. Which point lies in the middle of them, and what would you read there if the fault lay before it, or behind it?",
            left.len()
        ),
        2 => {
            let cleared = match unmarked.is_empty() {
                true => String::new(),
                false => format!(
                    " Cleared by what you know: {}.",
                    names(&mut unmarked.into_iter())
                ),
            };
            format!("Still possible, most likely first: {}.{cleared}", likely())
        }
        _ => best(reference, &suspects.living_roots(), now, &names)?.unwrap_or_else(|| {
            "No reading would tell more: look closely at what is left, move it, or exchange it."
                .to_owned()
        }),
    })
}

/// The next best measurement and what it would leave.
fn best(
    reference: &Reference,
    alive: &BTreeSet<usize>,
    now: Option<usize>,
    names: &dyn Fn(&mut dyn Iterator<Item = Place>) -> String,
) -> Result<Option<String>, BenchError> {
    let table = &reference.table;
    let Some(choice) = table.best(alive, now)? else {
        return Ok(None);
    };
    let proposal = table.proposal(choice);
    let outcomes = table.outcomes(choice.measurement, alive)?.into_iter();
    let outcomes = outcomes.map(|(shows, roots)| {
        let places = names(&mut table.places(&roots).into_iter());
        match (places.is_empty(), table.may_be_sound(&roots)) {
            (true, _) => format!("{shows} would leave no fault"),
            (false, true) => format!("{shows} would leave {places}, or no fault"),
            (false, false) => format!("{shows} would leave {places}"),
        }
    });
    Ok(Some(format!(
        "Next best: {}, in {:.1} min. {}.",
        proposal.sentence(),
        proposal.minutes,
        outcomes.collect::<Vec<_>>().join("; ")
    )))
}
