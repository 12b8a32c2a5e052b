//! The machine some weeks later: what was not cured is there as before, and a poor repair has become a fault.

use cimento_bench::{Bench, BenchError, Complaint, complaint};
use cimento_model::circuit::{Circuit, Place};
use cimento_model::faults::{Condition, Fault, FaultDoc};
use cimento_model::state::OperatingState;

use crate::craft::{Choices, ComesBack, Craft, Flaw, REPAIR, flaws};
use crate::lesson::Lesson;

/// Resistances in ohms that corrosion goes through until it is noticed.
const GROWS_OHMS: [f64; 8] = [0.02, 0.1, 0.5, 2.0, 10.0, 50.0, 500.0, 10_000.0];
/// What bare copper on metal has, in ohms.
const TOUCHES_OHMS: f64 = 0.05;

/// The machine at its second visit.
pub(super) struct Visit {
    /// As it stands in the workshop, at rest.
    pub bench: Bench,
    /// What is complained of, with when; none where it did not come back.
    pub complaint: Option<String>,
}

/// Lets some weeks pass over a machine as it was handed over, with what was repaired on it and how.
///
/// # Errors
/// [`BenchError`] when it has no solution then.
pub(super) fn second_visit(
    lesson: &Lesson,
    craft: &Craft,
    left: &Bench,
    repaired: &[(Place, &Choices)],
) -> Result<Visit, BenchError> {
    let own = not_of_a_repair(left);
    if !own.is_empty() {
        let (bench, said) = Weather::of(lesson, left, lesson.condition())?.tried(left, &own)?;
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
    let (bench, _) = Weather::of(lesson, left, None)?.tried(left, &own)?;
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
    let grows = || {
        let ohms = GROWS_OHMS
            .iter()
            .map(|ohms| ("high_resistance", Some(*ohms)));
        ohms.chain([("open", None)]).collect()
    };
    let touches = || vec![("short_to_ground", Some(TOUCHES_OHMS))];
    let (when, becomes): (Condition, Vec<(&str, Option<f64>)>) = match flaw.comes_back {
        None => return Ok(None),
        Some(ComesBack::Corrodes) => (Condition::Wet, grows()),
        Some(ComesBack::Heats) => (Condition::Hot, grows()),
        Some(ComesBack::Opens) => (Condition::Moved, vec![("open", None)]),
        Some(ComesBack::Rubs) => (Condition::Moved, touches()),
        Some(ComesBack::Softens) => (Condition::Hot, touches()),
        Some(ComesBack::TooThin(share)) => (Condition::Always, vec![("too_thin", Some(share))]),
        Some(ComesBack::Burns) => (Condition::Always, touches()),
    };
    let weather = Weather::of(lesson, left, Some(when))?;
    for (mode, severity) in becomes {
        let doc = FaultDoc {
            place: lesson.circuit.place_id(place).to_owned(),
            mode: mode.to_owned(),
            severity: severity.map(|v| within(&lesson.circuit, place, mode, v).into()),
            when: Some(when.name().to_owned()),
            cause: Some(REPAIR.to_owned()),
            ..FaultDoc::default()
        };
        // Not every place fails in every way, or so little.
        let Ok(fault) = Fault::read(&lesson.circuit, &doc, "repair") else {
            continue;
        };
        let mut faults = not_of_a_repair(left);
        faults.push(fault);
        if let (bench, Some(said)) = weather.tried(left, &faults)? {
            return Ok(Some((bench, said)));
        }
    }
    Ok(None)
}

/// A severity within what a place can have of a mode: a hair of copper is as little as there is.
fn within(circuit: &Circuit, place: Place, mode: &str, severity: f64) -> f64 {
    let mut specs = circuit.modes(place).iter();
    let range = specs.find(|m| m.name == mode).and_then(|m| m.severity);
    range.map_or(severity, |range| severity.clamp(range.least, range.most))
}

/// A condition with what a sound machine does under it.
struct Weather<'a> {
    lesson: &'a Lesson,
    condition: Option<Condition>,
    sound: Complaint,
}

impl<'a> Weather<'a> {
    fn of(
        lesson: &'a Lesson,
        left: &Bench,
        condition: Option<Condition>,
    ) -> Result<Self, BenchError> {
        let (_, sound) = lesson.trial().under(condition).run(&[], left.shared())?;
        Ok(Self {
            lesson,
            condition,
            sound,
        })
    }

    /// The machine with some faults, tried and at rest again; what is complained of.
    fn tried(&self, left: &Bench, faults: &[Fault]) -> Result<(Bench, Option<String>), BenchError> {
        let trial = self.lesson.trial().under(self.condition);
        let rest = OperatingState::at_rest(&self.lesson.circuit);
        let mut bench = left.beside(faults)?;
        bench.carry_over(left);
        bench.set(trial.under_condition(rest.clone()))?;
        let now = complaint(&mut bench)?;
        bench.set(rest)?;
        let when = match self.condition {
            Some(Condition::Hot) => "When it is hot: ",
            Some(Condition::Wet) => "When it is wet: ",
            Some(Condition::Moved) => "When it shakes: ",
            Some(Condition::Always | Condition::Vibrating) | None => "",
        };
        let said = (!now.same_as(&self.sound)).then(|| format!("{when}{}", now.text));
        Ok((bench, said))
    }
}
