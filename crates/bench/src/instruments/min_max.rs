//! The multimeter's min/max memory: least and most DC volts since the machine was last moved, the
//! inrush of a motor and the bounce of a relay included.

use super::multimeter::{INPUT_OHMS, voltmeter};
use crate::{Bench, BenchError};

/// Shortest excursion that the memory catches, in seconds; common practice.
const CATCHES_S: f64 = 0.1;

/// Least and most volts.
pub(super) fn volts(bench: &Bench, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
    let points = bench.passed_with(&voltmeter(red, black, INPUT_OHMS))?;
    let last = bench.settled().points.len();
    let settled_from = points.len() - last;
    let caught = points
        .iter()
        .enumerate()
        .filter(|(n, p)| *n >= settled_from || p.lasts_s >= CATCHES_S);
    let volts = caught.map(|(_, p)| p.op.between(p.wiring.node(red), p.wiring.node(black)));
    Ok(volts.fold((f64::INFINITY, f64::NEG_INFINITY), |(l, m), v| {
        (l.min(v), m.max(v))
    }))
}
