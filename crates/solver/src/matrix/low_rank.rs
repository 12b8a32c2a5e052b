//! A change of a few rows of a factored matrix, solved without factoring anew.

use super::{Column, System};

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
            let row = z.iter().enumerate().map(|(j, z)| one(j) + dot(diff, z));
            row.collect()
        });
        let inverse = invert(small.collect())?;
        Some(Self { diffs, z, inverse })
    }

    /// Turns some entries of a solution of the base, which are there already, into those of the changed
    /// matrix.
    pub fn apply_at(&self, y: &[f64], rows: &[usize], out: &mut [f64]) {
        let dy: Vec<f64> = self.diffs.iter().map(|d| dot(d, y)).collect();
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
        let dy: Vec<f64> = self.diffs.iter().map(|d| dot(d, y)).collect();
        for (row, z) in self.inverse.iter().zip(&self.z) {
            let share: f64 = row.iter().zip(&dy).map(|(a, b)| a * b).sum();
            for (y, z) in y.iter_mut().zip(z.iter()) {
                *y -= share * z;
            }
        }
    }
}

fn dot(sparse: &[(usize, f64)], dense: &[f64]) -> f64 {
    sparse.iter().map(|&(n, v)| v * dense[n]).sum()
}

/// Inverse of a few equations by Gauss and Jordan; `None` when a pivot is next to nothing.
fn invert(mut m: Vec<Vec<f64>>) -> Option<Vec<Vec<f64>>> {
    let n = m.len();
    for (i, row) in m.iter_mut().enumerate() {
        row.extend((0..n).map(|j| if i == j { 1.0 } else { 0.0 }));
    }
    for col in 0..n {
        let pivot = (col..n).max_by(|&a, &b| m[a][col].abs().total_cmp(&m[b][col].abs()))?;
        m.swap(col, pivot);
        let p = m[col][col];
        if p.is_nan() || p.abs() < LEAST_PIVOT {
            return None;
        }
        m[col].iter_mut().for_each(|v| *v /= p);
        let own = m[col].clone();
        for (_, row) in m.iter_mut().enumerate().filter(|(i, _)| *i != col) {
            let factor = row[col];
            row.iter_mut().zip(&own).for_each(|(v, o)| *v -= factor * o);
        }
    }
    Some(m.into_iter().map(|row| row[n..].to_vec()).collect())
}
