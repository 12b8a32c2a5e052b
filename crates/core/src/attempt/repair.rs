//! Repairs: which a place allows, and which failure each cures.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::circuit::{Circuit, ConductorKind, Place};

/// What can be done to a place.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum RepairKind {
    /// Open the loom, cut out the damage, join.
    Join,
    Renew,
    Clean,
}

impl RepairKind {
    /// Minutes beyond reaching the place; common practice.
    pub fn minutes(self) -> f64 {
        match self {
            Self::Join => 12.0,
            Self::Renew => 8.0,
            Self::Clean => 6.0,
        }
    }

    /// As the bench writes it.
    pub fn text(self) -> &'static str {
        match self {
            Self::Join => "opened and joined",
            Self::Renew => "renewed",
            Self::Clean => "cleaned and tightened",
        }
    }
}

/// The repairs that a place allows.
pub fn repairs(circuit: &Circuit, place: Place) -> &'static [RepairKind] {
    match place {
        Place::Part(_) | Place::Pin(..) => &[RepairKind::Renew],
        Place::Conductor(n) => match circuit.conductors[n].kind {
            ConductorKind::Wire => &[RepairKind::Join, RepairKind::Renew],
            ConductorKind::Cavity => &[RepairKind::Clean, RepairKind::Renew],
            ConductorKind::Splice => &[RepairKind::Join],
            ConductorKind::Ground | ConductorKind::Mount => &[RepairKind::Clean],
        },
    }
}

/// Whether a repair cures a mode. A terminal that is pushed back or spread is not cured by cleaning.
pub fn cures(circuit: &Circuit, place: Place, mode: &str, how: RepairKind) -> bool {
    let pushed_back = matches!(place, Place::Conductor(n)
        if circuit.conductors[n].kind == ConductorKind::Cavity && mode == "open");
    repairs(circuit, place).contains(&how) && !(pushed_back && how == RepairKind::Clean)
}
