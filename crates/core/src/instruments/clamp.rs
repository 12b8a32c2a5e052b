//! Clamp ammeter: it touches nothing and reads the current of one wire.

use super::take::TakeError;
use crate::bench::{Bench, Point};
use crate::circuit::{Conductor, ConductorKind, Place};

/// Least and most amperes in a wire; the jaws are put on so that it reads positive.
///
/// # Errors
/// [`TakeError::NoWire`] for anything that is no wire.
pub(super) fn amps(bench: &Bench<'_>, id: &str) -> Result<(f64, f64), TakeError> {
    let wire = |c: &Conductor| c.kind == ConductorKind::Wire && c.id == id;
    let at = bench.circuit.conductors.iter().position(wire);
    let place = Place::Conductor(at.ok_or_else(|| TakeError::NoWire(id.to_owned()))?);
    let amps = |p: &Point| {
        let line = p
            .wiring
            .line(place, "before")
            .or_else(|| p.wiring.line(place, "through"));
        line.map_or(0.0, |l| p.op.current(l.element).abs())
    };
    Ok(bench.settled().range(amps).unwrap_or((0.0, 0.0)))
}
