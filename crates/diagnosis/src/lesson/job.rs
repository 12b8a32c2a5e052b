//! What a machine comes in for.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a machine comes in for.
#[derive(
    Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema,
)]
#[serde(rename_all = "snake_case")]
pub enum Job {
    /// Something is noticed from the seat.
    #[default]
    Complaint,
    /// A check: measurements show what is out of order, whether or not it is noticed from the seat.
    CheckUp,
    /// A check of a machine that may be sound: "no fault found" is an answer.
    CheckUpOrSound,
}

impl Job {
    /// The machine is to be measured, whether or not anything is noticed.
    pub fn is_check_up(self) -> bool {
        self != Self::Complaint
    }

    /// The machine may be sound.
    pub fn may_be_sound(self) -> bool {
        self == Self::CheckUpOrSound
    }

    pub(super) fn is_default(&self) -> bool {
        *self == Self::Complaint
    }
}
