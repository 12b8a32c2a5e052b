//! Tachometer: a clip round a high-voltage lead counts its sparks. It has to be told how many there are in
//! a turn: half a one at a plug of a four-stroke engine, one at a magneto, more at the coil's own lead.

use super::function::{Function, Instrument, PutOn};
use super::take::Held;
use std::ops::ControlFlow;

use super::function::Range;
use super::ignition_leads;
use super::reading::Shown;
use super::take::TakeError;
use crate::Bench;
use cimento_model::circuit::Place;
use cimento_model::units::{Quantity, Unit};

/// Sparks in a turn that it is set to unless told otherwise.
const PER_TURN: f64 = 0.5;
/// Current of a spark that the clip feels, in amperes, and how long after one it takes no notice, in
/// seconds; common practice.
const FEELS_A: f64 = 0.005;
const RESTS_S: f64 = 0.004;
/// Turns of the crankshaft that are counted.
const TURNS: f64 = 4.0;
/// Its accuracy, as a share; common practice.
const ACCURACY: f64 = 0.01;

/// Revolutions per minute by the sparks of a lead.
///
/// # Errors
/// [`TakeError`] when the name is no high-voltage lead or an instant has no solution.
fn rpm(bench: &Bench, lead: &str, set: Option<Range>) -> Result<f64, TakeError> {
    let circuit = &bench.circuit;
    let at = ignition_leads::wire(circuit, lead)?;
    let wire = &circuit.conductors[at];
    let carries_kilovolts = circuit.parts.iter().any(|p| {
        let mut high = p.kind.high_voltage().iter().map(|t| p.nodes[*t]);
        high.any(|node| node == wire.a || node == wire.b)
    });
    if !carries_kilovolts {
        let text = format!("the tachometer's clip goes round a high-voltage lead: {lead} is none");
        return Err(TakeError::Setting(text));
    }
    let (mut sparks, mut last_s) = (0.0, f64::NEG_INFINITY);
    bench.in_time(TURNS, &|_| (), &mut |at_s, wiring, now| {
        let line = wiring.tagged(Place::Conductor(at), "through");
        let amps = line.map_or(0.0, |l| now.current(l.element).abs());
        if amps > FEELS_A {
            if at_s - last_s > RESTS_S {
                sparks += 1.0;
            }
            last_s = at_s;
        }
        ControlFlow::Continue(())
    })?;
    let per_turn = set.map_or(PER_TURN, |r| r.0);
    Ok(sparks / TURNS * bench.rpm() / per_turn)
}

/// The tachometer as one sees it.
fn shown(rpm: f64, set: Option<Range>) -> Shown {
    let whole = (rpm / 10.0).round() * 10.0;
    Shown {
        text: format!("{whole:.0}"),
        unit: Unit::Rpm.sign().to_owned(),
        range: format!("{} sparks a turn", set.map_or(PER_TURN, |r| r.0)),
        value: Quantity::Number(whole),
        wanders: None,
        beeps: false,
    }
}

/// A clip round a high-voltage lead: ±(1 % + 10 rpm); common practice.
pub(super) struct Tachometer;

impl Function {
    pub const TACHOMETER: Self = Self::of(&Tachometer);
}

impl Instrument for Tachometer {
    fn name(&self) -> &'static str {
        "tachometer"
    }

    fn label(&self) -> &'static str {
        "Tachometer"
    }

    fn title(&self) -> &'static str {
        "the tachometer"
    }

    fn unit(&self) -> Unit {
        Unit::Rpm
    }

    fn put_on(&self) -> PutOn {
        PutOn::IgnitionLead
    }

    // Sparks in a turn.
    fn ranges(&self) -> &'static [Range] {
        &[Range(0.5), Range(1.0), Range(2.0)]
    }

    fn settings(&self) -> &'static [&'static str] {
        &[
            "a spark in two turns",
            "one spark a turn",
            "two sparks a turn",
        ]
    }

    fn usual_setting(&self) -> Option<f64> {
        Some(PER_TURN)
    }

    fn is_ranged(&self) -> bool {
        false
    }

    fn accuracy(&self, value: f64, _range: Range) -> f64 {
        ACCURACY * value.abs() + 10.0
    }

    fn at(&self, held: &Held<'_>, lead: &str) -> Result<Shown, TakeError> {
        Ok(shown(rpm(held.bench, lead, held.range)?, held.range))
    }
}
