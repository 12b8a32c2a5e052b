//! The ports under laws of given resistances, with all that does not change from step to step worked out.
//!
//! Steps come in a few lengths and switches in a few constellations, so the same few systems are solved
//! again and again with other voltages. What is open carries nothing and is left out; what is a straight
//! line is factored; what is left are the junctions, seen through all the rest.

use crate::dense::{Equations, Lu, dot};
use crate::elements::Element;
use crate::ports::{Stuck, TREMBLES};

/// Iterations over the junctions before a step is given up.
const ITERATIONS: usize = 100;
/// A junction that moves less than this, in volts beside the same share of its voltage, is there.
const TOLERANCE: f64 = 1e-8;

/// Largest accepted miss of a junction's own law, in amperes beside its current: the same as a node's.
const MISSES: f64 = 1e-6;

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
    /// The lines' equations: they are few and solved thousands of times.
    lu: Lu,
    /// Volts at a junction for an ampere out of a line, `[junction][line]`.
    across: Vec<Vec<f64>>,
    /// What an ampere out of a junction takes from each line's current, `[junction][line]`.
    takes: Vec<Vec<f64>>,
    /// Resistances between the junctions, seen through the lines.
    z: Vec<Vec<f64>>,
}

impl Reduced {
    /// `z[j][k]` is what an ampere out of port k takes from port j's voltage; `coupled` adds ohms to it.
    /// None where the lines have no single answer.
    pub fn new(z: &[Vec<f64>], laws: &[Law], coupled: &[(usize, usize, f64)]) -> Option<Self> {
        let of = |is: fn(&Law) -> bool| (0..laws.len()).filter(|&n| is(&laws[n])).collect();
        let lines: Vec<usize> = of(|law| matches!(law, Law::Branch { .. }));
        let junctions: Vec<usize> = of(|law| *law == Law::Junction);
        let mut own: Vec<Vec<f64>> = lines
            .iter()
            .map(|&j| lines.iter().map(|&k| z[j][k]).collect())
            .collect();
        for (n, &port) in lines.iter().enumerate() {
            if let Law::Branch { ohms } = laws[port] {
                own[n][n] += ohms;
            }
        }
        for &(j, k, ohms) in coupled {
            let at = |port| lines.iter().position(|p| *p == port);
            if let (Some(j), Some(k)) = (at(j), at(k)) {
                own[j][k] += ohms;
            }
        }
        let lu = Lu::new(own)?;
        let takes: Vec<Vec<f64>> = junctions
            .iter()
            .map(|&j| {
                let column: Vec<f64> = lines.iter().map(|&k| z[k][j]).collect();
                lu.solve(&column)
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
        Some(Self {
            z: junctions.iter().zip(&across).map(seen).collect(),
            ports: laws.len(),
            lines,
            junctions,
            lu,
            across,
            takes,
        })
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
        let driven: Vec<f64> = self.lines.iter().map(|&n| v0[n] - volts[n]).collect();
        let mut lines = self.lu.solve(&driven);
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
        let (mut moved, mut amps) = ((0, 0.0), vec![0.0; v.len()]);
        let mut equations = Equations::new(v.len());
        for _ in 0..ITERATIONS {
            // (1 + G·Z)·i = i(v) − G·v + G·open
            for (n, row) in equations.rows().enumerate() {
                let (i, g) = elements[self.junctions[n]].law(v[n]);
                row.iter_mut()
                    .zip(&self.z[n])
                    .for_each(|(cell, z)| *cell = g * z);
                row[n] += 1.0;
                row[v.len()] = i - g * v[n] + g * open[n];
            }
            amps.copy_from_slice(equations.solve());
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
        // What still trembles by what is left to the refinement elsewhere is judged by the laws themselves: the
        // currents through windings that hang in the air cancel, and leave that much rounding.
        let mut laws = self.junctions.iter().zip(&v).zip(&amps);
        let holds = laws.all(|((&port, v), i)| {
            let miss = (elements[port].law(*v).0 - i).abs();
            miss <= MISSES * (1.0 + i.abs())
        });
        if moved.1 <= TREMBLES && holds {
            return Ok(amps);
        }
        Err(Stuck {
            port: moved.0,
            step: moved.1,
            iterations: ITERATIONS,
            volts: v,
        })
    }
}
