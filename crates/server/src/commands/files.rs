//! Circuits, states and faults from files and arguments.

use std::path::Path;

use cimento_core::bench::{Bench, OperatingState};
use cimento_core::circuit::Circuit;
use cimento_core::faults::{Fault, read_short_form};

use super::{CircuitArgs, Failure};

/// Text of a file.
pub(super) fn text(file: &Path) -> Result<String, Failure> {
    std::fs::read_to_string(file)
        .map_err(|e| Failure::BadInput(format!("{} cannot be read: {e}", file.display())))
}

/// A checked circuit.
pub(super) fn circuit(file: &Path) -> Result<Circuit, Failure> {
    let refused = |e: cimento_core::circuit::Refused| {
        let lines: Vec<String> =
            e.0.iter()
                .map(|p| format!("{}: {p}", file.display()))
                .collect();
        Failure::BadInput(lines.join("\n"))
    };
    Circuit::read(&text(file)?).map_err(refused)
}

/// The faults of the arguments.
pub(super) fn faults(circuit: &Circuit, args: &CircuitArgs) -> Result<Vec<Fault>, Failure> {
    let one = |text: &String| {
        let doc = read_short_form(text)?;
        Fault::read(circuit, &doc, text)
    };
    let all: Result<Vec<Fault>, _> = args.faults.iter().map(one).collect();
    all.map_err(|p| Failure::BadInput(p.to_string()))
}

/// The state of the arguments: `key=start,clutch=down`.
pub(super) fn state(circuit: &Circuit, text: &str) -> Result<OperatingState, Failure> {
    let mut state = OperatingState::at_rest(circuit);
    for item in text.split(',').map(str::trim).filter(|t| !t.is_empty()) {
        let (name, at) = item.split_once('=').ok_or_else(|| {
            Failure::BadInput(format!(
                "“{item}” is no control: expected name=position, such as key=start"
            ))
        })?;
        state.set_control(name, at.to_owned());
    }
    state.check(circuit).map_err(|problems| {
        let lines: Vec<String> = problems.iter().map(ToString::to_string).collect();
        Failure::BadInput(lines.join("\n"))
    })?;
    Ok(state)
}

/// A bench in the arguments' state.
pub(super) fn bench<'c>(circuit: &'c Circuit, args: &CircuitArgs) -> Result<Bench<'c>, Failure> {
    let faults = faults(circuit, args)?;
    let state = state(circuit, &args.state)?;
    let mut bench = Bench::new(circuit, &faults).map_err(|e| Failure::Finding(e.to_string()))?;
    bench
        .set(state)
        .map_err(|e| Failure::Finding(e.to_string()))?;
    Ok(bench)
}
