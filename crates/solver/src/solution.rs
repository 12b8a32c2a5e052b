//! What a solve gives back.

use crate::node::{ElementId, Node};

/// An operating point: volts at every node, amperes through every element, speed of every motor.
#[derive(Debug, Clone, PartialEq)]
pub struct Solution {
    pub(crate) volts: Vec<f64>,
    pub(crate) amps: Vec<f64>,
    pub(crate) speeds: Vec<f64>,
}

impl Solution {
    /// Voltage of a node against zero, in volts.
    pub fn voltage(&self, node: Node) -> f64 {
        self.volts[node.0]
    }

    /// Voltage from `a` to `b`, in volts.
    pub fn between(&self, a: Node, b: Node) -> f64 {
        self.volts[a.0] - self.volts[b.0]
    }

    /// Current through an element from its first node to its second, in amperes.
    pub fn current(&self, id: ElementId) -> f64 {
        self.amps[id.0]
    }

    /// Speed of a motor in rad/s; 0 for every other element.
    pub fn speed(&self, id: ElementId) -> f64 {
        self.speeds[id.0]
    }

    /// The mean of solutions of one netlist, each with its share of the time.
    pub fn mean(shares: &[(f64, &Self)]) -> Self {
        let whole: f64 = shares.iter().map(|(share, _)| share).sum();
        let mean = |pick: &dyn Fn(&Self) -> &[f64]| -> Vec<f64> {
            let length = shares.first().map_or(0, |(_, s)| pick(s).len());
            (0..length)
                .map(|n| shares.iter().map(|(w, s)| w / whole * pick(s)[n]).sum())
                .collect()
        };
        Self {
            volts: mean(&|s| &s.volts),
            amps: mean(&|s| &s.amps),
            speeds: mean(&|s| &s.speeds),
        }
    }

    /// Node voltages by position, zero included.
    pub fn voltages(&self) -> &[f64] {
        &self.volts
    }
}
