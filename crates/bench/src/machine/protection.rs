//! Which wires their fuse does not protect: with the far end of each on metal, does a fuse open before its insulation
//! runs off?

use std::sync::Arc;

use cimento_model::circuit::{Circuit, Place, Problem};
use cimento_model::faults::{Fault, read_short_form};
use cimento_model::state::{Engine, OperatingState};

use super::{Bench, BenchError};

/// A dead short, and a light one that burns nothing, in ohms.
const DEAD_OHMS: f64 = 0.01;
const LIGHT_OHMS: f64 = 2.0;
/// A short is left to itself for so long, in seconds: by then a fuse that protects has opened.
const LEFT_S: f64 = 600.0;
/// A fuse that carries more than this share of it is in its way.
const MOST_OF_IT: f64 = 0.5;
/// Of a circuit with more wires it is not asked: each is tried in each state.
const MOST_WIRES: usize = 200;

/// A warning for each wire behind a fuse that loses its insulation before the fuse opens.
///
/// # Errors
/// [`BenchError`] when the circuit has no solution with everything sound.
pub fn unprotected_wires(circuit: &Arc<Circuit>) -> Result<Vec<Problem>, BenchError> {
    let sound = Bench::new(circuit, &[])?;
    let wires = &circuit.doc.wires;
    if wires.len() > MOST_WIRES {
        let text = format!(
            "there are more than {MOST_WIRES} wires: whether fuses protect them was not tried"
        );
        return Ok(vec![Problem::warning("wires", text)]);
    }
    let states = on_the_battery(circuit);
    let mut out = Vec::new();
    for (n, wire) in wires.iter().enumerate() {
        if let Some(state) = goes_before_its_fuse(&sound, &wire.id, &states)? {
            out.push(Problem::warning(
                format!("wires[{n}]"),
                sentence(&wire.id, state),
            ));
        }
    }
    Ok(out)
}

/// Whether a wire behind a fuse loses its insulation before the fuse opens.
///
/// # Errors
/// As [`unprotected_wires`].
pub fn is_unprotected(circuit: &Arc<Circuit>, wire: &str) -> Result<bool, BenchError> {
    let sound = Bench::new(circuit, &[])?;
    let states = on_the_battery(circuit);
    let found = goes_before_its_fuse(&sound, wire, &states)?;
    Ok(found.is_some())
}

/// Whether what a wire carries takes its insulation off when a sound machine is worked for so many seconds in some state.
///
/// # Errors
/// As [`unprotected_wires`].
pub fn burns_in_use(circuit: &Arc<Circuit>, wire: &str, seconds: f64) -> Result<bool, BenchError> {
    let Some(Place::Conductor(wire)) = circuit.place(wire) else {
        return Ok(false);
    };
    let sound = Bench::new(circuit, &[])?;
    for trial in OperatingState::trial(circuit) {
        let mut bench = sound.clone();
        bench.take_to_fire(true);
        // A state without an operating point says nothing of its wires.
        if bench.hold_in(trial.state, seconds).is_ok() && bench.is_bare(wire) {
            return Ok(true);
        }
    }
    Ok(false)
}

/// The states in which a short is tried. What a running generator adds is its own affair: fuses are for the battery.
fn on_the_battery(circuit: &Circuit) -> Vec<OperatingState> {
    let mut states = vec![OperatingState::at_rest(circuit)];
    let tried = OperatingState::trial(circuit).into_iter().map(|t| t.state);
    states.extend(tried.filter(|s| s.engine == Engine::Stopped));
    states
}

/// The first of some states in which a wire loses its insulation before a fuse opens, with a short at either end of it.
fn goes_before_its_fuse<'s>(
    sound: &Bench,
    wire: &str,
    states: &'s [OperatingState],
) -> Result<Option<&'s OperatingState>, BenchError> {
    let circuit = &sound.circuit;
    let Some(Place::Conductor(wire_at)) = circuit.place(wire) else {
        return Ok(None);
    };
    for at in [1.0, 0.0] {
        let Some(short) = short(circuit, wire, at, DEAD_OHMS) else {
            continue;
        };
        if let Some(state) = burns(sound, &short, wire_at, states)?
            && is_fused(sound, circuit, wire, at, state)?
        {
            return Ok(Some(state));
        }
    }
    Ok(None)
}

fn sentence(wire: &str, state: &OperatingState) -> String {
    format!(
        "{wire} is not protected: with one end on metal ({}) it loses its insulation before a fuse opens; a larger wire or a smaller fuse protects it",
        state.about()
    )
}

fn short(circuit: &Circuit, wire: &str, at: f64, ohms: f64) -> Option<Fault> {
    let text = format!("{wire}:short_to_ground={ohms},at={at}");
    Fault::read(circuit, &read_short_form(&text).ok()?, "short").ok()
}

/// The first of some states in which a wire, by its position, is too hot with a short on it.
fn burns<'a>(
    sound: &Bench,
    short: &Fault,
    wire: usize,
    states: &'a [OperatingState],
) -> Result<Option<&'a OperatingState>, BenchError> {
    for state in states {
        let mut bench = sound.beside(std::slice::from_ref(short))?;
        // Which cylinders fire is nothing to the wires.
        bench.take_to_fire(true);
        // A state without an operating point says nothing of its wires.
        if bench.hold_in(state.clone(), LEFT_S).is_ok() && bench.is_bare(wire) {
            return Ok(Some(state));
        }
    }
    Ok(None)
}

/// Whether most of what a light short on a wire draws comes through a fuse: one that burns nothing.
fn is_fused(
    sound: &Bench,
    circuit: &Circuit,
    wire: &str,
    at: f64,
    state: &OperatingState,
) -> Result<bool, BenchError> {
    let Some(light) = short(circuit, wire, at, LIGHT_OHMS) else {
        return Ok(false);
    };
    let amps = |faults: &[Fault]| -> Result<Vec<f64>, BenchError> {
        let mut bench = sound.beside(faults)?;
        bench.take_to_fire(true);
        bench.set(state.clone())?;
        Ok(through_parts(&bench))
    };
    let (usual, drawn) = (amps(&[])?, amps(&[light])?);
    let more = |n: usize| drawn[n] - usual[n];
    let parts = circuit.parts.iter().enumerate();
    let mut fuses = parts.clone().filter(|(_, p)| p.kind.is_fuse());
    let sources = parts.filter(|(_, p)| p.kind.is_source());
    let drawn: f64 = sources.map(|(n, _)| more(n)).sum();
    Ok(fuses.any(|(n, _)| more(n) > MOST_OF_IT * drawn))
}

/// The largest current through each part, in amperes.
fn through_parts(bench: &Bench) -> Vec<f64> {
    let mut out = vec![0.0_f64; bench.circuit.parts.len()];
    if let Some(point) = bench.settled().points.last() {
        for tag in point.wiring.tags() {
            if let Place::Part(n) = tag.place {
                out[n] = out[n].max(point.op.current(tag.element).abs());
            }
        }
    }
    out
}
