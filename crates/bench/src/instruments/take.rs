//! Taking a reading: the instrument is attached, the circuit solved, the display worked out.

use super::display::display;
use super::function::{Function, Range};
use super::reading::Reading;
use super::{
    alternating, ammeter, analogue, clamp, cylinder_drop, lamp, min_max, multimeter, peak,
    scan_tool, spark_tester, tachometer, tapped_lamp, timing_lamp,
};
use crate::{Bench, BenchError};
use cimento_model::circuit::TestPoint;

/// The meter in the student's hand.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Meter {
    /// Its leads have been touched together and their resistance taken off.
    pub zeroed: bool,
    /// The fuse of its current input has blown.
    pub fuse_blown: bool,
    /// Which meter it is: its small gain and offset errors come from this; 0 has none.
    pub seed: u64,
}

impl Meter {
    /// The meter's own error of a value, in the value's unit: a gain and an offset that stay the same
    /// for one meter and function, and lie inside the accuracy.
    pub(super) fn error(&self, function: Function, value: f64, range: Range) -> f64 {
        if self.seed == 0 || !value.is_finite() {
            return 0.0;
        }
        let share = |n: u64| {
            // SplitMix64, for numbers that look drawn and are always the same.
            let mut z = self
                .seed
                .wrapping_add((function as u64 * 2 + n + 1).wrapping_mul(0x9e37_79b9_7f4a_7c15));
            z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
            z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
            (z ^ (z >> 31)) as f64 / u64::MAX as f64 * 2.0 - 1.0
        };
        let offset = super::accuracy(function, 0.0, range);
        let gain = super::accuracy(function, value, range) - offset;
        share(0) * gain * value.signum() + share(1) * offset * 0.5
    }
}

/// Why a reading cannot be taken.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum TakeError {
    #[error("there is no test point {0}")]
    NoPoint(String),
    #[error("the clamp goes around one wire: {0} is none")]
    NoWire(String),
    #[error("the scan tool speaks to control modules: {0} is none")]
    NoModule(String),
    #[error("{0} is no input that a control module reports")]
    NoInput(String),
    #[error("{0}")]
    Setting(String),
    #[error(transparent)]
    Bench(#[from] BenchError),
}

/// Takes a reading with an ideal meter at places that are named: test points, the wire that a clamp
/// is put around, the module that a scan tool speaks to. `range` absent is automatic; a lead absent
/// hangs in the air.
///
/// # Errors
/// [`TakeError`] when a name leads nowhere, or the circuit has no solution with the meter in it.
pub fn take(
    bench: &Bench,
    function: Function,
    range: Option<Range>,
    red: Option<&str>,
    black: Option<&str>,
) -> Result<Reading, TakeError> {
    take_with(&Meter::default(), bench, function, range, red, black)
}

/// The same with a given meter.
///
/// # Errors
/// As [`take`].
pub fn take_with(
    meter: &Meter,
    bench: &Bench,
    function: Function,
    range: Option<Range>,
    red: Option<&str>,
    black: Option<&str>,
) -> Result<Reading, TakeError> {
    if function.has_one_lead() {
        let id = red.unwrap_or_default();
        let shown = match function {
            Function::ClampAmps => display(meter, function, range, clamp::amps(bench, id)?),
            Function::ScanCodes => scan_tool::codes(bench, id)?,
            Function::SparkTester => {
                spark_tester::shown(spark_tester::jumps(bench, id, range)?, range)
            }
            Function::Tachometer => tachometer::shown(tachometer::rpm(bench, id, range)?, range),
            Function::TimingLamp => timing_lamp::shown(timing_lamp::degrees(bench, id)?),
            Function::CylinderDrop => cylinder_drop::shown(cylinder_drop::rpm(bench, id)?),
            _ => scan_tool::volts(bench, id)?,
        };
        return Ok(Reading {
            state: bench.state().about(),
            function,
            red: Some(id.to_owned()),
            black: None,
            shown,
            blew: false,
        });
    }
    let point = |id: Option<&str>| match id {
        None => Ok(None),
        Some(id) => match bench.circuit.test_point(id) {
            Some(point) => Ok(Some(point)),
            None => Err(TakeError::NoPoint(id.to_owned())),
        },
    };
    Ok(between(
        meter,
        bench,
        function,
        range,
        point(red)?,
        point(black)?,
    )?)
}

/// Takes a reading between test points with an ideal meter.
///
/// # Errors
/// [`BenchError`] when the circuit has no solution with the meter in it.
pub fn read(
    bench: &Bench,
    function: Function,
    range: Option<Range>,
    red: Option<&TestPoint>,
    black: Option<&TestPoint>,
) -> Result<Reading, BenchError> {
    between(&Meter::default(), bench, function, range, red, black)
}

fn between(
    meter: &Meter,
    bench: &Bench,
    function: Function,
    range: Option<Range>,
    red: Option<&TestPoint>,
    black: Option<&TestPoint>,
) -> Result<Reading, BenchError> {
    let mut blew = false;
    let values = match (red, black) {
        (Some(red), Some(black)) => {
            let (a, b) = (red.node, black.node);
            match function {
                Function::TestLamp => lamp::filament(bench, a, b)?,
                Function::LedLamp => lamp::led(bench, a, b)?,
                Function::AcVolts => alternating::volts(bench, a, b)?,
                Function::Hertz => alternating::hertz(bench, a, b)?,
                Function::Duty => alternating::duty(bench, a, b)?,
                Function::DiodeTest => multimeter::diode_test(bench, a, b)?,
                Function::PeakVolts => peak::volts(bench, a, b)?,
                Function::MinMax => min_max::volts(bench, a, b)?,
                Function::AnalogVolts => analogue::volts(bench, range, a, b)?,
                Function::TappedLamp => {
                    let clicks = tapped_lamp::clicks(bench, a, b)?;
                    (clicks, clicks)
                }
                Function::DcAmps => {
                    let measured = ammeter::amps(bench, meter.fuse_blown, a, b)?;
                    blew = measured.blew;
                    measured.amps
                }
                Function::Ohms | Function::Continuity => {
                    multimeter::ohms(bench, function, meter.zeroed, a, b)?
                }
                _ => multimeter::volts(bench, a, b)?,
            }
        }
        // Nothing is measured through the air: no volts, no light, endless ohms.
        _ if function.feeds() => (f64::INFINITY, f64::INFINITY),
        _ => (0.0, 0.0),
    };
    Ok(Reading {
        state: bench.state().about(),
        function,
        red: red.map(|p| p.id.clone()),
        black: black.map(|p| p.id.clone()),
        shown: display(meter, function, range, values),
        blew,
    })
}
