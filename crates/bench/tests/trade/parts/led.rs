//! A light-emitting diode with its resistor: one way only.

use serde_json::json;

use super::{circuit, signs};
use crate::common::{volts, with};

/// About 2 V lie at the diode itself, the rest at 1 kΩ inside and 100 Ω before it: 9.6 mA; common practice.
#[test]
fn it_takes_what_its_resistor_leaves_it() {
    let parts = json!({ "H1": { "kind": "led", "params": { "series_ohms": 1000 } },
                        "R1": { "kind": "resistor", "params": { "ohms": 100 } } });
    let forward = circuit(
        parts.clone(),
        &[("BAT.+", "R1.1"), ("R1.2", "H1.A"), ("H1.K", "BAT.-")],
    );
    let bench = with(&forward, &[], &[]);
    let before = volts(&bench, "R1.1", "R1.2");
    assert!((0.85..1.05).contains(&before), "{before}");
    assert_eq!(signs(&bench, "H1"), ["bright"]);
    let open = with(&forward, &["H1:open"], &[]);
    assert!(volts(&open, "R1.1", "R1.2").abs() < 0.01);
    assert_eq!(signs(&open, "H1"), ["dark"]);
    let backward = circuit(
        parts,
        &[("BAT.+", "R1.1"), ("R1.2", "H1.K"), ("H1.A", "BAT.-")],
    );
    let bench = with(&backward, &[], &[]);
    assert_eq!(signs(&bench, "H1"), ["dark"]);
    assert!((volts(&bench, "H1.K", "H1.A") - 12.6).abs() < 0.05);
}
