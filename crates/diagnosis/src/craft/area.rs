//! What becomes of a wire that is thinner than it was: tried on the machine with that wire in it.

use std::sync::Arc;

use cimento_bench::{Bench, BenchError, unprotected_wires};
use cimento_model::circuit::Circuit;
use cimento_model::state::OperatingState;
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
    let mut bench = Bench::new(&thinner, &[])?;
    for trial in OperatingState::trial(&thinner) {
        bench.hold_in(trial.state, WORKED_S)?;
        if bench.is_bare(conductor) {
            return Ok(Thin::Burns);
        }
    }
    let at = circuit.doc.wires.iter().position(|w| w.id == *id);
    let path = at.map(|n| format!("wires[{n}]"));
    let unprotected = |circuit: &Arc<Circuit>| -> Result<bool, BenchError> {
        let found = unprotected_wires(circuit)?;
        Ok(found.iter().any(|p| Some(&p.path) == path.as_ref()))
    };
    // What was not protected before is not the repair's.
    Ok(match unprotected(&thinner)? && !unprotected(circuit)? {
        true => Thin::Unprotected,
        false => Thin::Stands,
    })
}
