//! Switches with one contact.

use serde_json::json;

use super::circuit;
use crate::common::{volts, with};

#[test]
fn it_closes_opens_wears_and_sticks() {
    let parts = json!({ "S1": { "kind": "switch", "control": "pump" }, "R1": { "kind": "resistor", "params": { "ohms": 10 } } });
    let circuit = circuit(
        parts,
        &[("BAT.+", "S1.1"), ("S1.2", "R1.1"), ("R1.2", "BAT.-")],
    );
    let load = |at: &str, faults: &[&str]| {
        volts(&with(&circuit, faults, &[("pump", at)]), "R1.1", "BAT.-")
    };
    assert!(load("off", &[]) < 0.05 && load("on", &[]) > 12.5);
    assert!(load("on", &["S1:contact_open"]) < 0.05);
    assert!(load("off", &["S1:contact_stuck"]) > 12.5);
    // Half of it is lost over as much as the load has.
    let worn = load("on", &["S1:contact_worn=10"]);
    assert!((worn - 6.3).abs() < 0.05, "{worn}");
}
