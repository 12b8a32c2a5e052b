//! What predictions on paper earn: a line for the values and, where they are asked for, one for the reasons.

use cimento_model::units::Expectation;

use super::expected::{Expected, Measured};
use super::sheet::{Detail, MarkLine, MarkSheet, tenth};
use super::{Debrief, PractiseOn};
use crate::attempt::{Action, Step};
use crate::lesson::{Lesson, Task};
use crate::predict::{Reason, Truth};
use crate::suspects::Plan;

const VALUES: &str = "prediction";
const REASONS: &str = "reasons";

/// What was written for a reading, last.
struct Wrote<'a> {
    step: usize,
    expected: &'a str,
    reason: Option<Reason>,
}

/// Sheet and debrief of an attempt at a lesson whose readings are predicted; none for another.
pub fn on_paper(lesson: &Lesson, steps: &[Step]) -> Option<(MarkSheet, Debrief)> {
    let sheet = sheet(lesson, steps)?;
    let debrief = debrief(&sheet);
    Some((sheet, debrief))
}

fn sheet(lesson: &Lesson, steps: &[Step]) -> Option<MarkSheet> {
    let Task::Predict(predict) = &lesson.task else {
        return None;
    };
    let truths = &lesson.predicted;
    let wrote: Vec<Option<Wrote<'_>>> = (1..=truths.len()).map(|no| last(steps, no)).collect();
    let both = || truths.iter().zip(&wrote);
    let values = both()
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
    let mut lines = vec![line(VALUES, "Predictions", values, 100.0 - of_reasons)];
    if !reasons.is_empty() {
        lines.push(line(REASONS, "Reasons", reasons, of_reasons));
    }
    let total = tenth(lines.iter().map(|(marks, _)| marks).sum());
    Some(MarkSheet {
        total,
        computed: total,
        lines: lines.into_iter().map(|(_, line)| line).collect(),
        slips: Vec::new(),
        safety: Vec::new(),
        safety_takes: 0.0,
        fault: lesson.fault_in_words(),
        ambiguity: Vec::new(),
        elsewhere: Vec::new(),
    })
}

/// A line with its marks before they are rounded.
fn line(name: &str, title: &str, details: Vec<Detail>, out_of: f64) -> (f64, MarkLine) {
    let [earned, possible] = details.iter().fold([0.0, 0.0], |[e, p], d: &Detail| {
        [e + d.earned, p + d.possible]
    });
    let marks = out_of * earned / f64::max(possible, 1.0);
    let line = MarkLine {
        criterion: name.to_owned(),
        title: title.to_owned(),
        marks: tenth(marks),
        out_of: tenth(out_of),
        details,
        given: None,
    };
    (marks, line)
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

/// What to take from it: nothing was searched, so there is no way to go through again.
fn debrief(sheet: &MarkSheet) -> Debrief {
    let weak = |line: &&MarkLine| line.details.iter().any(|d| d.earned < d.possible);
    let practise = match sheet.lines.iter().rev().find(weak) {
        None => "All of it was right: find a fault by it now.",
        Some(line) if line.criterion == REASONS => {
            "Say why before you say how much: does current flow here, and what lies before and after the point?"
        }
        Some(_) => {
            "Go through the path from the battery: what is each part's share of the voltage?"
        }
    };
    Debrief {
        begin: Vec::new(),
        steps: Vec::new(),
        plan: Plan::default(),
        practise: practise.to_owned(),
        practise_on: PractiseOn::Practice,
        fault: sheet.fault.clone(),
    }
}
