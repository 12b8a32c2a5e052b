//! Test lamp tapped on a wire: it makes pulses where there were none, and one listens for what they set off.
//! A computer that counts reference pulses takes each for one and opens its injectors: they click, and the
//! computer, its feeds and its injectors are cleared at once.

use super::function::{Function, Instrument, Range};
use super::take::{Held, Measured};
use cimento_solver::Element;

use super::lamp;
use super::reading::Shown;
use crate::{Bench, BenchError};
use cimento_model::stamped::StampedNetlist;
use cimento_model::units::{Quantity, Unit};

/// How many clicks one hears at each tap of the filament lamp between two nodes.
///
/// # Errors
/// [`BenchError`] when the circuit has no solution with the lamp in it.
fn clicks(bench: &Bench, a: usize, b: usize) -> Result<f64, BenchError> {
    let touched = bench.settled_with(&|w: &mut StampedNetlist| {
        let (a, b) = (w.node(a), w.node(b));
        let element: Element = lamp::element(a, b);
        w.net.attach(element);
    })?;
    let parts = 0..bench.circuit.parts.len();
    let clicks = parts.filter_map(|n| {
        let kind = bench.circuit.parts[n].kind;
        let before = bench.look(n, |look| kind.hears_v(look)).flatten()?;
        let after = bench
            .look_at(&touched, n, |look| kind.hears_v(look))
            .flatten()?;
        bench.look(n, |look| kind.clicks(look, (after - before).abs()))
    });
    Ok(clicks.sum::<usize>() as f64)
}

/// What one hears.
fn shown(clicks: f64) -> Shown {
    let value = Quantity::Number(clicks);
    Shown {
        text: value.text(Unit::Click),
        unit: String::new(),
        range: "12 V lamp, tapped".to_owned(),
        value,
        wanders: None,
        beeps: false,
    }
}

/// The filament lamp, tapped on a wire.
pub(super) struct TappedLamp;

impl Function {
    pub const TAPPED_LAMP: Self = Self::of(&TappedLamp);
}

impl Instrument for TappedLamp {
    fn name(&self) -> &'static str {
        "tapped_lamp"
    }

    fn label(&self) -> &'static str {
        "Tapped lamp"
    }

    fn title(&self) -> &'static str {
        "the tapped lamp"
    }

    fn unit(&self) -> Unit {
        Unit::Click
    }

    fn hint(&self) -> &'static str {
        "nothing, or how many click"
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
        0.0
    }

    fn between(
        &self,
        held: &Held<'_>,
        (red, black): (usize, usize),
    ) -> Result<Measured, BenchError> {
        let clicks = clicks(held.bench, red, black)?;
        Ok(Measured::of((clicks, clicks)))
    }

    fn shown(&self, (_, most): (f64, f64)) -> Option<Shown> {
        Some(shown(most))
    }
}
