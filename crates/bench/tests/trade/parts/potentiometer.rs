//! Pedal and throttle sensors divide their supply.

use serde_json::json;

use super::circuit;
use crate::common::{volts, with};

/// One track on 12.6 V: more at the wiper as the pedal goes down; broken at its supply end it has none, and a wiper
/// that lifts off leaves its signal with nothing.
#[test]
fn its_wiper_goes_along_the_track() {
    let parts = json!({ "B1": { "kind": "potentiometer", "control": "pedal" } });
    let circuit = circuit(parts, &[("BAT.+", "B1.1"), ("B1.3", "BAT.-")]);
    let control = &circuit.controls()[0];
    let at = |position: &str, faults: &[&str]| {
        volts(
            &with(&circuit, faults, &[(&control.name, position)]),
            "B1.2",
            "BAT.-",
        )
    };
    let all: Vec<f64> = control.positions.iter().map(|p| at(p, &[])).collect();
    assert!(all.windows(2).all(|pair| pair[0] < pair[1]), "{all:?}");
    assert!(all.iter().all(|v| (0.0..12.6).contains(v)), "{all:?}");
    let last = control.positions.last().unwrap();
    assert!(at(last, &["B1:track_open"]) < 0.1);
    assert!(at(last, &["B1:wiper_open"]).abs() < 0.5);
}

/// Two that go against each other add up to their supply.
#[test]
fn opposite_ones_add_up() {
    let parts = json!({ "B1": { "kind": "paired_potentiometer_opposite", "control": "throttle" } });
    let wires = [
        ("BAT.+", "B1.1"),
        ("B1.3", "BAT.-"),
        ("BAT.+", "B1.4"),
        ("B1.6", "BAT.-"),
    ];
    let circuit = circuit(parts, &wires);
    let control = &circuit.controls()[0];
    for position in &control.positions {
        let bench = with(&circuit, &[], &[(&control.name, position)]);
        let sum = volts(&bench, "B1.2", "BAT.-") + volts(&bench, "B1.5", "BAT.-");
        assert!((sum - 12.6).abs() < 0.1, "{position}: {sum}");
    }
}
