//! Digital multimeter, 6000 counts: DC volts, ohms, continuity; and a clamp ammeter that shares its
//! display.
//!
//! On volts it is a resistance of 10 MΩ. On ohms it feeds the circuit from a source of 1.5 V
//! behind a range resistor and works out the resistance from the voltage left at its leads, as
//! if nothing else fed them: on a live circuit the number is wrong.

use std::cell::Cell;

use cimento_solver::{Element, ElementId};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::reading::{Reading, Shown};
use super::test_lamp;
use crate::bench::{Bench, BenchError, Point, Settled, Wiring};
use crate::circuit::{Conductor, ConductorKind, Place, TestPoint};
use crate::units::{Quantity, Swing, Unit};

/// Input resistance on volts, in ohms; common practice.
const INPUT_OHMS: f64 = 10e6;
/// Voltage of the ohms source with nothing at the leads, in volts.
const TEST_V: f64 = 1.5;
/// Range resistors of the ohms source: the low one up to 6 kΩ, the high one above.
const TEST_OHMS: [f64; 2] = [1500.0, 1e6];
/// Both leads together, in ohms, unless zeroed; common practice.
pub const LEAD_OHMS: f64 = 0.2;
/// Full count of a range.
const COUNTS: f64 = 6000.0;
/// Continuity beeps below this many ohms; common practice.
const BEEP_OHMS: f64 = 40.0;
/// Values of a cycle closer than this share of a range do not look like wandering.
const STEADY_COUNTS: f64 = 1.5;

/// What the dial is set to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Function {
    DcVolts,
    Ohms,
    Continuity,
    /// Filament test lamp between the two leads.
    TestLamp,
    /// Clamp ammeter around a wire; the red lead names the wire.
    ClampAmps,
}

impl Function {
    /// The function with a name, such as `dc_volts`.
    pub fn parse(name: &str) -> Option<Self> {
        match name {
            "dc_volts" => Some(Self::DcVolts),
            "ohms" => Some(Self::Ohms),
            "continuity" => Some(Self::Continuity),
            "test_lamp" => Some(Self::TestLamp),
            "clamp_amps" => Some(Self::ClampAmps),
            _ => None,
        }
    }

    /// What the function's readings are counted in.
    pub fn unit(self) -> Unit {
        match self {
            Self::DcVolts => Unit::Volt,
            Self::Ohms | Self::Continuity => Unit::Ohm,
            Self::TestLamp => Unit::Light,
            Self::ClampAmps => Unit::Ampere,
        }
    }
}

/// A range: its full scale in volts or ohms.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Range(pub f64);

/// The ranges of a function, smallest first.
pub fn ranges(function: Function) -> &'static [Range] {
    match function {
        Function::DcVolts => &[Range(6.0), Range(60.0), Range(600.0)],
        Function::Ohms => &[
            Range(600.0),
            Range(6e3),
            Range(60e3),
            Range(600e3),
            Range(6e6),
        ],
        Function::Continuity => &[Range(600.0)],
        Function::TestLamp => &[Range(2.0)],
        Function::ClampAmps => &[Range(60.0), Range(600.0)],
    }
}

impl Range {
    /// One count.
    pub fn count(self) -> f64 {
        self.0 / COUNTS
    }

    fn text(self, unit: Unit) -> String {
        let (scale, prefix, _) = scaled(self.0, unit);
        format!("{} {prefix}{}", self.0 / scale, unit.sign())
    }
}

/// Largest error of a displayed value, in volts or ohms: ±(0.5 % + 2 counts) on DC volts, ±(0.9 %
/// + 2 counts) on ohms, ±(2 % + 0.3 A) on a clamp; common practice.
pub fn accuracy(function: Function, value: f64, range: Range) -> f64 {
    match function {
        Function::DcVolts => 0.005 * value.abs() + 2.0 * range.count(),
        Function::Ohms | Function::Continuity => 0.009 * value.abs() + 2.0 * range.count(),
        // One sees which of three it is.
        Function::TestLamp => 0.0,
        Function::ClampAmps => 0.02 * value.abs() + 0.3,
    }
}

/// Why a reading cannot be taken.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum TakeError {
    #[error("there is no test point {0}")]
    NoPoint(String),
    #[error("the clamp goes around one wire: {0} is none")]
    NoWire(String),
    #[error(transparent)]
    Bench(#[from] BenchError),
}

/// Takes a reading at places that are named: test points, or the wire that a clamp is put around.
/// `range` absent is automatic; a lead absent hangs in the air.
///
/// # Errors
/// [`TakeError`] when a name leads nowhere, or the circuit has no solution with the meter in it.
pub fn take(
    bench: &Bench<'_>,
    function: Function,
    range: Option<Range>,
    red: Option<&str>,
    black: Option<&str>,
) -> Result<Reading, TakeError> {
    let circuit = bench.circuit;
    if function == Function::ClampAmps {
        let id = red.unwrap_or_default();
        let wire = |c: &Conductor| c.kind == ConductorKind::Wire && c.id == id;
        let at = circuit.conductors.iter().position(wire);
        let at = at.ok_or_else(|| TakeError::NoWire(id.to_owned()))?;
        return Ok(Reading {
            state: bench.state().about(),
            function,
            red: Some(id.to_owned()),
            black: None,
            shown: display(function, range, clamped(bench, at)),
        });
    }
    let point = |id: Option<&str>| match id {
        None => Ok(None),
        Some(id) => match circuit.test_point(id) {
            Some(point) => Ok(Some(point)),
            None => Err(TakeError::NoPoint(id.to_owned())),
        },
    };
    Ok(read(bench, function, range, point(red)?, point(black)?)?)
}

/// Takes a reading between test points. `range` absent is automatic; a lead absent hangs in the air.
///
/// # Errors
/// [`BenchError`] when the circuit has no solution with the meter in it.
pub fn read(
    bench: &Bench<'_>,
    function: Function,
    range: Option<Range>,
    red: Option<&TestPoint>,
    black: Option<&TestPoint>,
) -> Result<Reading, BenchError> {
    let values = match (red, black) {
        (Some(red), Some(black)) if function == Function::TestLamp => {
            test_lamp::level(bench, red.node, black.node)?
        }
        (Some(red), Some(black)) => values(bench, function, red.node, black.node)?,
        // Nothing is measured through the air: no volts, no light, endless ohms.
        _ => match function {
            Function::Ohms | Function::Continuity => (f64::INFINITY, f64::INFINITY),
            _ => (0.0, 0.0),
        },
    };
    Ok(Reading {
        state: bench.state().about(),
        function,
        red: red.map(|p| p.id.clone()),
        black: black.map(|p| p.id.clone()),
        shown: display(function, range, values),
    })
}

/// Current in a wire over what the machine does; the jaws are put on so that it reads positive.
fn clamped(bench: &Bench<'_>, conductor: usize) -> (f64, f64) {
    let place = Place::Conductor(conductor);
    let amps = |p: &Point| {
        let line = p
            .wiring
            .line(place, "before")
            .or_else(|| p.wiring.line(place, "through"));
        line.map_or(0.0, |l| p.op.current(l.element).abs())
    };
    bench.settled().range(amps).unwrap_or((0.0, 0.0))
}

/// Least and most of the measured value over what the machine does, in volts or ohms.
fn values(
    bench: &Bench<'_>,
    function: Function,
    red: usize,
    black: usize,
) -> Result<(f64, f64), BenchError> {
    if function == Function::DcVolts {
        let settled = bench.settled_with(&|w: &mut Wiring| {
            let (a, b) = (w.node(red), w.node(black));
            w.net.attach(Element::Conductance {
                a,
                b,
                siemens: 1.0 / INPUT_OHMS,
            });
        })?;
        let volts = |p: &Point| p.op.between(p.wiring.node(red), p.wiring.node(black));
        return Ok(settled.range(volts).unwrap_or((0.0, 0.0)));
    }
    let low = ohms_range(bench, red, black, TEST_OHMS[0])?;
    if function == Function::Continuity || low.1 <= 6e3 {
        return Ok(low);
    }
    ohms_range(bench, red, black, TEST_OHMS[1])
}

fn ohms_range(
    bench: &Bench<'_>,
    red: usize,
    black: usize,
    test_ohms: f64,
) -> Result<(f64, f64), BenchError> {
    let source: Cell<Option<ElementId>> = Cell::new(None);
    let settled: Settled = bench.settled_with(&|w: &mut Wiring| {
        let (a, b) = (w.node(red), w.node(black));
        let meter = Element::source(a, b, TEST_V, test_ohms + LEAD_OHMS);
        source.set(Some(w.net.attach(meter)));
    })?;
    let ohms = |p: &Point| {
        let amps = source.get().map_or(0.0, |id| -p.op.current(id));
        // The leads' own resistance lies between the probes and the meter, so the meter sees it too.
        let volts = TEST_V - amps * test_ohms;
        // What a meter that trusts its own source works out.
        if amps <= 0.0 {
            f64::INFINITY
        } else {
            volts / amps
        }
    };
    Ok(settled
        .range(ohms)
        .unwrap_or((f64::INFINITY, f64::INFINITY)))
}

/// Factor, prefix and sign position for a value.
fn scaled(value: f64, unit: Unit) -> (f64, &'static str, usize) {
    match unit {
        Unit::Ohm if value >= 1e6 => (1e6, "M", 0),
        Unit::Ohm if value >= 1e3 => (1e3, "k", 0),
        _ => (1.0, "", 0),
    }
}

/// What the display shows for a value that lies between `least` and `most`.
fn display(function: Function, range: Option<Range>, (least, most): (f64, f64)) -> Shown {
    if function == Function::TestLamp {
        return test_lamp::shown(least, most);
    }
    let all = ranges(function);
    let largest = least.abs().max(most.abs());
    let fits = |r: &&Range| largest < r.0 * (COUNTS - 0.5) / COUNTS;
    let range = range.unwrap_or_else(|| *all.iter().find(fits).unwrap_or(&all[all.len() - 1]));
    let unit = function.unit();
    let beeps = function == Function::Continuity && most < BEEP_OHMS && least > -BEEP_OHMS;
    let count = range.count();
    let over = |v: f64| !v.is_finite() || v.abs() >= range.0 * (COUNTS - 0.5) / COUNTS;
    if over(least) && over(most) {
        return Shown {
            text: "OL".to_owned(),
            unit: String::new(),
            range: range.text(unit),
            value: Quantity::OverLimit,
            wanders: None,
            beeps,
        };
    }
    let (scale, prefix, _) = scaled(range.0, unit);
    let decimals = (-(count / scale).log10()).round().max(0.0) as usize;
    let figures = |v: f64| {
        if over(v) {
            return "OL".to_owned();
        }
        // Adding zero turns a negative zero into a plain one.
        let counted = (v / count).round() * count / scale + 0.0;
        format!("{counted:.decimals$}")
    };
    let wanders = most - least > STEADY_COUNTS * count;
    let middle = if wanders && least.is_finite() && most.is_finite() {
        (least + most) / 2.0
    } else {
        most
    };
    Shown {
        text: if wanders {
            format!("{} … {}", figures(least), figures(most))
        } else {
            figures(middle)
        },
        unit: format!("{prefix}{}", unit.sign()),
        range: range.text(unit),
        value: if over(middle) {
            Quantity::OverLimit
        } else {
            Quantity::Number((middle / count).round() * count + 0.0)
        },
        wanders: wanders.then_some(Swing { least, most }),
        beeps,
    }
}
