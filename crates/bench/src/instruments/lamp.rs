//! Test lamps. The filament lamp, 12 V and about 0.25 A, loads what it touches, so it tells a supply
//! that can carry current from one that only shows volts. The LED lamp takes a few milliamperes, so
//! it lights through resistance that a filament would not; its two diodes light either way round.

use super::function::{Function, Instrument, Keyed, Leads, Range, Standing};
use super::take::{Held, Measured};
use cimento_solver::{Element, Node, filament_ohms};

use super::alternating::dominant_hz;
use super::reading::Shown;
use crate::{Bench, BenchError, Point};
use cimento_model::circuit::Circuit;
use cimento_model::stamped::{StampedNetlist, Wave};
use cimento_model::state::OperatingState;
use cimento_model::units::{Quantity, Swing, Unit};

/// Rated voltage, hot and cold resistance: 3 W at 12 V, a tenth of it cold; common practice.
const RATED_V: f64 = 12.0;
const HOT_OHMS: f64 = 48.0;
const COLD_OHMS: f64 = 4.8;
/// Shares of the rated power from which it is seen as dim, and as bright.
const DIM: f64 = 0.05;
const BRIGHT: f64 = 0.5;
/// Fastest changes of its voltage that a filament shows, and that an eye sees of a diode, in hertz; common
/// practice.
const FILAMENT_HZ: f64 = 8.0;
const EYE_HZ: f64 = 40.0;

/// The LED lamp at the leads, in ohms; voltage its diode keeps; currents from which it is seen as
/// dim, and as bright; common practice.
const LED_OHMS: f64 = 1500.0;
const LED_V: f64 = 1.8;
const LED_DIM_A: f64 = 0.000_4;
const LED_BRIGHT_A: f64 = 0.004;

/// Levels are a whole one apart.
const TOLD_APART: f64 = 0.4;

/// Least and most of a lamp's level over what the machine does. What goes to and fro more slowly than
/// `follows_hz` makes it flicker; of what is faster it shows the mean of its `glow`.
fn level(
    bench: &Bench,
    (red, black): (usize, usize),
    lamp: impl Fn(Node, Node) -> Element,
    follows_hz: f64,
    glow: impl Fn(f64) -> f64,
    seen: impl Fn(f64) -> f64,
) -> Result<(f64, f64), BenchError> {
    let settled = bench.settled_with(&|w: &mut StampedNetlist| {
        let (a, b) = (w.node(red), w.node(black));
        w.net.attach(lamp(a, b));
    })?;
    let levels = |p: &Point| -> Vec<f64> {
        let (a, b) = (p.wiring.node(red), p.wiring.node(black));
        let glows = |w: &Wave| glow(w.op.between(a, b));
        if p.waves.is_empty() {
            return vec![seen(glow(p.op.between(a, b)))];
        }
        if dominant_hz(&p.wiring, &p.waves, red, black) <= follows_hz {
            return p.waves.iter().map(|w| seen(glows(w))).collect();
        }
        let mean: f64 = p.waves.iter().map(|w| w.share * glows(w)).sum();
        vec![seen(mean)]
    };
    let all = settled.points.iter().flat_map(levels);
    let range = all.fold(None, |range, v: f64| match range {
        None => Some((v, v)),
        Some((least, most)) => Some((v.min(least), v.max(most))),
    });
    Ok(range.unwrap_or((0.0, 0.0)))
}

/// The filament lamp between two nodes.
pub(super) fn element(a: Node, b: Node) -> Element {
    Element::Filament {
        a,
        b,
        rated_v: RATED_V,
        hot_ohms: HOT_OHMS,
        cold_ohms: COLD_OHMS,
    }
}

/// Least and most of the filament lamp's level (0 off, 1 dim, 2 bright) over what the machine does.
fn filament(bench: &Bench, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
    let watts = |volts: f64| volts * volts / filament_ohms(volts, RATED_V, HOT_OHMS, COLD_OHMS);
    let seen = |watts: f64| match watts / (RATED_V * RATED_V / HOT_OHMS) {
        share if share >= BRIGHT => 2.0,
        share if share >= DIM => 1.0,
        _ => 0.0,
    };
    level(bench, (red, black), element, FILAMENT_HZ, watts, seen)
}

/// The same of the LED lamp.
fn led(bench: &Bench, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
    let lamp = |a, b| Element::Conductance {
        a,
        b,
        siemens: 1.0 / LED_OHMS,
    };
    let amps = |volts: f64| ((volts.abs() - LED_V) / LED_OHMS).max(0.0);
    let seen = |amps: f64| match amps {
        amps if amps >= LED_BRIGHT_A => 2.0,
        amps if amps >= LED_DIM_A => 1.0,
        _ => 0.0,
    };
    level(bench, (red, black), lamp, EYE_HZ, amps, seen)
}

/// The lamp as one sees it.
fn shown(least: f64, most: f64) -> Shown {
    let wanders = (least < most).then_some(Swing { least, most });
    let value = Quantity::Number(most);
    Shown {
        text: match wanders {
            Some(_) => "flickers".to_owned(),
            None => value.text(Unit::Light),
        },
        unit: String::new(),
        range: "12 V lamp".to_owned(),
        value,
        wanders,
        beeps: false,
    }
}

/// Filament test lamp.
pub(super) struct TestLamp;

impl Function {
    pub const TEST_LAMP: Self = Self::of(&TestLamp);
}

impl Instrument for TestLamp {
    fn name(&self) -> &'static str {
        "test_lamp"
    }

    fn label(&self) -> &'static str {
        "Lamp"
    }

    fn title(&self) -> &'static str {
        "the test lamp"
    }

    fn unit(&self) -> Unit {
        Unit::Light
    }

    fn hint(&self) -> &'static str {
        "off, dim, bright"
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(2.0)]
    }

    fn is_ranged(&self) -> bool {
        false
    }

    fn accuracy(&self, _value: f64, _range: Range) -> f64 {
        0.0
    }

    // Off, dim and bright are told apart.
    fn tolerance(&self, _share: f64, _healthy: f64) -> f64 {
        TOLD_APART
    }

    fn is_lamp(&self) -> bool {
        true
    }

    fn fineness(&self) -> Option<u8> {
        Some(3)
    }

    // It draws a current through whatever feeds it, which a voltmeter does not.
    fn proposes_closer(&self, circuit: &Circuit, (state, _): Standing<'_>) -> Vec<Leads> {
        if *state == OperatingState::at_rest(circuit) {
            return Vec::new();
        }
        let negative = circuit.point_at(0).map(|p| p.id.clone());
        let points = circuit.test_points.iter().filter(|p| p.node != 0);
        points.map(|p| (p.id.clone(), negative.clone())).collect()
    }

    fn keyed(&self) -> Keyed {
        Keyed::Points
    }

    fn between(
        &self,
        held: &Held<'_>,
        (red, black): (usize, usize),
    ) -> Result<Measured, BenchError> {
        Ok(Measured::of(filament(held.bench, red, black)?))
    }

    fn shown(&self, (least, most): (f64, f64)) -> Option<Shown> {
        Some(shown(least, most))
    }
}

/// LED test lamp.
pub(super) struct LedLamp;

impl Function {
    pub const LED_LAMP: Self = Self::of(&LedLamp);
}

impl Instrument for LedLamp {
    fn name(&self) -> &'static str {
        "led_lamp"
    }

    fn label(&self) -> &'static str {
        "LED lamp"
    }

    fn title(&self) -> &'static str {
        "the LED lamp"
    }

    fn unit(&self) -> Unit {
        Unit::Light
    }

    fn hint(&self) -> &'static str {
        "off, dim, bright"
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(2.0)]
    }

    fn is_ranged(&self) -> bool {
        false
    }

    fn accuracy(&self, _value: f64, _range: Range) -> f64 {
        0.0
    }

    fn is_lamp(&self) -> bool {
        true
    }

    fn fineness(&self) -> Option<u8> {
        Some(4)
    }

    fn keyed(&self) -> Keyed {
        Keyed::Points
    }

    fn between(
        &self,
        held: &Held<'_>,
        (red, black): (usize, usize),
    ) -> Result<Measured, BenchError> {
        Ok(Measured::of(led(held.bench, red, black)?))
    }

    fn shown(&self, (least, most): (f64, f64)) -> Option<Shown> {
        Some(shown(least, most))
    }
}
