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
