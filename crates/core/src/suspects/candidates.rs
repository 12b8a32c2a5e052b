//! The single faults of a circuit, with a grid over their severity.

use crate::circuit::{Circuit, Place};
use crate::faults::{Fault, FaultDoc, Mode};

/// Grid points of severity per factor of ten.
const PER_DECADE: f64 = 2.0;

/// A place and a mode, with the faults at the grid points of its severity, mildest first. Between
/// each two neighbours lies a segment; a mode without severity is one point.
#[derive(Debug, Clone, PartialEq)]
pub struct Candidate {
    pub place: Place,
    pub mode: &'static str,
    pub grid: Vec<Fault>,
    /// Share of belief before anything is seen, over all segments.
    pub prior: f64,
}

impl Candidate {
    /// How many segments it has; a single point counts as one.
    pub fn segments(&self) -> usize {
        (self.grid.len() - 1).max(1)
    }
}

/// Every single fault of a circuit.
pub fn candidates(circuit: &Circuit) -> Vec<Candidate> {
    let mut out = Vec::new();
    for place in circuit.places() {
        for spec in circuit.modes(place) {
            let doc = FaultDoc {
                place: circuit.place_id(place).to_owned(),
                mode: spec.name.to_owned(),
                ..FaultDoc::default()
            };
            // A mode that needs more than its name (the other wire of a short) is no single fault
            // of this place alone; a metal that is not there cannot be touched.
            let Ok(fault) = Fault::read(circuit, &doc, "candidate") else {
                continue;
            };
            let grid = match spec.severity {
                None => vec![fault],
                Some(s) => grid(s.least, s.most, fault.mode)
                    .into_iter()
                    .map(|severity| Fault {
                        mode: fault.mode.with_severity(severity),
                        ..fault.clone()
                    })
                    .collect(),
            };
            out.push(Candidate {
                place,
                mode: spec.name,
                grid,
                prior: spec.prior,
            });
        }
    }
    let total: f64 = out.iter().map(|c| c.prior).sum();
    for candidate in &mut out {
        candidate.prior /= total;
    }
    out
}

/// Points from least to most, evenly on a logarithmic axis. A share of strands is counted by what
/// is left of the wire.
fn grid(least: f64, most: f64, mode: Mode) -> Vec<f64> {
    let by_rest = matches!(mode, Mode::StrandsCut { .. });
    let (a, b) = if by_rest {
        (1.0 - least, 1.0 - most)
    } else {
        (least, most)
    };
    let steps = ((b / a).log10().abs() * PER_DECADE).ceil().max(1.0) as usize;
    let point = |n: usize| {
        let at = a * (b / a).powf(n as f64 / steps as f64);
        // Rounding must not carry an end out of the range.
        (if by_rest { 1.0 - at } else { at }).clamp(least, most)
    };
    (0..=steps).map(point).collect()
}
