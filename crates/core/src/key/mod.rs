//! The answer key: every worthwhile reading, healthy and faulted, with tolerance and reason.

mod reason;
mod staircase;
mod tolerance;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

pub use staircase::{Stair, Staircase, node_volts, staircases};
pub use tolerance::{Limits, tolerance};

use crate::bench::{Bench, BenchError, OperatingState, Role};
use crate::circuit::{Circuit, Place};
use crate::faults::Fault;
use crate::instruments::{Function, Reading, Shown, read};
use crate::units::Quantity;

/// What a row measures.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum RowKind {
    /// A test point against the battery's negative post.
    Point,
    /// The drop along a place that carries its load.
    Drop,
}

/// One row of the key.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct KeyRow {
    pub kind: RowKind,
    /// "start · clutch down".
    pub state: String,
    pub function: Function,
    pub red: String,
    pub black: String,
    /// The place a drop is measured along.
    pub place: Option<String>,
    pub healthy: Shown,
    pub faulted: Shown,
    /// How far from the healthy value a reading is still normal, in volts or ohms.
    pub tolerance: f64,
    /// The row tells the two circuits apart.
    pub tells: bool,
    /// How far apart they read, in tolerances; a wandering or open reading counts as far.
    pub apart: f64,
    /// Why, in one line.
    pub reason: String,
}

/// Tolerances that a reading counts as apart when no difference can be formed.
const FAR: f64 = 1000.0;

/// A drop is worth a row from this current on, in amperes.
const CARRIES_A: f64 = 0.05;

/// The key of a circuit with faults in some states, each reached in the order given.
///
/// # Errors
/// [`BenchError`] when one of the circuits has no solution.
pub fn answer_key(
    circuit: &Circuit,
    faults: &[Fault],
    states: &[OperatingState],
    limits: &Limits,
) -> Result<Vec<KeyRow>, BenchError> {
    let mut healthy = Bench::new(circuit, &[])?;
    let mut faulted = Bench::new(circuit, faults)?;
    let mut rows = Vec::new();
    for state in states {
        healthy.set(state.clone())?;
        faulted.set(state.clone())?;
        let pair = Pair {
            healthy: &healthy,
            faulted: &faulted,
            limits,
        };
        for point in circuit.test_points.iter().filter(|p| p.node != 0) {
            rows.push(pair.row(RowKind::Point, None, (point.node, 0))?);
        }
        for (place, a, b) in carrying(&healthy) {
            rows.push(pair.row(RowKind::Drop, Some(place), (a, b))?);
        }
    }
    Ok(rows)
}

struct Pair<'a, 'c> {
    healthy: &'a Bench<'c>,
    faulted: &'a Bench<'c>,
    limits: &'a Limits,
}

impl Pair<'_, '_> {
    fn row(
        &self,
        kind: RowKind,
        place: Option<Place>,
        (a, b): (usize, usize),
    ) -> Result<KeyRow, BenchError> {
        let circuit = self.healthy.circuit;
        let point = |node: usize| circuit.test_points.iter().find(|p| p.node == node);
        let take = |bench: &Bench<'_>| read(bench, Function::DcVolts, None, point(a), point(b));
        let (healthy, faulted): (Reading, Reading) = (take(self.healthy)?, take(self.faulted)?);
        let tolerance = tolerance(circuit, self.limits, &healthy, place);
        let tells = !agree(&healthy.shown, &faulted.shown, tolerance);
        let off = (faulted.shown.value.number() - healthy.shown.value.number()).abs();
        let far = faulted.shown.wanders.is_some() || !off.is_finite();
        let apart = if far { FAR } else { off / tolerance.max(1e-9) };
        let reason = reason::reason(self.healthy, self.faulted, (a, b), tells);
        let name =
            |node: usize| point(node).map_or_else(|| circuit.nodes[node].clone(), |p| p.id.clone());
        Ok(KeyRow {
            kind,
            state: healthy.state,
            function: Function::DcVolts,
            red: name(a),
            black: name(b),
            place: place.map(|p| circuit.place_id(p).to_owned()),
            healthy: healthy.shown,
            faulted: faulted.shown,
            tolerance,
            tells,
            apart,
            reason,
        })
    }
}

/// Two displays that a person would call the same reading.
pub fn agree(healthy: &Shown, other: &Shown, tolerance: f64) -> bool {
    if healthy.wanders.is_some() != other.wanders.is_some() {
        return false;
    }
    match (healthy.value, other.value) {
        (Quantity::Number(a), Quantity::Number(b)) => (a - b).abs() <= tolerance,
        (a, b) => a == b,
    }
}

/// Conductors and contacts that carry current in a healthy state, feed end first. Only those whose
/// two ends a probe can reach.
fn carrying(bench: &Bench<'_>) -> Vec<(Place, usize, usize)> {
    let circuit = bench.circuit;
    let Some(point) = bench.settled().points.last() else {
        return Vec::new();
    };
    let reachable = |node: usize| circuit.test_points.iter().any(|p| p.node == node);
    let mut out = Vec::new();
    for line in &point.wiring.lines {
        let amps = point.op.current(line.element);
        let (a, b) = point.wiring.net.element(line.element).nodes();
        let carries =
            matches!(line.role, Role::Conductor | Role::Contact) && amps.abs() >= CARRIES_A;
        if carries && reachable(a.index()) && reachable(b.index()) {
            let (from, to) = if amps > 0.0 { (a, b) } else { (b, a) };
            out.push((line.place, from.index(), to.index()));
        }
    }
    out
}
