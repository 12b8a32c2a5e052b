//! Scan tool: codes and live values of control modules. A module without supply or ground does not
//! answer.

use super::function::{Function, Instrument, Keyed, Leads, PutOn, Range};
use super::reading::Shown;
use super::take::Held;
use super::take::TakeError;
use crate::Bench;
use cimento_model::circuit::Circuit;
use cimento_model::circuit::Place;
use cimento_model::part::Look;
use cimento_model::state::OperatingState;
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
fn codes(bench: &Bench, id: &str) -> Result<Shown, TakeError> {
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
fn volts(bench: &Bench, id: &str) -> Result<Shown, TakeError> {
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

/// Codes of a control module.
pub(super) struct ScanCodes;

impl Function {
    pub const SCAN_CODES: Self = Self::of(&ScanCodes);
}

impl Instrument for ScanCodes {
    fn name(&self) -> &'static str {
        "scan_codes"
    }

    fn label(&self) -> &'static str {
        "Codes"
    }

    fn title(&self) -> &'static str {
        "the codes"
    }

    fn unit(&self) -> Unit {
        Unit::Code
    }

    fn hint(&self) -> &'static str {
        "none, or a code"
    }

    fn put_on(&self) -> PutOn {
        PutOn::Module
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(600.0)]
    }

    fn step(&self, _range: Range) -> f64 {
        1.0
    }

    fn accuracy(&self, _value: f64, _range: Range) -> f64 {
        0.0
    }

    fn keyed(&self) -> Keyed {
        Keyed::Modules
    }

    fn proposes(&self, circuit: &Circuit, _state: &OperatingState) -> Vec<Leads> {
        let modules = circuit.parts.iter().filter(|p| p.kind.module().is_some());
        modules.map(|p| (p.id.clone(), None)).collect()
    }

    fn at(&self, held: &Held<'_>, module: &str) -> Result<Shown, TakeError> {
        codes(held.bench, module)
    }
}

/// What a control module sees at one of its inputs.
pub(super) struct ScanVolts;

impl Function {
    pub const SCAN_VOLTS: Self = Self::of(&ScanVolts);
}

impl Instrument for ScanVolts {
    fn name(&self) -> &'static str {
        "scan_volts"
    }

    fn label(&self) -> &'static str {
        "Scan data"
    }

    fn title(&self) -> &'static str {
        "what the module sees"
    }

    fn unit(&self) -> Unit {
        Unit::Volt
    }

    fn put_on(&self) -> PutOn {
        PutOn::Pin
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(60.0)]
    }

    fn accuracy(&self, value: f64, range: Range) -> f64 {
        0.005 * value.abs() + 2.0 * range.count()
    }

    fn keyed(&self) -> Keyed {
        Keyed::Inputs
    }

    fn at(&self, held: &Held<'_>, pin: &str) -> Result<Shown, TakeError> {
        volts(held.bench, pin)
    }
}
