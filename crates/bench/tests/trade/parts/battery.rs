//! A battery: what it rests at, how far it gives way, and how its faults differ.

use serde_json::json;

use super::{across, near};
use crate::common::{volts, with};

/// A load of 0.1 Ω on a battery with so many parameters.
fn loaded(battery: serde_json::Value, faults: &[&str]) -> f64 {
    let doc = json!({ "format": "cimento/circuit", "version": 1, "title": "t", "system_v": 12,
        "parts": { "BAT": { "kind": "battery", "params": battery },
                   "R1": { "kind": "resistor", "params": { "ohms": 1 } } },
        "wires": [{ "id": "W1", "from": "BAT.+", "to": "R1.1", "ohms": 0.001 },
                  { "id": "W2", "from": "R1.2", "to": "BAT.-", "ohms": 0.001 }] });
    let circuit = cimento_parts::read_circuit(&doc.to_string()).unwrap();
    volts(&with(&circuit, faults, &[]), "BAT.+", "BAT.-")
}

/// Full, half and empty at rest: common practice has 12.6, 12.2 and below 11.9 V of a lead battery.
#[test]
fn it_rests_lower_the_less_charge_it_has() {
    let at = |charge: f64| {
        loaded(
            json!({ "rest_v": 12.6, "charge": charge, "cca_a": 3000 }),
            &[],
        )
    };
    let (full, half, empty) = (at(1.0), at(0.5), at(0.0));
    assert!(full > half && half > empty, "{full} {half} {empty}");
    assert!((12.3..12.65).contains(&full), "{full}");
    assert!((11.9..12.4).contains(&half), "{half}");
}

/// What it gives way by goes with its current and against its cranking amperes.
#[test]
fn a_small_battery_gives_way_more() {
    let drop = |cca: f64| 12.6 - loaded(json!({ "rest_v": 12.6, "cca_a": cca }), &[]);
    let (large, small) = (drop(800.0), drop(200.0));
    assert!(large > 0.0 && small > 2.0 * large, "{large} {small}");
}

/// A cell that has failed takes a sixth of the voltage with it.
#[test]
fn a_dead_cell_takes_a_sixth() {
    let sound = loaded(json!({ "rest_v": 12.6, "cca_a": 3000 }), &[]);
    let dead = loaded(json!({ "rest_v": 12.6, "cca_a": 3000 }), &["BAT:dead_cell"]);
    assert!(near(sound - dead, 12.6 / 6.0, 0.1), "{sound} {dead}");
}

/// 12 A over 0.1 Ω at the post leave 1.2 V there: between post and clamp, not in the battery. What it is made of
/// inside shows at the posts.
#[test]
fn corrosion_lies_outside_and_sulphate_inside() {
    let battery = json!({ "rest_v": 12.6, "cca_a": 3000 });
    let sound = loaded(battery.clone(), &[]);
    let sulphated = loaded(battery, &["BAT:sulphated=0.1"]);
    assert!(
        near(sound - sulphated, 12.6 * 0.1 / 1.1, 0.1),
        "{sound} {sulphated}"
    );
    let circuit = across("R1", json!({ "kind": "resistor", "params": { "ohms": 1 } }));
    let bench = with(&circuit, &["BAT:corroded_post=0.1"], &[]);
    let lost = 12.6 * 0.1 / 1.1;
    let load = volts(&bench, "R1.1", "R1.2");
    assert!(near(load, 12.6 - lost, 0.02), "{load}");
}
