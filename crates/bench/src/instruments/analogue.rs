//! Needle meter, 20 kΩ per volt of its range: it loads more than a digital meter, and it follows what
//! a digital one only averages.

use super::alternating::{COUNTS_V, dominant_hz};
use super::function::{Function, Range, ranges};
use super::multimeter::voltmeter;
use crate::{Bench, BenchError};

/// Input resistance per volt of full scale, in ohms.
const OHMS_PER_VOLT: f64 = 20e3;
/// Fastest swing that a needle follows, in hertz; common practice.
const FOLLOWS_HZ: f64 = 4.0;

/// Least and most volts that the needle shows.
pub(super) fn volts(
    bench: &Bench,
    range: Option<Range>,
    red: usize,
    black: usize,
) -> Result<(f64, f64), BenchError> {
    let all = ranges(Function::AnalogVolts);
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
