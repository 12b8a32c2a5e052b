//! Needle meter, 20 kΩ per volt of its range: it loads more than a digital meter, and it follows what
//! a digital one only averages.

use super::alternating::{COUNTS_V, dominant_hz};
use super::function::{Function, Instrument, Keyed, Range};
use super::multimeter::voltmeter;
use super::take::{Held, Measured};
use crate::{Bench, BenchError};
use cimento_model::units::Unit;

/// Its ranges, in volts; divisions that can be told apart on the scale, and its accuracy as a share of full scale;
/// common practice.
const RANGES: [Range; 3] = [Range(3.0), Range(15.0), Range(60.0)];
const STEPS: f64 = 100.0;
const ACCURACY: f64 = 0.03;
/// Input resistance per volt of full scale, in ohms.
const OHMS_PER_VOLT: f64 = 20e3;
/// Fastest swing that a needle follows, in hertz; common practice.
const FOLLOWS_HZ: f64 = 4.0;

/// Least and most volts that the needle shows.
fn volts(
    bench: &Bench,
    range: Option<Range>,
    red: usize,
    black: usize,
) -> Result<(f64, f64), BenchError> {
    let all = RANGES;
    let in_range = |range: Range| -> Result<(f64, f64), BenchError> {
        let waves = bench.waves_with(&voltmeter(red, black, OHMS_PER_VOLT * range.0))?;
        let (mut least, mut most) = (f64::INFINITY, f64::NEG_INFINITY);
        for (wiring, waves) in &waves {
            let volts = |w: &cimento_model::stamped::Wave| {
                w.op.between(wiring.node(red), wiring.node(black))
            };
            let hz = dominant_hz(wiring, waves, red, black);
            let mean: f64 = waves.iter().map(|w| w.share * volts(w)).sum();
            let follows = hz > 0.0 && hz <= FOLLOWS_HZ;
            for v in waves.iter().map(|w| if follows { volts(w) } else { mean }) {
                least = least.min(v);
                most = most.max(v);
            }
        }
        if most - least < COUNTS_V {
            return Ok((most, most));
        }
        Ok((least, most))
    };
    match range {
        Some(range) => in_range(range),
        // A careful hand begins with the highest range and turns down while the needle has room.
        None => {
            let mut shown = in_range(all[all.len() - 1])?;
            for range in all.iter().rev().skip(1) {
                if shown.0.abs().max(shown.1.abs()) >= range.0 * 0.98 {
                    break;
                }
                shown = in_range(*range)?;
            }
            Ok(shown)
        }
    }
}

/// A voltmeter with a needle.
pub(super) struct AnalogVolts;

impl Function {
    pub const ANALOG_VOLTS: Self = Self::of(&AnalogVolts);
}

impl Instrument for AnalogVolts {
    fn name(&self) -> &'static str {
        "analog_volts"
    }

    fn label(&self) -> &'static str {
        "Analog voltmeter"
    }

    fn title(&self) -> &'static str {
        "the needle"
    }

    fn unit(&self) -> Unit {
        Unit::Volt
    }

    fn ranges(&self) -> &'static [Range] {
        &RANGES
    }

    fn step(&self, range: Range) -> f64 {
        range.0 / STEPS
    }

    fn accuracy(&self, _value: f64, range: Range) -> f64 {
        ACCURACY * range.0
    }

    fn is_dc_volts(&self) -> bool {
        true
    }

    fn fineness(&self) -> Option<u8> {
        Some(2)
    }

    fn keyed(&self) -> Keyed {
        Keyed::Points
    }

    fn between(
        &self,
        held: &Held<'_>,
        (red, black): (usize, usize),
    ) -> Result<Measured, BenchError> {
        Ok(Measured::of(volts(held.bench, held.range, red, black)?))
    }
}
