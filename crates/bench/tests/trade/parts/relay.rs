//! A relay: pulls in at a voltage, holds at a lower one, and its contacts do as they are.

use serde_json::json;

use super::{circuit, near};
use crate::common::{number, volts, with};
use cimento_bench::instruments::Function;

/// A relay whose coil is switched, with a load of 10 Ω at each contact.
fn relay(kind: &str) -> std::sync::Arc<cimento_model::circuit::Circuit> {
    let load = json!({ "kind": "resistor", "params": { "ohms": 10 } });
    let parts = json!({ "K1": { "kind": kind, "params": { "coil_ohms": 85, "damping_ohms": 680 } },
        "S1": { "kind": "switch", "control": "coil" }, "R1": load, "R2": load });
    let mut wires = vec![
        ("BAT.+", "S1.1"),
        ("S1.2", "K1.86"),
        ("K1.85", "BAT.-"),
        ("BAT.+", "K1.30"),
        ("K1.87", "R1.1"),
        ("R1.2", "BAT.-"),
        ("R2.2", "BAT.-"),
    ];
    if kind == "changeover_relay" {
        wires.push(("K1.87a", "R2.1"));
    }
    circuit(parts, &wires)
}

#[test]
fn it_feeds_its_load_when_its_coil_is_fed() {
    let circuit = relay("relay");
    let load = |at: &str, faults: &[&str]| {
        volts(&with(&circuit, faults, &[("coil", at)]), "R1.1", "BAT.-")
    };
    assert!(load("off", &[]) < 0.05 && load("on", &[]) > 12.5);
    assert!(load("on", &["K1:coil_open"]) < 0.05);
    assert!(load("on", &["K1:contacts_open"]) < 0.05);
    assert!(load("off", &["K1:contacts_welded"]) > 12.5);
    assert!(near(load("on", &["K1:contacts_pitted=10"]), 6.3, 0.01));
}

/// 85 Ω beside 680 Ω: 75.6 Ω, 167 mA.
#[test]
fn its_coil_draws_by_coil_and_damping() {
    let bench = with(&relay("relay"), &[], &[("coil", "on")]);
    let amps = number(&bench, Function::CLAMP_AMPS, "W2", "");
    assert!((amps - 12.6 / 75.56).abs() < 0.02, "{amps}");
}

/// The coil pulls in at 7.2 V at the latest: behind 40 Ω it has 8.2 V, behind 100 Ω 5.4 V.
#[test]
fn it_needs_its_volts_to_pull_in() {
    let circuit = relay("relay");
    let load = |ohms: &str| {
        let bench = with(
            &circuit,
            &[&format!("W2:high_resistance={ohms}")],
            &[("coil", "on")],
        );
        volts(&bench, "R1.1", "BAT.-")
    };
    assert!(load("40") > 12.0 && load("100") < 0.05);
}

#[test]
fn a_changeover_feeds_one_or_the_other() {
    let circuit = relay("changeover_relay");
    let loads = |at: &str| {
        let bench = with(&circuit, &[], &[("coil", at)]);
        ["R1.1", "R2.1"].map(|point| volts(&bench, point, "BAT.-") > 6.0)
    };
    assert_eq!(loads("off"), [false, true]);
    assert_eq!(loads("on"), [true, false]);
}
