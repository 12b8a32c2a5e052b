//! A fuse carries its rating, melts well above it, and a breaker comes back.

use serde_json::json;

use super::{circuit, near};
use crate::common::{volts, with};

/// A fuse of 10 A before a load of so many amperes.
fn with_load(kind: &str, amps: f64, faults: &[&str]) -> f64 {
    let parts = json!({ "F1": { "kind": kind, "params": { "rating_a": 10 } },
                        "R1": { "kind": "resistor", "params": { "ohms": 12.6 / amps } } });
    let circuit = circuit(
        parts,
        &[("BAT.+", "F1.1"), ("F1.2", "R1.1"), ("R1.2", "BAT.-")],
    );
    volts(&with(&circuit, faults, &[]), "R1.1", "R1.2")
}

#[test]
fn it_carries_its_rating_and_melts_at_three_times_that() {
    for kind in ["fuse", "fusible_link"] {
        assert!(near(with_load(kind, 10.0, &[]), 12.6, 0.03), "{kind}");
        assert!(with_load(kind, 60.0, &[]) < 0.05, "{kind}");
    }
}

/// A wrong fuse of 100 A carries what the right one would not.
#[test]
fn the_wrong_fuse_does_not_protect() {
    assert!(with_load("fuse", 60.0, &["F1:wrong_rating=100"]) > 11.5);
}

#[test]
fn a_blown_one_has_the_voltage_across_it_and_a_poor_clip_loses_some() {
    assert!(with_load("fuse", 1.0, &["F1:blown"]) < 0.05);
    // 1 A over 2 Ω beside 12.6 Ω.
    let left = with_load("fuse", 1.0, &["F1:high_resistance=2"]);
    assert!(near(left, 12.6 * 12.6 / 14.6, 0.01), "{left}");
}

/// A breaker under 60 A comes and goes: the load has the voltage some of the time.
#[test]
fn a_breaker_goes_to_and_fro() {
    let parts = json!({ "F1": { "kind": "circuit_breaker", "params": { "rating_a": 10 } },
                        "R1": { "kind": "resistor", "params": { "ohms": 0.21 } } });
    let circuit = circuit(
        parts,
        &[("BAT.+", "F1.1"), ("F1.2", "R1.1"), ("R1.2", "BAT.-")],
    );
    assert!(with(&circuit, &[], &[]).settled().cycles());
}
