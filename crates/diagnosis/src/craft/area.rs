//! What becomes of a wire that is thinner than it was: tried on the machine with that wire in it.

use std::sync::Arc;

use cimento_bench::{BenchError, burns_in_use, is_unprotected};
use cimento_model::circuit::Circuit;
use cimento_parts::build_circuit;

/// What becomes of it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Thin {
    /// What it carries in some state takes its insulation off.
    Burns,
    /// A short behind it would, before its fuse opens.
    Unprotected,
    /// It carries what it has to.
    Stands,
}

/// A machine is worked for so long in a state, in seconds: a wire is warm by then.
const WORKED_S: f64 = 1200.0;

/// What becomes of a wire, by the position of its conductor, at another area.
///
/// # Errors
/// [`BenchError`] when the machine has no solution with it.
pub(super) fn thin(
    circuit: &Arc<Circuit>,
    conductor: usize,
    area_mm2: f64,
) -> Result<Thin, BenchError> {
    let id = &circuit.conductors[conductor].id;
    let mut doc = circuit.doc.clone();
    for wire in doc.wires.iter_mut().filter(|w| w.id == *id) {
        wire.area_mm2 = Some(area_mm2);
        wire.awg = None;
    }
    // What is only less than it was does not make a circuit unreadable.
    let Ok(thinner) = build_circuit(doc) else {
        return Ok(Thin::Stands);
    };
    if burns_in_use(&thinner, id, WORKED_S)? {
        return Ok(Thin::Burns);
    }
    // What was not protected before is not the repair's.
    match is_unprotected(&thinner, id)? && !is_unprotected(circuit, id)? {
        true => Ok(Thin::Unprotected),
        false => Ok(Thin::Stands),
    }
}
