//! The circuit seen from what changes in time.
//!
//! What stays the same (wires, resistances, batteries) is factored once. Seen from the ports, that is
//! from each inductor, capacitor, switch, junction and moving source, it is a voltage `v0` behind
//! resistances `Z`: `v = v0 − Z·i`. A step in time is then a system of as many equations as there are
//! ports, whatever the size of the circuit.

use super::reduced::{Law, Reduced};
use super::spares::Spares;
use crate::dense::dot;
use crate::elements::Element;
use crate::error::SolveError;
use crate::matrix::System;
use crate::netlist::Netlist;
use crate::node::{ElementId, Node};
use crate::solution::Solution;
use crate::{INSULATION_OHMS, LEAK_IN_TIME_OHMS, LEAK_OHMS};

/// Largest accepted miss of a node's currents, beside the largest unknown.
const RESIDUAL: f64 = 1e-6;

/// A node that is looked at.
pub(super) struct Row {
    node: Node,
    still: f64,
    ports: Vec<f64>,
}

/// The ports and what is behind them.
pub(super) struct Network<'s> {
    /// The circuit without its ports.
    still: Netlist,
    /// There until the network goes, and its system with it.
    system: Option<System>,
    spares: &'s Spares,
    /// The element at each port.
    pub ports: Vec<ElementId>,
    elements: Vec<Element>,
    /// The unknowns without the ports, and what an ampere out of each port adds to them.
    x0: Vec<f64>,
    responses: Vec<Vec<f64>>,
    v0: Vec<f64>,
    z: Vec<Vec<f64>>,
}

impl Drop for Network<'_> {
    fn drop(&mut self) {
        if let Some(system) = self.system.take() {
            self.spares.put(system);
        }
    }
}

impl<'s> Network<'s> {
    /// Splits a netlist into what stays and its ports.
    ///
    /// # Errors
    /// [`SolveError`] when the circuit without its ports has no single answer.
    pub fn new(
        net: &Netlist,
        ports: Vec<ElementId>,
        spares: &'s Spares,
    ) -> Result<Self, SolveError> {
        // A new netlist: what was only attached counts like the rest.
        let mut still = Netlist::new();
        still.reserve_nodes(net.node_count());
        for element in net.elements() {
            still.add(*element);
        }
        for &port in &ports {
            let (a, b) = net.element(port).nodes();
            still.set(port, Element::CurrentSource { a, b, amps: 0.0 });
        }
        // The matrix holds the leak of an operating point already.
        for a in net.nodes() {
            let b = net.zero();
            let ohms = match net.insulated().contains(&a) {
                true => INSULATION_OHMS,
                false => LEAK_IN_TIME_OHMS,
            };
            let siemens = 1.0 / ohms - 1.0 / LEAK_OHMS;
            still.add(Element::Conductance { a, b, siemens });
        }
        let singular = |_| SolveError::Singular { element: 0 };
        let mut system = match spares.take(&still) {
            Some(system) => system,
            None => System::new(&still).map_err(singular)?,
        };
        system.load(&still).map_err(singular)?;
        // What an update has lost in digits would be missed over thousands of steps.
        if system.is_updated() {
            system.factor().map_err(singular)?;
        }
        let x0 = system.solve_sources();
        let nodes = |id: ElementId| net.element(id).nodes();
        let responses: Vec<Vec<f64>> = ports
            .iter()
            .map(|&id| {
                let (a, b) = nodes(id);
                let mut entries = Vec::with_capacity(2);
                entries.extend((a.0 > 0).then(|| (a.0 - 1, -1.0)));
                entries.extend((b.0 > 0).then(|| (b.0 - 1, 1.0)));
                system.solve_few(&entries)
            })
            .collect();
        let across = |x: &[f64], id: ElementId| {
            let v = |n: usize| if n == 0 { 0.0 } else { x[n - 1] };
            let (a, b) = nodes(id);
            v(a.0) - v(b.0)
        };
        let v0 = ports.iter().map(|&id| across(&x0, id)).collect();
        let row = |&j: &ElementId| responses.iter().map(|r| -across(r, j)).collect();
        let z = ports.iter().map(row).collect();
        Ok(Self {
            still,
            system: Some(system),
            spares,
            elements: ports.iter().map(|&p| *net.element(p)).collect(),
            ports,
            x0,
            responses,
            v0,
            z,
        })
    }

    /// Currents and voltages at the ports under their laws, which `reduced` was made from. `volts` are
    /// those that stand behind each port's own resistance; `guess` holds the junctions' last voltages.
    ///
    /// # Errors
    /// [`SolveError::NotConverged`] names the junction that keeps moving.
    pub fn solve(
        &self,
        reduced: &Reduced,
        volts: &[f64],
        guess: &[f64],
    ) -> Result<(Vec<f64>, Vec<f64>), SolveError> {
        let amps = reduced
            .solve(&self.v0, volts, &self.elements, guess)
            .map_err(|stuck| SolveError::NotConverged {
                element: self.ports[stuck.port].0,
                step: stuck.step,
                iterations: stuck.iterations,
            })?;
        let behind = self.v0.iter().zip(&self.z);
        let volts = behind.map(|(v, z)| v - dot(z, &amps)).collect();
        Ok((amps, volts))
    }

    /// What the ports come to under laws of these resistances.
    ///
    /// # Errors
    /// [`SolveError::Singular`] when the ports have no single answer.
    pub fn reduce(
        &self,
        laws: &[Law],
        coupled: &[(usize, usize, f64)],
    ) -> Result<Reduced, SolveError> {
        let reduced = Reduced::new(&self.z, laws, coupled);
        reduced.ok_or(SolveError::Singular { element: 0 })
    }

    fn look(
        &self,
        system: &System,
        net: &Netlist,
        x: &[f64],
        amps: &[f64],
    ) -> Result<(), SolveError> {
        let (mut left, _) = system.residual(&self.still, x);
        let mut scale = x.iter().fold(1.0_f64, |m, v| m.max(v.abs()));
        for (&port, &amps) in self.ports.iter().zip(amps) {
            let (a, b) = net.element(port).nodes();
            if a.0 > 0 {
                left[a.0 - 1] -= amps;
            }
            if b.0 > 0 {
                left[b.0 - 1] += amps;
            }
            scale = scale.max(amps.abs());
        }
        if let Some(row) = left
            .iter()
            .position(|r| r.is_nan() || r.abs() > RESIDUAL * scale)
        {
            return Err(SolveError::Residual {
                element: system.element_of(&self.still, row),
                residual: left[row],
            });
        }
        Ok(())
    }

    /// Of some nodes what the sources alone make of each and what each port adds, for [`Network::at`].
    pub fn rows(&self, nodes: &[Node]) -> Vec<Row> {
        let there = nodes.iter().filter(|n| n.0 > 0);
        let row = |&node: &Node| Row {
            node,
            still: self.x0[node.0 - 1],
            ports: self.responses.iter().map(|r| r[node.0 - 1]).collect(),
        };
        there.map(row).collect()
    }

    /// Only some nodes and the ports, for the currents at the ports; the rest of `out` stays.
    pub fn at(&self, rows: &[Row], amps: &[f64], out: &mut Solution) {
        for row in rows {
            out.volts[row.node.0] = row.still + dot(&row.ports, amps);
        }
        for (&port, &amps) in self.ports.iter().zip(amps) {
            out.amps[port.0] = amps;
        }
    }

    /// The whole circuit for the currents at its ports, with every node's sum looked at if asked for.
    ///
    /// # Errors
    /// [`SolveError::Residual`] names an element at a node whose currents do not sum to zero.
    pub fn whole(&self, net: &Netlist, amps: &[f64], look: bool) -> Result<Solution, SolveError> {
        let mut x = self.x0.clone();
        let flowing = self.responses.iter().zip(amps).filter(|(_, i)| **i != 0.0);
        for (response, amps) in flowing {
            for (x, r) in x.iter_mut().zip(response) {
                *x += r * amps;
            }
        }
        let system = self.system.as_ref();
        if look && let Some(system) = system {
            self.look(system, net, &x, amps)?;
        }
        let nodes = net.node_count();
        let mut volts = vec![0.0; nodes];
        volts[1..].copy_from_slice(&x[..nodes - 1]);
        let mut out = Solution {
            volts,
            amps: vec![0.0; net.elements().len()],
            speeds: vec![0.0; net.elements().len()],
        };
        for (n, element) in self.still.elements()[..net.elements().len()]
            .iter()
            .enumerate()
        {
            let (a, b) = element.nodes();
            out.amps[n] = match (element, system.and_then(|s| s.extras.get(n))) {
                (Element::Branch { .. }, Some(&k)) => x[k],
                _ => element.law(out.between(a, b)).0,
            };
        }
        for (&port, &amps) in self.ports.iter().zip(amps) {
            out.amps[port.0] = amps;
        }
        Ok(out)
    }
}
