//! The ports under laws of given resistances, with all that does not change from step to step worked out.
//!
//! Steps come in a few lengths and switches in a few constellations, so the same few systems are solved
//! again and again with other voltages. What is open carries nothing and is left out; what is a straight
//! line is factored; what is left are the junctions, seen through all the rest.

use crate::elements::Element;
use crate::ports::{Stuck, eliminate};

/// Iterations over the junctions before a step is given up.
const ITERATIONS: usize = 100;
/// A junction that moves less than this, in volts beside the same share of its voltage, is there.
const TOLERANCE: f64 = 1e-8;

/// A junction that only trembles by less than this, measured alike, is there too: rounding keeps it moving.
const TREMBLES: f64 = 1e-6;

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
    /// Inverse of the lines' equations, row by row: they are few and solved thousands of times.
    inverse: Vec<Vec<f64>>,
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
        let inverse = inverted(own);
        let takes: Vec<Vec<f64>> = junctions
            .iter()
            .map(|&j| {
                let column: Vec<f64> = lines.iter().map(|&k| z[k][j]).collect();
                inverse.iter().map(|row| dot(row, &column)).collect()
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
            inverse,
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
        let driven: Vec<f64> = self.lines.iter().map(|&n| v0[n] - volts[n]).collect();
        let rows = self.inverse.iter();
        let mut lines: Vec<f64> = rows.map(|row| dot(row, &driven)).collect();
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
        let mut last = Vec::new();
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
            last = amps;
        }
        if moved.1 <= TREMBLES {
            return Ok(last);
        }
        Err(Stuck {
            port: moved.0,
            step: moved.1,
            iterations: ITERATIONS,
        })
    }
}

/// Inverse by Gauss and Jordan, with the largest pivot of each column.
fn inverted(mut rows: Vec<Vec<f64>>) -> Vec<Vec<f64>> {
    let n = rows.len();
    for (at, row) in rows.iter_mut().enumerate() {
        row.extend((0..n).map(|k| if k == at { 1.0 } else { 0.0 }));
    }
    for column in 0..n {
        let size = |row: &usize| rows[*row][column].abs();
        let best = (column..n).max_by(|a, b| size(a).total_cmp(&size(b)));
        rows.swap(column, best.unwrap_or(column));
        let pivot = 1.0 / rows[column][column];
        rows[column].iter_mut().for_each(|v| *v *= pivot);
        let own = std::mem::take(&mut rows[column]);
        for (_, row) in rows.iter_mut().enumerate().filter(|(r, _)| *r != column) {
            let factor = row[column];
            if factor != 0.0 {
                row[column..]
                    .iter_mut()
                    .zip(&own[column..])
                    .for_each(|(v, o)| *v -= factor * o);
            }
        }
        rows[column] = own;
    }
    rows.into_iter().map(|row| row[n..].to_vec()).collect()
}

/// Lanes that a sum is kept in, so that a processor adds several at once.
const LANES: usize = 8;

pub(super) fn dot(a: &[f64], b: &[f64]) -> f64 {
    let (a_lanes, b_lanes) = (a.chunks_exact(LANES), b.chunks_exact(LANES));
    let rest = a_lanes.remainder().iter().zip(b_lanes.remainder());
    let rest: f64 = rest.map(|(a, b)| a * b).sum();
    let mut sums = [0.0; LANES];
    for (a, b) in a_lanes.zip(b_lanes) {
        for ((sum, a), b) in sums.iter_mut().zip(a).zip(b) {
            *sum += a * b;
        }
    }
    sums.iter().sum::<f64>() + rest
}
