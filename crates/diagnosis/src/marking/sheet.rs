//! The mark sheet.

use std::sync::Arc;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::case::Case;
use super::cost::{Cost, cost};
use super::safety::SafetyEvent;
use super::schools::{Elsewhere, elsewhere};
use super::slips::{Slip, slips};
use super::technique::TECHNIQUE;
use super::{ALL, Judgement};
use crate::attempt::Step;
use crate::lesson::{Lesson, Weights};
use crate::suspects::Reference;
use cimento_bench::BenchError;

/// Marks out of 100, with reasons.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct MarkSheet {
    /// Sum of the lines before they are rounded, less safety, not below 0, rounded to a tenth; with
    /// the instructor's marks where there are any.
    pub total: f64,
    /// The same without the instructor's marks.
    pub computed: f64,
    pub lines: Vec<MarkLine>,
    /// Slips of technique, recognised from the steps.
    pub slips: Vec<Slip>,
    /// What would have hurt someone, and the marks that it takes together.
    pub safety: Vec<SafetyEvent>,
    pub safety_takes: f64,
    /// The fault that was there, in words.
    pub fault: String,
    /// Places that no permitted reading tells from the fault's own.
    pub ambiguity: Vec<String>,
    /// What it costs the customer, where the lesson has prices; no mark hangs on it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cost: Option<Cost>,
    /// What it would be by the opposite of a school that the lesson asks for, where that differs.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub elsewhere: Vec<Elsewhere>,
}

/// One criterion on the sheet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct MarkLine {
    pub criterion: String,
    pub title: String,
    /// As computed.
    pub marks: f64,
    pub out_of: f64,
    pub details: Vec<Detail>,
    /// What the instructor gave instead.
    pub given: Option<Override>,
}

/// The instructor's own marks for a line; the computed ones stay beside them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Override {
    pub criterion: String,
    /// Absent for a comment alone.
    pub marks: Option<f64>,
    pub reason: String,
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

impl MarkSheet {
    /// Puts the instructor's marks beside the computed ones; the last word on a line counts.
    ///
    /// # Errors
    /// A sentence when a line does not exist, its marks do not fit, or the reason is missing.
    pub fn with_overrides(mut self, overrides: &[Override]) -> Result<Self, String> {
        for given in overrides {
            let line = self
                .lines
                .iter_mut()
                .find(|l| l.criterion == given.criterion);
            let line = line.ok_or_else(|| format!("there is no line {}", given.criterion))?;
            if given.reason.trim().is_empty() {
                return Err(format!("{}: give a reason", line.title));
            }
            if let Some(marks) = given.marks
                && !(0.0..=line.out_of).contains(&marks)
            {
                return Err(format!(
                    "{}: {marks} marks do not fit, expected 0 to {}",
                    line.title, line.out_of
                ));
            }
            line.given = Some(given.clone());
        }
        let changed: f64 = self
            .lines
            .iter()
            .filter_map(|l| Some(l.given.as_ref()?.marks? - l.marks))
            .sum();
        self.total = tenth((self.computed + changed).clamp(0.0, 100.0));
        Ok(self)
    }
}

/// Marks an attempt. The same lesson and steps always give the same sheet.
///
/// # Errors
/// [`BenchError`] when a circuit that has to be computed has no solution.
pub fn mark_sheet(lesson: &Arc<Lesson>, steps: &[Step]) -> Result<MarkSheet, BenchError> {
    sheet(&Case::new(&Reference::new(lesson)?, steps)?)
}

/// The sheet of an attempt that has been laid open.
///
/// # Errors
/// As [`mark_sheet`].
pub fn sheet(case: &Case<'_>) -> Result<MarkSheet, BenchError> {
    weighed(case, &case.lesson.weights)
}

/// The same by other weights than the lesson's own.
///
/// # Errors
/// As [`mark_sheet`].
pub fn weighed(case: &Case<'_>, weights: &Weights) -> Result<MarkSheet, BenchError> {
    let lesson = case.lesson;
    let mut judged: Vec<(&dyn super::Criterion, Judgement)> = Vec::new();
    let stands = |c: &&&dyn super::Criterion| weights.of(c.name()) > 0.0 && c.applies(case);
    for criterion in ALL.iter().filter(stands) {
        judged.push((*criterion, criterion.judge(case)?));
    }
    let applies = |j: &Judgement| j.share.is_some();
    let weight: f64 = judged
        .iter()
        .filter(|(_, j)| applies(j))
        .map(|(c, _)| weights.of(c.name()))
        .sum();
    let mut total = 0.0;
    let lines: Vec<MarkLine> = judged
        .into_iter()
        .map(|(criterion, j)| {
            let out_of = match j.share {
                Some(_) => 100.0 * weights.of(criterion.name()) / weight,
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
                given: None,
            }
        })
        .collect();
    let takes = case.events.iter().fold(0.0, |sum, e| sum + e.takes());
    let takes = takes.min(weights.safety());
    let circuit = &lesson.circuit;
    let before = total - takes;
    let technique = lines.iter().find(|l| l.criterion == TECHNIQUE);
    let elsewhere = technique.map_or(Vec::new(), |line| elsewhere(case, line, before));
    let total = tenth(before.max(0.0));
    Ok(MarkSheet {
        elsewhere,
        cost: cost(case),
        total,
        computed: total,
        lines,
        slips: slips(case),
        safety: case.events.clone(),
        safety_takes: tenth(takes),
        fault: lesson.fault_in_words(),
        ambiguity: case
            .group()
            .iter()
            .map(|p| circuit.place_id(*p).to_owned())
            .collect(),
    })
}

pub(super) fn tenth(marks: f64) -> f64 {
    (marks * 10.0).round() / 10.0
}
