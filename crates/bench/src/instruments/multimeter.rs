//! Digital multimeter: DC volts, ohms, continuity, diode test.
//!
//! On volts it is a resistance of 10 MΩ. On ohms it feeds the circuit from a source of 1.5 V
//! behind a range resistor and works out the resistance from the voltage left at its leads, as
//! if nothing else fed them: on a live circuit the number is wrong. On diode test it feeds from 3 V
//! and shows the voltage that is left.

use super::function::{Function, Instrument, Keyed, Leads, Range, Standing};
use super::take::{Held, Measured};
use cimento_model::units::Unit;
use std::cell::Cell;

use cimento_solver::{Element, ElementId};

use super::function::LEAD_OHMS;
use crate::{Bench, BenchError, Point, Settled};
use cimento_model::circuit::Circuit;
use cimento_model::stamped::StampedNetlist;
use cimento_model::state::OperatingState;

/// Input resistance on volts, in ohms; common practice.
pub(super) const INPUT_OHMS: f64 = 10e6;
/// Voltage of the ohms source with nothing at the leads, in volts.
const TEST_V: f64 = 1.5;
/// Range resistors of the ohms source: the low one up to 6 kΩ, the high one above.
const TEST_OHMS: [f64; 2] = [1500.0, 1e6];
/// Source of the diode test; common practice: at most 3 V open, about 1 mA.
const DIODE_V: f64 = 3.0;
const DIODE_OHMS: f64 = 2500.0;
/// From here on the diode test shows over limit, in volts; common practice.
const DIODE_MOST_V: f64 = 2.0;

/// Attaches a voltmeter.
pub(super) fn voltmeter(red: usize, black: usize, ohms: f64) -> impl Fn(&mut StampedNetlist) {
    move |w: &mut StampedNetlist| {
        let (a, b) = (w.node(red), w.node(black));
        let siemens = 1.0 / ohms;
        w.net.attach(Element::Conductance { a, b, siemens });
    }
}

/// Least and most DC volts over what the machine does.
pub(super) fn volts(bench: &Bench, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
    if let Some(range) = bench.lightly_loaded(red, black, INPUT_OHMS) {
        return Ok(range);
    }
    let settled = bench.settled_with(&voltmeter(red, black, INPUT_OHMS))?;
    let volts = |p: &Point| p.op.between(p.wiring.node(red), p.wiring.node(black));
    Ok(settled.range(volts).unwrap_or((0.0, 0.0)))
}

/// Least and most ohms; leads that have been zeroed are taken off.
fn ohms(bench: &Bench, zeroed: bool, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
    let low = ohms_range(bench, red, black, TEST_OHMS[0])?;
    let (least, most) = if low.1 <= 6e3 {
        low
    } else {
        ohms_range(bench, red, black, TEST_OHMS[1])?
    };
    let off = if zeroed { LEAD_OHMS } else { 0.0 };
    Ok((least - off, most - off))
}

/// Volts and amperes at the leads of a source held to the circuit.
fn fed(
    bench: &Bench,
    (red, black): (usize, usize),
    (volts, ohms): (f64, f64),
    show: &dyn Fn(f64, f64) -> f64,
) -> Result<(f64, f64), BenchError> {
    let source: Cell<Option<ElementId>> = Cell::new(None);
    let settled: Settled = bench.settled_with(&|w: &mut StampedNetlist| {
        let (a, b) = (w.node(red), w.node(black));
        let meter = Element::source(a, b, volts, ohms + LEAD_OHMS);
        source.set(Some(w.net.attach(meter)));
    })?;
    let shown = |p: &Point| {
        let amps = source.get().map_or(0.0, |id| -p.op.current(id));
        // The leads' own resistance lies between the probes and the meter, so the meter sees it too.
        show(volts - amps * ohms, amps)
    };
    Ok(settled
        .range(shown)
        .unwrap_or((f64::INFINITY, f64::INFINITY)))
}

fn ohms_range(
    bench: &Bench,
    red: usize,
    black: usize,
    test_ohms: f64,
) -> Result<(f64, f64), BenchError> {
    // What a meter that trusts its own source works out.
    let show = |volts: f64, amps: f64| {
        if amps <= 0.0 {
            f64::INFINITY
        } else {
            volts / amps
        }
    };
    fed(bench, (red, black), (TEST_V, test_ohms), &show)
}

/// Least and most volts left at the leads of the diode test.
fn diode_test(bench: &Bench, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
    let show = |volts: f64, _: f64| {
        if volts > DIODE_MOST_V {
            f64::INFINITY
        } else {
            volts
        }
    };
    fed(bench, (red, black), (DIODE_V, DIODE_OHMS), &show)
}

/// DC volts: ±(0.5 % + 2 counts); common practice.
pub(super) struct DcVolts;

impl Function {
    pub const DC_VOLTS: Self = Self::of(&DcVolts);
}

impl Instrument for DcVolts {
    fn name(&self) -> &'static str {
        "dc_volts"
    }

    fn label(&self) -> &'static str {
        "DC volts"
    }

    fn title(&self) -> &'static str {
        "DC volts"
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

    fn is_dc_volts(&self) -> bool {
        true
    }

    fn fineness(&self) -> Option<u8> {
        Some(0)
    }

    fn keyed(&self) -> Keyed {
        Keyed::PointsAndDrops
    }

    // Drops: what is lost from the battery to each point, and in each conductor.
    fn proposes_closer(&self, circuit: &Circuit, (state, _): Standing<'_>) -> Vec<Leads> {
        if *state == OperatingState::at_rest(circuit) {
            return Vec::new();
        }
        let positive = circuit.positive();
        let lost = circuit.test_points.iter().map(|p| (positive, p.node));
        let along = circuit.conductors.iter().map(|c| (c.a, c.b));
        let mut pairs: Vec<(usize, usize)> = lost.chain(along).filter(|(a, b)| a != b).collect();
        pairs.retain(|pair| *pair != (positive, 0));
        pairs.sort_unstable();
        pairs.dedup();
        let name = |node: usize| circuit.point_at(node).map(|p| p.id.clone());
        let named = pairs
            .into_iter()
            .filter_map(|(a, b)| Some((name(a)?, Some(name(b)?))));
        named.collect()
    }

    fn between(
        &self,
        held: &Held<'_>,
        (red, black): (usize, usize),
    ) -> Result<Measured, BenchError> {
        Ok(Measured::of(volts(held.bench, red, black)?))
    }
}

/// Ohms: ±(0.9 % + 2 counts); common practice.
pub(super) struct Ohms;

impl Function {
    pub const OHMS: Self = Self::of(&Ohms);
}

impl Instrument for Ohms {
    fn name(&self) -> &'static str {
        "ohms"
    }

    fn label(&self) -> &'static str {
        "Ohms"
    }

    fn title(&self) -> &'static str {
        "ohms"
    }

    fn unit(&self) -> Unit {
        Unit::Ohm
    }

    fn ranges(&self) -> &'static [Range] {
        &[
            Range(600.0),
            Range(6e3),
            Range(60e3),
            Range(600e3),
            Range(6e6),
        ]
    }

    fn accuracy(&self, value: f64, range: Range) -> f64 {
        0.009 * value.abs() + 2.0 * range.count()
    }

    fn feeds(&self) -> bool {
        true
    }

    fn keyed(&self) -> Keyed {
        Keyed::ByItself
    }

    fn between(
        &self,
        held: &Held<'_>,
        (red, black): (usize, usize),
    ) -> Result<Measured, BenchError> {
        let zeroed = held.meter.zeroed;
        Ok(Measured::of(ohms(held.bench, zeroed, red, black)?))
    }
}

/// Continuity: the low range of the ohms, with a beep.
pub(super) struct Continuity;

impl Function {
    pub const CONTINUITY: Self = Self::of(&Continuity);
}

impl Instrument for Continuity {
    fn name(&self) -> &'static str {
        "continuity"
    }

    fn label(&self) -> &'static str {
        "Continuity"
    }

    fn title(&self) -> &'static str {
        "continuity"
    }

    fn unit(&self) -> Unit {
        Unit::Ohm
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(600.0)]
    }

    fn accuracy(&self, value: f64, range: Range) -> f64 {
        0.009 * value.abs() + 2.0 * range.count()
    }

    fn feeds(&self) -> bool {
        true
    }

    fn between(
        &self,
        held: &Held<'_>,
        (red, black): (usize, usize),
    ) -> Result<Measured, BenchError> {
        let (least, most) = ohms_range(held.bench, red, black, TEST_OHMS[0])?;
        let off = if held.meter.zeroed { LEAD_OHMS } else { 0.0 };
        Ok(Measured::of((least - off, most - off)))
    }
}

/// Diode test: ±(0.9 % + 2 counts); common practice.
pub(super) struct DiodeTest;

impl Function {
    pub const DIODE_TEST: Self = Self::of(&DiodeTest);
}

impl Instrument for DiodeTest {
    fn name(&self) -> &'static str {
        "diode_test"
    }

    fn label(&self) -> &'static str {
        "Diode test"
    }

    fn title(&self) -> &'static str {
        "the diode test"
    }

    fn unit(&self) -> Unit {
        Unit::Volt
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(6.0)]
    }

    fn accuracy(&self, value: f64, range: Range) -> f64 {
        0.009 * value.abs() + 2.0 * range.count()
    }

    fn feeds(&self) -> bool {
        true
    }

    fn between(
        &self,
        held: &Held<'_>,
        (red, black): (usize, usize),
    ) -> Result<Measured, BenchError> {
        Ok(Measured::of(diode_test(held.bench, red, black)?))
    }
}
