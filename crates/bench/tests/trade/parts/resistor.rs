//! Resistors of every kind divide as Ohm says.

use serde_json::json;

use super::{circuit, near};
use crate::common::{number, volts, with};
use cimento_bench::instruments::Function;

#[test]
fn two_in_series_divide_and_drift() {
    for (kind, ohms) in [("resistor", 100.0), ("ballast", 1.5), ("coded_key", 2000.0)] {
        let parts = json!({ "R1": { "kind": kind, "params": { "ohms": ohms } },
                            "R2": { "kind": "resistor", "params": { "ohms": 2.0 * ohms } } });
        let circuit = circuit(
            parts,
            &[("BAT.+", "R1.1"), ("R1.2", "R2.1"), ("R2.2", "BAT.-")],
        );
        let at = |faults: &[&str]| volts(&with(&circuit, faults, &[]), "R2.1", "R2.2");
        assert!(near(at(&[]), 8.4, 0.01), "{kind}");
        assert!(at(&["R1:open"]) < 0.05, "{kind}");
        // What it has risen by comes to what it had.
        let drifted = at(&[&format!("R1:drifted={ohms}")]);
        assert!(near(drifted, 12.6 * 2.0 / 4.0, 0.02), "{kind}: {drifted}");
    }
}

#[test]
fn by_itself_it_reads_what_it_is_marked() {
    let parts = json!({ "R1": { "kind": "resistor", "params": { "ohms": 470 } }, "S1": { "kind": "switch", "control": "feed" } });
    let circuit = circuit(
        parts,
        &[("BAT.+", "S1.1"), ("S1.2", "R1.1"), ("R1.2", "BAT.-")],
    );
    let bench = with(&circuit, &[], &[("feed", "off")]);
    let ohms = number(&bench, Function::OHMS, "R1.1", "R1.2");
    assert!(near(ohms, 470.0, 0.01), "{ohms}");
}
