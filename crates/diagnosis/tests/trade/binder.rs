//! The binder that a machine comes with: its sheets are as the circuit is, cost a minute, and one may be another variant's.

use std::sync::Arc;

use cimento_bench::instruments::ohms_shown;
use cimento_diagnosis::attempt::actions::{DoubtSheet, HandIn, OpenSheet, TryComplaint};
use cimento_diagnosis::attempt::{Action, Session};
use cimento_diagnosis::binder::{Binder, BinderDoc, SheetTable};
use cimento_diagnosis::lesson::{Lesson, LessonDoc, Papers, Purpose};
use cimento_diagnosis::marking::{MarkSheet, SlipKind};

use crate::common;

const MODULE: &str = "belt-loader-module";

fn doc(circuit: &str, fault: &str, binder: BinderDoc) -> LessonDoc {
    let circuit = common::demo(circuit);
    let fault = common::fault(&circuit, fault).doc(&circuit);
    LessonDoc {
        binder: Some(binder),
        ..LessonDoc::of("A lesson", circuit.doc.clone(), vec![fault])
    }
}

fn of_tug(binder: BinderDoc) -> Arc<Lesson> {
    common::shared(doc("baggage-tug-starting", "W8:open", binder))
}

fn binder(lesson: &Lesson) -> &Binder {
    lesson.binder.as_ref().unwrap()
}

fn others(names: &[&str]) -> BinderDoc {
    let docs = names.iter().map(|name| common::demo(name).doc.clone());
    BinderDoc {
        others: docs.collect(),
        variant: None,
    }
}

fn open(sheet: &str) -> Action {
    let sheet = sheet.to_owned();
    OpenSheet { sheet }.into()
}

fn doubt(at: &str) -> Action {
    let (sheet, at) = ("connectors".to_owned(), at.to_owned());
    DoubtSheet { sheet, at }.into()
}

/// The machine's own diagram lies among those of its other circuits, by title; what is made of the circuit follows.
#[test]
fn the_page_has_to_be_found() {
    let lesson = of_tug(others(&["baggage-tug-charging", "sweeper-lamps"]));
    let contents = binder(&lesson).contents();
    let titles: Vec<&str> = contents.iter().map(|t| t.title.as_str()).collect();
    assert_eq!(
        titles[..2],
        ["Baggage tug, charging", "Baggage tug, starting"]
    );
    assert!(titles[2].starts_with("Sweeper"));
    assert_eq!(
        titles[3..],
        [
            "Connector views",
            "Where things are",
            "Specifications",
            "Fuses"
        ]
    );
    let own: Vec<&str> = contents
        .iter()
        .map(|t| t.sheet.as_str())
        .filter(|sheet| binder(&lesson).is_own_diagram(sheet))
        .collect();
    assert_eq!(own, ["diagram-2"]);
    assert!(binder(&lesson).diagram("diagram-4").is_none());
    // Who works without a diagram finds only the others'.
    let mut blind = doc(
        "baggage-tug-starting",
        "W8:open",
        others(&["sweeper-lamps"]),
    );
    blind.papers = Papers {
        diagram: false,
        ..Papers::default()
    };
    let blind = Lesson::new(blind).unwrap();
    let diagrams = ["diagram-1", "diagram-2"].map(|s| binder(&blind).diagram(s).is_some());
    assert_eq!(diagrams, [true, false]);
    assert!(!binder(&blind).is_own_diagram("diagram-1"));
}

/// A plug that hangs in the loom for another variant is in the views and in the loom, and both say so.
#[test]
fn a_plug_of_another_variant_is_said_to_be_unused() {
    let lesson = Lesson::new(doc(
        "sweeper-auxiliary-engine",
        "S1:contact_15_worn=20",
        BinderDoc::default(),
    ));
    let lesson = lesson.unwrap();
    let views = binder(&lesson).tables("connectors").unwrap().unwrap();
    let unused = |t: &&SheetTable| t.title.ends_with("nothing is plugged in on this machine");
    let titles: Vec<_> = views
        .tables
        .iter()
        .filter(unused)
        .map(|t| &t.connector)
        .collect();
    assert_eq!(titles, [&Some("X3".to_owned())]);
    let looms = binder(&lesson).tables("locations").unwrap().unwrap().looms;
    let hanging = looms
        .iter()
        .flat_map(|l| &l.hanging)
        .filter(|h| h.about.ends_with("nothing plugged in"));
    assert_eq!(hanging.map(|h| h.id.as_str()).collect::<Vec<_>>(), ["X3"]);
}

/// A sheet is looked up in a minute, once, and rules nothing out.
#[test]
fn a_sheet_takes_its_minute() {
    let mut session = Session::start(&of_tug(BinderDoc::default()));
    let step = session.act(open("fuses")).unwrap();
    assert_eq!(step.minutes, 1.0);
    assert_eq!(session.view().opened, ["fuses"]);
    for (action, why) in [
        (open("fuses"), "“Fuses” lies open already"),
        (open("pins"), "the binder has no sheet pins"),
        (doubt("C12"), "“Connector views” has not been opened"),
    ] {
        assert_eq!(session.act(action).unwrap_err().to_string(), why);
    }
    let without = common::lesson(
        &common::tug(),
        &common::faults(&common::tug(), &["W8:open"]),
    );
    let mut session = Session::start(&without.unwrap());
    let refused = session.act(open("fuses"));
    let why = "this machine came without a binder";
    assert_eq!(refused.unwrap_err().to_string(), why);
}

/// Every figure of the specifications is what an ohmmeter shows on the part by itself; every cavity, fuse and pin is there.
#[test]
fn what_is_on_the_sheets_is_so() {
    for name in common::demo_names() {
        let circuit = common::demo(&name);
        let made = BinderDoc::default().checked(&circuit, true).unwrap();
        for entry in made.contents() {
            if made.diagram(&entry.sheet).is_some() {
                continue;
            }
            // What a module reads in each state is a healthy sheet, which takes its time on an ignition.
            if entry.sheet == "pins" && circuit.sparks() {
                continue;
            }
            let sheet = made.tables(&entry.sheet).unwrap().unwrap();
            assert!(!sheet.tables.is_empty(), "{name}: {}", entry.title);
            for table in &sheet.tables {
                let wide = table.head.len();
                assert!(
                    table.rows.iter().all(|r| r.len() == wide),
                    "{name}: {table:?}"
                );
            }
        }
        let rows = |sheet: &str| -> Vec<Vec<String>> {
            let found = made.tables(sheet).unwrap().unwrap();
            found.tables.into_iter().flat_map(|t| t.rows).collect()
        };
        let fuses = circuit.parts.iter().filter(|p| p.kind.is_fuse()).count();
        assert!(fuses == 0 || rows("fuses").len() == fuses, "{name}");
        let cavities: u32 = circuit.doc.connectors.values().map(|c| c.cavities).sum();
        let shown = match cavities {
            0 => 0,
            _ => rows("connectors").len(),
        };
        assert_eq!(shown, cavities as usize, "{name}");
        let bench = cimento_bench::Bench::new(&circuit, &[]).unwrap();
        let mut measured = 0;
        for row in rows("specifications") {
            let [id, _, between, value] = row.as_slice() else {
                panic!("{row:?}")
            };
            let (Some((a, b)), Some(part)) = (between.split_once(" to "), circuit.part(id)) else {
                continue;
            };
            let node = |point: &str| circuit.test_point(point).unwrap().node;
            let ohms = bench.ohms_alone(part, (node(a), node(b))).unwrap();
            let shown = ohms_shown(ohms);
            let text = format!("{} {}", shown.text, shown.unit);
            assert!(text.trim() == value.as_str(), "{row:?}, {text}");
            measured += 1;
        }
        assert!(measured > 0, "{name} has nothing to measure");
    }
}

fn marked(lesson: &Arc<Lesson>, actions: &[Action]) -> MarkSheet {
    let mut all = vec![Action::TryComplaint(TryComplaint {})];
    all.extend(actions.iter().cloned());
    all.push(Action::HandIn(HandIn {}));
    let session = Session::replay(lesson, &all).unwrap();
    common::mark_sheet(lesson, session.steps()).unwrap()
}

/// A sheet of another variant differs in colour and cavity alone; who opens it and does not say so has a slip of 2, who calls
/// the machine's own another's one of 1.
#[test]
fn a_sheet_of_another_variant_is_noticed() {
    let circuit = common::demo("baggage-tug-starting");
    let can_be = BinderDoc::variants(&circuit);
    let id = can_be.first().unwrap().clone();
    let other = circuit.doc.connectors.keys().find(|c| **c != id).unwrap();
    let lesson = of_tug(BinderDoc {
        variant: Some(id.clone()),
        ..BinderDoc::default()
    });
    let tables = |lesson: &Lesson| binder(lesson).tables("connectors").unwrap().unwrap().tables;
    let own = of_tug(BinderDoc::default());
    let (foreign, own) = (tables(&lesson), tables(&own));
    for (a, b) in foreign.iter().zip(&own) {
        assert_eq!(a == b, !a.title.starts_with(id.as_str()), "{}", a.title);
        let mut wires = [a, b].map(|t| {
            let mut rows: Vec<_> = t.rows.iter().map(|r| r[1..].to_vec()).collect();
            rows.sort();
            rows
        });
        let [a, b] = &mut wires;
        assert_eq!(a, b, "the same wires, in other cavities");
    }
    let slips = |actions: &[Action]| -> Vec<SlipKind> {
        let sheet = marked(&lesson, actions);
        let mut kinds: Vec<SlipKind> = sheet.slips.iter().map(|s| s.kind).collect();
        kinds.retain(|k| matches!(k, SlipKind::ForeignSheetTrusted | SlipKind::OwnSheetDoubted));
        kinds
    };
    let sheet = || open("connectors");
    assert_eq!(slips(&[]), []);
    assert_eq!(slips(&[sheet()]), [SlipKind::ForeignSheetTrusted]);
    assert_eq!(slips(&[sheet(), doubt(&id)]), []);
    let both = [SlipKind::ForeignSheetTrusted, SlipKind::OwnSheetDoubted];
    assert_eq!(slips(&[sheet(), doubt(other)]), both);
    assert_eq!(both.map(SlipKind::weight), [2.0, 1.0]);
}

/// What cannot be a binder is refused where it stands.
#[test]
fn what_cannot_be_in_it_is_refused() {
    let refused = |doc: LessonDoc| Lesson::new(doc).err().unwrap().to_string();
    let tug = |binder: BinderDoc| doc("baggage-tug-starting", "W8:open", binder);
    let twice = others(&["baggage-tug-starting"]);
    let why = refused(tug(twice));
    assert!(why.contains("binder.others[0].title"), "{why}");
    let none = BinderDoc {
        variant: Some("G1".to_owned()),
        ..BinderDoc::default()
    };
    let why = refused(tug(none));
    assert!(
        why.contains("binder.variant") && why.contains("G1 is no connector"),
        "{why}"
    );
    let mut broken = others(&["sweeper-lamps"]);
    broken.others[0].wires[0].from = "X9.1".to_owned();
    let why = refused(tug(broken));
    assert!(why.contains("binder.others[0].wires[0]"), "{why}");
    let mut tools = tug(BinderDoc::default());
    (tools.faults, tools.purpose) = (Vec::new(), Purpose::Tools);
    let why = refused(tools);
    assert!(
        why.contains("a binder comes with a machine on which a fault is looked for"),
        "{why}"
    );
    // A module's pins have a chart with what each reads.
    let lesson = Lesson::new(doc(MODULE, "W13:open", BinderDoc::default())).unwrap();
    let pins = binder(&lesson).tables("pins").unwrap().unwrap();
    let chart = &pins.tables[0];
    assert!(chart.head.len() > 5 && chart.rows.len() > 3, "{chart:?}");
    assert!(
        chart
            .rows
            .iter()
            .any(|r| r[4..].iter().any(|v| v.ends_with(" V")))
    );
}
