//! The circuit seen from what changes in time.
//!
//! What stays the same (wires, resistances, batteries) is factored once. Seen from the ports, that is
//! from each inductor, capacitor, switch, junction and moving source, it is a voltage `v0` behind
//! resistances `Z`: `v = v0 − Z·i`. A step in time is then a system of as many equations as there are
//! ports, whatever the size of the circuit.

use std::cell::RefCell;

use faer::Mat;
use faer::linalg::solvers::PartialPivLu;
use faer::prelude::Solve;

use crate::elements::Element;
use crate::error::SolveError;
use crate::matrix::System;
use crate::netlist::{ElementId, Netlist};
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
    /// The last factorisation without junctions, with the resistances it was made for: most steps are
    /// as long as the one before.
    last: RefCell<Option<(Vec<f64>, PartialPivLu<f64>)>>,
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
            last: RefCell::default(),
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
        if junctions.is_empty() {
            return Ok(self.linear(laws, coupled));
        }
        let mut moved = (0, 0.0);
        for _ in 0..ITERATIONS {
            let mut m = Mat::<f64>::zeros(n, n);
            let mut rhs = Mat::<f64>::zeros(n, 1);
            for j in 0..n {
                match laws[j] {
                    Law::Open => m[(j, j)] = 1.0,
                    Law::Branch { ohms, volts } => {
                        for k in 0..n {
                            m[(j, k)] = self.z[j][k];
                        }
                        m[(j, j)] += ohms;
                        rhs[(j, 0)] = self.v0[j] - volts;
                    }
                    Law::Junction => {
                        let (i, g) = self.elements[j].law(v[j]);
                        for k in 0..n {
                            m[(j, k)] = g * self.z[j][k];
                        }
                        m[(j, j)] += 1.0;
                        rhs[(j, 0)] = i - g * v[j] + g * self.v0[j];
                    }
                }
            }
            for &(j, k, ohms) in coupled {
                m[(j, k)] += ohms;
            }
            let amps = m.partial_piv_lu().solve(&rhs);
            let next =
                |j: usize| self.v0[j] - (0..n).map(|k| self.z[j][k] * amps[(k, 0)]).sum::<f64>();
            moved = (0, 0.0);
            for &j in &junctions {
                let to = self.elements[j].limit(next(j), v[j]);
                let step = (to - v[j]).abs() / (1.0 + v[j].abs());
                if step > moved.1 || step.is_nan() {
                    moved = (j, step);
                }
                v[j] = to;
            }
            if moved.1 <= TOLERANCE {
                let amps = carried(laws, &amps);
                let volts = (0..n).map(next).collect();
                return Ok((amps, volts));
            }
        }
        Err(SolveError::NotConverged {
            element: self.ports[moved.0].0,
            step: moved.1,
            iterations: ITERATIONS,
        })
    }

    /// The same where no port is a junction.
    fn linear(&self, laws: &[Law], coupled: &[(usize, usize, f64)]) -> (Vec<f64>, Vec<f64>) {
        let n = self.ports.len();
        let own = laws.iter().map(|law| match *law {
            Law::Branch { ohms, .. } => ohms,
            _ => f64::INFINITY,
        });
        let key: Vec<f64> = own.chain(coupled.iter().map(|c| c.2)).collect();
        let mut last = self.last.borrow_mut();
        let lu = match &mut *last {
            Some((known, lu)) if *known == key => lu,
            last => {
                let mut m = Mat::from_fn(n, n, |j, k| match laws[j] {
                    Law::Branch { ohms, .. } => self.z[j][k] + if j == k { ohms } else { 0.0 },
                    _ => f64::from(u8::from(j == k)),
                });
                for &(j, k, ohms) in coupled {
                    m[(j, k)] += ohms;
                }
                &mut last.insert((key, m.partial_piv_lu())).1
            }
        };
        let mut amps = Mat::from_fn(n, 1, |j, _| match laws[j] {
            Law::Branch { volts, .. } => self.v0[j] - volts,
            _ => 0.0,
        });
        lu.solve_in_place(&mut amps);
        let amps = carried(laws, &amps);
        let drop = |j: usize| self.z[j].iter().zip(&amps).map(|(z, i)| z * i).sum::<f64>();
        let volts = (0..n).map(|j| self.v0[j] - drop(j)).collect();
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

/// The currents at the ports; what is open carries none, to the last digit.
fn carried(laws: &[Law], amps: &Mat<f64>) -> Vec<f64> {
    let one = |(k, law): (usize, &Law)| if *law == Law::Open { 0.0 } else { amps[(k, 0)] };
    laws.iter().enumerate().map(one).collect()
}
