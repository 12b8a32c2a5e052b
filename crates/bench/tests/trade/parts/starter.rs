//! A starter on thick cables: what it draws, and how a drop in its cable slows it.

use std::sync::Arc;

use serde_json::json;

use super::{circuit, near};
use crate::common::{number, volts, with};
use cimento_bench::instruments::Function;
use cimento_model::circuit::Circuit;

fn starter() -> Arc<Circuit> {
    let parts =
        json!({ "M1": { "kind": "starter" }, "S1": { "kind": "switch", "control": "start" } });
    let wires = [
        ("BAT.+", "M1.30"),
        ("M1.31", "BAT.-"),
        ("BAT.+", "S1.1"),
        ("S1.2", "M1.50"),
    ];
    circuit(parts, &wires)
}

/// In balance `k·i = T₀ + b·w` and `V = R·i + k·w`, with what battery, cables, bridge and armature have in the way.
#[test]
fn it_cranks_where_torque_and_drag_meet() {
    let bench = with(&starter(), &[], &[("start", "on")]);
    let amps = number(&bench, Function::CLAMP_AMPS, "W1", "");
    let at = volts(&bench, "M1.30", "M1.31");
    let (k, static_nm, viscous, ohms) = (0.4, 45.0, 0.8, 0.0165);
    // At the studs: (V − R·i)/k is the speed, and k·i the torque.
    let w = (at - ohms * amps) / k;
    let torque = static_nm + viscous * w;
    assert!(near(k * amps, torque, 0.05), "{} N·m of {torque}", k * amps);
}

#[test]
fn without_its_solenoid_it_stands() {
    for fault in [
        "W4:open",
        "M1:pull_in_open",
        "M1:contacts_open",
        "M1:brushes_open",
    ] {
        let bench = with(&starter(), &[fault], &[("start", "on")]);
        let amps = number(&bench, Function::CLAMP_AMPS, "W1", "");
        assert!(amps < 5.0, "{fault}: {amps}");
    }
}

/// 20 mΩ in its cable at some hundred amperes: volts are lost there, and it draws less.
#[test]
fn a_poor_cable_takes_what_current_times_ohms_says() {
    let sound = with(&starter(), &[], &[("start", "on")]);
    let poor = with(&starter(), &["W1:high_resistance=0.02"], &[("start", "on")]);
    let amps = |bench| number(bench, Function::CLAMP_AMPS, "W1", "");
    let lost = volts(&poor, "BAT.+", "M1.30");
    assert!(near(lost, amps(&poor) * 0.021, 0.05), "{lost}");
    assert!(amps(&poor) < amps(&sound));
}
