//! Peak-voltage reading: an adapter that holds the highest voltage of two turns of the crankshaft, as one
//! reads charging windings, triggers and coil primaries that no meter can follow.

use super::function::{Function, Instrument, Leads, Range, Standing};
use super::take::{Held, Measured};
use cimento_model::units::Unit;
use std::cell::Cell;
use std::ops::ControlFlow;

use cimento_solver::Element;

use super::multimeter;
use crate::{Bench, BenchError, PEAK_TURNS};
use cimento_model::circuit::Circuit;
use cimento_model::stamped::StampedNetlist;

/// Input of the adapter, in ohms; common practice.
const INPUT_OHMS: f64 = 2e6;

/// The highest volts of either sign between two nodes; what stands still where nothing turns. Where the
/// adapter hardly loads what it is put to, one look serves every point of the machine.
fn volts(bench: &Bench, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
    let light = black == 0 && bench.hardly_loads(red, black, INPUT_OHMS);
    if light && let Some(peaks) = bench.peaks()? {
        return Ok((peaks[red], peaks[red]));
    }
    let most = Cell::new(0.0_f64);
    let attach = |wiring: &mut StampedNetlist| {
        let (a, b) = (wiring.node(red), wiring.node(black));
        wiring.net.attach(Element::resistor(a, b, INPUT_OHMS));
    };
    let turned = bench.in_time(PEAK_TURNS, &attach, &mut |_, wiring, now| {
        let v = now.between(wiring.node(red), wiring.node(black)).abs();
        most.set(most.get().max(v));
        ControlFlow::Continue(())
    })?;
    if turned {
        return Ok((most.get(), most.get()));
    }
    let (least, most) = multimeter::volts(bench, red, black)?;
    let peak = least.abs().max(most.abs());
    Ok((peak, peak))
}

/// Peak-voltage adapter: ±(3 % + 3 counts); common practice.
pub(super) struct PeakVolts;

impl Function {
    pub const PEAK_VOLTS: Self = Self::of(&PeakVolts);
}

impl Instrument for PeakVolts {
    fn name(&self) -> &'static str {
        "peak_volts"
    }

    fn label(&self) -> &'static str {
        "Peak volts"
    }

    fn title(&self) -> &'static str {
        "peak volts"
    }

    fn unit(&self) -> Unit {
        Unit::Volt
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(6.0), Range(60.0), Range(600.0)]
    }

    fn accuracy(&self, value: f64, range: Range) -> f64 {
        0.03 * value.abs() + 3.0 * range.count()
    }

    fn follows_time(&self) -> bool {
        true
    }

    fn proposes_closer(&self, circuit: &Circuit, (_, swinging): Standing<'_>) -> Vec<Leads> {
        let negative = circuit.point_at(0).map(|p| p.id.clone());
        let points = swinging.iter().filter_map(|node| circuit.point_at(*node));
        points.map(|p| (p.id.clone(), negative.clone())).collect()
    }

    fn between(
        &self,
        held: &Held<'_>,
        (red, black): (usize, usize),
    ) -> Result<Measured, BenchError> {
        Ok(Measured::of(volts(held.bench, red, black)?))
    }
}
