//! Safety: what would have hurt someone or burnt something on a real machine. Marks are taken off,
//! each event is named, and a serious one is flagged.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::attempt::{Danger, Step};
use cimento_bench::Bench;

/// Marks that a serious and a minor event take.
const SERIOUS: f64 = 5.0;
const MINOR: f64 = 2.0;

/// Something dangerous.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SafetyEvent {
    pub step: usize,
    pub serious: bool,
    pub text: String,
}

impl SafetyEvent {
    /// Marks that it takes.
    pub fn takes(&self) -> f64 {
        if self.serious { SERIOUS } else { MINOR }
    }
}

/// The events of a step; the bench stands as it does after it.
pub(super) fn events(bench: &Bench, step: &Step) -> Vec<SafetyEvent> {
    let dangers = step.action.kind().dangers(bench, &step.answer).into_iter();
    let event = |danger: Danger| SafetyEvent {
        step: step.no,
        serious: danger.serious,
        text: danger.text,
    };
    dangers.map(event).collect()
}
