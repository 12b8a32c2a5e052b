//! Shared by the tests: the demo circuits. Each test uses a part of it.

#![allow(dead_code)]

use cimento_core::circuit::Circuit;
use cimento_core::faults::{Fault, read_short_form};

/// Text of the baggage tug's starting circuit.
pub const TUG: &str = include_str!("../../../../demo/circuits/baggage-tug-starting.json");

/// The baggage tug's starting circuit.
pub fn tug() -> Circuit {
    Circuit::read(TUG).unwrap()
}

/// A demo circuit by its file name.
pub fn demo(name: &str) -> Circuit {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/circuits");
    let text = std::fs::read_to_string(format!("{folder}/{name}.json")).unwrap();
    Circuit::read(&text).unwrap()
}

/// A fault in short form.
pub fn fault(circuit: &Circuit, text: &str) -> Fault {
    Fault::read(circuit, &read_short_form(text).unwrap(), "fault").unwrap()
}
