//! Taking a reading: the instrument is attached, the circuit solved, the display worked out.

use super::display::{counted, display};
use super::function::{Function, Range};
use super::reading::Reading;
use crate::{Bench, BenchError};
use cimento_model::circuit::TestPoint;
use cimento_model::units::{Quantity, Swing};

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
        let own = named(function.name());
        let share = |n: u64| {
            // SplitMix64, for numbers that look drawn and are always the same.
            let mut z = self
                .seed
                .wrapping_add((own.wrapping_add(n)).wrapping_mul(0x9e37_79b9_7f4a_7c15));
            z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
            z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
            (z ^ (z >> 31)) as f64 / u64::MAX as f64 * 2.0 - 1.0
        };
        let offset = function.accuracy(0.0, range);
        let gain = function.accuracy(value, range) - offset;
        share(0) * gain * value.signum() + share(1) * offset * 0.5
    }
}

/// A number of a name's own (FNV-1a), so that a meter's errors do not hang on the order of the functions.
fn named(name: &str) -> u64 {
    name.bytes().fold(0xcbf2_9ce4_8422_2325, |hash, byte| {
        (hash ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3)
    })
}

/// An instrument as it is held to a machine.
#[derive(Clone, Copy)]
pub struct Held<'a> {
    pub bench: &'a Bench,
    pub meter: &'a Meter,
    /// Absent where it chooses by itself.
    pub range: Option<Range>,
}

/// What is measured between two leads: least and most, and whether the meter's fuse went.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Measured {
    pub values: (f64, f64),
    pub blew: bool,
}

impl Measured {
    pub fn of(values: (f64, f64)) -> Self {
        Self {
            values,
            blew: false,
        }
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
    /// More is there than the instrument stands, which only putting it there tells.
    #[error("there are more than {most_v} V at {point}: {how}")]
    TooMuch {
        most_v: f64,
        point: String,
        how: &'static str,
    },
    #[error(transparent)]
    Bench(#[from] BenchError),
}

impl From<TakeError> for BenchError {
    fn from(e: TakeError) -> Self {
        match e {
            TakeError::Bench(e) => e,
            named => Self::NotTaken(named.to_string()),
        }
    }
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
        let held = Held {
            bench,
            meter,
            range,
        };
        return Ok(Reading {
            state: bench.state().about(),
            function,
            red: Some(id.to_owned()),
            black: None,
            shown: function.at(&held, id)?,
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

/// The value that a reading would show, and between what it wanders: the same as [`take_with`], without its
/// words, for those who ask a thousand machines.
///
/// # Errors
/// As [`take_with`].
pub fn value_with(
    meter: &Meter,
    bench: &Bench,
    function: Function,
    red: Option<&str>,
    black: Option<&str>,
) -> Result<(Quantity, Option<Swing>), TakeError> {
    let points = [red, black].map(|id| id.and_then(|id| bench.circuit.test_point(id)));
    if let [Some(red), Some(black)] = points
        && !function.has_one_lead()
    {
        let held = Held {
            bench,
            meter,
            range: None,
        };
        let measured = function.between(&held, (red.node, black.node))?;
        if function.shown(measured.values).is_none() {
            let counted = counted(meter, function, None, measured.values);
            return Ok((counted.value, counted.wanders));
        }
    }
    let shown = take_with(meter, bench, function, None, red, black)?.shown;
    Ok((shown.value, shown.wanders))
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
    let held = Held {
        bench,
        meter,
        range,
    };
    let measured = match (red, black) {
        (Some(red), Some(black)) => function.between(&held, (red.node, black.node))?,
        // Nothing is measured through the air: no volts, no light, endless ohms.
        _ if function.feeds() => Measured::of((f64::INFINITY, f64::INFINITY)),
        _ => Measured::of((0.0, 0.0)),
    };
    let shown = function.shown(measured.values);
    Ok(Reading {
        state: bench.state().about(),
        function,
        red: red.map(|p| p.id.clone()),
        black: black.map(|p| p.id.clone()),
        shown: shown.unwrap_or_else(|| display(meter, function, range, measured.values)),
        blew: measured.blew,
    })
}
