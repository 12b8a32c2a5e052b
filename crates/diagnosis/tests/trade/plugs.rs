//! Plugs that look alike: mixed up where both were apart and neither bears a label, with all that comes of it.

use std::sync::Arc;

use cimento_bench::instruments::Function;
use cimento_bench::{Bench, Shared, complaint};
use cimento_diagnosis::attempt::actions::{
    HandIn, Inspect, Label, PutBack, Repair, TakeApart, TryComplaint,
};
use cimento_diagnosis::attempt::{Action, RepairKind, Session};
use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_diagnosis::marking::SlipKind;
use cimento_model::circuit::Circuit;
use cimento_model::state::OperatingState;

use crate::common;

/// A lamp and a horn, each through a plug of two cavities, and a heater through one of three.
fn machine() -> Arc<Circuit> {
    let mut parts = serde_json::json!({
        "BAT": {"kind": "battery"},
        "F1": {"kind": "fuse", "params": {"rating_a": 20}},
        "S1": {"kind": "switch", "control": "lamp"},
        "S2": {"kind": "switch", "control": "horn"},
    });
    let mut wires = vec![
        ["BAT.+", "F1.1"],
        ["F1.2", "S1.1"],
        ["F1.2", "S2.1"],
        ["BAT.-", "G1"],
    ];
    for (id, kind) in [("H1", "lamp"), ("B1", "horn"), ("R1", "heater")] {
        parts[id] = serde_json::json!({ "kind": kind });
    }
    wires.extend([
        ["S1.2", "X1.1m"],
        ["X1.1f", "H1.1"],
        ["H1.2", "X1.2f"],
        ["X1.2m", "G2"],
        ["S2.2", "X2.1m"],
        ["X2.1f", "B1.1"],
        ["B1.2", "X2.2f"],
        ["X2.2m", "G2"],
        ["F1.2", "X3.1m"],
        ["X3.1f", "R1.1"],
        ["R1.2", "G2"],
    ]);
    let wire = |(n, [from, to]): (usize, &[&str; 2])| serde_json::json!({ "id": format!("W{}", n + 1), "from": from, "to": to, "ohms": 0.005, "harness": "body" });
    let wires: Vec<_> = wires.iter().enumerate().map(wire).collect();
    let doc = serde_json::json!({ "format": "cimento/circuit", "version": 1, "title": "A lamp and a horn", "system_v": 12,
        "parts": parts, "wires": wires, "grounds": {"G1": {"metal": "frame"}, "G2": {"metal": "frame"}},
        "connectors": {"X1": {"cavities": 2}, "X2": {"cavities": 2}, "X3": {"cavities": 3, "spare": [2, 3]}} });
    cimento_parts::read_circuit(&doc.to_string()).unwrap()
}

fn lesson(look_alikes: bool) -> Arc<Lesson> {
    let circuit = machine();
    let fault = common::fault(&circuit, "W6:open").doc(&circuit);
    common::shared(LessonDoc {
        look_alikes,
        ..LessonDoc::of("Mixed up", circuit.doc.clone(), vec![fault])
    })
}

fn apart(what: &str) -> Action {
    let what = what.to_owned();
    TakeApart { what }.into()
}

fn back(what: &str) -> Action {
    let what = what.to_owned();
    PutBack { what }.into()
}

fn label(connector: &str) -> Action {
    let connector = connector.to_owned();
    Label { connector }.into()
}

fn after(lesson: &Arc<Lesson>, actions: &[Action]) -> Session {
    Session::replay(lesson, actions).unwrap()
}

/// The crossed machine is the one with each wire on the other plug's half: what one builds so behaves so.
#[test]
fn crossed_is_crossed() {
    let circuit = machine();
    let shared = Shared::default().mixing_plugs(true);
    let mut mixed = Bench::sharing(&circuit, &[], &shared).unwrap();
    let mut state = OperatingState::at_rest(&circuit);
    state.unplugged = vec!["X1".to_owned(), "X2".to_owned()];
    mixed.set(state).unwrap();
    mixed.put_back("X1").unwrap();
    // One half of each hangs free as long as the other plug is apart.
    let crossed: Vec<_> = mixed.crossed_plugs().collect();
    assert_eq!(crossed, [&["X1", "X2"]]);
    mixed.put_back("X2").unwrap();
    let mut doc = circuit.doc.clone();
    for wire in &mut doc.wires {
        for end in [&mut wire.from, &mut wire.to] {
            let other = match end.as_str() {
                "X1.1f" => "X2.1f",
                "X1.2f" => "X2.2f",
                "X2.1f" => "X1.1f",
                "X2.2f" => "X1.2f",
                _ => continue,
            };
            *end = other.to_owned();
        }
    }
    let built = cimento_parts::build_circuit(doc).unwrap();
    let mut built = Bench::new(&built, &[]).unwrap();
    let does = complaint(&mut mixed).unwrap();
    assert_eq!(does.text, complaint(&mut built).unwrap().text);
    for (control, part) in [("lamp", "B1.1"), ("horn", "H1.1")] {
        for bench in [&mut mixed, &mut built] {
            let mut state = OperatingState::at_rest(&bench.circuit);
            state.set_control(control, "on".to_owned());
            bench.set(state).unwrap();
            let volts = common::number(bench, Function::DC_VOLTS, part, "BAT.-");
            assert!(volts > 11.0, "{part}: {volts} V by the {control} switch");
        }
    }
}

/// A plug of another variant hangs in the loom and fits as well: the sender is then on the heater's feed, and its gauge is dead.
#[test]
fn a_loose_plug_is_taken_for_the_right_one() {
    let circuit = common::demo("sweeper-auxiliary-engine");
    let shared = Shared::default().mixing_plugs(true);
    let mut mixed = Bench::sharing(&circuit, &[], &shared).unwrap();
    let mut state = OperatingState::at_rest(&circuit);
    state.unplugged = vec!["X3".to_owned(), "X4".to_owned()];
    mixed.set(state).unwrap();
    for plug in ["X3", "X4"] {
        mixed.put_back(plug).unwrap();
    }
    let said = complaint(&mut mixed).unwrap().text;
    assert!(said.contains("Temperature gauge dead"), "{said}");
    let healthy = common::symptom(&circuit, &[]);
    assert!(!healthy.contains("dead"), "{healthy}");
}

/// Only plugs of one size that were apart together and bear no label; and a label put on later brings them right again.
#[test]
fn only_what_was_apart_together_without_a_label_is_mixed_up() {
    let lesson = lesson(true);
    let crossed = |actions: &[Action]| after(&lesson, actions).bench().crossed_plugs().len() > 0;
    assert!(crossed(&[apart("X1"), apart("X2"), back("X1"), back("X2")]));
    assert!(crossed(&[apart("X1"), apart("X2"), back("X2")]));
    assert!(!crossed(&[
        apart("X1"),
        back("X1"),
        apart("X2"),
        back("X2")
    ]));
    assert!(!crossed(&[
        apart("X1"),
        apart("X3"),
        back("X1"),
        back("X3")
    ]));
    assert!(!crossed(&[
        label("X2"),
        apart("X1"),
        apart("X2"),
        back("X1"),
        back("X2")
    ]));
    assert!(!crossed(&[
        apart("X1"),
        apart("X2"),
        label("X1"),
        back("X2"),
        back("X1")
    ]));
    let mixed = [apart("X1"), apart("X2"), back("X1"), back("X2")];
    // One of them apart and together again stays with the half that it has.
    let again = [&mixed[..], &[apart("X1"), back("X1")]].concat();
    assert!(crossed(&again));
    let mended = [
        apart("X1"),
        apart("X2"),
        label("X1"),
        back("X1"),
        back("X2"),
    ];
    assert!(!crossed(&[&mixed[..], &mended].concat()));
    // Whoever looks sees it.
    let look = Inspect {
        place: "X1.1".to_owned(),
    };
    let session = after(&lesson, &[&mixed[..], &[look.into()]].concat());
    let seen = &session.view().seen[0].text;
    assert_eq!(seen, "it does not lead where its colour or number says");
    // Nothing says so by itself.
    let view = serde_json::to_string(&after(&lesson, &mixed).view()).unwrap();
    assert!(!view.contains("cross") && !view.contains('×'), "{view}");
    // Where a lesson does not ask for it nothing is mixed up.
    let plain = self::lesson(false);
    assert!(after(&plain, &mixed).bench().crossed_plugs().len() == 0);
}

#[test]
fn a_label_is_put_on_once_and_on_a_connector() {
    let lesson = lesson(true);
    let mut session = Session::start(&lesson);
    session.act(label("X1")).unwrap();
    assert_eq!(session.view().labelled, ["X1"]);
    let why = |action: Action, session: &mut Session| session.act(action).unwrap_err().to_string();
    assert_eq!(
        why(label("X1"), &mut session),
        "X1 bears its labels already"
    );
    assert_eq!(why(label("F1"), &mut session), "F1 is no connector");
}

/// What was mixed up shows at the trial after the repair, and on the sheet; what is wrong is never ruled out by it.
#[test]
fn who_mixes_them_up_hears_of_it() {
    let lesson = lesson(true);
    let sheet = |labels: bool| {
        let mut all = vec![Action::TryComplaint(TryComplaint {})];
        all.extend(labels.then(|| label("X1")));
        all.extend([apart("X1"), apart("X2"), back("X1"), back("X2")]);
        all.push(common::reading(
            Function::DC_VOLTS,
            "F1.2",
            Some("BAT.-"),
            None,
        ));
        all.push(Repair::of("W6", RepairKind::Join).into());
        all.push(Action::TryComplaint(TryComplaint {}));
        all.push(Action::HandIn(HandIn {}));
        let session = after(&lesson, &all);
        common::mark_sheet(&lesson, session.steps()).unwrap()
    };
    let [careful, careless] = [true, false].map(sheet);
    let crossed = |s: &cimento_diagnosis::marking::MarkSheet| {
        let mut slips = s.slips.iter();
        slips.any(|s| s.kind == SlipKind::PlugsCrossed)
    };
    assert!(!crossed(&careful) && crossed(&careless));
    let repair = |s: &cimento_diagnosis::marking::MarkSheet| {
        let line = s.lines.iter().find(|l| l.criterion == "repair");
        line.unwrap().details.iter().map(|d| d.earned).sum::<f64>()
    };
    assert!(repair(&careful) > repair(&careless), "{careless:#?}");
}
