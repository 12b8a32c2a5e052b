//! What a multimeter makes of a voltage that goes to and fro: AC volts, frequency, duty.

use super::function::{Function, Instrument, Keyed, Range};
use super::take::{Held, Measured};
use cimento_model::units::Unit;
use std::sync::Arc;

use super::function::Leads;
use super::multimeter::{INPUT_OHMS, voltmeter};
use crate::{Bench, BenchError, Waves};
use cimento_model::circuit::Circuit;
use cimento_model::stamped::{StampedNetlist, Wave};
use cimento_model::state::OperatingState;

/// An average-responding meter shows a sine's root mean square: the mean distance from the middle
/// times `π/(2·√2)`.
const FORM: f64 = 1.110_721;
/// Swing below which no frequency is counted, in volts; common practice.
pub(super) const COUNTS_V: f64 = 0.05;

/// Each constellation's waves as shares of time and volts between the leads.
fn shares(waves: &Waves, red: usize, black: usize) -> Vec<Vec<(f64, f64)>> {
    let one = |(wiring, waves): &(Arc<StampedNetlist>, Vec<Wave>)| {
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
fn volts(bench: &Bench, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
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
fn hertz(bench: &Bench, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
    let waves = bench.waves_with(&voltmeter(red, black, INPUT_OHMS))?;
    Ok(range(waves.iter().map(|(wiring, waves)| {
        dominant_hz(wiring, waves, red, black)
    })))
}

/// The same for one constellation.
pub(super) fn dominant_hz(
    wiring: &StampedNetlist,
    waves: &[Wave],
    red: usize,
    black: usize,
) -> f64 {
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
fn duty(bench: &Bench, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
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

/// Average-responding AC volts: ±(1 % + 3 counts); common practice.
pub(super) struct AcVolts;

impl Function {
    pub const AC_VOLTS: Self = Self::of(&AcVolts);
}

impl Instrument for AcVolts {
    fn name(&self) -> &'static str {
        "ac_volts"
    }

    fn label(&self) -> &'static str {
        "AC volts"
    }

    fn title(&self) -> &'static str {
        "AC volts"
    }

    fn unit(&self) -> Unit {
        Unit::Volt
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(6.0), Range(60.0), Range(600.0)]
    }

    fn accuracy(&self, value: f64, range: Range) -> f64 {
        0.01 * value.abs() + 3.0 * range.count()
    }

    fn keyed(&self) -> Keyed {
        Keyed::Swings
    }

    fn proposes(&self, circuit: &Circuit, _state: &OperatingState) -> Vec<Leads> {
        let generator = circuit.parts.iter().find(|p| p.kind.charges());
        let ends = (circuit.point_at(circuit.positive()), circuit.point_at(0));
        match (generator, ends) {
            (Some(_), (Some(positive), negative)) => {
                vec![(positive.id.clone(), negative.map(|p| p.id.clone()))]
            }
            _ => Vec::new(),
        }
    }

    fn between(
        &self,
        held: &Held<'_>,
        (red, black): (usize, usize),
    ) -> Result<Measured, BenchError> {
        Ok(Measured::of(volts(held.bench, red, black)?))
    }
}

/// Hertz: ±(0.1 % + 3 counts); common practice.
pub(super) struct Hertz;

impl Function {
    pub const HERTZ: Self = Self::of(&Hertz);
}

impl Instrument for Hertz {
    fn name(&self) -> &'static str {
        "hertz"
    }

    fn label(&self) -> &'static str {
        "Hertz"
    }

    fn title(&self) -> &'static str {
        "hertz"
    }

    fn unit(&self) -> Unit {
        Unit::Hertz
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(60.0), Range(600.0), Range(6e3), Range(60e3)]
    }

    fn accuracy(&self, value: f64, range: Range) -> f64 {
        0.001 * value.abs() + 3.0 * range.count()
    }

    fn counts_beats(&self) -> bool {
        true
    }

    fn keyed(&self) -> Keyed {
        Keyed::Swings
    }

    fn between(
        &self,
        held: &Held<'_>,
        (red, black): (usize, usize),
    ) -> Result<Measured, BenchError> {
        Ok(Measured::of(hertz(held.bench, red, black)?))
    }
}

/// Duty: ±(0.1 % + 3 counts); common practice.
pub(super) struct Duty;

impl Function {
    pub const DUTY: Self = Self::of(&Duty);
}

impl Instrument for Duty {
    fn name(&self) -> &'static str {
        "duty"
    }

    fn label(&self) -> &'static str {
        "Duty"
    }

    fn title(&self) -> &'static str {
        "duty"
    }

    fn unit(&self) -> Unit {
        Unit::Percent
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(600.0)]
    }

    fn accuracy(&self, value: f64, range: Range) -> f64 {
        0.001 * value.abs() + 3.0 * range.count()
    }

    fn counts_beats(&self) -> bool {
        true
    }

    fn keyed(&self) -> Keyed {
        Keyed::Swings
    }

    fn between(
        &self,
        held: &Held<'_>,
        (red, black): (usize, usize),
    ) -> Result<Measured, BenchError> {
        Ok(Measured::of(duty(held.bench, red, black)?))
    }
}
