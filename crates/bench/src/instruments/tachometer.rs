//! Tachometer: a clip round a high-voltage lead counts its sparks. It has to be told how many there are in
//! a turn: half a one at a plug of a four-stroke engine, one at a magneto, more at the coil's own lead.

use std::ops::ControlFlow;

use super::function::Range;
use super::leads;
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
pub(super) const ACCURACY: f64 = 0.01;

/// Revolutions per minute by the sparks of a lead.
///
/// # Errors
/// [`TakeError`] when the name is no high-voltage lead or an instant has no solution.
pub(super) fn rpm(bench: &Bench, lead: &str, set: Option<Range>) -> Result<f64, TakeError> {
    let circuit = &bench.circuit;
    let at = leads::wire(circuit, lead)?;
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
        let line = wiring.line(Place::Conductor(at), "through");
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
pub(super) fn shown(rpm: f64, set: Option<Range>) -> Shown {
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
