//! The multimeter's current input: a shunt behind a fuse. Held across a source it blows its fuse.

use super::function::{Function, Instrument, Range};
use super::take::{Held, Measured};
use cimento_model::units::Unit;
use std::cell::Cell;

use cimento_solver::{Element, ElementId};

use crate::{Bench, BenchError, Settled};
use cimento_model::stamped::StampedNetlist;
use cimento_parts::opening_s;

/// Shunt, fuse and leads together, in ohms; common practice.
const BURDEN_OHMS: f64 = 0.05;
/// Rating of the fuse, in amperes; common practice.
pub const FUSE_A: f64 = 10.0;
/// The leads are held for this long, in seconds.
const HELD_S: f64 = 10.0;

/// Amperes from the red lead to the black one. An input whose fuse has blown joins nothing.
fn amps(bench: &Bench, fuse_blown: bool, red: usize, black: usize) -> Result<Measured, BenchError> {
    if fuse_blown {
        return Ok(Measured {
            values: (0.0, 0.0),
            blew: false,
        });
    }
    let shunt: Cell<Option<ElementId>> = Cell::new(None);
    let settled: Settled = bench.settled_with(&|w: &mut StampedNetlist| {
        let (a, b) = (w.node(red), w.node(black));
        shunt.set(Some(w.net.attach(Element::resistor(a, b, BURDEN_OHMS))));
    })?;
    let current = |p: &crate::Point| shunt.get().map_or(0.0, |id| p.op.current(id));
    // The inrush counts too, as does every point of a cycle for its part of the time.
    let whole: f64 = settled.points.iter().map(|p| p.lasts_s).sum();
    let worn = |p: &crate::Point, seconds: f64| seconds / opening_s(current(p).abs() / FUSE_A);
    let inrush: f64 = settled.passed.iter().map(|p| worn(p, p.lasts_s)).sum();
    let held: f64 = settled
        .points
        .iter()
        .map(|p| worn(p, HELD_S * p.lasts_s / whole))
        .sum();
    let blew = inrush + held >= 1.0;
    Ok(Measured {
        values: if blew {
            (0.0, 0.0)
        } else {
            settled.range(current).unwrap_or((0.0, 0.0))
        },
        blew,
    })
}

/// DC amps through the shunt and its fuse: ±(1 % + 3 counts); common practice.
pub(super) struct DcAmps;

impl Function {
    pub const DC_AMPS: Self = Self::of(&DcAmps);
}

impl Instrument for DcAmps {
    fn name(&self) -> &'static str {
        "dc_amps"
    }

    fn label(&self) -> &'static str {
        "DC amps"
    }

    fn title(&self) -> &'static str {
        "amperes through the meter"
    }

    fn unit(&self) -> Unit {
        Unit::Ampere
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(6.0), Range(60.0)]
    }

    fn accuracy(&self, value: f64, range: Range) -> f64 {
        0.01 * value.abs() + 3.0 * range.count()
    }

    fn is_fused(&self) -> bool {
        true
    }

    fn between(
        &self,
        held: &Held<'_>,
        (red, black): (usize, usize),
    ) -> Result<Measured, BenchError> {
        amps(held.bench, held.meter.fuse_blown, red, black)
    }
}
