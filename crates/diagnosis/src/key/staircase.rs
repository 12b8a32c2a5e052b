//! The voltage staircase: a current path laid flat, with the voltage at every stop.

use std::sync::Arc;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use cimento_bench::{Bench, BenchError, Point, Settled};
use cimento_model::circuit::{Circuit, CurrentPath};
use cimento_model::faults::Fault;
use cimento_model::state::OperatingState;
use cimento_model::units::Swing;

/// One path with its voltages.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Staircase {
    pub title: String,
    pub stairs: Vec<Stair>,
    /// The largest step that the faulted circuit has more than the healthy one, if it tells.
    pub missing: Option<MissingStep>,
}

/// One stop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Stair {
    pub point: String,
    pub through: Option<String>,
    pub ground_side: bool,
    /// Volts against battery negative.
    pub healthy_v: f64,
    pub faulted_v: f64,
    /// Least and most while the machine cycles.
    pub faulted_range: Option<Swing>,
}

/// Where volts are lost that a healthy circuit keeps.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct MissingStep {
    /// Position of the stop at the step's end.
    pub stop: usize,
    /// "W8 holds 12.36 V".
    pub text: String,
}

/// A step smaller than this is not worth pointing at, in volts.
const STEP_V: f64 = 0.2;

/// Voltage of a node over what the machine does, in volts.
pub fn node_volts(settled: &Settled, node: usize) -> Swing {
    let at = |p: &Point| p.op.voltage(p.wiring.node(node));
    let (least, most) = settled.range(at).unwrap_or((0.0, 0.0));
    Swing { least, most }
}

/// The staircases of all paths in the last of the states, each reached in the order given.
///
/// # Errors
/// [`BenchError`] when one of the circuits has no solution.
pub fn staircases(
    circuit: &Arc<Circuit>,
    faults: &[Fault],
    states: &[OperatingState],
) -> Result<Vec<Staircase>, BenchError> {
    let mut healthy = Bench::new(circuit, &[])?;
    let mut faulted = healthy.beside(faults)?;
    for state in states {
        healthy.set(state.clone())?;
        faulted.set(state.clone())?;
    }
    Ok(staircases_between(&healthy, &faulted))
}

/// The staircases of all paths of two machines of one circuit, as they stand.
pub fn staircases_between(healthy: &Bench, faulted: &Bench) -> Vec<Staircase> {
    let paths = healthy.circuit.paths().iter();
    paths
        .map(|p| staircase(p.clone(), healthy, faulted))
        .collect()
}

fn staircase(path: CurrentPath, healthy: &Bench, faulted: &Bench) -> Staircase {
    let stairs: Vec<Stair> = path
        .stops
        .into_iter()
        .map(|stop| {
            let range = node_volts(faulted.settled(), stop.node);
            Stair {
                point: stop.point,
                through: stop.through,
                ground_side: stop.ground_side,
                healthy_v: node_volts(healthy.settled(), stop.node).middle(),
                faulted_v: range.middle(),
                faulted_range: faulted.settled().cycles().then_some(range),
            }
        })
        .collect();
    let step = |n: usize| {
        let (a, b) = (&stairs[n - 1], &stairs[n]);
        let (was, is) = (a.healthy_v - b.healthy_v, a.faulted_v - b.faulted_v);
        (is.abs() - was.abs(), is)
    };
    let largest = (1..stairs.len()).max_by(|&a, &b| step(a).0.total_cmp(&step(b).0));
    let missing = largest.filter(|&n| step(n).0 > STEP_V).map(|n| {
        let through = stairs[n].through.clone().unwrap_or_default();
        MissingStep {
            stop: n,
            text: format!("{through} holds {:.2} V", step(n).1.abs()),
        }
    });
    Staircase {
        title: path.title,
        stairs,
        missing,
    }
}
