//! What elements write their equations into.

use crate::node::Node;

/// A system of equations that is being written: its pattern, its values, or what is left of it at some unknowns.
pub(crate) trait Stamper {
    /// Adds a value to the matrix.
    fn entry(&mut self, row: usize, col: usize, value: f64);

    /// Adds a value to the right-hand side.
    fn rhs(&mut self, row: usize, value: f64);

    /// A branch whose current is unknown `k`: `from_v·(v(a) − v(b)) + own·i = rhs`.
    fn series(&mut self, (a, b): (Node, Node), k: usize, (from_v, own): (f64, f64), rhs: f64) {
        for (node, sign) in [(a, 1.0), (b, -1.0)] {
            if node.0 > 0 {
                self.entry(node.0 - 1, k, sign);
                self.entry(k, node.0 - 1, sign * from_v);
            }
        }
        self.entry(k, k, own);
        self.rhs(k, rhs);
    }

    fn conductance(&mut self, a: Node, b: Node, siemens: f64) {
        for (row, col, sign) in [(a, a, 1.0), (b, b, 1.0), (a, b, -1.0), (b, a, -1.0)] {
            if row.0 > 0 && col.0 > 0 {
                self.entry(row.0 - 1, col.0 - 1, sign * siemens);
            }
        }
    }

    /// A current that leaves `a` and enters `b`.
    fn current(&mut self, a: Node, b: Node, amps: f64) {
        for (node, sign) in [(a, -1.0), (b, 1.0)] {
            if node.0 > 0 {
                self.rhs(node.0 - 1, sign * amps);
            }
        }
    }
}
