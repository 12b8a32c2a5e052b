//! From a student's steps to a mark sheet. One file a criterion; [`ALL`] is the registry.
//!
//! A sheet is a pure function of the lesson and the steps. Each criterion gives a share between 0
//! and 1 with its reasons; the lesson's weights turn shares into marks. The weights of criteria
//! that a lesson switches off, or that do not apply, go to the others in proportion.

mod approach;
mod at_once;
mod case;
mod claims;
mod clearing;
mod coach;
mod conclusion;
mod cost;
mod craft;
mod debrief;
mod efficiency;
mod expected;
mod insight;
mod papers;
mod plugs;
mod prediction;
mod repair;
mod safety;
mod scale;
mod schools;
mod sheet;
mod slips;
mod technique;
mod verdicts;
mod written;

pub use at_once::at_once;
pub use case::Case;
pub use claims::{Claim, ClaimKind};
pub use clearing::share as clearing_share;
pub use coach::{Corrected, corrected};
pub use cost::{Bill, Cost, Item};
pub use debrief::{Debrief, DebriefStep, PractiseOn, debrief};
pub use insight::{Counted, Earned, Insight, Worked, insight};
pub use safety::SafetyEvent;
pub use scale::{Grade, Rounding, Scale};
pub use schools::Elsewhere;
pub use sheet::{Detail, MarkLine, MarkSheet, Override, mark_sheet, sheet, weighed};
pub use slips::{Slip, SlipKind};

use crate::suspects::TELLS_NOTHING_BITS;
use cimento_bench::BenchError;

/// One criterion.
pub trait Criterion: Sync {
    /// The name as weights spell it.
    fn name(&self) -> &'static str;
    /// The name on the sheet.
    fn title(&self) -> &'static str;
    /// Whether it stands on the sheet of such an attempt at all.
    fn applies(&self, _case: &Case<'_>) -> bool {
        true
    }
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

/// What a measurement earned, and whether it counts.
struct Marked {
    detail: Detail,
    /// It told some suspects apart.
    told: bool,
    /// Why it counts for neither good nor ill.
    aside: Option<&'static str>,
}

/// Why a reading is set aside that could not tell any two suspects apart.
const TOLD_NOTHING: &str = "it told nothing of the fault";

impl Marked {
    /// What told nothing counts only where it was handled wrongly.
    fn new(detail: Detail, bits: Option<f64>, again: bool) -> Self {
        let told = bits.is_some_and(|bits| bits >= TELLS_NOTHING_BITS);
        let aside = match bits {
            None => Some("it came after the fault was named or the first repair"),
            Some(_) if again => Some("it had been taken before in the same state"),
            Some(_) if !told && detail.earned >= 1.0 => Some(TOLD_NOTHING),
            Some(_) => None,
        };
        Self {
            detail,
            told,
            aside,
        }
    }
}

impl Judgement {
    /// What the measurements earned on the mean, carried by what was learnt: trivial work earns trivial marks.
    fn carried(case: &Case<'_>, criterion: &str, all: impl Iterator<Item = Marked>) -> Self {
        let mut all: Vec<Marked> = all.collect();
        all.sort_by_key(|m| m.detail.step);
        // Where it was seen or tried what told something, the first reading is what confirms it.
        if all.iter().all(|m| m.aside.is_some())
            && let Some(first) = all.iter_mut().find(|m| m.aside == Some(TOLD_NOTHING))
        {
            first.aside = None;
        }
        let some_told = all.iter().any(|m| m.told && m.aside.is_none());
        let mut details = vec![learnt(case, criterion)];
        let (mut sum, mut count) = (0.0, 0.0);
        for Marked {
            mut detail,
            told,
            aside,
        } in all
        {
            if let Some(why) = aside {
                detail.text += &format!(" Not counted: {why}.");
                (detail.earned, detail.possible) = (0.0, 0.0);
            } else {
                // Half right of what tells nothing is no reason to take more of it.
                if some_told && !told {
                    detail.earned = 0.0;
                }
                sum += detail.earned;
                count += 1.0;
            }
            details.push(detail);
        }
        let mean = if count > 0.0 { sum / count } else { 0.0 };
        Self {
            share: Some(mean * case.learnt()),
            details,
        }
    }
}

/// The criteria that what was learnt carries, in the order of the sheet.
const CARRIED: [&str; 3] = [
    prediction::PREDICTION,
    technique::TECHNIQUE,
    verdicts::VERDICTS,
];

/// What carries the marks of a criterion, in words: in full on the first line that it carries, by how much on the others.
fn learnt(case: &Case<'_>, criterion: &str) -> Detail {
    let lesson = case.lesson;
    let stands = |name: &&str| {
        lesson.weights.of(name) > 0.0 && (**name != *prediction::PREDICTION || lesson.predictions)
    };
    if CARRIED.iter().find(|name| stands(name)) == Some(&criterion) {
        return all_learnt(case);
    }
    let share = case.learnt();
    let text = format!(
        "Carried by what was learnt, as above: {:.0} %.",
        100.0 * share
    );
    Detail::new(None, text, share, 1.0)
}

/// What carries the marks for readings, in words.
fn all_learnt(case: &Case<'_>) -> Detail {
    let share = case.learnt();
    let text = match (case.n0 <= case.n_ref, share >= 1.0) {
        (true, true) => {
            "The complaint alone leaves no more than can be told apart, and a reading confirmed it."
                .to_owned()
        }
        (true, false) => {
            "No reading was taken that shows the fault, so nothing here counts yet.".to_owned()
        }
        (false, whole) => format!(
            "What was learnt carries this: your own evidence left {} of {} suspects{}.",
            case.n,
            case.n0,
            match whole {
                true => ", all that the reference plan rules out".to_owned(),
                false => format!(
                    ", {:.0} % of the way that the reference plan goes",
                    100.0 * share
                ),
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
    &craft::Workmanship,
    &written::Written,
];
