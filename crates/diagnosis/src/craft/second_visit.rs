//! The machine some weeks later: what was not cured is there as before, and a poor repair has become a fault.

use cimento_bench::{Bench, BenchError, complaint};
use cimento_model::circuit::Place;
use cimento_model::faults::{Condition, Fault, FaultDoc};
use cimento_model::state::OperatingState;

use super::flaws::{ComesBack, Flaw, flaws};
use super::{Choices, Craft};
use crate::lesson::Lesson;

/// Resistances in ohms that corrosion goes through until it is noticed.
const GROWS_OHMS: [f64; 8] = [0.02, 0.1, 0.5, 2.0, 10.0, 50.0, 500.0, 10_000.0];
/// The cause of what a poor repair becomes.
pub(crate) const REPAIR: &str = "repair";
/// What bare copper on metal has, in ohms.
const TOUCHES_OHMS: f64 = 0.05;

/// The machine at its second visit.
pub(crate) struct Visit {
    /// As it stands in the workshop, at rest.
    pub bench: Bench,
    /// What is complained of, with when; none where it did not come back.
    pub complaint: Option<String>,
}

/// Lets some weeks pass over a machine as it was handed over, with what was repaired on it and how.
///
/// # Errors
/// [`BenchError`] when it has no solution then.
pub(crate) fn second_visit(
    lesson: &Lesson,
    craft: &Craft,
    left: &Bench,
    repaired: &[(Place, &Choices)],
) -> Result<Visit, BenchError> {
    let own = not_of_a_repair(left);
    if !own.is_empty() {
        let (bench, said) = tried(lesson, left, own.clone(), lesson.condition())?;
        if said.is_some() || lesson.job.is_check_up() {
            let text = "It is as it was.".to_owned();
            return Ok(Visit {
                bench,
                complaint: Some(said.unwrap_or(text)),
            });
        }
    }
    for (place, chosen) in repaired {
        for flaw in flaws(&lesson.circuit, *place, chosen, &craft.around)? {
            if let Some((bench, said)) = comes_back(lesson, left, *place, &flaw)? {
                return Ok(Visit {
                    bench,
                    complaint: Some(said),
                });
            }
        }
    }
    let (bench, _) = tried(lesson, left, own, None)?;
    Ok(Visit {
        bench,
        complaint: None,
    })
}

/// What is wrong with a machine beside what came of an earlier repair, which comes anew where it is left as it was.
fn not_of_a_repair(left: &Bench) -> Vec<Fault> {
    let mut out = left.faults().to_vec();
    out.retain(|f| f.cause.as_deref() != Some(REPAIR));
    out
}

/// The first fault that a flaw grows into and that is noticed from the seat.
fn comes_back(
    lesson: &Lesson,
    left: &Bench,
    place: Place,
    flaw: &Flaw,
) -> Result<Option<(Bench, String)>, BenchError> {
    let grows = |when: &'static str| {
        let mut all: Vec<(&str, Option<f64>, &str)> = GROWS_OHMS
            .iter()
            .map(|ohms| ("high_resistance", Some(*ohms), when))
            .collect();
        all.push(("open", None, when));
        all
    };
    let touches = |when: &'static str| vec![("short_to_ground", Some(TOUCHES_OHMS), when)];
    let becomes = match flaw.comes_back {
        None => return Ok(None),
        Some(ComesBack::Corrodes) => grows("wet"),
        Some(ComesBack::Heats) => grows("hot"),
        Some(ComesBack::Opens) => vec![("open", None, "moved")],
        Some(ComesBack::Rubs) => touches("moved"),
        Some(ComesBack::Softens) => touches("hot"),
        Some(ComesBack::TooThin(share)) => vec![("too_thin", Some(share), "always")],
        Some(ComesBack::Burns) => touches("always"),
    };
    for (mode, severity, when) in becomes {
        let doc = FaultDoc {
            place: lesson.circuit.place_id(place).to_owned(),
            mode: mode.to_owned(),
            severity: severity.map(Into::into),
            when: Some(when.to_owned()),
            cause: Some(REPAIR.to_owned()),
            ..FaultDoc::default()
        };
        // Not every place fails in every way, or so little.
        let Ok(fault) = Fault::read(&lesson.circuit, &doc, "repair") else {
            continue;
        };
        let when = fault.when;
        let mut faults = not_of_a_repair(left);
        faults.push(fault);
        if let (bench, Some(said)) = tried(lesson, left, faults, Some(when))? {
            return Ok(Some((bench, said)));
        }
    }
    Ok(None)
}

/// The machine with some faults, tried under a condition and at rest again; what is complained of.
fn tried(
    lesson: &Lesson,
    left: &Bench,
    faults: Vec<Fault>,
    condition: Option<Condition>,
) -> Result<(Bench, Option<String>), BenchError> {
    let trial = lesson.trial().under(condition);
    let rest = OperatingState::at_rest(&lesson.circuit);
    let mut bench = left.beside(&faults)?;
    bench.carry_over(left);
    bench.set(trial.under_condition(rest.clone()))?;
    let now = complaint(&mut bench)?;
    bench.set(rest)?;
    let (_, sound) = trial.run(&[], left.shared())?;
    let when = match condition {
        Some(Condition::Hot) => "When it is hot: ",
        Some(Condition::Wet) => "When it is wet: ",
        Some(Condition::Moved) => "When it shakes: ",
        Some(Condition::Always | Condition::Vibrating) | None => "",
    };
    let said = (!now.same_as(&sound)).then(|| format!("{when}{}", now.text));
    Ok((bench, said))
}
