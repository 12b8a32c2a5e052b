//! A change of a few rows of a factored matrix, solved without factoring anew.

use super::{Column, System};
use crate::dense::inverse;

/// An update whose small matrix has a smaller pivot than this would lose digits: factor anew.
const LEAST_PIVOT: f64 = 1e-6;

/// Rows that differ from a base: by Sherman, Morrison and Woodbury, with `A = A₀ + E·D`, where `E`
/// picks the rows and `D` holds their differences, `x = y − Z·(1 + D·Z)⁻¹·D·y` with `y = A₀⁻¹·b` and
/// `Z = A₀⁻¹·E`.
pub(super) struct LowRank {
    /// Differences of each row, by column.
    diffs: Vec<Vec<(usize, f64)>>,
    z: Vec<Column>,
    /// Inverse of `1 + D·Z`, row by row.
    inverse: Vec<Vec<f64>>,
}

impl LowRank {
    /// The update of some rows of the first base; `None` when it would lose digits.
    pub fn new(system: &System, rows: &[usize]) -> Option<Self> {
        let base = system.bases.first()?;
        let rows_of = system.pattern.row_idx();
        let mut diffs = vec![Vec::new(); rows.len()];
        for (n, (old, new)) in base.values.iter().zip(&system.values).enumerate() {
            if old != new {
                let at = rows.iter().position(|r| *r == rows_of[n])?;
                diffs[at].push((system.columns[n], new - old));
            }
        }
        let z: Vec<Column> = rows.iter().map(|&row| system.column(row)).collect();
        let small = diffs.iter().enumerate().map(|(i, diff)| {
            let one = |j: usize| if i == j { 1.0 } else { 0.0 };
            let row = z
                .iter()
                .enumerate()
                .map(|(j, z)| one(j) + sparse_dot(diff, z));
            row.collect()
        });
        let inverse = inverse(small.collect(), LEAST_PIVOT)?;
        Some(Self { diffs, z, inverse })
    }

    /// Turns some entries of a solution of the base, which are there already, into those of the changed
    /// matrix.
    pub fn apply_at(&self, y: &[f64], rows: &[usize], out: &mut [f64]) {
        let dy: Vec<f64> = self.diffs.iter().map(|d| sparse_dot(d, y)).collect();
        if dy.iter().all(|d| *d == 0.0) {
            return;
        }
        for (row, z) in self.inverse.iter().zip(&self.z) {
            let share: f64 = row.iter().zip(&dy).map(|(a, b)| a * b).sum();
            for (value, at) in out.iter_mut().zip(rows) {
                *value -= share * z[*at];
            }
        }
    }

    /// Turns a solution of the base into one of the changed matrix.
    pub fn apply(&self, y: &mut [f64]) {
        let dy: Vec<f64> = self.diffs.iter().map(|d| sparse_dot(d, y)).collect();
        for (row, z) in self.inverse.iter().zip(&self.z) {
            let share: f64 = row.iter().zip(&dy).map(|(a, b)| a * b).sum();
            for (y, z) in y.iter_mut().zip(z.iter()) {
                *y -= share * z;
            }
        }
    }
}

fn sparse_dot(sparse: &[(usize, f64)], dense: &[f64]) -> f64 {
    sparse.iter().map(|&(n, v)| v * dense[n]).sum()
}
