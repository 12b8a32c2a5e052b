//! High-voltage leads: resistance by length and kind, burnt spots, pinholes, leads exchanged, and what a coil
//! without a path for its spark comes to. Common practice throughout.

use cimento_parts::build_circuit;
use std::sync::Arc;

use cimento_bench::Bench;
use cimento_bench::instruments::{Function, take};
use cimento_diagnosis::key::tolerance;
use cimento_diagnosis::lesson::Limits;
use cimento_model::circuit::{Circuit, CircuitDoc, read_wire_list, write_wire_list};
use cimento_model::faults::{Fault, FaultDoc};
use cimento_parts::say_path;

use crate::common;

const TUG: &str = "baggage-tug-ignition";

fn engine(circuit: &Arc<Circuit>, faults: &[&str], how: &str) -> Bench {
    common::with(circuit, faults, &[("key", "run"), ("engine", how)])
}

/// How many cylinders fire, at idle and under load.
fn firing(circuit: &Arc<Circuit>, faults: &[&str]) -> (usize, usize) {
    let lit = |how: &str| {
        let bench = engine(circuit, faults, how);
        let parts = circuit.parts.iter().zip(bench.parts());
        parts
            .filter(|(p, s)| p.kind.sparks() && s.level == 1)
            .count()
    };
    (lit("idle"), lit("loaded"))
}

/// Suppression leads have 10 kΩ to 16 kΩ per metre by design: 3 kΩ to 4 kΩ on a short one, under 12 kΩ on a
/// long one; copper leads read near zero, and wire-wound ones lie between.
#[test]
fn resistance_comes_from_length_and_kind() {
    let ohms = |kind: &str, metres: f64| {
        let mut doc = common::demo(TUG).doc.clone();
        let wire = doc.wires.iter_mut().find(|w| w.id == "W13").unwrap();
        wire.ignition_lead = serde_json::from_value(kind.into()).unwrap();
        wire.length_m = Some(metres);
        let circuit = build_circuit(doc).unwrap();
        let mut bench = Bench::new(&circuit, &[]).unwrap();
        let mut state = bench.state().clone();
        state.removed.push("P1".to_owned());
        bench.set(state).unwrap();
        common::number(&bench, Function::OHMS, "D1.41", "P1.4")
    };
    assert!((3_000.0..4_000.0).contains(&ohms("carbon", 0.27)));
    assert!((10_000.0..12_000.0).contains(&ohms("carbon", 0.85)));
    assert!(ohms("copper", 0.85) < 1.0);
    assert!((300.0..1_500.0).contains(&ohms("wire_wound", 0.5)));
}

/// A lead is judged by its length, or by one limit for all, as the instructor likes.
#[test]
fn a_lead_is_judged_by_its_length_or_by_one_limit() {
    let circuit = common::demo(TUG);
    let mut bench = Bench::new(&circuit, &[]).unwrap();
    let mut state = bench.state().clone();
    state.removed.push("P4".to_owned());
    bench.set(state).unwrap();
    let healthy = take(&bench, Function::OHMS, None, Some("D1.44"), Some("P4.4")).unwrap();
    let place = circuit.place("W16");
    let by_length = tolerance(&circuit, &Limits::default(), &healthy, place);
    let value = healthy.shown.value.number();
    assert!((value - 8_450.0).abs() < 50.0, "{value}");
    // 0.65 m of 10 kΩ to 16 kΩ per metre.
    assert!((value - by_length - 6_500.0).abs() < 60.0, "{by_length}");
    assert!((value + by_length - 10_400.0).abs() < 60.0, "{by_length}");
    let one = Limits {
        lead_ohms: Some(12_000.0),
        ..Limits::default()
    };
    let allowed = value + tolerance(&circuit, &one, &healthy, place);
    assert!((allowed - 12_000.0).abs() < 1.0, "{allowed}");
    let none = Limits {
        lead_ohms: Some(-1.0),
        ..Limits::default()
    };
    assert!(none.check().unwrap_err().contains("limit of a lead"));
}

/// A burnt spot is a small gap in series: an ohmmeter finds the lead open, and with a coil that has little to
/// spare the engine runs evenly at idle and misfires under load, where the plug asks for more. So wide that
/// no coil jumps it, it is dead throughout.
#[test]
fn a_burnt_spot_misfires_only_under_load() {
    let circuit = common::demo(TUG);
    assert_eq!(firing(&circuit, &["W13:burnt=30"]), (3, 3));
    let mut weak = circuit.doc.clone();
    weak.parts["T1"]
        .params
        .insert("turns_ratio".to_owned(), 25.into());
    let circuit = build_circuit(weak).unwrap();
    assert_eq!(firing(&circuit, &[]), (4, 4));
    assert_eq!(firing(&circuit, &["W13:burnt=6"]), (4, 3));
    let mut bench = Bench::new(&circuit, &common::faults(&circuit, &["W13:burnt=6"])).unwrap();
    let mut state = bench.state().clone();
    state.removed.push("P1".to_owned());
    bench.set(state).unwrap();
    let shown = common::shown(&bench, Function::OHMS, "D1.41", "P1.4");
    assert_eq!(shown.text, "OL");
    // The clip of a lamp feels the spark that jumps it.
    let lamp = common::shown(
        &engine(&circuit, &["W13:burnt=2"], "idle"),
        Function::TIMING_LAMP,
        "W13",
        "",
    );
    assert_ne!(lamp.text, "no flash");
}

/// A pinhole in a boot lets the spark out to metal where the plug asks for more than the air does: under
/// load first.
#[test]
fn a_pinhole_leaks_under_load_first() {
    let circuit = common::demo(TUG);
    // Between points some 5 mm of air take what a plug takes at idle and half of what it takes under load.
    assert_eq!(firing(&circuit, &["W13:pinhole=5"]), (4, 3));
    assert_eq!(firing(&circuit, &["W13:pinhole=1"]), (3, 3));
    assert_eq!(firing(&circuit, &["W13:pinhole=12"]), (4, 4));
}

/// Two leads exchanged at the cap: neither cylinder fires, and the one that sparks as its valve stands open
/// backfires. Leads of cylinders that fire a whole turn apart do no more than stay dead.
#[test]
fn exchanged_leads_backfire() {
    let circuit = common::demo(TUG);
    let said = |other: &str| {
        let doc = FaultDoc {
            place: "W13".to_owned(),
            mode: "crossed".to_owned(),
            other: Some(other.to_owned()),
            ..FaultDoc::default()
        };
        let fault = Fault::read(&circuit, &doc, "fault").map_err(|e| e.to_string())?;
        let mut bench = Bench::new(&circuit, &[fault]).unwrap();
        Ok::<_, String>(cimento_bench::complaint(&mut bench).unwrap().text)
    };
    let beside = said("W15").unwrap();
    assert!(beside.contains("backfires"), "{beside}");
    // Cylinders 1 and 4 fire a turn apart.
    let opposite = said("W16").unwrap();
    assert!(opposite.contains("fires unevenly"), "{opposite}");
    assert!(!opposite.contains("backfires"), "{opposite}");
    // The coil's own lead leads to the cap, not to a plug.
    assert!(
        said("W12").unwrap_err().contains("a part of the same kind"),
        "{:?}",
        said("W12")
    );
}

/// Capacitor ignition wants copper or wire-wound leads; a carbon one is a wrong part there, and a copper one
/// where carbon belongs.
#[test]
fn a_lead_of_the_wrong_kind_reads_wrong() {
    for (name, lead, ends, sound, wrong) in [
        (TUG, "W13", ("D1.41", "P1.4"), 6_500.0, 0.0),
        (
            "belt-loader-ignition",
            "W21",
            ("D1.41", "P1.4"),
            500.0,
            6_500.0,
        ),
    ] {
        let circuit = common::demo(name);
        let ohms = |faults: &[&str]| {
            let mut bench = Bench::new(&circuit, &common::faults(&circuit, faults)).unwrap();
            let mut state = bench.state().clone();
            state.removed.push("P1".to_owned());
            bench.set(state).unwrap();
            common::number(&bench, Function::OHMS, ends.0, ends.1)
        };
        let fault = format!("{lead}:wrong_kind");
        for (value, should) in [(ohms(&[]), sound), (ohms(&[&fault]), wrong)] {
            assert!(
                (value - should).abs() < 10.0,
                "{name}: {value} Ω, not {should} Ω"
            );
        }
    }
}

/// A coil fired with nowhere to spark is harmed inside: it shows only later, and only under load, when the
/// lead has long been renewed.
#[test]
fn a_coil_fired_with_nowhere_to_spark_fails_later_under_load() {
    let circuit = common::demo(TUG);
    let lead = circuit.place("W13").unwrap();
    let mut bench = engine(&circuit, &["W13:open"], "idle");
    bench.pass_time(15.0).unwrap();
    bench.repair(lead).unwrap();
    let lit = |bench: &Bench| {
        let parts = circuit.parts.iter().zip(bench.parts());
        parts
            .filter(|(p, s)| p.kind.sparks() && s.level == 1)
            .count()
    };
    assert_eq!(lit(&bench), 4, "at idle it is as good as new");
    let mut state = bench.state().clone();
    state.set_control("engine", "loaded".to_owned());
    bench.set(state.clone()).unwrap();
    assert!(lit(&bench) < 4, "{} fire under load", lit(&bench));
    bench.repair(circuit.place("T1").unwrap()).unwrap();
    state.set_control("engine", "idle".to_owned());
    bench.set(state.clone()).unwrap();
    state.set_control("engine", "loaded".to_owned());
    bench.set(state).unwrap();
    assert_eq!(lit(&bench), 4, "a new coil fires under load");
    // A lead that is whole, or one that was off for a moment, harms nothing.
    for (faults, minutes) in [(&[][..], 30.0), (&["W13:open"][..], 1.0)] {
        let mut bench = engine(&circuit, faults, "idle");
        bench.pass_time(minutes).unwrap();
        bench.repair(lead).unwrap();
        let mut state = bench.state().clone();
        state.set_control("engine", "loaded".to_owned());
        bench.set(state).unwrap();
        assert_eq!(lit(&bench), 4, "{faults:?} for {minutes} min");
    }
    // As a fault that is there from the start it is the same.
    assert_eq!(firing(&circuit, &["T1:insulation_harmed"]).0, 4);
    assert!(firing(&circuit, &["T1:insulation_harmed"]).1 < 4);
}

/// The kind of a lead goes through the wire list and the path line, and cannot stand beside a size.
#[test]
fn a_lead_is_written_and_read() {
    let doc = common::demo(TUG).doc.clone();
    let csv = write_wire_list(&doc.wires);
    assert_eq!(read_wire_list(&csv).unwrap(), doc.wires);
    let wrong = csv.replace("carbon", "string");
    let refused = read_wire_list(&wrong).unwrap_err().to_string();
    assert!(
        refused.contains("“string” is no kind of lead: expected carbon, wire_wound, copper"),
        "{refused}"
    );
    let mut less: CircuitDoc = doc.clone();
    less.wires.retain(|w| w.id != "W13");
    let said = say_path(&less, "D1.41 > W13: carbon BK 0.5 @lead_1 > P1.4").unwrap();
    let wire = said.wires.iter().find(|w| w.id == "W13");
    assert_eq!(wire, doc.wires.iter().find(|w| w.id == "W13"));
    let mut both = doc;
    both.wires[12].area_mm2 = Some(1.0);
    let Err(refused) = build_circuit(both) else {
        panic!("a size beside a kind of lead was taken");
    };
    assert!(refused.to_string().contains("expected one of them"));
}
