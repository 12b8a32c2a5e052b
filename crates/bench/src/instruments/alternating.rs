//! What a multimeter makes of a voltage that goes to and fro: AC volts, frequency, duty.

use std::sync::Arc;

use super::multimeter::{INPUT_OHMS, voltmeter};
use crate::{Bench, BenchError, Waves};
use cimento_model::stamped::{Wave, Wiring};

/// An average-responding meter shows a sine's root mean square: the mean distance from the middle
/// times `π/(2·√2)`.
const FORM: f64 = 1.110_721;
/// Swing below which no frequency is counted, in volts; common practice.
pub(super) const COUNTS_V: f64 = 0.05;

/// Each constellation's waves as shares of time and volts between the leads.
fn shares(waves: &Waves, red: usize, black: usize) -> Vec<Vec<(f64, f64)>> {
    let one = |(wiring, waves): &(Arc<Wiring>, Vec<Wave>)| {
        let volts = |w: &Wave| w.op.between(wiring.node(red), wiring.node(black));
        waves.iter().map(|w| (w.share, volts(w))).collect()
    };
    waves.iter().map(one).collect()
}

fn range(values: impl Iterator<Item = f64>) -> (f64, f64) {
    values.fold((f64::INFINITY, f64::NEG_INFINITY), |(l, m), v| {
        (l.min(v), m.max(v))
    })
}

fn swing(shares: &[(f64, f64)]) -> (f64, f64) {
    range(shares.iter().map(|(_, v)| *v))
}

/// AC volts.
pub(super) fn volts(bench: &Bench, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
    let waves = bench.waves_with(&voltmeter(red, black, INPUT_OHMS))?;
    let one = |shares: &Vec<(f64, f64)>| {
        let mean: f64 = shares.iter().map(|(w, v)| w * v).sum();
        FORM * shares
            .iter()
            .map(|(w, v)| w * (v - mean).abs())
            .sum::<f64>()
    };
    Ok(range(shares(&waves, red, black).iter().map(one)))
}

/// Frequency of what moves the voltage most, in hertz; 0 when it hardly swings.
pub(super) fn hertz(bench: &Bench, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
    let waves = bench.waves_with(&voltmeter(red, black, INPUT_OHMS))?;
    Ok(range(waves.iter().map(|(wiring, waves)| {
        dominant_hz(wiring, waves, red, black)
    })))
}

/// The same for one constellation.
pub(super) fn dominant_hz(wiring: &Wiring, waves: &[Wave], red: usize, black: usize) -> f64 {
    let volts = |w: &Wave| w.op.between(wiring.node(red), wiring.node(black));
    let sources = waves.first().map_or(0, |w| w.halves.len());
    let effect = |source: usize| {
        let mean = |up: bool| {
            let half = waves.iter().filter(|w| w.halves[source].1 == up);
            let share: f64 = half.clone().map(|w| w.share).sum();
            half.map(|w| w.share * volts(w)).sum::<f64>() / share
        };
        (mean(true) - mean(false)).abs()
    };
    let strongest = (0..sources).max_by(|&a, &b| effect(a).total_cmp(&effect(b)));
    match strongest {
        Some(source) if effect(source) >= COUNTS_V => waves[0].halves[source].0.hz,
        _ => 0.0,
    }
}

/// Share of the time in which the voltage is above the middle of its swing, in hundredths.
pub(super) fn duty(bench: &Bench, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
    let waves = bench.waves_with(&voltmeter(red, black, INPUT_OHMS))?;
    let one = |shares: &Vec<(f64, f64)>| {
        let (least, most) = swing(shares);
        if most - least < COUNTS_V {
            return 0.0;
        }
        let middle = f64::midpoint(least, most);
        100.0
            * shares
                .iter()
                .filter(|(_, v)| *v > middle)
                .map(|(w, _)| w)
                .sum::<f64>()
    };
    Ok(range(shares(&waves, red, black).iter().map(one)))
}
