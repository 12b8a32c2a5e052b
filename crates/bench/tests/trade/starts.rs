//! The circuits that one begins from work, and there is nothing to say of them.

use cimento_bench::unprotected_wires;
use cimento_model::circuit::CircuitDoc;
use cimento_parts::{FIRST_PATH, STARTS, build_circuit, say_path, start};

use crate::common::symptom;

#[test]
fn every_circuit_to_begin_from_does_its_work() {
    let does = [
        ("cranking", "Cranks at 2"),
        ("charging", "Engine running: charge lamp dark"),
        ("lamps", "Work lamp: work lamp bright, marker lamp dark"),
        ("ignition", "The engine fires"),
    ];
    assert_eq!(STARTS.len(), does.len());
    for (id, words) in does {
        let circuit = build_circuit(start(id).unwrap().document().unwrap()).unwrap();
        assert!(circuit.warnings.is_empty(), "{id}: {:?}", circuit.warnings);
        assert!(unprotected_wires(&circuit).unwrap().is_empty(), "{id}");
        let said = symptom(&circuit, &[]);
        assert!(said.contains(words), "{id}: {said}");
    }
    assert!(start("nothing").is_none());
}

/// The path that is proposed where there is nothing is a whole circuit by itself.
#[test]
fn the_first_path_lights_a_lamp() {
    let nothing = CircuitDoc::new("New");
    let circuit = build_circuit(say_path(&nothing, FIRST_PATH).unwrap()).unwrap();
    assert!(circuit.warnings.is_empty(), "{:?}", circuit.warnings);
    assert_eq!(symptom(&circuit, &[]), "Switch: lamp bright.");
}

/// What is said to be bolted to a metal sits on it: its case is a way back to the battery.
#[test]
fn a_case_joined_to_a_ground_sits_on_its_metal() {
    let empty = start("lamps").unwrap().document().unwrap();
    let line = "M1(starter).31/G9(engine) > 35 BK 0.8 > BAT.-";
    let doc = say_path(&empty, line).unwrap();
    assert_eq!(doc.parts["M1"].mount.as_deref(), Some("engine"));
    // A terminal that is no case is left alone, and so is what sits elsewhere already.
    let doc = say_path(&empty, "M1(starter).50/G9(engine) > 35 BK 0.8 > BAT.-").unwrap();
    assert_eq!(doc.parts["M1"].mount, None);
}
