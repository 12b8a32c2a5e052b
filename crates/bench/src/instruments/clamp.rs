//! Clamp ammeter: it touches nothing and reads the current of one wire.

use super::take::TakeError;
use crate::{Bench, Point};
use cimento_model::circuit::{Conductor, ConductorKind, Place};
use cimento_model::stamped::STRAYS;

/// Least and most amperes in a wire; the jaws are put on so that it reads positive.
///
/// # Errors
/// [`TakeError::NoWire`] for anything that is no wire.
pub(super) fn amps(bench: &Bench, id: &str) -> Result<(f64, f64), TakeError> {
    let wire = |c: &Conductor| c.kind == ConductorKind::Wire && c.id == id;
    let at = bench.circuit.conductors.iter().position(wire);
    let place = Place::Conductor(at.ok_or_else(|| TakeError::NoWire(id.to_owned()))?);
    let amps = |p: &Point| {
        let current = |name: &str| {
            let line = p.wiring.line(place, name);
            line.map_or(0.0, |l| p.op.current(l.element))
        };
        match p.wiring.line(place, "before") {
            Some(line) => p.op.current(line.element).abs(),
            // What leaves by a path beside it has come in at its first end.
            None => (current("through") + current(STRAYS[0])).abs(),
        }
    };
    Ok(bench.settled().range(amps).unwrap_or((0.0, 0.0)))
}
