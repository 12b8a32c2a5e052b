//! What a lesson allows beside measuring, and what it shows.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A kind of thing that is done to the machine, and that a lesson may forbid.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Means {
    /// Unplugging, pulling fuses and relays, taking the battery off.
    TakingApart,
    /// Leads from one point to another.
    Leads,
    JumpPack,
    /// Moving a place or a harness.
    Moving,
    /// Warming, cooling, wetting, drying.
    Climate,
    LookingClosely,
    /// Exchanging two parts that are alike.
    Swapping,
    /// Fitting a part that is known to be good.
    KnownGood,
    /// A needle through the insulation of a wire.
    Piercing,
}

impl Means {
    pub const ALL: [Self; 9] = [
        Self::TakingApart,
        Self::Leads,
        Self::JumpPack,
        Self::Moving,
        Self::Climate,
        Self::LookingClosely,
        Self::Swapping,
        Self::KnownGood,
        Self::Piercing,
    ];

    /// "taking things apart".
    pub fn text(self) -> &'static str {
        match self {
            Self::TakingApart => "taking things apart",
            Self::Leads => "joining points with a lead",
            Self::JumpPack => "a jump pack",
            Self::Moving => "moving harnesses and connectors",
            Self::Climate => "warming, cooling and wetting",
            Self::LookingClosely => "looking closely at a place",
            Self::Swapping => "exchanging parts",
            Self::KnownGood => "fitting known-good parts",
            Self::Piercing => "piercing insulation",
        }
    }
}

/// What the student has at hand of the machine's papers.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(default, deny_unknown_fields)]
pub struct Papers {
    /// The circuit diagram.
    pub diagram: bool,
    /// Views of the connectors from the front.
    pub connectors: bool,
    /// What a healthy machine reads at its test points.
    pub healthy: bool,
}

impl Default for Papers {
    fn default() -> Self {
        Self {
            diagram: true,
            connectors: true,
            healthy: false,
        }
    }
}
