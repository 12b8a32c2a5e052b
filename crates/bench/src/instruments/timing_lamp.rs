//! Timing lamp: it flashes with the sparks of a lead and lights the mark on the crankshaft, which stands at
//! the pointer when cylinder 1 should fire. What is read is how far past the pointer the mark is: late.

use super::function::{Function, Instrument, Leads, PutOn, Range, Standing, on_plugs};
use super::take::Held;
use std::ops::ControlFlow;

use super::ignition_leads;
use super::reading::Shown;
use super::take::TakeError;
use crate::{Bench, FROM_DEG};
use cimento_model::circuit::{Circuit, Place};
use cimento_model::units::{Quantity, Unit};

/// Current of a spark that the clip feels, in amperes; common practice.
const FEELS_A: f64 = 0.005;
/// Turns of the crankshaft in which a lead sparks, if it does.
const TURNS: f64 = 2.0;
/// Angles are told from here on round the circle: no cylinder of an engine is meant to fire there, so no
/// reading lies on the seam.
const SEAM_DEG: f64 = -100.0;
/// One reads the scale to a degree.
const ACCURACY_DEG: f64 = 1.0;
/// So far off the pointer an engine's timing is left as it is, in degrees; common practice.
const NORMAL_DEG: f64 = 3.0;

/// Degrees of the crankshaft from the pointer to the mark at the first spark of a lead, late ones positive,
/// from −100 to 260; infinite when it does not flash.
///
/// # Errors
/// [`TakeError`] when the lead leads to no plug or an instant has no solution.
fn degrees(bench: &Bench, lead: &str) -> Result<f64, TakeError> {
    let what = "the timing lamp's clip goes round the lead of a plug";
    ignition_leads::plug(&bench.circuit, lead, what)?;
    let at = Place::Conductor(ignition_leads::wire(&bench.circuit, lead)?);
    let mut flash_s = None;
    bench.in_time(TURNS, &|_| (), &mut |at_s, wiring, now| {
        let amps = wiring.tagged(at, "through").map(|l| now.current(l.element));
        match amps {
            Some(amps) if amps.abs() > FEELS_A => {
                flash_s = Some(at_s);
                ControlFlow::Break(())
            }
            _ => ControlFlow::Continue(()),
        }
    })?;
    let turned = |at_s: f64| FROM_DEG + at_s * 6.0 * bench.rpm();
    let past = |degrees: f64| (degrees - SEAM_DEG).rem_euclid(360.0) + SEAM_DEG;
    Ok(flash_s.map_or(f64::INFINITY, |at_s| past(turned(at_s))))
}

/// The lamp's light on the scale as one sees it.
fn shown(degrees: f64) -> Shown {
    let whole = degrees.round();
    let value = match degrees.is_finite() {
        true => Quantity::Number(if whole == 0.0 { 0.0 } else { whole }),
        false => Quantity::OverLimit,
    };
    Shown {
        text: match value {
            Quantity::Number(n) => format!("{n:.0}"),
            Quantity::OverLimit => "no flash".to_owned(),
        },
        unit: match value {
            Quantity::Number(_) => Unit::Degree.sign().to_owned(),
            Quantity::OverLimit => String::new(),
        },
        range: "past the pointer".to_owned(),
        value,
        wanders: None,
        beeps: false,
    }
}

/// A lamp that flashes with the sparks of a lead.
pub(super) struct TimingLamp;

impl Function {
    pub const TIMING_LAMP: Self = Self::of(&TimingLamp);
}

impl Instrument for TimingLamp {
    fn name(&self) -> &'static str {
        "timing_lamp"
    }

    fn label(&self) -> &'static str {
        "Timing lamp"
    }

    fn title(&self) -> &'static str {
        "the timing lamp"
    }

    fn unit(&self) -> Unit {
        Unit::Degree
    }

    fn hint(&self) -> &'static str {
        "°, early is −"
    }

    fn put_on(&self) -> PutOn {
        PutOn::IgnitionLead
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(600.0)]
    }

    fn is_ranged(&self) -> bool {
        false
    }

    fn step(&self, _range: Range) -> f64 {
        1.0
    }

    fn accuracy(&self, _value: f64, _range: Range) -> f64 {
        ACCURACY_DEG
    }

    fn tolerance(&self, _share: f64, _healthy: f64) -> f64 {
        NORMAL_DEG
    }

    fn follows_time(&self) -> bool {
        true
    }

    fn proposes_closer(&self, circuit: &Circuit, _: Standing<'_>) -> Vec<Leads> {
        on_plugs(circuit)
    }

    fn at(&self, held: &Held<'_>, lead: &str) -> Result<Shown, TakeError> {
        Ok(shown(degrees(held.bench, lead)?))
    }
}
