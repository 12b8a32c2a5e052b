//! Technique: how the instruments were used, and what was claimed from them.

use super::case::{Case, is_on_the_posts};
use super::sheet::Detail;
use super::slips::{Slip, slips};
use super::{Criterion, Judgement, learnt};
use cimento_bench::BenchError;

/// Weights of slips that together leave nothing.
const WHOLE: f64 = 10.0;
/// Weight of slips that it makes up for to prove an instrument on a known point first.
const PROVED: f64 = 1.0;

pub(super) const TECHNIQUE: &str = "technique";

pub(super) struct Technique;

impl Criterion for Technique {
    fn name(&self) -> &'static str {
        TECHNIQUE
    }

    fn title(&self) -> &'static str {
        "Technique"
    }

    fn judge(&self, case: &Case<'_>) -> Result<Judgement, BenchError> {
        Ok(judged(case, slips(case)))
    }
}

/// What is left of technique after some slips.
pub(super) fn judged(case: &Case<'_>, slips: Vec<Slip>) -> Judgement {
    let mut details = vec![learnt(case, TECHNIQUE)];
    let mut weights = 0.0;
    let mut seen = Vec::new();
    for slip in slips {
        // The same slip again counts half.
        let again = seen.contains(&slip.kind);
        seen.push(slip.kind);
        let takes = slip.kind.weight() * if again { 0.5 } else { 1.0 };
        weights += takes;
        details.push(Detail::new(Some(slip.step), slip.text, -takes, 0.0));
    }
    if weights > 0.0
        && let Some(step) = proved_first(case)
    {
        let back = weights.min(PROVED);
        weights -= back;
        let text =
            "The instrument was proved on the battery first, which makes up for a small slip.";
        details.push(Detail::new(Some(step), text.to_owned(), back, 0.0));
    }
    let share = (1.0 - weights / WHOLE).max(0.0);
    Judgement {
        share: Some(share * case.learnt()),
        details,
    }
}

/// The step of the first reading, when it proved the instrument on the battery's posts.
fn proved_first(case: &Case<'_>) -> Option<usize> {
    let first = case.readings.first()?;
    is_on_the_posts(&case.lesson.circuit, first.reading).then_some(first.step)
}
