//! The answer key: every worthwhile reading, healthy and faulted, with tolerance and reason.

mod claim;
mod csv;
pub(crate) mod isolated;
mod reason;
mod staircase;
mod tolerance;

use crate::limits::Limits;
use std::sync::Arc;

pub(crate) use reason::{FLOWS_A, LOST_V, mid, through_node};
use reason::{Showing, Why};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

pub use claim::{Claim, Side};
pub use csv::key_csv;
pub use staircase::{Stair, Staircase, node_volts, staircases, staircases_between};
pub use tolerance::{spanned, tolerance};

use cimento_bench::instruments::{Function, Keyed, Reading, Shown, read, take};
use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::{Circuit, ConductorKind, Place};
use cimento_model::faults::Fault;
use cimento_model::stamped::Role;
use cimento_model::state::OperatingState;
use cimento_model::units::Quantity;

/// What a row measures.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum RowKind {
    /// A test point against the battery's negative post.
    Point,
    /// The drop along a place that carries its load.
    Drop,
    /// Current in a wire.
    Current,
    /// Resistance of a place by itself, everything around it taken off.
    Resistance,
    /// What a control module reports.
    Module,
}

/// One row of the key.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct KeyRow {
    pub kind: RowKind,
    /// "start · clutch down", or "isolated".
    pub state: String,
    pub function: Function,
    /// Test point, or the wire, module or pin that an instrument without a black lead goes to.
    pub red: String,
    /// Empty for such an instrument.
    pub black: String,
    /// The place a drop or a resistance is measured along.
    pub place: Option<String>,
    pub healthy: Shown,
    pub faulted: Shown,
    /// How far from the healthy value a reading is still normal, in the reading's unit.
    pub tolerance: f64,
    /// The row tells the two circuits apart.
    pub tells: bool,
    /// How far apart they read, in tolerances; a wandering or open reading counts as far.
    pub apart: f64,
    /// Why, as it can be checked.
    pub claim: Claim,
    /// The same in one line.
    pub reason: String,
}

/// The state of rows that are taken with a place by itself.
pub const ISOLATED: &str = "isolated";

/// Tolerances that a reading counts as apart when no difference can be formed.
const FAR: f64 = 1000.0;

/// A drop or a current is worth a row from this current on, in amperes.
const CARRIES_A: f64 = 0.05;
/// A voltage that goes to and fro is worth a row from here on, in volts.
const SWINGS_V: f64 = 0.1;

/// The instruments that a key is written for unless others are asked for.
pub const USUAL: [Function; 5] = [
    Function::DC_VOLTS,
    Function::CLAMP_AMPS,
    Function::OHMS,
    Function::AC_VOLTS,
    Function::SCAN_CODES,
];

/// The key of a circuit with faults in some states, each reached in the order given, for a set of
/// permitted instruments.
///
/// # Errors
/// [`BenchError`] when one of the circuits has no solution.
pub fn answer_key(
    circuit: &Arc<Circuit>,
    faults: &[Fault],
    states: &[OperatingState],
    limits: &Limits,
    functions: &[Function],
) -> Result<Vec<KeyRow>, BenchError> {
    let mut healthy = Bench::new(circuit, &[])?;
    let mut faulted = healthy.beside(faults)?;
    let mut rows = Vec::new();
    for state in states {
        healthy.set(state.clone())?;
        faulted.set(state.clone())?;
        let pair = Pair::new(&healthy, &faulted, limits);
        for function in functions {
            pair.rows(*function, &mut rows)?;
        }
    }
    if functions.contains(&Function::OHMS) {
        Pair::new(&healthy, &faulted, limits).resistances(&mut rows)?;
    }
    Ok(rows)
}

/// The key of two machines of one circuit, as they stand.
///
/// # Errors
/// As [`answer_key`].
pub fn answer_key_between(
    healthy: &Bench,
    faulted: &Bench,
    limits: &Limits,
    functions: &[Function],
) -> Result<Vec<KeyRow>, BenchError> {
    let mut rows = Vec::new();
    let pair = Pair::new(healthy, faulted, limits);
    for function in functions {
        pair.rows(*function, &mut rows)?;
    }
    if functions.contains(&Function::OHMS) {
        pair.resistances(&mut rows)?;
    }
    Ok(rows)
}

struct Pair<'a> {
    healthy: &'a Bench,
    faulted: &'a Bench,
    limits: &'a Limits,
    why: Why<'a>,
}

impl<'a> Pair<'a> {
    fn new(healthy: &'a Bench, faulted: &'a Bench, limits: &'a Limits) -> Self {
        Self {
            healthy,
            faulted,
            limits,
            why: Why::new(healthy, faulted),
        }
    }

    /// The rows of one instrument in the present state.
    fn rows(&self, function: Function, rows: &mut Vec<KeyRow>) -> Result<(), BenchError> {
        let circuit = &self.healthy.circuit;
        let points = || circuit.test_points.iter().filter(|p| p.node != 0);
        match function.keyed() {
            Keyed::PointsAndDrops => {
                for point in points() {
                    rows.push(self.between(RowKind::Point, function, None, (point.node, 0))?);
                }
                for (place, a, b) in carrying(self.healthy) {
                    rows.push(self.between(RowKind::Drop, function, Some(place), (a, b))?);
                }
            }
            Keyed::Wires => {
                for c in circuit
                    .conductors
                    .iter()
                    .filter(|c| c.kind == ConductorKind::Wire)
                {
                    let row = self.one_lead(RowKind::Current, function, &c.id)?;
                    let flows = |s: &Shown| s.value.number().abs() >= CARRIES_A;
                    if flows(&row.healthy) || flows(&row.faulted) {
                        rows.push(row);
                    }
                }
            }
            Keyed::Modules => {
                for part in circuit.parts.iter().filter(|p| p.kind.module().is_some()) {
                    rows.push(self.one_lead(RowKind::Module, function, &part.id)?);
                }
            }
            Keyed::Inputs => {
                for place in circuit.places() {
                    if let Place::Pin(..) = place
                        && take(
                            self.healthy,
                            function,
                            None,
                            Some(circuit.place_id(place)),
                            None,
                        )
                        .is_ok()
                    {
                        rows.push(self.one_lead(
                            RowKind::Module,
                            function,
                            circuit.place_id(place),
                        )?);
                    }
                }
            }
            Keyed::Swings => {
                let turns = |b: &Bench| b.settled().points.iter().any(|p| !p.waves.is_empty());
                let generates = || circuit.parts.iter().any(|p| p.kind.charges());
                if turns(self.healthy) || turns(self.faulted) || generates() {
                    for point in points() {
                        let row = self.between(RowKind::Point, function, None, (point.node, 0))?;
                        let swings = |s: &Shown| s.value.number() >= SWINGS_V;
                        if swings(&row.healthy) || swings(&row.faulted) {
                            rows.push(row);
                        }
                    }
                }
            }
            Keyed::Points => {
                for point in points() {
                    rows.push(self.between(RowKind::Point, function, None, (point.node, 0))?);
                }
            }
            Keyed::ByItself | Keyed::Nothing => {}
        }
        Ok(())
    }

    fn between(
        &self,
        kind: RowKind,
        function: Function,
        place: Option<Place>,
        (a, b): (usize, usize),
    ) -> Result<KeyRow, BenchError> {
        let circuit = &self.healthy.circuit;
        let take = |bench: &Bench| {
            read(
                bench,
                function,
                None,
                circuit.point_at(a),
                circuit.point_at(b),
            )
        };
        let (healthy, faulted): (Reading, Reading) = (take(self.healthy)?, take(self.faulted)?);
        let row = self.row(kind, place, healthy, faulted);
        let claim = self.why.between(function, a, place, &row.showing());
        let (red, black) = (self.name(a), self.name(b));
        Ok(KeyRow { red, black, ..row }.because(claim))
    }

    fn one_lead(&self, kind: RowKind, function: Function, id: &str) -> Result<KeyRow, BenchError> {
        let taken =
            |bench: &Bench| take(bench, function, None, Some(id), None).map_err(BenchError::from);
        let (healthy, faulted) = (taken(self.healthy)?, taken(self.faulted)?);
        let place = self.healthy.circuit.place(id);
        let row = self.row(kind, None, healthy, faulted);
        let claim = self.why.one_lead(kind, place, &row.showing());
        let red = id.to_owned();
        Ok(KeyRow { red, ..row }.because(claim))
    }

    /// Each wire, cavity, splice, ground and part by itself.
    fn resistances(&self, rows: &mut Vec<KeyRow>) -> Result<(), BenchError> {
        let circuit = &self.healthy.circuit;
        for place in circuit.places() {
            for (a, b) in isolated::ends(circuit, place) {
                if circuit.point_at(a).is_none() || circuit.point_at(b).is_none() {
                    continue;
                }
                let ohms = |bench: &Bench| isolated::ohms(bench, place, (a, b));
                let (healthy, faulted) = (ohms(self.healthy)?, ohms(self.faulted)?);
                let row = self.row(RowKind::Resistance, Some(place), healthy, faulted);
                let id = circuit.place_id(place).to_owned();
                let claim = match row.tells {
                    true => Claim::ByItself { place: id },
                    false => Claim::SameByItself,
                };
                let (red, black) = (self.name(a), self.name(b));
                rows.push(KeyRow { red, black, ..row }.because(claim));
            }
        }
        Ok(())
    }

    fn name(&self, node: usize) -> String {
        let circuit = &self.healthy.circuit;
        let point = circuit.point_at(node);
        point.map_or_else(|| circuit.nodes[node].clone(), |p| p.id.clone())
    }

    fn row(
        &self,
        kind: RowKind,
        place: Option<Place>,
        healthy: Reading,
        faulted: Reading,
    ) -> KeyRow {
        let circuit = &self.healthy.circuit;
        let tolerance = tolerance(circuit, self.limits, &healthy, place);
        let tells = !agree(&healthy.shown, &faulted.shown, tolerance);
        let off = (faulted.shown.value.number() - healthy.shown.value.number()).abs();
        let far = faulted.shown.wanders.is_some() || !off.is_finite();
        KeyRow {
            kind,
            state: healthy.state,
            function: healthy.function,
            red: String::new(),
            black: String::new(),
            place: place.map(|p| circuit.place_id(p).to_owned()),
            healthy: healthy.shown,
            faulted: faulted.shown,
            tolerance,
            tells,
            apart: if far { FAR } else { off / tolerance.max(1e-9) },
            claim: Claim::AsHealthy,
            reason: String::new(),
        }
    }
}

impl KeyRow {
    fn showing(&self) -> Showing<'_> {
        Showing {
            healthy: &self.healthy,
            faulted: &self.faulted,
            tells: self.tells,
        }
    }

    fn because(self, claim: Claim) -> Self {
        Self {
            reason: claim.text(),
            claim,
            ..self
        }
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
fn carrying(bench: &Bench) -> Vec<(Place, usize, usize)> {
    let circuit = &bench.circuit;
    let Some(point) = bench.settled().points.last() else {
        return Vec::new();
    };
    let reachable = |node: usize| circuit.test_points.iter().any(|p| p.node == node);
    let mut out = Vec::new();
    for line in point.wiring.tags() {
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
