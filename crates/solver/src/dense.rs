//! Small dense matrices, row by row.

/// Lanes that a sum is kept in, so that a processor adds several at once.
const LANES: usize = 8;

pub(crate) fn dot(a: &[f64], b: &[f64]) -> f64 {
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

/// A few equations, row by row with the right-hand side in the last column: room that is used again and again, for a
/// junction's voltage takes many steps.
pub(crate) struct Equations {
    cells: Vec<f64>,
    x: Vec<f64>,
}

impl Equations {
    pub fn new(unknowns: usize) -> Self {
        Self {
            cells: vec![0.0; unknowns * (unknowns + 1)],
            x: vec![0.0; unknowns],
        }
    }

    pub fn rows(&mut self) -> impl Iterator<Item = &mut [f64]> {
        self.cells.chunks_exact_mut(self.x.len() + 1)
    }

    /// By Gaussian elimination with pivoting, in place.
    pub fn solve(&mut self) -> &[f64] {
        let (n, wide) = (self.x.len(), self.x.len() + 1);
        for col in 0..n {
            let size = |row: &usize| self.cells[row * wide + col].abs();
            let largest = (col..n).max_by(|a, b| size(a).total_cmp(&size(b)));
            if let Some(largest) = largest.filter(|row| *row != col) {
                let (above, below) = self.cells.split_at_mut(largest * wide);
                above[col * wide..][..wide].swap_with_slice(&mut below[..wide]);
            }
            let (above, below) = self.cells.split_at_mut((col + 1) * wide);
            let own = &above[col * wide..];
            for row in below.chunks_exact_mut(wide) {
                let factor = row[col] / own[col];
                if factor != 0.0 {
                    let rest = row[col..].iter_mut().zip(&own[col..]);
                    rest.for_each(|(x, p)| *x -= factor * p);
                }
            }
        }
        for row in (0..n).rev() {
            let cells = &self.cells[row * wide..][..wide];
            let known: f64 = (row + 1..n).map(|k| cells[k] * self.x[k]).sum();
            self.x[row] = (cells[n] - known) / cells[row];
        }
        &self.x
    }
}

/// Inverse by Gauss and Jordan with the largest pivot of each column; none where a pivot is no larger than
/// `least`, beside 1 and beside what its row began with: so many digits were lost on the way to it.
pub(crate) fn inverse(mut rows: Vec<Vec<f64>>, least: f64) -> Option<Vec<Vec<f64>>> {
    let n = rows.len();
    let size = |row: &Vec<f64>| row.iter().fold(1.0_f64, |most, v| most.max(v.abs()));
    let mut sizes: Vec<f64> = rows.iter().map(size).collect();
    for (at, row) in rows.iter_mut().enumerate() {
        row.extend((0..n).map(|k| if k == at { 1.0 } else { 0.0 }));
    }
    for column in 0..n {
        let size = |row: &usize| rows[*row][column].abs();
        let best = (column..n).max_by(|a, b| size(a).total_cmp(&size(b)))?;
        rows.swap(column, best);
        sizes.swap(column, best);
        let pivot = rows[column][column];
        if pivot.is_nan() || pivot.abs() <= least * sizes[column] {
            return None;
        }
        rows[column].iter_mut().for_each(|v| *v /= pivot);
        let own = std::mem::take(&mut rows[column]);
        for (_, row) in rows.iter_mut().enumerate().filter(|(r, _)| *r != column) {
            let factor = row[column];
            if factor != 0.0 {
                row.iter_mut().zip(&own).for_each(|(v, o)| *v -= factor * o);
            }
        }
        rows[column] = own;
    }
    Some(rows.into_iter().map(|row| row[n..].to_vec()).collect())
}

/// A square matrix factored with row exchanges, for many right-hand sides.
pub(crate) struct Lu {
    /// `L` without its ones below the diagonal, `U` on and above it.
    rows: Vec<Vec<f64>>,
    /// The row of the matrix that stands at each place.
    order: Vec<usize>,
}

impl Lu {
    /// None where the matrix has no inverse.
    pub fn new(mut rows: Vec<Vec<f64>>) -> Option<Self> {
        let n = rows.len();
        let mut order: Vec<usize> = (0..n).collect();
        for column in 0..n {
            let size = |row: &usize| rows[*row][column].abs();
            let best = (column..n).max_by(|a, b| size(a).total_cmp(&size(b)))?;
            rows.swap(column, best);
            order.swap(column, best);
            let pivot = rows[column][column];
            if pivot == 0.0 || pivot.is_nan() {
                return None;
            }
            let (above, below) = rows.split_at_mut(column + 1);
            let own = &above[column];
            for row in below {
                let factor = row[column] / pivot;
                row[column] = factor;
                if factor != 0.0 {
                    let rest = row[column + 1..].iter_mut();
                    rest.zip(&own[column + 1..])
                        .for_each(|(v, o)| *v -= factor * o);
                }
            }
        }
        Some(Self { rows, order })
    }

    pub fn solve(&self, of: &[f64]) -> Vec<f64> {
        let mut x: Vec<f64> = self.order.iter().map(|row| of[*row]).collect();
        for (n, row) in self.rows.iter().enumerate() {
            x[n] -= dot(&row[..n], &x[..n]);
        }
        for (n, row) in self.rows.iter().enumerate().rev() {
            x[n] = (x[n] - dot(&row[n + 1..], &x[n + 1..])) / row[n];
        }
        x
    }
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use super::*;

    /// Hilbert's matrix of five, whose inverse is known in whole numbers: 25 and 179,200 stand on its diagonal.
    #[test]
    fn hilberts_inverse_comes_out_both_ways() {
        let hilbert: Vec<Vec<f64>> = (0..5)
            .map(|j| (0..5).map(|k| 1.0 / f64::from(j + k + 1)).collect())
            .collect();
        let inverse = inverse(hilbert.clone(), 0.0).unwrap();
        let lu = Lu::new(hilbert).unwrap();
        for (at, known) in [(0, 25.0), (3, 179_200.0)] {
            let unit: Vec<f64> = (0..5).map(|n| if n == at { 1.0 } else { 0.0 }).collect();
            for found in [inverse[at][at], lu.solve(&unit)[at]] {
                assert!((found / known - 1.0).abs() < 1e-10, "{found}");
            }
        }
    }

    /// Rows have to be exchanged where a pivot is nothing.
    #[test]
    fn rows_are_exchanged() {
        let lu = Lu::new(vec![vec![0.0, 2.0], vec![4.0, 1.0]]).unwrap();
        assert_eq!(lu.solve(&[2.0, 9.0]), [2.0, 1.0]);
    }

    #[test]
    fn what_has_no_inverse_gives_none() {
        let singular = || vec![vec![1.0, 2.0], vec![2.0, 4.0]];
        assert!(inverse(singular(), 0.0).is_none() && Lu::new(singular()).is_none());
        assert!(inverse(vec![vec![1e-7]], 1e-6).is_none());
        // One is no little number, but what is left of 2·10⁹.
        assert!(inverse(vec![vec![1.0, 2e9], vec![1.0, 2e9 + 1.0]], 1e-6).is_none());
        assert_eq!(inverse(Vec::new(), 0.0), Some(Vec::new()));
        assert!(Lu::new(Vec::new()).unwrap().solve(&[]).is_empty());
    }
}
