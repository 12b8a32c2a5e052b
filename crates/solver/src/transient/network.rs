//! The circuit seen from what changes in time.
//!
//! What stays the same (wires, resistances, batteries) is factored once. Seen from the ports, that is
//! from each inductor, capacitor, switch, junction and moving source, it is a voltage `v0` behind
//! resistances `Z`: `v = v0 − Z·i`. A step in time is then a system of as many equations as there are
//! ports, whatever the size of the circuit.

use crate::elements::Element;
use crate::error::SolveError;
use crate::matrix::System;
use crate::netlist::{ElementId, Netlist};
use crate::ports::eliminate;
use crate::solution::Solution;
use crate::{INSULATION_OHMS, LEAK_OHMS};

/// Iterations over the junctions before a step is given up.
const ITERATIONS: usize = 100;
/// A junction that moves less than this, in volts beside the same share of its voltage, is there.
const TOLERANCE: f64 = 1e-8;
/// Largest accepted miss of a node's currents, beside the largest unknown.
const RESIDUAL: f64 = 1e-6;

/// What a port obeys in a step.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Law {
    /// `v − ohms·i = volts`; for an inductor `ohms` goes over all that are coupled.
    Branch { ohms: f64, volts: f64 },
    /// No current.
    Open,
    /// A junction's own law.
    Junction,
}

/// The ports and what is behind them.
pub(super) struct Network {
    /// The circuit without its ports.
    still: Netlist,
    system: System,
    /// The element at each port.
    pub ports: Vec<ElementId>,
    elements: Vec<Element>,
    /// The unknowns without the ports, and what an ampere out of each port adds to them.
    x0: Vec<f64>,
    responses: Vec<Vec<f64>>,
    v0: Vec<f64>,
    z: Vec<Vec<f64>>,
}

impl Network {
    /// Splits a netlist into what stays and its ports.
    ///
    /// # Errors
    /// [`SolveError`] when the circuit without its ports has no single answer.
    pub fn new(net: &Netlist, ports: Vec<ElementId>) -> Result<Self, SolveError> {
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
        // What leaks less than every other node does: the matrix holds the usual leak already.
        for &node in net.insulated() {
            let (a, b) = (node, net.zero());
            let siemens = 1.0 / INSULATION_OHMS - 1.0 / LEAK_OHMS;
            still.add(Element::Conductance { a, b, siemens });
        }
        let singular = |_| SolveError::Singular { element: 0 };
        let mut system = System::new(&still).map_err(singular)?;
        system.load(&still).map_err(singular)?;
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
            system,
            elements: ports.iter().map(|&p| *net.element(p)).collect(),
            ports,
            x0,
            responses,
            v0,
            z,
        })
    }

    /// Currents and voltages at the ports under their laws. `coupled` adds to a port's voltage for
    /// amperes in another, in ohms; `guess` holds the junctions' last voltages.
    ///
    /// # Errors
    /// [`SolveError::NotConverged`] names the junction that keeps moving.
    pub fn solve(
        &self,
        laws: &[Law],
        coupled: &[(usize, usize, f64)],
        guess: &[f64],
    ) -> Result<(Vec<f64>, Vec<f64>), SolveError> {
        let n = self.ports.len();
        let mut v: Vec<f64> = guess.to_vec();
        let junctions: Vec<usize> = (0..n).filter(|&k| laws[k] == Law::Junction).collect();
        let mut moved = (0, 0.0);
        for _ in 0..ITERATIONS {
            let mut rows = Vec::with_capacity(n);
            for j in 0..n {
                let mut row = Vec::with_capacity(n + 1);
                match laws[j] {
                    Law::Open => {
                        row.resize(n + 1, 0.0);
                        row[j] = 1.0;
                    }
                    Law::Branch { ohms, volts } => {
                        row.extend_from_slice(&self.z[j]);
                        row.push(self.v0[j] - volts);
                        row[j] += ohms;
                    }
                    Law::Junction => {
                        let (i, g) = self.elements[j].law(v[j]);
                        row.extend(self.z[j].iter().map(|z| g * z));
                        row.push(i - g * v[j] + g * self.v0[j]);
                        row[j] += 1.0;
                    }
                }
                rows.push(row);
            }
            for &(j, k, ohms) in coupled {
                rows[j][k] += ohms;
            }
            let (amps, volts) = self.linear(rows, laws);
            moved = (0, 0.0);
            for &j in &junctions {
                let to = self.elements[j].limit(volts[j], v[j]);
                let step = (to - v[j]).abs() / (1.0 + v[j].abs());
                if step > moved.1 || step.is_nan() {
                    moved = (j, step);
                }
                v[j] = to;
            }
            if moved.1 <= TOLERANCE {
                return Ok((amps, volts));
            }
        }
        Err(SolveError::NotConverged {
            element: self.ports[moved.0].0,
            step: moved.1,
            iterations: ITERATIONS,
        })
    }

    /// The currents under laws that are all straight lines, and the voltages that go with them.
    fn linear(&self, rows: Vec<Vec<f64>>, laws: &[Law]) -> (Vec<f64>, Vec<f64>) {
        let mut amps = eliminate(rows);
        // What is open carries none, to the last digit.
        for (amps, law) in amps.iter_mut().zip(laws) {
            if *law == Law::Open {
                *amps = 0.0;
            }
        }
        let drop = |z: &Vec<f64>| z.iter().zip(&amps).map(|(z, i)| z * i).sum::<f64>();
        let volts = self
            .v0
            .iter()
            .zip(&self.z)
            .map(|(v, z)| v - drop(z))
            .collect();
        (amps, volts)
    }

    fn look(&self, net: &Netlist, x: &[f64], amps: &[f64]) -> Result<(), SolveError> {
        let mut left = self.system.residual(x);
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
                element: self.system.element_of(&self.still, row),
                residual: left[row],
            });
        }
        Ok(())
    }

    /// The whole circuit for the currents at its ports, with every node's sum looked at if asked for.
    ///
    /// # Errors
    /// [`SolveError::Residual`] names an element at a node whose currents do not sum to zero.
    pub fn whole(&self, net: &Netlist, amps: &[f64], look: bool) -> Result<Solution, SolveError> {
        let mut x = self.x0.clone();
        for (response, amps) in self.responses.iter().zip(amps) {
            for (x, r) in x.iter_mut().zip(response) {
                *x += r * amps;
            }
        }
        if look {
            self.look(net, &x, amps)?;
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
            out.amps[n] = match (element, self.system.extras.get(n)) {
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
