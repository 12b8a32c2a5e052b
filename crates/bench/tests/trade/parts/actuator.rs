//! Windings that do something: horn, injector, valve, heater.

use serde_json::json;

use super::{across, near, signs};
use crate::common::{number, shown, with};
use cimento_bench::instruments::Function;

#[test]
fn each_draws_by_its_resistance() {
    for (kind, ohms) in [
        ("horn", 3.0),
        ("injector", 12.0),
        ("solenoid_valve", 20.0),
        ("heater", 1.2),
    ] {
        let circuit = across("Y1", json!({ "kind": kind, "params": { "ohms": ohms } }));
        let bench = with(&circuit, &[], &[]);
        let amps = number(&bench, Function::CLAMP_AMPS, "W1", "");
        assert!(
            (amps - 12.6 / ohms).abs() < 0.06 + 0.02 * amps,
            "{kind}: {amps}"
        );
        let open = with(&circuit, &["Y1:winding_open"], &[]);
        assert!(
            number(&open, Function::CLAMP_AMPS, "W1", "").abs() < 0.01,
            "{kind}"
        );
        assert_ne!(signs(&bench, "Y1"), signs(&open, "Y1"), "{kind}");
    }
}

/// Off the circuit an ohmmeter reads the winding; open, nothing.
#[test]
fn an_ohmmeter_reads_the_winding() {
    let parts = json!({ "Y1": { "kind": "solenoid_valve", "params": { "ohms": 20 } }, "S1": { "kind": "switch", "control": "valve" } });
    let circuit = super::circuit(
        parts,
        &[("BAT.+", "S1.1"), ("S1.2", "Y1.1"), ("Y1.2", "BAT.-")],
    );
    let at = |faults: &[&str]| with(&circuit, faults, &[("valve", "off")]);
    assert!(near(
        number(&at(&[]), Function::OHMS, "Y1.1", "Y1.2"),
        20.0,
        0.02
    ));
    let open = shown(&at(&["Y1:winding_open"]), Function::OHMS, "Y1.1", "Y1.2");
    assert_eq!(open.text, "OL");
    let shorted = number(
        &at(&["Y1:winding_shorted=2"]),
        Function::OHMS,
        "Y1.1",
        "Y1.2",
    );
    // The leads have 0.2 Ω of their own until they are zeroed.
    assert!((shorted - 2.2).abs() < 0.11, "{shorted}");
}
