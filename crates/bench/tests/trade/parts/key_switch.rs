//! A key switch joins its feed to what its position says.

use serde_json::json;

use super::circuit;
use crate::common::{volts, with};

fn at(position: &str, faults: &[&str]) -> [bool; 3] {
    let load = json!({ "kind": "resistor", "params": { "ohms": 10 } });
    let parts = json!({ "S1": { "kind": "key_switch" }, "R1": load, "R2": load, "R3": load });
    let wires = [
        ("BAT.+", "S1.30"),
        ("S1.ACC", "R1.1"),
        ("S1.15", "R2.1"),
        ("S1.50", "R3.1"),
        ("R1.2", "BAT.-"),
        ("R2.2", "BAT.-"),
        ("R3.2", "BAT.-"),
    ];
    let circuit = circuit(parts, &wires);
    let bench = with(&circuit, faults, &[("key", position)]);
    ["R1.1", "R2.1", "R3.1"].map(|point| volts(&bench, point, "BAT.-") > 6.0)
}

/// The usual switch: nothing off, accessories, run, and in start what the start needs.
#[test]
fn each_position_feeds_its_own() {
    assert_eq!(at("off", &[]), [false, false, false]);
    let run = at("run", &[]);
    assert!(run[1] && !run[2], "{run:?}");
    let start = at("start", &[]);
    assert!(start[1] && start[2], "{start:?}");
}

#[test]
fn a_contact_that_is_open_feeds_nothing_and_the_others_go_on() {
    let start = at("start", &["S1:contact_50_open"]);
    assert!(start[1] && !start[2], "{start:?}");
    let run = at("run", &["S1:contact_15_open"]);
    assert!(!run[1], "{run:?}");
    // 20 Ω before 10 Ω leave a third.
    assert!(!at("start", &["S1:contact_50_worn=20"])[2]);
}

#[test]
fn one_that_never_moves_feeds_nothing() {
    assert_eq!(at("start", &["S1:stuck_off"]), [false, false, false]);
}
