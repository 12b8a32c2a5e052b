//! Test lamp tapped on a wire: it makes pulses where there were none, and one listens for what they set off.
//! A computer that counts reference pulses takes each for one and opens its injectors: they click, and the
//! computer, its feeds and its injectors are cleared at once.

use cimento_solver::Element;

use super::lamp;
use super::reading::Shown;
use crate::{Bench, BenchError};
use cimento_model::stamped::Wiring;
use cimento_model::units::{Quantity, Unit};

/// How many clicks one hears at each tap of the filament lamp between two nodes.
///
/// # Errors
/// [`BenchError`] when the circuit has no solution with the lamp in it.
pub(super) fn clicks(bench: &Bench, a: usize, b: usize) -> Result<f64, BenchError> {
    let touched = bench.settled_with(&|w: &mut Wiring| {
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
pub(super) fn shown(clicks: f64) -> Shown {
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
