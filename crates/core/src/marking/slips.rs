//! Slips of technique, recognised from the steps alone.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::case::Case;
use crate::bench::BenchError;
use crate::instruments::Function;

/// Voltage between the probes from which a resistance reading is false, in volts.
const LIVE_V: f64 = 0.02;

/// What kind of slip it was.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum SlipKind {
    /// Ohms or continuity with voltage between the probes.
    OhmsOnLive,
    /// A lead that touches nothing of the circuit.
    LooseLead,
}

/// A slip with its step.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Slip {
    pub step: usize,
    pub kind: SlipKind,
    pub text: String,
}

pub(super) fn slips(case: &Case<'_>) -> Result<Vec<Slip>, BenchError> {
    let mut out = Vec::new();
    for taken in &case.readings {
        let reading = taken.reading;
        let clamp = reading.function == Function::ClampAmps;
        if !clamp && (reading.red.is_none() || reading.black.is_none()) {
            out.push(Slip {
                step: taken.step,
                kind: SlipKind::LooseLead,
                text: "A lead touched nothing, so the display says nothing.".to_owned(),
            });
        } else if matches!(reading.function, Function::Ohms | Function::Continuity)
            && let Some(volts) = taken.live_v.filter(|v| v.abs() > LIVE_V)
        {
            out.push(Slip {
                step: taken.step,
                kind: SlipKind::OhmsOnLive,
                text: format!(
                    "Resistance was measured with {:.2} V between the probes: the figure is false.",
                    volts.abs()
                ),
            });
        }
    }
    Ok(out)
}
