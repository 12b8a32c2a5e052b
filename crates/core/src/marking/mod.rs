//! From a student's steps to a mark sheet. One file a criterion; [`ALL`] is the registry.
//!
//! A sheet is a pure function of the lesson and the steps. Each criterion gives a share between 0
//! and 1 with its reasons; the lesson's weights turn shares into marks. The weights of criteria
//! that a lesson switches off, or that do not apply, go to the others in proportion.

mod case;
mod conclusion;
mod prediction;
mod repair;
mod sheet;
mod slips;
mod verdicts;
mod weights;

pub use case::Case;
pub use sheet::{Detail, MarkLine, MarkSheet, mark_sheet};
pub use slips::{Slip, SlipKind};
pub use weights::Weights;

use crate::bench::BenchError;

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

/// Every criterion, in the order of the sheet.
pub static ALL: &[&dyn Criterion] = &[
    &prediction::Prediction,
    &verdicts::Verdicts,
    &conclusion::Conclusion,
    &repair::RepairAndProof,
];
