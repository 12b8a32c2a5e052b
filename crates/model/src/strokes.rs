//! When the cylinders of an engine come to fire, and how well each squeezes its gas.

use crate::circuit::Circuit;

/// Where in the order of firing of four cylinders (1, 3, 4, 2) each stands.
const ORDER_OF_FOUR: [usize; 4] = [0, 3, 1, 2];

/// Which of the firings, from 0, is that of a cylinder, counted from 1, of so many.
pub fn firing_place(cylinder: usize, cylinders: usize) -> usize {
    let n = cylinder.saturating_sub(1) % cylinders.max(1);
    match cylinders {
        4 => ORDER_OF_FOUR[n],
        _ => n,
    }
}

/// The strokes of an engine.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Strokes {
    pub cylinders: usize,
    /// Degrees of the crankshaft in which every cylinder fires once: 720, or 360 with two strokes.
    pub period_deg: f64,
}

impl Strokes {
    /// Those of a circuit's engine, by its plugs; an engine of one cylinder where it has none.
    pub fn of(circuit: &Circuit) -> Self {
        let parts = circuit.parts.iter();
        let plugs: Vec<_> = parts.filter_map(|p| p.kind.cylinder(&p.params)).collect();
        let two = plugs.iter().any(|c| c.strokes == 2);
        Self {
            cylinders: plugs.len().max(1),
            period_deg: if two { 360.0 } else { 720.0 },
        }
    }

    /// Degrees from one firing to the next.
    pub fn every_deg(&self) -> f64 {
        self.period_deg / self.cylinders as f64
    }

    /// Which of the firings, from 0, is that of a cylinder, counted from 1.
    pub fn place(&self, cylinder: usize) -> usize {
        firing_place(cylinder, self.cylinders)
    }

    /// Degrees of the crankshaft at which a cylinder, counted from 1, should fire.
    pub fn fires_deg(&self, cylinder: usize) -> f64 {
        self.every_deg() * self.place(cylinder) as f64
    }
}
