//! Efficiency: what the chosen measurements were worth beside the best then to be had.

use super::case::{Case, Chosen};
use super::sheet::Detail;
use super::{Criterion, Judgement};
use cimento_bench::BenchError;

/// From this share on the marks are whole.
const ENOUGH: f64 = 0.8;
const WHOLE: f64 = 10.0;
/// From this share of the best worth per minute on there was nothing better.
const BEST: f64 = 0.99;

/// Who names nothing has learnt quickly, and is none the nearer: so much of it counts.
const UNUSED: f64 = 0.5;

pub(super) struct Efficiency;

impl Criterion for Efficiency {
    fn name(&self) -> &'static str {
        "efficiency"
    }

    fn title(&self) -> &'static str {
        "Efficiency"
    }

    fn judge(&self, case: &Case<'_>) -> Result<Judgement, BenchError> {
        let plan = &case.reference.plan;
        if plan.bits <= 0.0 {
            let text = "The complaint alone leaves no more than can be told apart: no reading could tell more.";
            return Ok(Judgement {
                share: None,
                details: vec![Detail::new(None, text.to_owned(), 0.0, 0.0)],
            });
        }
        let nothing = |text: &str| {
            Ok(Judgement {
                share: Some(0.0),
                details: vec![Detail::new(None, text.to_owned(), 0.0, WHOLE)],
            })
        };
        let mut chosen: Vec<_> = case.choices().collect();
        chosen.sort_by_key(|(step, _)| *step);
        let obtained = case.towards(case.n_ref);
        // What was learnt without a measurement was learnt from what is seen for nothing, and has to be put to use.
        let mut named = case.named.iter().filter_map(|n| n.place);
        let right = match case.no_fault {
            Some(_) => case.lesson.faults.is_empty(),
            None => named.any(|p| case.is_guilty(p)),
        };
        if chosen.is_empty() && (obtained <= 0.0 || !right) {
            return nothing("Nothing was measured or tried before the fault was named.");
        }
        let (mut spent, mut worth) = (0.0, 0.0);
        for (_, c) in &chosen {
            if let Some(share) = c.share() {
                spent += c.minutes;
                worth += share * c.minutes;
            }
        }
        let mean = if spent > 0.0 { worth / spent } else { 1.0 };
        let mut share = (mean * obtained / ENOUGH).min(1.0);
        if !case.is_concluded() {
            share *= UNUSED;
        }
        let mut details: Vec<Detail> = chosen
            .iter()
            .map(|(step, c)| Detail::new(Some(*step), told(case, *step, c), 0.0, 0.0))
            .collect();
        let text = format!(
            "{:.0} % of the best worth per minute, with {:.0} % of what the reference plan learns; {:.0} % is whole marks.",
            100.0 * mean,
            100.0 * obtained,
            100.0 * ENOUGH
        );
        details.insert(0, Detail::new(None, text, WHOLE * share, WHOLE));
        if !case.is_concluded() {
            let text = "No fault was named: what was learnt so quickly was put to no use, and counts half.";
            details.insert(1, Detail::new(None, text.to_owned(), 0.0, 0.0));
        }
        Ok(Judgement {
            share: Some(share),
            details,
        })
    }
}

fn suspects(count: usize) -> String {
    let s = if count == 1 { "" } else { "s" };
    format!("{count} suspect{s}")
}

/// What a step made of the suspects, and what would have told more for its minutes.
fn told(case: &Case<'_>, step: usize, chosen: &Chosen) -> String {
    let left = |at: usize| case.track.get(at).map(|t| t.left.len());
    let at = case.track.iter().position(|t| t.step == step);
    let after = at.and_then(left);
    let before = at.and_then(|at| left(at.checked_sub(1)?));
    let before = before.unwrap_or(case.n0);
    let made = match after {
        Some(after) if after < before => format!("{} became {after}", suspects(before)),
        _ => format!("It ruled out none of {}", suspects(before)),
    };
    let better = match (chosen.best, chosen.share()) {
        (None, _) => "nothing told more".to_owned(),
        (_, Some(share)) if share > BEST => "nothing told more for its minutes".to_owned(),
        (Some(best), _) => {
            let best = case.reference.table.proposal(best);
            let leaves = (before as f64 / 2.0_f64.powf(best.bits)).round().max(1.0);
            format!(
                "the best then was {}, which leaves about {leaves} of them in {:.1} min",
                best.sentence(),
                best.minutes
            )
        }
    };
    format!("{made} in {:.1} min; {better}.", chosen.minutes)
}
