//! From a student's steps to a mark sheet. One file a criterion; [`ALL`] is the registry.
//!
//! A sheet is a pure function of the lesson and the steps. Each criterion gives a share between 0
//! and 1 with its reasons; the lesson's weights turn shares into marks. The weights of criteria
//! that a lesson switches off, or that do not apply, go to the others in proportion.

mod approach;
mod case;
mod claims;
mod clearing;
mod conclusion;
mod debrief;
mod efficiency;
mod prediction;
mod repair;
mod safety;
mod sheet;
mod slips;
mod technique;
mod verdicts;
mod written;

pub use case::Case;
pub use claims::{Claim, ClaimKind};
pub use clearing::share as clearing_share;
pub use debrief::{Debrief, DebriefStep, debrief};
pub use safety::SafetyEvent;
pub use sheet::{Detail, MarkLine, MarkSheet, Override, mark_sheet, sheet};
pub use slips::{Slip, SlipKind};

use case::TOLD_NOTHING;
use cimento_bench::BenchError;

/// One criterion.
pub trait Criterion: Sync {
    /// The name as weights spell it.
    fn name(&self) -> &'static str;
    /// The name on the sheet.
    fn title(&self) -> &'static str;
    /// Judges an attempt.
    ///
    /// # Errors
    /// [`BenchError`] when a circuit that has to be computed has no solution.
    fn judge(&self, case: &Case<'_>) -> Result<Judgement, BenchError>;
}

/// What a criterion found.
pub struct Judgement {
    /// 0 to 1; `None` when the criterion does not apply to this lesson.
    pub share: Option<f64>,
    pub details: Vec<Detail>,
}

impl Judgement {
    /// What the details earn together out of a whole, not below 0.
    fn of(details: Vec<Detail>, whole: f64) -> Self {
        let sum: f64 = details.iter().map(|d| d.earned).sum();
        Self {
            share: Some((sum / whole).clamp(0.0, 1.0)),
            details,
        }
    }
}

impl Judgement {
    /// What the readings earned on the mean, carried by what was learnt from them: trivial work earns trivial marks.
    /// Each comes with why it is set aside, if it is.
    fn carried(
        case: &Case<'_>,
        all: impl Iterator<Item = (Detail, Option<&'static str>)>,
        whole: f64,
    ) -> Self {
        let mut all: Vec<(Detail, Option<&'static str>)> = all.collect();
        all.sort_by_key(|(detail, _)| detail.step);
        // Where what told something was seen or tried, the first reading is what confirms it.
        if all.iter().all(|(_, aside)| aside.is_some())
            && let Some((_, aside)) = all.iter_mut().find(|(_, aside)| *aside == Some(TOLD_NOTHING))
        {
            *aside = None;
        }
        let mut details = Vec::new();
        let (mut sum, mut count) = (0.0, 0.0);
        for (mut detail, aside) in all {
            match aside {
                Some(why) => {
                    detail.text += &format!(" Not counted: {why}.");
                    (detail.earned, detail.possible) = (0.0, 0.0);
                }
                None => {
                    sum += detail.earned;
                    count += whole;
                }
            }
            details.push(detail);
        }
        let mean = if count > 0.0 { sum / count } else { 0.0 };
        details.insert(0, learnt(case));
        Self {
            share: Some(mean * case.learnt()),
            details,
        }
    }
}

/// What carries the marks for readings, in words.
fn learnt(case: &Case<'_>) -> Detail {
    let share = case.learnt();
    let text = match (case.n0 <= case.n_ref, share >= 1.0) {
        (true, true) => "The complaint alone leaves no more than can be told apart, and a reading confirmed it.".to_owned(),
        (true, false) => "No reading was taken that shows the fault, so nothing here counts yet.".to_owned(),
        (false, whole) => format!(
            "What was learnt carries this: your own evidence left {} of {} suspects{}.",
            case.n,
            case.n0,
            match whole {
                true => ", all that the reference plan rules out".to_owned(),
                false => format!(", {:.0} % of the way that the reference plan goes", 100.0 * share),
            }
        ),
    };
    Detail::new(None, text, share, 1.0)
}

/// Every criterion, in the order of the sheet.
pub static ALL: &[&dyn Criterion] = &[
    &approach::Approach,
    &prediction::Prediction,
    &technique::Technique,
    &verdicts::Verdicts,
    &clearing::Clearing,
    &efficiency::Efficiency,
    &conclusion::Conclusion,
    &repair::RepairAndProof,
    &written::Written,
];
