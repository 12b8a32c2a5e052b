//! A diode by itself.

use serde_json::json;

use super::{circuit, near};
use crate::common::{volts, with};

/// About an ampere through 12 Ω: 0.7 to 1.1 V are left at it, all of them the other way round; common practice.
#[test]
fn it_lets_through_one_way() {
    let parts = json!({ "D1": { "kind": "diode" }, "R1": { "kind": "resistor", "params": { "ohms": 12 } } });
    let forward = circuit(
        parts.clone(),
        &[("BAT.+", "R1.1"), ("R1.2", "D1.A"), ("D1.K", "BAT.-")],
    );
    let at = volts(&with(&forward, &[], &[]), "D1.A", "D1.K");
    assert!((0.6..1.2).contains(&at), "{at}");
    assert!(volts(&with(&forward, &["D1:shorted"], &[]), "D1.A", "D1.K") < 0.05);
    assert!(near(
        volts(&with(&forward, &["D1:open"], &[]), "D1.A", "D1.K"),
        12.6,
        0.01
    ));
    let backward = circuit(
        parts,
        &[("BAT.+", "R1.1"), ("R1.2", "D1.K"), ("D1.A", "BAT.-")],
    );
    assert!(near(
        volts(&with(&backward, &[], &[]), "D1.K", "D1.A"),
        12.6,
        0.01
    ));
}
