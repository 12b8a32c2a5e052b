//! A condenser keeps direct current back, and lets it through as it fails.

use serde_json::json;

use super::{circuit, near};
use crate::common::{volts, with};

/// With 10 kΩ before it: all of the voltage when sound or open, none when shorted, half when it leaks as much.
#[test]
fn what_is_left_behind_a_resistor_tells_how_it_is() {
    let parts = json!({ "C1": { "kind": "condenser" }, "R1": { "kind": "resistor", "params": { "ohms": 10000 } } });
    let circuit = circuit(
        parts,
        &[("BAT.+", "R1.1"), ("R1.2", "C1.1"), ("C1.31", "BAT.-")],
    );
    let left = |faults: &[&str]| volts(&with(&circuit, faults, &[]), "C1.1", "BAT.-");
    assert!(near(left(&[]), 12.6, 0.01));
    assert!(near(left(&["C1:open"]), 12.6, 0.01));
    assert!(left(&["C1:shorted"]) < 0.05);
    assert!(near(left(&["C1:leaky=10000"]), 6.3, 0.02));
}
