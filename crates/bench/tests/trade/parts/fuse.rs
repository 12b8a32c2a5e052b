//! A fuse carries its rating, melts well above it, and a breaker comes back.

use std::sync::Arc;

use serde_json::json;

use cimento_bench::Bench;
use cimento_model::circuit::{Circuit, Place};
use cimento_parts::opening_s;

use super::{circuit, near};
use crate::common::{volts, with};

/// A fuse of 10 A behind a switch, and a load.
fn switched(ohms: f64) -> Arc<Circuit> {
    let parts = json!({ "BAT": { "kind": "battery", "params": { "rest_v": 12.6, "cca_a": 3000, "capacity_ah": 1000 } },
                        "S1": { "kind": "switch", "control": "load" },
                        "F1": { "kind": "fuse", "params": { "rating_a": 10 } },
                        "R1": { "kind": "resistor", "params": { "ohms": ohms } } });
    let wires = [
        ("BAT.+", "S1.1"),
        ("S1.2", "F1.1"),
        ("F1.2", "R1.1"),
        ("R1.2", "BAT.-"),
    ];
    circuit(parts, &wires)
}

/// It carries so many times its rating since ten seconds; with when it opens by its own curve.
fn overloaded(times: f64) -> (Bench, f64) {
    // What stands around the load, from a current that the fuse bears.
    let bench = with(&switched(2.0), &[], &[("load", "on")]);
    let point = &bench.settled().points[0];
    let fuse = Place::Part(bench.circuit.part("F1").unwrap());
    let amps = point
        .op
        .current(point.wiring.tagged(fuse, "element").unwrap().element);
    let around = 12.6 / amps - 2.0;
    let circuit = switched(1.26 / times - around);
    (with(&circuit, &[], &[("load", "on")]), opening_s(times))
}

/// It opens when its own curve says, whether one waits for it at once or in pieces.
#[test]
fn it_opens_in_its_time_through_waiting() {
    let blown = |bench: &Bench| {
        let fuse = bench.circuit.part("F1").unwrap();
        bench.parts()[fuse].level == 1
    };
    for pieces in [1, 7] {
        for times in [1.25, 1.35] {
            let (mut bench, opens_s) = overloaded(times);
            let mut wait = |seconds: f64| {
                for _ in 0..pieces {
                    bench.pass_time(seconds / 60.0 / f64::from(pieces)).unwrap();
                }
                blown(&bench)
            };
            assert!(
                !wait(0.95 * opens_s - 10.0),
                "{times} × opens before {opens_s} s"
            );
            assert!(wait(0.1 * opens_s), "{times} × holds after {opens_s} s");
        }
    }
    // A tenth over its rating it takes days: by its share of them.
    let (mut bench, opens_s) = overloaded(1.12);
    bench.pass_time(30.0).unwrap();
    let used = bench.parts()[bench.circuit.part("F1").unwrap()].wear;
    assert!((used / (1810.0 / opens_s) - 1.0).abs() < 0.05, "{used}");
    // Far over it, before one can look.
    for times in [2.0, 6.0] {
        let (bench, opens_s) = overloaded(times);
        let at_s = bench.settled().events.first().unwrap().at_s;
        assert!(
            (at_s / opens_s - 1.0).abs() < 0.05,
            "{times}: {at_s} s, not {opens_s}"
        );
    }
}

/// Heat adds up over spells with no rest between them, and a minute's rest lets it go.
#[test]
fn it_cools_between_spells() {
    let (mut bench, opens_s) = overloaded(1.35);
    assert!(opens_s > 15.0 && opens_s < 30.0, "{opens_s}");
    let fuse = bench.circuit.part("F1").unwrap();
    let spell = |bench: &mut Bench, on: &str| {
        let mut state = bench.state().clone();
        state.set_control("load", on.to_owned());
        bench.set(state).unwrap();
    };
    let warm = bench.parts()[fuse].wear;
    spell(&mut bench, "off");
    let cooler = bench.parts()[fuse].wear;
    assert!(
        cooler > 0.2 * warm && cooler < 0.5 * warm,
        "{warm} {cooler}"
    );
    bench.pass_time(1.0).unwrap();
    assert!(bench.parts()[fuse].wear < 0.01);
    // Ten seconds on and ten off, four times: it survives one spell and not all.
    let spells = (0..6).position(|_| {
        spell(&mut bench, "on");
        let gone = bench.parts()[fuse].level == 1;
        spell(&mut bench, "off");
        gone
    });
    assert!(spells.is_none_or(|n| n > 0), "{spells:?}");
}

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
