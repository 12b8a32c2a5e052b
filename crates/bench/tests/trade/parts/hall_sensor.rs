//! A sensor with three wires on an engine that stands.

use serde_json::json;

use super::circuit;
use crate::common::{volts, with};

/// Its output is pulled up by 1 kΩ: high, or low when its transistor conducts; dead it stays high.
#[test]
fn its_output_is_one_of_two_levels() {
    for kind in ["hall_sensor", "optical_sensor"] {
        let parts = json!({ "B1": { "kind": kind }, "R1": { "kind": "resistor", "params": { "ohms": 1000 } } });
        let wires = [
            ("BAT.+", "B1.1"),
            ("B1.3", "BAT.-"),
            ("BAT.+", "R1.1"),
            ("R1.2", "B1.2"),
        ];
        let circuit = circuit(parts, &wires);
        let out = |faults: &[&str]| volts(&with(&circuit, faults, &[]), "B1.2", "BAT.-");
        assert!(out(&["B1:dead"]) > 12.0, "{kind}");
        assert!(out(&["B1:stuck_low"]) < 1.0, "{kind}");
        // 600 Ω below 1 kΩ: it never lets go fully.
        let leaks = out(&["B1:dead", "B1:output_leaks=600"]);
        assert!(leaks < 12.0, "{kind}: {leaks}");
        // Without its ground it pulls nothing down.
        assert!(out(&["B1:stuck_low", "W2:open"]) > 11.0, "{kind}");
    }
}
