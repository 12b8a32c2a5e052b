//! Marks that need no search through suspects: of what is predicted on paper, and of test sheets.

mod built;
mod identified;
mod predicted;
mod rows;

use super::sheet::{Detail, MarkLine, MarkSheet, tenth};
use super::{Debrief, PractiseOn};
use crate::attempt::Step;
use crate::lesson::{Lesson, Task};
use crate::suspects::Plan;
use cimento_bench::BenchError;

/// What an attempt is worth whose lesson does not ask for a fault, and what to take from it.
struct Made {
    /// Lines with their marks before they are rounded.
    lines: Vec<(f64, MarkLine)>,
    practise: &'static str,
}

/// Sheet and debrief of an attempt at a lesson that does not look for a fault; none for another.
///
/// # Errors
/// [`BenchError`] when the machine has no solution in a state that was measured in.
pub fn at_once(
    lesson: &Lesson,
    steps: &[Step],
) -> Result<Option<(MarkSheet, Debrief)>, BenchError> {
    let made = match (&lesson.task, &lesson.test_sheet) {
        (Task::Predict(predict), _) => predicted::made(lesson, predict, steps),
        (Task::Build(asked), _) => match &lesson.build {
            Some(build) => built::made(lesson, asked, build, steps)?,
            None => return Ok(None),
        },
        (_, Some(sheet)) => match &sheet.leads {
            Some(leads) => identified::made(lesson, sheet, leads, steps)?,
            None => rows::made(sheet, steps),
        },
        _ => return Ok(None),
    };
    let total = tenth(made.lines.iter().map(|(marks, _)| marks).sum());
    let sheet = MarkSheet {
        total,
        computed: total,
        lines: made.lines.into_iter().map(|(_, line)| line).collect(),
        slips: Vec::new(),
        safety: Vec::new(),
        safety_takes: 0.0,
        fault: lesson.fault_in_words(),
        ambiguity: Vec::new(),
        elsewhere: Vec::new(),
        cost: None,
    };
    // Nothing was searched, so there is no way to go through again.
    let debrief = Debrief {
        begin: Vec::new(),
        steps: Vec::new(),
        plan: Plan::default(),
        practise: made.practise.to_owned(),
        practise_on: PractiseOn::Practice,
        fault: sheet.fault.clone(),
        misleading: Vec::new(),
    };
    Ok(Some((sheet, debrief)))
}

/// A line with its marks before they are rounded: what its details earn of what they could.
fn line(name: &str, title: &str, details: Vec<Detail>, out_of: f64) -> (f64, MarkLine) {
    let [earned, possible] = details.iter().fold([0.0, 0.0], |[e, p], d: &Detail| {
        [e + d.earned, p + d.possible]
    });
    let marks = out_of * earned / f64::max(possible, f64::MIN_POSITIVE);
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
