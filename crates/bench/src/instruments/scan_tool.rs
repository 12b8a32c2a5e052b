//! Scan tool: codes and live values of control modules. A module without supply or ground does not
//! answer.

use super::reading::Shown;
use super::take::TakeError;
use crate::Bench;
use cimento_model::circuit::Place;
use cimento_model::part::Look;
use cimento_model::units::{Quantity, Unit};

fn module(bench: &Bench, id: &str) -> Result<usize, TakeError> {
    let found = bench.circuit.part(id);
    found
        .filter(|n| bench.circuit.parts[*n].kind.module().is_some())
        .ok_or_else(|| TakeError::NoModule(id.to_owned()))
}

fn shown(text: String, unit: Unit, value: Quantity) -> Shown {
    Shown {
        text,
        unit: unit.sign().to_owned(),
        range: "scan tool".to_owned(),
        value,
        wanders: None,
        beeps: false,
    }
}

/// The codes that a module has set.
///
/// # Errors
/// [`TakeError::NoModule`] for anything that is no control module.
pub(super) fn codes(bench: &Bench, id: &str) -> Result<Shown, TakeError> {
    let part = module(bench, id)?;
    let kind = bench.circuit.parts[part].kind;
    Ok(
        match bench.look(part, |l| kind.module()?.codes(l)).flatten() {
            None => shown("no answer".to_owned(), Unit::Code, Quantity::OverLimit),
            Some(codes) => {
                let value = Quantity::Number(codes.len() as f64);
                let text = if codes.is_empty() {
                    value.text(Unit::Code)
                } else {
                    codes.join("; ")
                };
                shown(text, Unit::Code, value)
            }
        },
    )
}

/// What a module sees at one of its inputs.
///
/// # Errors
/// [`TakeError`] when there is no such input.
pub(super) fn volts(bench: &Bench, id: &str) -> Result<Shown, TakeError> {
    let circuit = &bench.circuit;
    let pin = circuit.places().find_map(|p| match p {
        Place::Pin(part, pin) if circuit.place_id(p) == id => Some((part, pin)),
        _ => None,
    });
    let (part, pin) = pin.ok_or_else(|| TakeError::NoInput(id.to_owned()))?;
    let kind = circuit.parts[part].kind;
    let is_input = |l: &Look<'_>| kind.module().is_some_and(|m| m.is_input(l, pin));
    if bench.look(part, is_input) != Some(true) {
        return Err(TakeError::NoInput(id.to_owned()));
    }
    let live = bench.look(part, |l| kind.module()?.live(l, pin)).flatten();
    Ok(match live {
        None => shown("no answer".to_owned(), Unit::Volt, Quantity::OverLimit),
        Some(volts) => {
            // A module reports in hundredths.
            let volts = (volts * 100.0).round() / 100.0 + 0.0;
            shown(format!("{volts:.2}"), Unit::Volt, Quantity::Number(volts))
        }
    })
}
