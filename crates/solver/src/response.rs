//! How the voltages of a circuit answer to small currents: resistances seen from its nodes.

use crate::netlist::Node;

/// Resistances between nodes, in ohms: the rise of one node's voltage for an ampere into another.
#[derive(Debug, Clone, PartialEq)]
pub struct Response {
    /// One column for each node but zero.
    pub(crate) columns: Vec<Vec<f64>>,
}

impl Response {
    /// Resistance seen between two nodes, in ohms.
    pub fn between(&self, a: Node, b: Node) -> f64 {
        self.at(a, a) + self.at(b, b) - self.at(a, b) - self.at(b, a)
    }

    /// Rise of node `of` for an ampere into node `into`, in volts.
    fn at(&self, of: Node, into: Node) -> f64 {
        if of.0 == 0 || into.0 == 0 {
            0.0
        } else {
            self.columns[into.0 - 1][of.0 - 1]
        }
    }

    /// Adds a conductance between two nodes (Sherman and Morrison's formula).
    pub(crate) fn add(&mut self, a: Node, b: Node, siemens: f64) {
        if siemens == 0.0 {
            return;
        }
        let nodes = self.columns.len();
        let node = Node;
        let difference: Vec<f64> = (1..=nodes)
            .map(|n| self.at(node(n), a) - self.at(node(n), b))
            .collect();
        let row: Vec<f64> = (1..=nodes)
            .map(|n| self.at(a, node(n)) - self.at(b, node(n)))
            .collect();
        let factor = siemens / (1.0 + siemens * self.between(a, b));
        for (column, r) in self.columns.iter_mut().zip(&row) {
            for (value, d) in column.iter_mut().zip(&difference) {
                *value -= factor * d * r;
            }
        }
    }
}
