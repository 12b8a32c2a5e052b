//! Shared by the tests: what those of the bench share, and lessons.

use cimento_diagnosis::attempt::actions::TakeReading;
use cimento_parts::read_circuit;
use std::sync::{Arc, Mutex};

use cimento_bench::BenchError;
use cimento_bench::instruments::Function;
use cimento_diagnosis::attempt::{Action, Step, Touch};
use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_diagnosis::marking::{Case, MarkSheet, sheet};
use cimento_diagnosis::suspects::Reference;
use cimento_model::circuit::Circuit;
use cimento_model::faults::Fault;

pub use crate::machines::*;

/// A lesson on a circuit with some faults, with every function of the meter and no predictions;
/// none when the faults do not show.
pub fn lesson(circuit: &Arc<Circuit>, faults: &[Fault]) -> Option<Arc<Lesson>> {
    let docs = faults.iter().map(|f| f.doc(circuit)).collect();
    let doc = LessonDoc::of("A lesson", circuit.doc.clone(), docs);
    Lesson::new(doc).ok()
}

/// The sheet of a session; what its lesson is held against is worked out once, however many sessions there are of it.
pub fn mark_sheet(lesson: &Arc<Lesson>, steps: &[Step]) -> Result<MarkSheet, BenchError> {
    static KNOWN: Mutex<Vec<Arc<Reference>>> = Mutex::new(Vec::new());
    let mut known = KNOWN.lock().unwrap();
    let own = known.iter().find(|r| Arc::ptr_eq(&r.lesson, lesson));
    let reference = match own {
        Some(own) => Arc::clone(own),
        None => {
            let new = Arc::new(Reference::new(lesson)?);
            known.push(Arc::clone(&new));
            new
        }
    };
    sheet(&Case::new(&reference, steps)?)
}

/// A reading by a thin pin, with what a healthy circuit is expected to read.
pub fn reading(
    function: Function,
    red: &str,
    black: Option<&str>,
    expected: Option<&str>,
) -> Action {
    Action::TakeReading(TakeReading {
        function,
        range: None,
        red: Some(red.to_owned()),
        black: black.map(str::to_owned),
        expected: expected.map(str::to_owned),
        supposing: None,
        touch: Touch::default(),
        partner: None,
    })
}

/// A made-up circuit: a fused and switched feed through some connectors in a row to some lamps side
/// by side, each with its own ground.
pub fn chain(connectors: usize, lamps: usize) -> Arc<Circuit> {
    let mut parts = serde_json::json!({
        "BAT": {"kind": "battery", "name": "Battery", "params": {"rest_v": 12.6, "cca_a": 400}},
        "F1": {"kind": "fuse", "name": "Fuse", "params": {"rating_a": 15}},
        "S1": {"kind": "switch", "name": "Switch", "control": "lamps"}
    });
    let mut grounds = serde_json::json!({"G1": {"metal": "frame"}});
    let mut wires: Vec<(String, String)> = vec![
        ("BAT.+".into(), "F1.1".into()),
        ("F1.2".into(), "S1.1".into()),
        ("BAT.-".into(), "G1".into()),
    ];
    let mut from = "S1.2".to_owned();
    let mut plugs = serde_json::json!({});
    for n in 1..=connectors {
        plugs[format!("C{n}")] = serde_json::json!({"cavities": 1});
        wires.push((from, format!("C{n}.1m")));
        from = format!("C{n}.1f");
    }
    let splices = if lamps > 1 {
        wires.push((from, "SP1".into()));
        from = "SP1".to_owned();
        serde_json::json!({"SP1": {}})
    } else {
        serde_json::json!({})
    };
    for n in 1..=lamps {
        parts[format!("H{n}")] =
            serde_json::json!({"kind": "lamp", "name": "Lamp", "params": {"rated_w": 10}});
        grounds[format!("G{}", n + 1)] = serde_json::json!({"metal": "frame"});
        wires.push((from.clone(), format!("H{n}.1")));
        wires.push((format!("H{n}.2"), format!("G{}", n + 1)));
    }
    let wire = |(n, (from, to)): (usize, &(String, String))| {
        serde_json::json!({
            "id": format!("W{}", n + 1), "from": from, "to": to,
            "area_mm2": 1.5, "length_m": 0.8, "color": "RD"
        })
    };
    let wires: Vec<_> = wires.iter().enumerate().map(wire).collect();
    let doc = serde_json::json!({
        "format": "cimento/circuit", "version": 1, "title": "A chain", "system_v": 12,
        "parts": parts, "connectors": plugs, "splices": splices, "grounds": grounds, "wires": wires
    });
    read_circuit(&doc.to_string()).unwrap()
}
