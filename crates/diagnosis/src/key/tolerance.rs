//! How far a reading may lie from the healthy value and still be normal.

use crate::limits::Limits;
use cimento_bench::instruments::{Function, LEAD_OHMS, Range, Reading};
use cimento_model::circuit::{Circuit, ConductorKind, Place};

/// Below this a voltage against battery negative is one of a ground, in volts.
const GROUND_V: f64 = 1.0;

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
    if let Some(Place::Conductor(n)) = place
        && healthy.function == Function::OHMS
        && circuit.conductors[n].ignition_lead.is_some()
    {
        return limits.of_lead(value) + 2.0 * LEAD_OHMS;
    }
    if healthy.function != Function::DC_VOLTS {
        return healthy.function.tolerance(limits.ohms_share, value);
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
    limit + healthy.function.accuracy(value, range)
}

/// The one place that lies between two nodes, if one does.
pub fn spanned(circuit: &Circuit, a: usize, b: usize) -> Option<Place> {
    let joins = |x: usize, y: usize| (x, y) == (a, b) || (y, x) == (a, b);
    let conductor = circuit.conductors.iter().position(|c| joins(c.a, c.b));
    let part = || {
        circuit.parts.iter().position(|p| {
            let contacts = p.kind.contacts(&p.params);
            contacts.iter().any(|&(x, y)| joins(p.nodes[x], p.nodes[y]))
        })
    };
    conductor
        .map(Place::Conductor)
        .or_else(|| part().map(Place::Part))
}
