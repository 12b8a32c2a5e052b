//! How a circuit answers to small currents at its operating point, and the operating point with a light load:
//! the linear circuit with every element that is not linear, or only attached, replaced by its slope there.
//! With `Z` the inverse of the matrix, `U` the ports and `G` their slopes beyond what the matrix holds,
//! `Z' = Z − Z·U·(1 + G·Uᵀ·Z·U)⁻¹·G·Uᵀ·Z` (Sherman, Morrison and Woodbury).

use crate::dense::inverse;
use crate::elements::Element;
use crate::error::SolveError;
use crate::matrix::System;
use crate::netlist::Netlist;
use crate::newton::{Solver, singular};
use crate::node::Node;
use crate::solution::Solution;

/// A light load may move the voltage of a diode or a filament by so much, in volts, before its slope no longer
/// stands for it.
const DIODE_MOVES_V: f64 = 1e-5;
const FILAMENT_MOVES_V: f64 = 1e-3;

/// Ports whose answers lie nearer to each other than this, as two shorts do on one wire that is cut off, leave too few
/// digits: the circuit is to be solved with the load. Nothing here is refined.
const LEAST_PIVOT: f64 = 1e-4;

/// The ports of a circuit with what their slopes come to.
struct Slopes {
    ports: Vec<(Node, Node)>,
    /// `Z·U`, a column for each port.
    columns: Vec<Vec<f64>>,
    /// `(1 + G·Uᵀ·Z·U)⁻¹·G`.
    answer: Vec<Vec<f64>>,
}

fn across(x: &[f64], (a, b): (Node, Node)) -> f64 {
    let volts = |node: Node| if node.0 == 0 { 0.0 } else { x[node.0 - 1] };
    volts(a) - volts(b)
}

/// What an ampere into one node and out of another adds to the unknowns of the matrix alone.
fn driven(system: &System, (a, b): (Node, Node)) -> Vec<f64> {
    let mut entries = Vec::with_capacity(2);
    entries.extend((a.0 > 0).then(|| (a.0 - 1, 1.0)));
    entries.extend((b.0 > 0).then(|| (b.0 - 1, -1.0)));
    system.solve_few(&entries)
}

impl Slopes {
    /// None where the slopes leave no single answer, or too few digits of it.
    fn new(system: &System, net: &Netlist, op: &Solution) -> Option<Self> {
        let own = net.own().len();
        let (mut ports, mut slopes) = (Vec::new(), Vec::new());
        for (n, element) in net.elements().iter().enumerate() {
            if !net.is_port(n) {
                continue;
            }
            let (a, b) = element.nodes();
            let nominal = if n < own { element.nominal() } else { 0.0 };
            let slope = element.law(op.between(a, b)).1 - nominal;
            if slope != 0.0 {
                ports.push((a, b));
                slopes.push(slope);
            }
        }
        let columns: Vec<Vec<f64>> = ports.iter().map(|p| driven(system, *p)).collect();
        let count = ports.len();
        let seen = |p: usize, q: usize| {
            let one = if p == q { 1.0 } else { 0.0 };
            one + slopes[p] * across(&columns[q], ports[p])
        };
        let rows = (0..count).map(|p| (0..count).map(|q| seen(p, q)).collect());
        let answer = inverse(rows.collect(), LEAST_PIVOT)?.into_iter();
        let times_g = |row: Vec<f64>| row.iter().zip(&slopes).map(|(k, g)| k * g).collect();
        let answer = answer.map(times_g).collect();
        Some(Self {
            ports,
            columns,
            answer,
        })
    }

    /// Turns what a current adds to the unknowns of the matrix alone into what it adds with the ports.
    fn apply(&self, x: &mut [f64]) {
        let at: Vec<f64> = self.ports.iter().map(|p| across(x, *p)).collect();
        for (answer, column) in self.answer.iter().zip(&self.columns) {
            let amps: f64 = answer.iter().zip(&at).map(|(k, v)| k * v).sum();
            if amps != 0.0 {
                x.iter_mut().zip(column).for_each(|(x, c)| *x -= amps * c);
            }
        }
    }
}

impl Solver {
    /// Resistance of every node to zero at an operating point, in ohms, by position; that of zero is 0.
    ///
    /// # Errors
    /// [`SolveError`] when the equations are singular.
    pub fn to_zero(&mut self, net: &Netlist, op: &Solution) -> Result<Vec<f64>, SolveError> {
        let system = self.system(net)?;
        system.load(net).map_err(|e| singular(system, net, e))?;
        let slopes = Slopes::new(system, net, op).ok_or(SolveError::Singular { element: 0 })?;
        let mut out = vec![0.0; net.node_count()];
        let (mut rows, mut entries) = (Vec::new(), Vec::new());
        for node in 1..net.node_count() {
            // Of a whole column only the node itself and the ends of the ports are looked at.
            rows.clear();
            rows.push(node - 1);
            for (a, b) in &slopes.ports {
                rows.extend([a.0.max(1) - 1, b.0.max(1) - 1]);
            }
            system.entries(node - 1, &rows, &mut entries);
            let end = |node: Node, at: usize| if node.0 == 0 { 0.0 } else { entries[at] };
            let ports = slopes.ports.iter().enumerate();
            let at: Vec<f64> = ports
                .map(|(p, (a, b))| end(*a, 1 + 2 * p) - end(*b, 2 + 2 * p))
                .collect();
            let mut ohms = entries[0];
            for (answer, column) in slopes.answer.iter().zip(&slopes.columns) {
                let amps: f64 = answer.iter().zip(&at).map(|(k, v)| k * v).sum();
                ohms -= amps * column[node - 1];
            }
            out[node] = ohms;
        }
        Ok(out)
    }

    /// Resistance between two nodes at an operating point, in ohms.
    ///
    /// # Errors
    /// As [`Solver::to_zero`].
    pub fn seen_ohms(
        &mut self,
        net: &Netlist,
        op: &Solution,
        (a, b): (Node, Node),
    ) -> Result<f64, SolveError> {
        let system = self.system(net)?;
        system.load(net).map_err(|e| singular(system, net, e))?;
        let mut x = driven(system, (a, b));
        let slopes = Slopes::new(system, net, op).ok_or(SolveError::Singular { element: 0 })?;
        slopes.apply(&mut x);
        Ok(across(&x, (a, b)))
    }

    /// The operating point with some ohms between two nodes; none where the load moves something that is not
    /// linear too far for its slope.
    pub fn loaded(
        &mut self,
        net: &Netlist,
        op: &Solution,
        (a, b): (Node, Node),
        ohms: f64,
    ) -> Option<Solution> {
        let system = self.system(net).ok()?;
        system.load(net).ok()?;
        let mut x = driven(system, (a, b));
        Slopes::new(system, net, op)?.apply(&mut x);
        let amps = op.between(a, b) / (ohms + across(&x, (a, b)));
        let moved = |element: &Element| (amps * across(&x, element.nodes())).abs();
        let too_far = |element: &Element| match element {
            Element::Diode { .. } => moved(element) > DIODE_MOVES_V,
            Element::Filament { .. } => moved(element) > FILAMENT_MOVES_V,
            _ => false,
        };
        if !amps.is_finite() || net.elements().iter().any(too_far) {
            return None;
        }
        let mut out = op.clone();
        let volts = out.volts[1..].iter_mut();
        volts.zip(&x).for_each(|(v, x)| *v -= amps * x);
        for (n, element) in net.elements().iter().enumerate() {
            let own = (!net.is_port(n)).then(|| system.extras.get(n)).flatten();
            match (element, own) {
                (
                    Element::Branch { .. }
                    | Element::Capacitor { .. }
                    | Element::Inductor { .. }
                    | Element::Regulator { .. },
                    Some(&k),
                ) => out.amps[n] -= amps * x[k],
                (Element::Motor { .. }, Some(&k)) => {
                    out.amps[n] -= amps * x[k];
                    out.speeds[n] -= amps * x[k + 1];
                }
                _ => {
                    let (a, b) = element.nodes();
                    out.amps[n] = element.law(out.between(a, b)).0;
                }
            }
        }
        Some(out)
    }
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use super::*;

    /// 12 V over 3 kΩ and 6 kΩ, with a diode and its resistor beside, and 2 kΩ attached at the tap.
    fn net() -> (Netlist, Node, Node) {
        let mut net = Netlist::new();
        let (feed, tap, knee) = (net.node(), net.node(), net.node());
        let zero = Node(0);
        net.add(Element::source(feed, zero, 12.0, 0.1));
        net.add(Element::resistor(feed, tap, 3000.0));
        net.add(Element::resistor(tap, zero, 6000.0));
        net.add(Element::resistor(feed, knee, 1000.0));
        net.add(Element::Diode {
            a: knee,
            b: zero,
            saturation_a: 1e-12,
            emission: 1.0,
        });
        net.attach(Element::resistor(tap, zero, 2000.0));
        (net, tap, knee)
    }

    /// The tap sees 3 kΩ, 6 kΩ and the attached 2 kΩ side by side: 1 kΩ.
    #[test]
    fn what_is_attached_counts() {
        let (net, tap, _) = net();
        let mut solver = Solver::new();
        let op = solver.operating_point(&net).unwrap();
        let to_zero = solver.to_zero(&net, &op).unwrap();
        assert!((to_zero[tap.0] - 1000.0).abs() < 0.1, "{}", to_zero[tap.0]);
        let seen = solver.seen_ohms(&net, &op, (tap, Node(0))).unwrap();
        assert!((seen - to_zero[tap.0]).abs() < 1e-6, "{seen}");
    }

    /// A load is felt as if the circuit had been solved with it, within what a diode moves; one that moves it
    /// too far is refused.
    #[test]
    fn a_light_load_is_as_good_as_a_solve() {
        let (net, tap, knee) = net();
        let mut solver = Solver::new();
        let op = solver.operating_point(&net).unwrap();
        for (a, b, ohms) in [(tap, Node(0), 10e6), (tap, knee, 10e6)] {
            let told = solver.loaded(&net, &op, (a, b), ohms).unwrap();
            let mut with = net.clone();
            with.attach(Element::resistor(a, b, ohms));
            let right = solver.operating_point(&with).unwrap();
            for node in [tap, knee] {
                let off = told.voltage(node) - right.voltage(node);
                assert!(off.abs() < 1e-9, "{off} V at {node:?}");
            }
        }
        let heavy = solver.loaded(&net, &op, (knee, Node(0)), 500.0);
        assert!(heavy.is_none());
    }
}
