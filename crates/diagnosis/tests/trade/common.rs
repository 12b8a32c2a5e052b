//! Shared by the tests: what those of the bench share, and lessons.

use cimento_diagnosis::attempt::actions::TakeReading;
use cimento_parts::read_circuit;
use std::collections::{BTreeMap, VecDeque};
use std::sync::{Arc, Mutex, OnceLock};

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

/// A lesson, the same one to every test that asks for it.
pub fn shared(doc: LessonDoc) -> Arc<Lesson> {
    static KNOWN: Mutex<BTreeMap<String, Arc<Lesson>>> = Mutex::new(BTreeMap::new());
    let key = serde_json::to_string(&doc).unwrap();
    if let Some(known) = KNOWN.lock().unwrap().get(&key) {
        return Arc::clone(known);
    }
    let made = Lesson::new(doc).unwrap();
    Arc::clone(KNOWN.lock().unwrap().entry(key).or_insert(made))
}

/// What a lesson is held against: worked out once, however many tests ask for it of one that they share.
pub fn reference(lesson: &Arc<Lesson>) -> Result<Arc<Reference>, BenchError> {
    type Known = Arc<(Arc<Lesson>, OnceLock<Arc<Reference>>)>;
    // One takes some tens to some hundreds of megabytes.
    const KEPT: usize = 8;
    static KNOWN: Mutex<VecDeque<Known>> = Mutex::new(VecDeque::new());
    let own = {
        let mut known = KNOWN.lock().unwrap();
        let at = known.iter().position(|it| Arc::ptr_eq(&it.0, lesson));
        let own = at.and_then(|at| known.remove(at));
        let own = own.unwrap_or_else(|| Arc::new((Arc::clone(lesson), OnceLock::new())));
        known.truncate(KEPT - 1);
        known.push_front(Arc::clone(&own));
        own
    };
    if let Some(found) = own.1.get() {
        return Ok(Arc::clone(found));
    }
    let made = Arc::new(Reference::new(lesson)?);
    Ok(Arc::clone(own.1.get_or_init(|| made)))
}

/// The sheet of a session.
pub fn mark_sheet(lesson: &Arc<Lesson>, steps: &[Step]) -> Result<MarkSheet, BenchError> {
    sheet(&Case::new(&*reference(lesson)?, steps)?)
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
