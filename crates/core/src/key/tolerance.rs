//! How far a reading may lie from the healthy value and still be normal.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::circuit::{Circuit, ConductorKind, Place};
use crate::instruments::{Function, LEAD_OHMS, Range, Reading, accuracy};

/// Limits of a lesson, in volts and shares. The defaults are common practice.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(default, deny_unknown_fields)]
pub struct Limits {
    /// Along a wire or cable under load.
    pub wire_v: f64,
    /// Across a switch or relay contact.
    pub contact_v: f64,
    /// Along a ground.
    pub ground_v: f64,
    /// At a connection.
    pub connection_v: f64,
    /// Of a resistance, as a share.
    pub ohms_share: f64,
    /// The most that any high-voltage lead may have, in ohms. Without it the limit goes by its length.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub lead_ohms: Option<f64>,
}

impl Default for Limits {
    fn default() -> Self {
        Self {
            wire_v: 0.2,
            contact_v: 0.3,
            ground_v: 0.1,
            connection_v: 0.05,
            ohms_share: 0.1,
            lead_ohms: None,
        }
    }
}

impl Limits {
    /// Checks the numbers.
    ///
    /// # Errors
    /// A sentence that says what was expected.
    pub fn check(&self) -> Result<(), String> {
        let volts = [
            self.wire_v,
            self.contact_v,
            self.ground_v,
            self.connection_v,
        ];
        if volts.iter().any(|v| !(*v > 0.0 && *v <= MOST_V)) {
            return Err(format!("expected limits above 0 and up to {MOST_V} V"));
        }
        if !(self.ohms_share > 0.0 && self.ohms_share <= 1.0) {
            return Err("expected a share of the resistance above 0 and up to 1".to_owned());
        }
        if self
            .lead_ohms
            .is_some_and(|ohms| !(ohms > 0.0 && ohms <= MOST_LEAD_OHMS))
        {
            return Err(format!(
                "expected a limit of a lead above 0 and up to {MOST_LEAD_OHMS} Ω"
            ));
        }
        Ok(())
    }

    /// Tolerance of the resistance of a high-voltage lead that should have so many ohms.
    fn of_lead(&self, ohms: f64) -> f64 {
        match self.lead_ohms {
            Some(most) => (most - ohms).max(0.0),
            None => LEAD_SHARE * ohms,
        }
    }
}

/// More than this is no limit of a drop, in volts.
const MOST_V: f64 = 5.0;
/// No lead has more, in ohms.
const MOST_LEAD_OHMS: f64 = 1e5;
/// How far from the middle of its range a lead of its length may lie, as a share; common practice:
/// 10 kΩ to 16 kΩ per metre.
const LEAD_SHARE: f64 = 3.0 / 13.0;
/// Below this a voltage against battery negative is one of a ground, in volts.
const GROUND_V: f64 = 1.0;
/// So far off the pointer an engine's timing is left as it is, in degrees; common practice.
const TIMING_DEG: f64 = 3.0;
/// Cylinders whose drops differ by less than this share do their work alike; common practice.
const DROP_SHARE: f64 = 0.4;

/// Tolerance of a reading in volts or ohms: the limit of what is measured, and the meter's own.
/// `place` is what the leads span, if they span one place.
pub fn tolerance(
    circuit: &Circuit,
    limits: &Limits,
    healthy: &Reading,
    place: Option<Place>,
) -> f64 {
    let value = healthy.shown.value.number();
    if !value.is_finite() {
        return 0.0;
    }
    match healthy.function {
        // Off, dim and bright are told apart.
        Function::TestLamp => return 0.4,
        Function::ClampAmps => return limits.ohms_share * value.abs() + 1.0,
        Function::TimingLamp => return TIMING_DEG,
        Function::CylinderDrop => return DROP_SHARE * value,
        _ => {}
    }
    if let (Function::Ohms, Some(Place::Conductor(n))) = (healthy.function, place)
        && circuit.conductors[n].lead.is_some()
    {
        return limits.of_lead(value) + 2.0 * LEAD_OHMS;
    }
    if healthy.function != Function::DcVolts {
        return limits.ohms_share * value.abs() + 2.0 * LEAD_OHMS;
    }
    let limit = match place {
        Some(Place::Conductor(n)) => match circuit.conductors[n].kind {
            ConductorKind::Wire => limits.wire_v,
            ConductorKind::Ground | ConductorKind::Mount => limits.ground_v,
            ConductorKind::Cavity | ConductorKind::Splice => limits.connection_v,
        },
        Some(Place::Part(_) | Place::Pin(..)) => limits.contact_v,
        None if value.abs() < GROUND_V => limits.ground_v,
        None => limits.wire_v,
    };
    let range = if value.abs() < 6.0 {
        Range(6.0)
    } else {
        Range(60.0)
    };
    limit + accuracy(healthy.function, value, range)
}
