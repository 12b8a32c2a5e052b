//! A temperature sensor: falls as it grows warm.

use serde_json::json;

use super::{circuit, near};
use crate::common::{number, shown, with};
use cimento_bench::instruments::Function;

/// `R = R₂₅·exp(β·(1/T − 1/298.15))` at what the shop has, 20 °C.
#[test]
fn it_has_what_its_formula_says() {
    let parts = json!({ "B1": { "kind": "thermistor", "params": { "ohms_25": 2500, "beta_k": 3500 } }, "S1": { "kind": "switch", "control": "feed" } });
    let circuit = circuit(
        parts,
        &[("BAT.+", "S1.1"), ("S1.2", "B1.1"), ("B1.2", "BAT.-")],
    );
    let at = |faults: &[&str]| with(&circuit, faults, &[("feed", "off")]);
    let expected = 2500.0 * (3500.0 * (1.0 / 293.15 - 1.0 / 298.15_f64)).exp();
    let ohms = number(&at(&[]), Function::OHMS, "B1.1", "B1.2");
    assert!(near(ohms, expected, 0.02), "{ohms} for {expected}");
    let drifted = number(&at(&["B1:drifted=2000"]), Function::OHMS, "B1.1", "B1.2");
    assert!(near(drifted, expected + 2000.0, 0.02), "{drifted}");
    assert!(number(&at(&["B1:shorted"]), Function::OHMS, "B1.1", "B1.2") < 1.0);
    assert_eq!(
        shown(&at(&["B1:open"]), Function::OHMS, "B1.1", "B1.2").text,
        "OL"
    );
}

/// A warm engine's sensor has a fraction of a cold one's.
#[test]
fn it_falls_as_the_engine_warms() {
    let parts =
        json!({ "B1": { "kind": "thermistor" }, "S1": { "kind": "switch", "control": "feed" } });
    let circuit = circuit(
        parts,
        &[("BAT.+", "S1.1"), ("S1.2", "B1.1"), ("B1.2", "BAT.-")],
    );
    let mut bench = with(&circuit, &[], &[("feed", "off")]);
    let cold = number(&bench, Function::OHMS, "B1.1", "B1.2");
    let mut state = bench.state().clone();
    state.temperature_c = 90.0;
    bench.set(state).unwrap();
    let warm = number(&bench, Function::OHMS, "B1.1", "B1.2");
    let expected = (3500.0 * (1.0 / 363.15 - 1.0 / 293.15_f64)).exp();
    assert!(near(warm / cold, expected, 0.05), "{warm} of {cold}");
}
