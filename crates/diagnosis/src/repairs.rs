//! Repairs: which a place allows, and which failure each cures.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use cimento_model::circuit::{Circuit, ConductorKind, Place};
use cimento_model::faults::ModeSpec;

/// What can be done to a place.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum RepairKind {
    /// Open the loom, cut out the damage, join.
    Join,
    Renew,
    Clean,
    /// Set a gap, a tension or a position right.
    Adjust,
    /// Give it to who mends such things, with the readings that prove that it is at fault.
    SendOut,
}

impl RepairKind {
    /// Minutes beyond reaching the place; common practice.
    pub fn minutes(self) -> f64 {
        match self {
            Self::Join => 12.0,
            Self::Renew => 8.0,
            Self::Clean => 6.0,
            Self::Adjust => 4.0,
            Self::SendOut => 10.0,
        }
    }

    /// As one is asked whether to do it.
    pub fn to_do(self) -> &'static str {
        match self {
            Self::Join => "splice the wire",
            Self::Renew => "renew",
            Self::Clean => "clean and tighten",
            Self::Adjust => "set right",
            Self::SendOut => "send it out, with the proof",
        }
    }

    /// As the bench writes it.
    pub fn text(self) -> &'static str {
        match self {
            Self::Join => "opened and joined",
            Self::Renew => "renewed",
            Self::Clean => "cleaned and tightened",
            Self::Adjust => "set right",
            Self::SendOut => "sent out, with the readings that prove it",
        }
    }
}

/// The repairs that a place allows.
pub fn repairs(circuit: &Circuit, place: Place) -> &'static [RepairKind] {
    match place {
        // Others mend engines.
        Place::Part(n) if circuit.parts[n].kind.mechanics().is_some() => &[RepairKind::SendOut],
        Place::Part(n) if circuit.parts[n].kind.module().is_some() => {
            &[RepairKind::Renew, RepairKind::SendOut]
        }
        Place::Part(n) => {
            let modes = circuit.parts[n].kind.modes();
            match modes.iter().any(|m| m.adjustable) {
                true => &[RepairKind::Renew, RepairKind::Adjust],
                false => &[RepairKind::Renew],
            }
        }
        Place::Pin(..) => &[RepairKind::Renew],
        Place::Conductor(n) => match circuit.conductors[n].kind {
            ConductorKind::Wire if circuit.conductors[n].ignition_lead.is_some() => {
                &[RepairKind::Renew]
            }
            ConductorKind::Wire => &[RepairKind::Join, RepairKind::Renew],
            ConductorKind::Cavity => &[RepairKind::Clean, RepairKind::Renew],
            ConductorKind::Splice => &[RepairKind::Join],
            ConductorKind::Ground | ConductorKind::Mount => &[RepairKind::Clean],
        },
    }
}

/// Whether a repair cures a mode. A terminal that is pushed back or spread, or that its conductor hardly
/// reaches, is not cured by cleaning, and what is broken or worn out is not by setting it right.
pub fn cures(circuit: &Circuit, place: Place, mode: &ModeSpec, how: RepairKind) -> bool {
    let fits = match (how, place, mode.conductor) {
        (RepairKind::Clean, Place::Conductor(n), Some(of)) => {
            (of.cleaned)(circuit.conductors[n].kind)
        }
        (RepairKind::Adjust, ..) => mode.adjustable,
        _ => true,
    };
    repairs(circuit, place).contains(&how) && fits
}
