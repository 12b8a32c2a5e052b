//! The mark sheet.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::case::Case;
use super::slips::{Slip, slips};
use super::{ALL, Judgement};
use crate::attempt::{Lesson, Step};
use crate::bench::BenchError;

/// Marks out of 100, with reasons.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct MarkSheet {
    /// Sum of the lines before they are rounded, rounded to a tenth.
    pub total: f64,
    pub lines: Vec<MarkLine>,
    /// Slips of technique, recognised from the steps.
    pub slips: Vec<Slip>,
    /// The fault that was there, in words.
    pub fault: String,
    /// Places that no permitted reading tells from the fault's own.
    pub ambiguity: Vec<String>,
}

/// One criterion on the sheet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct MarkLine {
    pub criterion: String,
    pub title: String,
    pub marks: f64,
    pub out_of: f64,
    pub details: Vec<Detail>,
}

/// A reason on the sheet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Detail {
    /// The step it comes from; absent for what was not done.
    pub step: Option<usize>,
    pub text: String,
    /// What it earned, as a share of what it could earn.
    pub earned: f64,
    pub possible: f64,
}

impl Detail {
    pub(super) fn new(step: Option<usize>, text: String, earned: f64, possible: f64) -> Self {
        Self {
            step,
            text,
            earned,
            possible,
        }
    }
}

/// Marks an attempt. The same lesson and steps always give the same sheet.
///
/// # Errors
/// [`BenchError`] when a circuit that has to be computed has no solution.
pub fn mark_sheet(lesson: &Lesson, steps: &[Step]) -> Result<MarkSheet, BenchError> {
    let case = Case::new(lesson, steps)?;
    let mut judged: Vec<(&dyn super::Criterion, Judgement)> = Vec::new();
    for criterion in ALL.iter().filter(|c| lesson.weights.of(c.name()) > 0.0) {
        judged.push((*criterion, criterion.judge(&case)?));
    }
    let applies = |j: &Judgement| j.share.is_some();
    let weight: f64 = judged
        .iter()
        .filter(|(_, j)| applies(j))
        .map(|(c, _)| lesson.weights.of(c.name()))
        .sum();
    let mut total = 0.0;
    let lines: Vec<MarkLine> = judged
        .into_iter()
        .map(|(criterion, j)| {
            let out_of = match j.share {
                Some(_) => 100.0 * lesson.weights.of(criterion.name()) / weight,
                None => 0.0,
            };
            let marks = j.share.unwrap_or(0.0) * out_of;
            total += marks;
            MarkLine {
                criterion: criterion.name().to_owned(),
                title: criterion.title().to_owned(),
                marks: tenth(marks),
                out_of: tenth(out_of),
                details: j.details,
            }
        })
        .collect();
    let circuit = &lesson.circuit;
    let faults: Vec<String> = lesson.faults.iter().map(|f| f.about(circuit)).collect();
    Ok(MarkSheet {
        total: tenth(total),
        lines,
        slips: slips(&case)?,
        fault: faults.join("; "),
        ambiguity: case
            .group
            .iter()
            .map(|p| circuit.place_id(*p).to_owned())
            .collect(),
    })
}

fn tenth(marks: f64) -> f64 {
    (marks * 10.0).round() / 10.0
}
