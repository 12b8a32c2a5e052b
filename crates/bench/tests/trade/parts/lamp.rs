//! A filament: hot at its rating, cold a tenth of that, dark when something is left over in its circuit.

use serde_json::json;

use super::{across, circuit, near, signs};
use crate::common::{number, volts, with};
use cimento_bench::instruments::Function;

/// 24 W at 12 V are 2 A; at 12.6 V a little more, by less than the voltage: the filament grows hotter.
#[test]
fn it_draws_its_rating_at_its_voltage() {
    let circuit = across("H1", json!({ "kind": "lamp", "params": { "rated_w": 24 } }));
    let bench = with(&circuit, &[], &[]);
    let amps = number(&bench, Function::CLAMP_AMPS, "W1", "");
    assert!((2.0..2.1).contains(&amps), "{amps}");
    assert_eq!(signs(&bench, "H1"), ["bright"]);
}

/// Cold it has about a tenth of its hot resistance of 6 Ω; common practice.
#[test]
fn cold_it_has_a_fraction_of_its_hot_resistance() {
    let parts = json!({ "H1": { "kind": "lamp", "params": { "rated_w": 24 } }, "S1": { "kind": "switch", "control": "lamp" } });
    let circuit = circuit(
        parts,
        &[("BAT.+", "S1.1"), ("S1.2", "H1.1"), ("H1.2", "BAT.-")],
    );
    let bench = with(&circuit, &[], &[("lamp", "off")]);
    let ohms = number(&bench, Function::OHMS, "H1.1", "H1.2");
    assert!((0.3..1.2).contains(&ohms), "{ohms}");
}

#[test]
fn a_broken_filament_takes_no_current_and_has_the_voltage() {
    let circuit = across("H1", json!({ "kind": "lamp", "params": { "rated_w": 24 } }));
    let bench = with(&circuit, &["H1:burnt_out"], &[]);
    assert!(near(volts(&bench, "H1.1", "H1.2"), 12.6, 0.01));
    assert!(number(&bench, Function::CLAMP_AMPS, "W1", "").abs() < 0.01);
    assert_eq!(signs(&bench, "H1"), ["dark"]);
}

/// A lamp behind as much resistance as it has itself is dim, and both have about half.
#[test]
fn it_is_dim_behind_a_resistance() {
    let circuit = across("H1", json!({ "kind": "lamp", "params": { "rated_w": 24 } }));
    let bench = with(&circuit, &["W1:high_resistance=4"], &[]);
    let across = volts(&bench, "H1.1", "H1.2");
    assert!((5.0..8.0).contains(&across), "{across}");
    assert_eq!(signs(&bench, "H1"), ["dim"]);
}

/// Two alike in series share the voltage; two of 5 and 35 W in series: the small one has nearly all of it.
#[test]
fn two_in_series_share_as_they_resist() {
    let two = |a: f64, b: f64| {
        let lamp = |w: f64| json!({ "kind": "lamp", "params": { "rated_w": w } });
        let parts = json!({ "H1": lamp(a), "H2": lamp(b) });
        let circuit = circuit(
            parts,
            &[("BAT.+", "H1.1"), ("H1.2", "H2.1"), ("H2.2", "BAT.-")],
        );
        volts(&with(&circuit, &[], &[]), "H1.1", "H1.2")
    };
    assert!(near(two(10.0, 10.0), 6.3, 0.01));
    assert!(two(5.0, 35.0) > 11.5);
}
