//! Switches that a pressure or a temperature moves, below a warning lamp.

use serde_json::json;

use super::{circuit, signs};
use crate::common::with;

fn lamp(kind: &str, faults: &[&str]) -> Vec<String> {
    let parts = json!({ "H1": { "kind": "warning_lamp" }, "S1": { "kind": kind } });
    let circuit = circuit(
        parts,
        &[("BAT.+", "H1.1"), ("H1.2", "S1.1"), ("S1.31", "BAT.-")],
    );
    signs(&with(&circuit, faults, &[]), "H1")
}

/// The engine stands and is cold: no oil pressure, and no heat.
#[test]
fn at_rest_oil_pressure_is_missing_and_nothing_is_hot() {
    let (oil, heat) = (
        lamp("oil_pressure_switch", &[]),
        lamp("temperature_switch", &[]),
    );
    assert_ne!(oil, heat);
    assert_eq!(lamp("oil_pressure_switch", &["S1:contact_open"]), heat);
    assert_eq!(lamp("temperature_switch", &["S1:contact_stuck"]), oil);
    // A grounded wire does what a closed switch does.
    assert_eq!(lamp("temperature_switch", &["W2:short_to_ground"]), oil);
}
