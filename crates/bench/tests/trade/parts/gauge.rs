//! A gauge and its sender.

use serde_json::json;

use super::{circuit, signs};
use crate::common::{volts, with};

#[test]
fn it_stands_elsewhere_with_a_broken_sender_or_a_grounded_wire() {
    let parts = json!({ "P1": { "kind": "gauge" }, "B1": { "kind": "sender" } });
    let wires = [("BAT.+", "P1.+"), ("P1.G", "B1.G"), ("B1.31", "BAT.-")];
    let circuit = circuit(parts, &wires);
    let sound = with(&circuit, &[], &[]);
    let open = with(&circuit, &["B1:open"], &[]);
    let grounded = with(&circuit, &["W2:short_to_ground"], &[]);
    let [a, b, c] = [&sound, &open, &grounded].map(|bench| signs(bench, "P1"));
    assert!(a != b && b != c, "{a:?} {b:?} {c:?}");
    // With no current through the gauge the sender's wire has all of the voltage; grounded, none.
    assert!((volts(&open, "B1.G", "BAT.-") - 12.6).abs() < 0.05);
    assert!(volts(&grounded, "B1.G", "BAT.-").abs() < 0.05);
    let between = volts(&sound, "B1.G", "BAT.-");
    assert!((0.5..12.0).contains(&between), "{between}");
}
