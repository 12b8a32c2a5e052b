//! Which way current goes through each wire of a healthy machine.

use std::collections::HashMap;
use std::sync::Arc;

use cimento_model::circuit::{Circuit, ConductorKind, Place};
use cimento_model::stamped::STRAYS;
use cimento_model::state::{Engine, OperatingState};
use cimento_solver::Solution;

use super::{Bench, BenchError, Point};

/// Less than this is what meters and insulation draw, in amperes.
const CARRIES_A: f64 = 2e-6;
/// A wire alternates when it carries this share of its current the other way.
const ALTERNATES: f64 = 0.25;

/// For each wire that carries direct current in some state of the healthy machine, whether it goes from the wire's
/// first end to its second. What it does while the engine stands counts more than what it does while that runs: a
/// feed leads away from the battery although the battery is charged through it.
///
/// # Errors
/// [`BenchError`] when the machine can't be wired up. States without a solution are passed over.
pub fn flow(circuit: &Arc<Circuit>) -> Result<HashMap<String, bool>, BenchError> {
    let mut bench = Bench::new(circuit, &[])?;
    let mut standing: HashMap<&str, f64> = HashMap::new();
    let mut running: HashMap<&str, f64> = HashMap::new();
    for trial in OperatingState::trial(circuit) {
        let runs = trial.state.engine == Engine::Running;
        if bench.set(trial.state).is_err() {
            continue;
        }
        let most = if runs { &mut running } else { &mut standing };
        for (n, wire) in circuit.conductors.iter().enumerate() {
            if wire.kind != ConductorKind::Wire {
                continue;
            }
            for point in &bench.settled().points {
                let amps = amps(point, Place::Conductor(n));
                let known = most.entry(&wire.id).or_insert(0.0);
                if amps.abs() > known.abs() {
                    *known = amps;
                }
            }
        }
    }
    let wires = circuit
        .conductors
        .iter()
        .filter(|c| c.kind == ConductorKind::Wire);
    let ways = wires.filter_map(|wire| {
        let found = [&standing, &running]
            .into_iter()
            .filter_map(|most| most.get(wire.id.as_str()));
        let amps = found.copied().find(|amps| amps.abs() > CARRIES_A)?;
        Some((wire.id.clone(), amps > 0.0))
    });
    Ok(ways.collect())
}

/// Direct current of a wire in amperes, from its first end to its second; none where it alternates.
fn amps(point: &Point, place: Place) -> f64 {
    let of = |op: &Solution| {
        let current = |name: &str| {
            point
                .wiring
                .tagged(place, name)
                .map(|tag| op.current(tag.element))
        };
        match current("before") {
            Some(amps) => amps,
            None => current("through").unwrap_or(0.0) + current(STRAYS[0]).unwrap_or(0.0),
        }
    };
    let waves = point.waves.iter().map(|wave| of(&wave.op));
    let (least, most) = waves.fold((0.0_f64, 0.0_f64), |(least, most), a| {
        (least.min(a), most.max(a))
    });
    let (less, more) = (least.abs().min(most), least.abs().max(most));
    if less > ALTERNATES * more {
        0.0
    } else {
        of(&point.op)
    }
}
