//! The ports under laws of given resistances, with all that does not change from step to step worked out.
//!
//! Steps come in a few lengths and switches in a few constellations, so the same few systems are solved
//! again and again with other voltages. What is open carries nothing and is left out; what is a straight
//! line is factored; what is left are the junctions, seen through all the rest.

use faer::linalg::solvers::{PartialPivLu, Solve};
use faer::{Col, Mat};

use crate::elements::Element;
use crate::ports::{Stuck, eliminate};

/// Iterations over the junctions before a step is given up.
const ITERATIONS: usize = 100;
/// A junction that moves less than this, in volts beside the same share of its voltage, is there.
const TOLERANCE: f64 = 1e-8;

/// What a port obeys in a step.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Law {
    /// `v − ohms·i` is the port's own voltage; for an inductor `ohms` goes over all that are coupled.
    Branch { ohms: f64 },
    /// No current.
    Open,
    /// A junction's own law.
    Junction,
}

/// The ports reduced to their junctions.
pub(super) struct Reduced {
    /// Ports that are straight lines, and those that are junctions.
    lines: Vec<usize>,
    junctions: Vec<usize>,
    ports: usize,
    lines_lu: PartialPivLu<f64>,
    /// Volts at a junction for an ampere out of a line, `[junction][line]`.
    across: Vec<Vec<f64>>,
    /// What an ampere out of a junction takes from each line's current, `[junction][line]`.
    takes: Vec<Vec<f64>>,
    /// Resistances between the junctions, seen through the lines.
    z: Vec<Vec<f64>>,
}

impl Reduced {
    /// `z[j][k]` is what an ampere out of port k takes from port j's voltage; `coupled` adds ohms to it.
    pub fn new(z: &[Vec<f64>], laws: &[Law], coupled: &[(usize, usize, f64)]) -> Self {
        let of = |is: fn(&Law) -> bool| (0..laws.len()).filter(|&n| is(&laws[n])).collect();
        let lines: Vec<usize> = of(|law| matches!(law, Law::Branch { .. }));
        let junctions: Vec<usize> = of(|law| *law == Law::Junction);
        let mut own = Mat::from_fn(lines.len(), lines.len(), |j, k| z[lines[j]][lines[k]]);
        for (n, &port) in lines.iter().enumerate() {
            if let Law::Branch { ohms } = laws[port] {
                own[(n, n)] += ohms;
            }
        }
        for &(j, k, ohms) in coupled {
            let at = |port| lines.iter().position(|p| *p == port);
            if let (Some(j), Some(k)) = (at(j), at(k)) {
                own[(j, k)] += ohms;
            }
        }
        let lines_lu = own.partial_piv_lu();
        let takes: Vec<Vec<f64>> = junctions
            .iter()
            .map(|&j| {
                let column = Col::from_fn(lines.len(), |n| z[lines[n]][j]);
                lines_lu.solve(column).iter().copied().collect()
            })
            .collect();
        let across: Vec<Vec<f64>> = junctions
            .iter()
            .map(|&j| lines.iter().map(|&k| z[j][k]).collect())
            .collect();
        let seen = |(j, row): (&usize, &Vec<f64>)| {
            let between = |(k, takes): (&usize, &Vec<f64>)| z[*j][*k] - dot(row, takes);
            junctions.iter().zip(&takes).map(between).collect()
        };
        Self {
            z: junctions.iter().zip(&across).map(seen).collect(),
            ports: laws.len(),
            lines,
            junctions,
            lines_lu,
            across,
            takes,
        }
    }

    /// Amperes at every port. `v0` are the volts of the open ports, `volts` those of the ports' own
    /// laws, `guess` the last voltages.
    ///
    /// # Errors
    /// [`Stuck`] at the junction that keeps moving.
    pub fn solve(
        &self,
        v0: &[f64],
        volts: &[f64],
        elements: &[Element],
        guess: &[f64],
    ) -> Result<Vec<f64>, Stuck> {
        let driven = Col::from_fn(self.lines.len(), |n| {
            v0[self.lines[n]] - volts[self.lines[n]]
        });
        let lines = self.lines_lu.solve(driven);
        let mut lines: Vec<f64> = lines.iter().copied().collect();
        let mut amps = vec![0.0; self.ports];
        if !self.junctions.is_empty() {
            let rows = self.junctions.iter().zip(&self.across);
            let open: Vec<f64> = rows.map(|(&j, row)| v0[j] - dot(row, &lines)).collect();
            let flow = self.through_junctions(&open, elements, guess)?;
            for (&i, takes) in flow.iter().zip(&self.takes) {
                for (line, takes) in lines.iter_mut().zip(takes) {
                    *line -= takes * i;
                }
            }
            for (&port, i) in self.junctions.iter().zip(flow) {
                amps[port] = i;
            }
        }
        for (&port, i) in self.lines.iter().zip(lines) {
            amps[port] = i;
        }
        Ok(amps)
    }

    /// Amperes through the junctions with `open` volts behind them, by Newton's method.
    fn through_junctions(
        &self,
        open: &[f64],
        elements: &[Element],
        guess: &[f64],
    ) -> Result<Vec<f64>, Stuck> {
        let mut v: Vec<f64> = self.junctions.iter().map(|&j| guess[j]).collect();
        let mut moved = (0, 0.0);
        for _ in 0..ITERATIONS {
            // (1 + G·Z)·i = i(v) − G·v + G·open
            let row = |(n, &port): (usize, &usize)| {
                let (i, g) = elements[port].law(v[n]);
                let mut row: Vec<f64> = self.z[n].iter().map(|z| g * z).collect();
                row[n] += 1.0;
                row.push(i - g * v[n] + g * open[n]);
                row
            };
            let amps = eliminate(self.junctions.iter().enumerate().map(row).collect());
            moved = (0, 0.0);
            for (n, &port) in self.junctions.iter().enumerate() {
                let next = open[n] - dot(&self.z[n], &amps);
                let to = elements[port].limit(next, v[n]);
                let step = (to - v[n]).abs() / (1.0 + v[n].abs());
                if step > moved.1 || step.is_nan() {
                    moved = (port, step);
                }
                v[n] = to;
            }
            if moved.1 <= TOLERANCE {
                return Ok(amps);
            }
        }
        Err(Stuck {
            port: moved.0,
            step: moved.1,
            iterations: ITERATIONS,
        })
    }
}

fn dot(a: &[f64], b: &[f64]) -> f64 {
    a.iter().zip(b).map(|(a, b)| a * b).sum()
}
