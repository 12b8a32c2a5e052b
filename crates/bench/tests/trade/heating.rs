//! Wires that carry too much: smelt, smoking, bare; and whether their fuse opens first.

use std::sync::Arc;

use cimento_bench::{Bench, unprotected_wires};
use cimento_model::circuit::{Circuit, Place};
use cimento_model::state::OperatingState;
use cimento_parts::read_circuit;
use serde_json::{Value, json};

use crate::common::{demo, demo_names, symptom};

/// The tug's starting circuit with one wire of another area.
fn tug_with(wire: &str, area_mm2: f64) -> Arc<Circuit> {
    let mut doc: Value = serde_json::from_str(crate::common::TUG).unwrap();
    let wires = doc["wires"].as_array_mut().unwrap();
    let found = wires.iter_mut().find(|w| w["id"] == wire).unwrap();
    found["area_mm2"] = json!(area_mm2);
    read_circuit(&doc.to_string()).unwrap()
}

fn cranking(circuit: &Arc<Circuit>) -> OperatingState {
    let start = OperatingState::trial(circuit).pop().unwrap();
    start.state
}

#[test]
fn a_starter_cable_that_is_too_thin_smokes() {
    let tug = tug_with("W20", 0.75);
    let said = symptom(&tug, &[]);
    assert!(said.contains("the battery cable wiring smokes"), "{said}");
    let mut bench = Bench::new(&tug, &[]).unwrap();
    let Some(Place::Conductor(cable)) = tug.place("W20") else {
        panic!()
    };
    bench.set(cranking(&tug)).unwrap();
    assert!(bench.is_bare(cable));
    // A new wire of that size does not last either.
    bench.repair(Place::Conductor(cable)).unwrap();
    assert!(bench.is_bare(cable));
}

#[test]
fn a_sound_machine_smells_of_nothing() {
    for name in demo_names() {
        let said = symptom(&demo(&name), &[]);
        assert!(!said.contains("wiring"), "{name}: {said}");
    }
}

#[test]
fn a_short_before_any_fuse_burns_what_stands_overnight() {
    let module = demo("belt-loader-module");
    let said = symptom(&module, &["W1:short_to_ground=0.01"]);
    assert!(said.contains("the main wiring smokes"), "{said}");
    // Behind its fuse it is the fuse that opens.
    let behind = symptom(&module, &["W4:short_to_ground=0.01"]);
    assert!(!behind.contains("smokes"), "{behind}");
}

#[test]
fn a_wire_cools_once_it_carries_nothing() {
    let tug = tug_with("W20", 6.0);
    let mut bench = Bench::new(&tug, &[]).unwrap();
    let Some(Place::Conductor(cable)) = tug.place("W20") else {
        panic!()
    };
    bench.set(cranking(&tug)).unwrap();
    assert!(!bench.is_bare(cable));
    // Cranked on and on, it gets there, though each time for itself it would not.
    let at_rest = OperatingState::at_rest(&tug);
    let mut turns = 0;
    while !bench.is_bare(cable) && turns < 20 {
        bench.hold_in(at_rest.clone(), 1.0).unwrap();
        bench.hold_in(cranking(&tug), 10.0).unwrap();
        turns += 1;
    }
    assert!((1..20).contains(&turns), "{turns}");
    let mut rested = Bench::new(&tug, &[]).unwrap();
    for _ in 0..20 {
        rested.hold_in(at_rest.clone(), 900.0).unwrap();
        rested.hold_in(cranking(&tug), 10.0).unwrap();
    }
    assert!(!rested.is_bare(cable));
}

#[test]
fn a_fuse_that_is_too_large_does_not_protect_its_wire() {
    for name in demo_names() {
        let found = unprotected_wires(&demo(&name)).unwrap();
        assert_eq!(found, [], "{name}");
    }
    // Common practice: 10 A before 0.75 mm² protects it; 150 A does not.
    let mut doc: Value = serde_json::from_str(crate::common::TUG).unwrap();
    for fuse in ["F1", "F2"] {
        doc["parts"][fuse]["params"]["rating_a"] = json!(150);
    }
    let tug = read_circuit(&doc.to_string()).unwrap();
    let found = unprotected_wires(&tug).unwrap();
    let texts: Vec<String> = found.iter().map(ToString::to_string).collect();
    assert!(
        texts.iter().any(|t| t.contains("W6 is not protected")),
        "{texts:?}"
    );
    // What no fuse carries is not what a fuse fails to protect.
    assert!(texts.iter().all(|t| !t.contains("W20")), "{texts:?}");
}
