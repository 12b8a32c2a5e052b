//! The multimeter's min/max memory: least and most DC volts since the machine was last moved, the
//! inrush of a motor and the bounce of a relay included.

use super::function::{Function, Instrument, Range};
use super::multimeter::{INPUT_OHMS, voltmeter};
use super::take::{Held, Measured};
use crate::{Bench, BenchError};
use cimento_model::units::Unit;

/// Shortest excursion that the memory catches, in seconds; common practice.
const CATCHES_S: f64 = 0.1;

/// Least and most volts.
fn volts(bench: &Bench, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
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

/// Least and most DC volts since the machine was last moved: ±(0.5 % + 2 counts).
pub(super) struct MinMax;

impl Function {
    pub const MIN_MAX: Self = Self::of(&MinMax);
}

impl Instrument for MinMax {
    fn name(&self) -> &'static str {
        "min_max"
    }

    fn label(&self) -> &'static str {
        "Min / max"
    }

    fn title(&self) -> &'static str {
        "min/max"
    }

    fn unit(&self) -> Unit {
        Unit::Volt
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(6.0), Range(60.0), Range(600.0)]
    }

    fn accuracy(&self, value: f64, range: Range) -> f64 {
        0.005 * value.abs() + 2.0 * range.count()
    }

    fn fineness(&self) -> Option<u8> {
        Some(1)
    }

    fn between(
        &self,
        held: &Held<'_>,
        (red, black): (usize, usize),
    ) -> Result<Measured, BenchError> {
        Ok(Measured::of(volts(held.bench, red, black)?))
    }
}
