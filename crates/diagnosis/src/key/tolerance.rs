//! How far a reading may lie from the healthy value and still be normal.

use crate::lesson::Limits;
use cimento_bench::instruments::{Function, LEAD_OHMS, Range, Reading, accuracy};
use cimento_model::circuit::{Circuit, ConductorKind, Place};

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
