//! A machine that is wired: by the list, by a wish, wrongly, and not at all.

use std::sync::Arc;

use cimento_bench::instruments::Function;
use cimento_diagnosis::attempt::actions::{
    Enter, HandIn, SayPath, SetControl, TryComplaint, Unwire, Wire,
};
use cimento_diagnosis::attempt::{Action, Refusal, Session};
use cimento_diagnosis::build::Build;
use cimento_diagnosis::lesson::{Lesson, LessonDoc, Task};
use cimento_diagnosis::marking::{MarkSheet, at_once};
use cimento_model::circuit::WireDoc;
use cimento_model::faults::read_short_form;
use serde_json::json;

use crate::common::{demo, reading};

/// The horn of the belt loader: fed by F4 through a relay, its coil earthed by the button.
const HORN: [&str; 7] = ["W23", "W24", "W25", "W26", "W27", "W28", "W29"];

fn horn(by_list: bool) -> Arc<Lesson> {
    let circuit = demo("belt-loader-starting");
    let wires = circuit.doc.wires.iter().map(|w| w.id.clone());
    let given = wires.filter(|id| !HORN.contains(&id.as_str())).collect();
    let task = Task::Build(Build { given, by_list });
    let doc = LessonDoc {
        task,
        ..LessonDoc::of("Horn by relay", circuit.doc.clone(), Vec::new())
    };
    Lesson::new(doc).unwrap()
}

fn wire(session: &mut Session, from: &str, to: &str, area: f64, color: &str) {
    let there = session.view().wires;
    let free = |no: &usize| !there.iter().any(|w| w.id == format!("W{no}"));
    let no = (40..).find(free).unwrap();
    let wire: WireDoc = serde_json::from_value(json!({
        "id": format!("W{no}"), "from": from, "to": to, "area_mm2": area, "length_m": 0.6, "color": color
    }))
    .unwrap();
    session.act(Wire { wire }.into()).unwrap();
}

fn say(session: &mut Session, line: &str) {
    session
        .act(
            SayPath {
                line: line.to_owned(),
            }
            .into(),
        )
        .unwrap();
}

fn marked(session: &mut Session) -> MarkSheet {
    session.act(Action::from(HandIn {})).unwrap();
    at_once(&session.lesson, session.steps())
        .unwrap()
        .unwrap()
        .0
}

fn marks(sheet: &MarkSheet, name: &str) -> f64 {
    sheet
        .lines
        .iter()
        .find(|l| l.criterion == name)
        .unwrap()
        .marks
}

/// Load, coil and button of the horn as a wish has it.
fn by_wish(session: &mut Session) {
    say(session, "F4.2 > 1.5 GN 0.5 > K2.30");
    say(session, "F4.2 > 0.75 GN 0.5 > K2.86");
    say(session, "K2.87 > 1.5 GN/WH 1.1 > B1.1");
    say(session, "B1.2 > 1.5 BN 0.6 > G7");
    say(session, "K2.85 > 0.75 GN/BK 0.7 > C3.3f");
    say(session, "C3.3m > 0.75 GN/BK 0.4 > S5.1");
    say(session, "S5.2 > 0.75 BN 0.6 > SP4");
}

/// To the list, wire by wire, it has all marks; the machine can be worked and measured as it is built.
#[test]
fn who_follows_the_list_has_all_marks() {
    let lesson = horn(true);
    let build = lesson.build.as_ref().unwrap();
    assert_eq!(build.list.len(), HORN.len());
    let mut session = Session::start(&lesson);
    let press = SetControl {
        control: "horn".into(),
        position: "pressed".into(),
    };
    let heard = |session: &Session| {
        let notices = session.view().notices;
        notices.iter().any(|n| n.text.contains("horn sounds"))
    };
    session.act(press.clone().into()).unwrap();
    assert!(!heard(&session));
    for wire in build.list.clone() {
        session.act(Wire { wire }.into()).unwrap();
    }
    assert_eq!(session.view().wires.len(), lesson.circuit.doc.wires.len());
    session.act(press.into()).unwrap();
    assert!(heard(&session), "{:?}", session.view().notices);
    let step = session
        .act(reading(Function::DC_VOLTS, "B1.1", Some("BAT.-"), None))
        .unwrap()
        .no;
    assert!(session.reading(step).unwrap().shown.value.number() > 11.0);
    // What was done is done again when an attempt goes on.
    let again = Session::resume(&lesson, session.steps()).unwrap();
    assert_eq!(again.view(), session.view());
    let sheet = marked(&mut session);
    assert_eq!(sheet.total, 100.0, "{sheet:#?}");
    assert_eq!(sheet.lines.len(), 5);
}

/// To a wish it has all marks, in whatever colours and by whatever names, and with a splice of its own.
#[test]
fn a_wish_is_met_in_ones_own_way() {
    let lesson = horn(false);
    assert!(lesson.build.as_ref().unwrap().list.is_empty());
    let mut session = Session::start(&lesson);
    by_wish(&mut session);
    let sheet = marked(&mut session);
    assert_eq!(sheet.total, 100.0, "{sheet:#?}");
    assert_eq!(sheet.lines.len(), 4);
    let mut own = Session::start(&lesson);
    say(&mut own, "F4.2 > 1.5 RD 0.3 > SP9 > 1.5 RD 0.3 > K2.30");
    say(&mut own, "SP9 > 0.75 RD 0.3 > K2.86");
    say(&mut own, "K2.87 > 1.5 WH 1 > B1.1");
    say(&mut own, "B1.2 > 1.5 BN 0.5 > G8");
    say(
        &mut own,
        "K2.85 > 0.75 YE 0.5 > C3.3f/C3.3m > 0.75 YE 0.5 > S5.1",
    );
    say(&mut own, "S5.2 > 0.75 BN 0.5 > G7");
    let sheet = marked(&mut own);
    assert_eq!(sheet.total, 100.0, "{sheet:#?}");
}

/// Common practice: the relay carries the load, the fuse stands before it, and a wire is as thick as its fuse asks.
#[test]
fn what_sounds_is_not_yet_well_wired() {
    let lesson = horn(false);
    let nothing = marked(&mut Session::start(&lesson));
    assert_eq!(marks(&nothing, "behaviour"), 0.0);
    assert_eq!(
        marks(&nothing, "protection") + marks(&nothing, "drops"),
        0.0
    );

    // The button carries the horn's current, and the relay nothing.
    let mut direct = Session::start(&lesson);
    say(&mut direct, "F4.2 > 1.5 GN 1.5 > B1.1");
    say(&mut direct, "B1.2 > 1.5 GN 1 > S5.1");
    say(&mut direct, "S5.2 > 1.5 BN 0.6 > G8");
    let direct = marked(&mut direct);
    assert!(
        marks(&direct, "behaviour") < 45.0,
        "the relay is not heard: {direct:#?}"
    );
    let said = format!("{:?}", direct.lines[1].details);
    assert!(said.contains("K2") && said.contains("S5"), "{said}");

    // Past its fuse.
    let mut bare = Session::start(&lesson);
    by_wish(&mut bare);
    let fed = |session: &Session, to: &str| {
        let wires = session.view().wires;
        wires
            .iter()
            .find(|w| w.from == "F4.2" && w.to == to)
            .unwrap()
            .id
            .clone()
    };
    for to in ["K2.30", "K2.86"] {
        let wire = fed(&bare, to);
        bare.act(Unwire { wire }.into()).unwrap();
        wire_from_battery(&mut bare, to);
    }
    let bare = marked(&mut bare);
    assert_eq!(marks(&bare, "behaviour"), 45.0);
    assert!(
        bare.lines[1]
            .details
            .iter()
            .any(|d| d.text.starts_with("F4") && d.earned == 0.0),
        "{bare:#?}"
    );

    // By the list, in another colour and by another name: two thirds of what the list gives are gone for that wire.
    let lesson = horn(true);
    let mut named = Session::start(&lesson);
    for mut wire in lesson.build.as_ref().unwrap().list.clone() {
        if wire.id == "W23" {
            wire.id = "W99".into();
            wire.color = None;
        }
        named.act(Wire { wire }.into()).unwrap();
    }
    let named = marked(&mut named);
    let expected = 10.0 * (6.0 + 1.0 / 3.0) / 7.0;
    assert!(
        (marks(&named, "listed") - expected).abs() < 0.06,
        "{named:#?}"
    );
    let lesson = horn(false);

    // A hair of a wire, so long that a short at its end hardly takes 15 A.
    let mut thin = Session::start(&lesson);
    by_wish(&mut thin);
    let id = fed(&thin, "K2.30");
    thin.act(Unwire { wire: id }.into()).unwrap();
    say(&mut thin, "F4.2 > 0.22 GN 8 > K2.30");
    let thin = marked(&mut thin);
    assert!(marks(&thin, "protection") < 15.0, "{thin:#?}");
    assert!(marks(&thin, "drops") < 20.0, "{thin:#?}");
}

fn wire_from_battery(session: &mut Session, to: &str) {
    wire(session, "BAT.+", to, 1.5, "RD");
}

/// What cannot be wired is refused in a sentence, and what was wired stays; of how it was thought of nothing is told.
#[test]
fn what_cannot_be_wired_is_refused() {
    let lesson = horn(false);
    let mut session = Session::start(&lesson);
    let refused = |session: &mut Session, action: Action, words: &str| {
        let before = session.view().wires;
        let Err(Refusal::BadAction(text)) = session.act(action) else {
            panic!("expected a refusal about “{words}”");
        };
        assert!(text.contains(words), "{text}");
        assert_eq!(session.view().wires, before);
    };
    let put = |from: &str, to: &str| -> Action {
        let wire = json!({"do": "wire", "wire": {"id": "W77", "from": from, "to": to, "area_mm2": 1.0, "length_m": 1.0}});
        serde_json::from_value(wire).unwrap()
    };
    refused(&mut session, put("F4.2", "K2.99"), "K2 has no terminal 99");
    let lamp = SayPath {
        line: "F4.2 > 1 RD 1 > H9(lamp).1-2 > 1 BN 1 > G7".into(),
    };
    refused(&mut session, lamp.into(), "there is no H9 on this machine");
    refused(
        &mut session,
        SayPath {
            line: "F4.2 to the horn".into(),
        }
        .into(),
        "expected",
    );
    refused(
        &mut session,
        Unwire { wire: "W77".into() }.into(),
        "there is no wire W77",
    );
    refused(&mut session, TryComplaint {}.into(), "wired and measured");
    refused(
        &mut session,
        Enter { row: 1, is: None }.into(),
        "no test sheet",
    );
    assert_eq!(session.view().missing, ["Nothing has been wired."]);
    let view = serde_json::to_string(&session.view()).unwrap();
    for id in HORN {
        assert!(!view.contains(id), "{id}: {view}");
    }
    // On another bench nothing is wired.
    let circuit = demo("belt-loader-starting");
    let faults = vec![read_short_form("W20:open").unwrap()];
    let other = Lesson::new(LessonDoc::of("Loader", circuit.doc.clone(), faults)).unwrap();
    refused(
        &mut Session::start(&other),
        Unwire { wire: "W20".into() }.into(),
        "nothing is wired here",
    );

    let why = |given: Vec<String>, faults: &[&str]| {
        let faults = faults.iter().map(|f| read_short_form(f).unwrap()).collect();
        let task = Task::Build(Build {
            given,
            by_list: false,
        });
        let doc = LessonDoc {
            task,
            ..LessonDoc::of("Horn", circuit.doc.clone(), faults)
        };
        Lesson::new(doc).map(drop).unwrap_err().to_string()
    };
    let all: Vec<String> = circuit.doc.wires.iter().map(|w| w.id.clone()).collect();
    assert!(why(all.clone(), &[]).contains("every wire is given"));
    assert!(why(vec!["W99".into()], &[]).contains("there is no wire W99"));
    assert!(why(Vec::new(), &["W20:open"]).contains("expected no faults"));
}
