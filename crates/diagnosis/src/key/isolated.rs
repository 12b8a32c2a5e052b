//! A place by itself: what an ohmmeter shows along it with everything around it taken off.

use cimento_bench::instruments::{Function, Reading, ohms_shown};
use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::{Circuit, ConductorKind, Place};

use super::ISOLATED;

/// The pairs of nodes along which a place is measured.
pub(crate) fn ends(circuit: &Circuit, place: Place) -> Vec<(usize, usize)> {
    match place {
        Place::Conductor(n) => {
            let c = &circuit.conductors[n];
            // The inside of a splice and a case on its bolts have no second point to touch.
            match c.kind {
                ConductorKind::Splice | ConductorKind::Mount => Vec::new(),
                _ => vec![(c.a, c.b)],
            }
        }
        Place::Part(n) => {
            let part = &circuit.parts[n];
            if part.kind.is_source() || part.kind.module().is_some() {
                return Vec::new();
            }
            let mut out = part.kind.contacts(&part.params);
            out.extend(part.loads());
            out.dedup();
            let nodes = |(a, b): (usize, usize)| (part.nodes[a], part.nodes[b]);
            out.into_iter().map(nodes).collect()
        }
        Place::Pin(..) => Vec::new(),
    }
}

/// What an ohmmeter with its leads zeroed shows between two nodes of a place by itself.
///
/// # Errors
/// [`BenchError`] when the place has no solution.
pub(crate) fn ohms(
    bench: &Bench,
    place: Place,
    (a, b): (usize, usize),
) -> Result<Reading, BenchError> {
    let circuit = &bench.circuit;
    let value = match place {
        Place::Conductor(n) => bench.series_ohms(n),
        Place::Part(part) | Place::Pin(part, _) => bench.ohms_alone(part, (a, b))?,
    };
    let id = |node: usize| circuit.point_at(node).map(|p| p.id.clone());
    Ok(Reading {
        state: ISOLATED.to_owned(),
        function: Function::OHMS,
        red: id(a),
        black: id(b),
        shown: ohms_shown(value),
        blew: false,
    })
}
