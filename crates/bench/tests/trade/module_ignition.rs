//! An ignition module with a magnetic pickup, a bypass and a computer that takes the timing over, against
//! common practice.

use cimento_parts::build_circuit;
use std::sync::Arc;

use crate::common;

use cimento_bench::Bench;
use cimento_bench::instruments::{Acquire, Attenuation, Function, Probe, Scope, Trace, capture};
use cimento_model::circuit::Circuit;

const SWEEPER: &str = "sweeper-ignition";

fn cranking(circuit: &Arc<Circuit>, faults: &[&str]) -> Bench {
    common::with(circuit, faults, &[("key", "start")])
}

fn idling(circuit: &Arc<Circuit>, faults: &[&str]) -> Bench {
    common::with(circuit, faults, &[("key", "run"), ("engine", "idle")])
}

fn trace(bench: &Bench, red: &str, black: &str, sweep_s: f64) -> Trace {
    let leads = Probe::Leads {
        red: red.to_owned(),
        black: black.to_owned(),
    };
    let scope = Scope {
        channels: vec![leads],
        sweep_s,
        level: None,
        falling: false,
        attenuation: Attenuation::Ten,
        acquire: Acquire::Peak,
    };
    capture(bench, &scope).unwrap().traces.remove(0)
}

/// Each with what the trade knows it does; common practice.
#[test]
fn each_fault_has_its_symptom() {
    let circuit = common::demo(SWEEPER);
    let healthy = "The engine fires. Engine running: injector 1 ticks, injector 2 ticks.";
    let dead = "The engine does not fire.";
    let dies = "The engine fires. Engine running: the engine dies.";
    let cases: [(&str, &str); 12] = [
        // No reference pulses: no injection either, though there is a spark.
        ("W10:open", dead),
        ("A1:reference_dead", dead),
        ("F2:blown", dead),
        // Without the bypass the module goes on by itself.
        ("W12:open", healthy),
        ("A2:bypass_dead", healthy),
        // With it, and no timing, nobody fires the coil.
        ("W14:open", dies),
        ("A2:timing_dead", dies),
        ("L1:winding_open", dead),
        // Too little swing at cranking speed.
        ("L1:gap_wide=0.1", dead),
        ("A1:dead", dead),
        ("T1:primary_open", dead),
        ("J1:winding_open", "injector 1 is shut, injector 2 ticks"),
    ];
    assert!(common::symptom(&circuit, &[]).contains(healthy));
    for (fault, words) in cases {
        let said = common::symptom(&circuit, &[fault]);
        assert!(said.contains(words), "{fault}: {said}");
    }
}

/// A magnetic pickup swings about 4 V peak to peak at cranking speed on a large distributor and more as it
/// turns faster; its winding has some hundreds of ohms to 1.5 kΩ; common practice.
#[test]
fn a_pickup_swings_as_widely_as_it_turns_fast() {
    let circuit = common::demo(SWEEPER);
    let swing = |bench: &Bench| {
        let seen = trace(bench, "A1.7", "A1.31d", 0.2).features;
        seen.most - seen.least
    };
    let (slow, idle) = (
        swing(&cranking(&circuit, &[])),
        swing(&idling(&circuit, &[])),
    );
    assert!((3.0..5.0).contains(&slow), "{slow} V");
    // 900 rpm beside some 207 rpm.
    assert!((4.0..4.7).contains(&(idle / slow)), "{idle} V, {slow} V");
    let weak = swing(&cranking(&circuit, &["L1:gap_wide=0.1"]));
    assert!((0.08..0.12).contains(&(weak / slow)), "{weak} V, {slow} V");
    let still = common::with(&circuit, &[], &[]);
    let part = circuit.part("L1").unwrap();
    let ends = (circuit.node("L1.1").unwrap(), circuit.node("L1.2").unwrap());
    assert!((790.0..810.0).contains(&still.ohms_alone(part, ends).unwrap()));
}

/// A chipped tooth loses one pulse of four.
#[test]
fn a_chipped_tooth_loses_a_pulse() {
    let circuit = common::demo(SWEEPER);
    let fired = |faults: &[&str]| cranking(&circuit, faults).sparks().unwrap().len();
    assert_eq!(fired(&[]), 4);
    assert_eq!(fired(&["L1:tooth_chipped"]), 3);
}

/// The computer puts 5 V on the bypass wire above some 400 rpm; common practice.
#[test]
fn the_bypass_is_at_five_volts_once_the_engine_runs() {
    let circuit = common::demo(SWEEPER);
    let bypass = |bench: &Bench| common::volts(bench, "A1.BY", "A1.31");
    assert!(bypass(&cranking(&circuit, &[])).abs() < 0.1);
    assert!((4.8..5.1).contains(&bypass(&idling(&circuit, &[]))));
    // Reference pulses: four in two turns, 30 a second at 900 rpm.
    let reference = trace(&idling(&circuit, &[]), "A2.RF", "A2.31", 0.2).features;
    assert!((reference.hertz - 30.0).abs() < 1.0, "{reference:?}");
    assert!((4.0..5.2).contains(&reference.most), "{reference:?}");
    // The injectors follow them.
    let injector = trace(&idling(&circuit, &[]), "J1.2", "BAT.-", 0.2).features;
    assert!((injector.hertz - 30.0).abs() < 1.0, "{injector:?}");
    let silent = trace(&idling(&circuit, &["W10:open"]), "J1.2", "BAT.-", 0.2).features;
    assert!(silent.least > 10.0, "{silent:?}");
}

/// What is on one wheel goes to and fro together: with the coil driven for half of the time its stud reads
/// between supply and what the transistor holds.
#[test]
fn a_meter_shows_the_mean_of_what_it_cannot_follow() {
    let circuit = common::demo(SWEEPER);
    let bench = idling(&circuit, &[]);
    let stud = common::volts(&bench, "T1.1", "BAT.-");
    assert!((5.0..9.0).contains(&stud), "{stud} V");
    let dead = idling(&circuit, &["A1:dead"]);
    assert!(common::volts(&dead, "T1.1", "BAT.-") > 12.0);
    // A pickup is read on AC: some volts, and its open winding none at the module.
    let swing = |bench: &Bench| {
        let shown = common::shown(bench, Function::AC_VOLTS, "A1.7", "A1.31d");
        shown.value.number()
    };
    assert!((4.0..8.0).contains(&swing(&bench)), "{}", swing(&bench));
    assert!(swing(&idling(&circuit, &["L1:winding_open"])) < 0.05);
}

/// A coil with two towers fires both its plugs at once, every turn, in opposite polarity, one of them to waste;
/// a bridged plug leaves the other its spark, a broken lead neither (common practice).
#[test]
fn a_coil_with_two_towers_fires_both_plugs_at_once() {
    let mut doc = common::demo("baggage-tug-ignition").doc.clone();
    for part in ["D1", "P3", "P4"] {
        doc.parts.shift_remove(part);
    }
    doc.parts["T1"].kind = "twin_coil".to_owned();
    doc.parts["B1"]
        .params
        .insert("cylinders".to_owned(), 2.into());
    doc.wires
        .retain(|w| !["W12", "W15", "W16"].contains(&w.id.as_str()));
    for (id, tower) in [("W13", "T1.4a"), ("W14", "T1.4b")] {
        let lead = doc.wires.iter_mut().find(|w| w.id == id).unwrap();
        lead.from = tower.to_owned();
    }
    let circuit = build_circuit(doc).unwrap();
    let fired = |faults: &[&str]| idling(&circuit, faults).sparks().unwrap();
    let sparks = fired(&[]);
    assert_eq!(sparks.len(), 4, "{sparks:?}");
    for pair in sparks.chunks(2) {
        assert!((pair[0].at_s - pair[1].at_s).abs() < 1e-4, "{pair:?}");
        assert!(pair[0].volts * pair[1].volts < 0.0, "{pair:?}");
        assert!(pair.iter().all(|s| s.lights()), "{pair:?}");
    }
    let turn = sparks[2].at_s - sparks[0].at_s;
    assert!((turn - 60.0 / 900.0).abs() < 1e-3, "{turn} s");
    let one = fired(&["P1:gap_bridged"]);
    assert!(!one.is_empty());
    assert!(
        one.iter().all(|s| circuit.parts[s.part].id == "P2"),
        "{one:?}"
    );
    assert!(!fired(&["W13:open"]).iter().any(|s| s.lights()));
    let said = common::symptom(&circuit, &["P1:gap_bridged"]);
    assert!(
        said.contains("fires unevenly") || said.contains("runs rough"),
        "{said}"
    );
}

/// A test lamp from the battery's positive tapped on the reference wire makes false pulses, and the injectors
/// click: that clears the computer (common practice). A dead computer, an injector without its feed, and a
/// lamp from ground, which changes nothing, stay silent.
#[test]
fn a_lamp_tapped_on_the_reference_wire_makes_the_injectors_click() {
    let circuit = common::demo(SWEEPER);
    let clicks = |faults: &[&str], other: &str, point: &str| {
        let bench = common::with(&circuit, faults, &[("key", "run")]);
        common::shown(&bench, Function::TAPPED_LAMP, other, point).text
    };
    assert_eq!(clicks(&[], "BAT.+", "A2.RF"), "2 clicks");
    assert_eq!(clicks(&["A2:dead"], "BAT.+", "A2.RF"), "nothing clicks");
    assert_eq!(clicks(&["A2.J1:driver_open"], "BAT.+", "A2.RF"), "1 click");
    assert_eq!(clicks(&["J2:winding_open"], "BAT.+", "A2.RF"), "1 click");
    assert_eq!(clicks(&[], "BAT.-", "A2.RF"), "nothing clicks");
    assert_eq!(clicks(&[], "BAT.+", "A2.15"), "nothing clicks");
    // The wire between is open: at the module's end the lamp reaches nobody.
    assert_eq!(clicks(&["W10:open"], "BAT.+", "A1.RF"), "nothing clicks");
    assert_eq!(clicks(&["W10:open"], "BAT.+", "A2.RF"), "2 clicks");
    // Without its feed nobody listens.
    assert_eq!(clicks(&["W17:open"], "BAT.+", "A2.RF"), "nothing clicks");
}

/// The computer fires before the pickup would once it has the timing; without the bypass the timing stays
/// where the module puts it (common practice).
#[test]
fn the_computer_advances_the_spark_it_has_taken_over() {
    let circuit = common::demo(SWEEPER);
    let timing = |faults: &[&str]| {
        let bench = idling(&circuit, faults);
        common::number(&bench, Function::TIMING_LAMP, "W31", "")
    };
    assert_eq!(timing(&[]), -8.0);
    assert_eq!(timing(&["A2:bypass_dead"]), 0.0);
}

/// A module without a computer beside it fires by its pickup at every speed (common practice).
#[test]
fn a_module_without_a_bypass_fires_by_itself() {
    let mut doc = common::demo(SWEEPER).doc.clone();
    for part in ["A2", "J1", "J2"] {
        doc.parts.shift_remove(part);
    }
    let gone = |end: &String| {
        let of = end.split('.').next().unwrap_or_default();
        ["A2", "J1", "J2", "SP2", "F2"].contains(&of)
            || ["A1.RF", "A1.BY", "A1.TI"].contains(&end.as_str())
            || end.starts_with("X1.3")
    };
    doc.wires.retain(|w| !gone(&w.from) && !gone(&w.to));
    let circuit = build_circuit(doc).unwrap();
    let said = common::symptom(&circuit, &[]);
    assert!(
        said.contains("The engine fires. Engine running: nothing new"),
        "{said}"
    );
    let timing = |engine: &str| {
        let bench = common::with(&circuit, &[], &[("key", "run"), ("engine", engine)]);
        common::number(&bench, Function::TIMING_LAMP, "W31", "")
    };
    assert!(timing("idle").abs() <= 1.0 && timing("loaded").abs() <= 1.0);
    assert!(common::symptom(&circuit, &["A1:dead"]).contains("does not fire"));
}
