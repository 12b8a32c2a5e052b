//! What predictions on paper earn: a line for the values and, where they are asked for, one for the reasons.

use cimento_model::units::Expectation;

use super::super::expected::{Expected, Measured};
use super::super::sheet::Detail;
use super::{Made, line};
use crate::attempt::{Action, Step};
use crate::lesson::Lesson;
use crate::predict::{Predict, Reason, Truth};

const VALUES: &str = "prediction";
const REASONS: &str = "reasons";

/// What was written for a reading, last.
struct Wrote<'a> {
    step: usize,
    expected: &'a str,
    reason: Option<Reason>,
}

pub(super) fn made(lesson: &Lesson, predict: &Predict, steps: &[Step]) -> Made {
    let truths = &lesson.predicted;
    let wrote: Vec<Option<Wrote<'_>>> = (1..=truths.len()).map(|no| last(steps, no)).collect();
    let both = || truths.iter().zip(&wrote);
    let values: Vec<Detail> = both()
        .map(|(truth, wrote)| value(lesson, truth, wrote.as_ref()))
        .collect();
    let asked = || both().filter(|(truth, _)| !truth.choice.is_empty());
    let reasons: Vec<Detail> = asked()
        .map(|(truth, wrote)| reason(truth, wrote.as_ref()))
        .collect();
    let of_reasons = match reasons.is_empty() {
        true => 0.0,
        false => predict.reason_marks,
    };
    let weak = |details: &[Detail]| details.iter().any(|d| d.earned < d.possible);
    let practise = match (weak(&values), weak(&reasons)) {
        (_, true) => {
            "Say why before you say how much: does current flow here, and what lies before and after the point?"
        }
        (true, false) => {
            "Go through the path from the battery: what is each part's share of the voltage?"
        }
        (false, false) => "All of it was right: find a fault by it now.",
    };
    let mut lines = vec![line(VALUES, "Predictions", values, 100.0 - of_reasons)];
    if !reasons.is_empty() {
        lines.push(line(REASONS, "Reasons", reasons, of_reasons));
    }
    Made { lines, practise }
}

fn last(steps: &[Step], no: usize) -> Option<Wrote<'_>> {
    steps.iter().rev().find_map(|step| match &step.action {
        Action::Predict(it) if it.no == no => Some(Wrote {
            step: step.no,
            expected: &it.expected,
            reason: it.reason,
        }),
        _ => None,
    })
}

/// "2. 12.4 V at X1.2 to BAT.- in off".
fn named(truth: &Truth) -> String {
    let asked = &truth.asked;
    let black = asked.black.as_deref();
    let to = black.map_or_else(String::new, |b| format!(" to {b}"));
    let what = asked.function.label();
    format!("{what} at {}{to}, {}", asked.red, truth.state)
}

fn value(lesson: &Lesson, truth: &Truth, wrote: Option<&Wrote<'_>>) -> Detail {
    let unit = truth.asked.function.unit();
    let should = truth.shown.value.text(unit);
    let about = named(truth);
    let Some(wrote) = wrote else {
        let text = format!("{about}: nothing was written; it reads {should}.");
        return Detail::new(None, text, 0.0, 1.0);
    };
    let measured = Measured {
        function: truth.asked.function,
        tolerance: truth.tolerance,
        supply_v: lesson.circuit.doc.system_v,
    };
    // What is no expectation was refused when it was written.
    let judged = Expectation::parse(wrote.expected, unit)
        .map_or(Expected::Wrong, |e| measured.judge(e, truth.shown.value));
    let why = match judged {
        Expected::Alike => ": the right kind, not the value",
        Expected::TrueOfMuch => ": true, but it would be true of much else",
        Expected::Right | Expected::Wrong => "",
    };
    let text = format!(
        "{about}: expected {}; it reads {should}{why}.",
        wrote.expected.trim()
    );
    Detail::new(Some(wrote.step), text, judged.earned(), 1.0)
}

fn reason(truth: &Truth, wrote: Option<&Wrote<'_>>) -> Detail {
    let about = named(truth);
    let so: Vec<&str> = truth.holds.iter().map(|r| r.text()).collect();
    let so = so.join("; ");
    match wrote.and_then(|w| Some((w.step, w.reason?))) {
        None => Detail::new(
            None,
            format!("{about}: no reason was given; {so}."),
            0.0,
            1.0,
        ),
        Some((step, reason)) if truth.holds.contains(&reason) => {
            Detail::new(Some(step), format!("{about}: {}.", reason.text()), 1.0, 1.0)
        }
        Some((step, reason)) => {
            let text = format!("{about}: “{}” does not hold; {so}.", reason.text());
            Detail::new(Some(step), text, 0.0, 1.0)
        }
    }
}
