//! What a bot expected and thought of each reading, written into what it did.

use cimento_bench::instruments::{Looks, Reading};
use cimento_diagnosis::attempt::actions::{Judge, NameFault, TakeCapture, TakeReading};
use cimento_diagnosis::attempt::{Action, Session, Verdict};
use cimento_diagnosis::marking::Case;
use cimento_diagnosis::suspects::Reference;
use cimento_model::units::{Expectation, Quantity, Unit};
use fastrand::Rng;

use super::BotError;

/// What somebody writes down who does not know.
const ANYTHING: [&str; 5] = ["0", "12.6", "OL", "5.3", "250"];
const ANY_VERDICT: [Verdict; 3] = [Verdict::Normal, Verdict::TooLow, Verdict::TooHigh];

/// The same acts with an expectation before each reading and a verdict after it, each sensible with some chance.
pub(super) fn written(
    reference: &Reference,
    actions: &[Action],
    sense: f64,
    seed: u64,
) -> Result<Vec<Action>, BotError> {
    let session = Session::replay(&reference.lesson, actions)?;
    let case = Case::new(reference, session.steps())?;
    // Not the numbers by which it went about it.
    let mut dice = Rng::with_seed(!seed);
    let mut out: Vec<Action> = Vec::new();
    let mut at = vec![0];
    for (n, action) in actions.iter().enumerate() {
        let step = n + 1;
        let mut verdict = None;
        out.push(match action {
            Action::TakeReading(reading) => {
                let taken = case.readings.iter().find(|t| t.step == step);
                let sensible = dice.f64() < sense;
                let expected = taken.map(|t| match sensible {
                    true => as_written(&t.healthy),
                    false => anything(&mut dice, t.healthy.function.unit()),
                });
                verdict = taken.map(|t| match dice.f64() < sense {
                    true => usual(&t.right_verdicts()),
                    false => ANY_VERDICT[dice.usize(0..ANY_VERDICT.len())],
                });
                TakeReading {
                    expected,
                    ..reading.clone()
                }
                .into()
            }
            Action::Capture(capture) => {
                let screen = case.screen(step);
                let sensible = dice.f64() < sense;
                let traces = screen.map_or(&[][..], |s| &s.healthy.traces);
                let expected = match sensible {
                    true => traces.iter().map(|t| t.features.looks).collect(),
                    // Something has to be said of each channel.
                    false => vec![Looks::default(); capture.scope.channels.len()],
                };
                verdict = screen.map(|s| match sensible {
                    true if s.differs().is_empty() => Verdict::Normal,
                    true => Verdict::Abnormal,
                    false => Verdict::TellsNothing,
                });
                Action::Capture(TakeCapture {
                    expected,
                    ..capture.clone()
                })
            }
            Action::NameFault(naming) => {
                let because = naming.because.iter().map(|s| at[*s]).collect();
                NameFault {
                    because,
                    ..naming.clone()
                }
                .into()
            }
            other => other.clone(),
        });
        let step = out.len();
        at.push(step);
        if let Some(verdict) = verdict {
            out.push(Judge { step, verdict }.into());
        }
    }
    Ok(out)
}

/// Something that can be written down as an expectation in a unit.
fn anything(dice: &mut Rng, unit: Unit) -> String {
    let text = ANYTHING[dice.usize(0..ANYTHING.len())];
    match Expectation::parse(text, unit) {
        Ok(_) => text.to_owned(),
        Err(_) => nothing(unit),
    }
}

/// None of it, as a unit puts it: what any meter may be expected to show.
pub(super) fn nothing(unit: Unit) -> String {
    Quantity::Number(0.0).text(unit)
}

/// Of several right verdicts the one that most would give.
fn usual(right: &[Verdict]) -> Verdict {
    match right {
        [first, ..] if !right.contains(&Verdict::Normal) => *first,
        _ => Verdict::Normal,
    }
}

/// What a healthy machine reads, as one writes it down.
fn as_written(healthy: &Reading) -> String {
    let unit = healthy.function.unit();
    let over = healthy.shown.value == Quantity::OverLimit;
    match (unit, healthy.function.ranges().last()) {
        // More than the meter goes to: volts are never none.
        (Unit::Volt, Some(widest)) if over => format!("> {}", widest.0),
        _ => healthy.shown.value.text(unit),
    }
}
