//! Repairs by how they are made: what lasts, what comes back, and what it is worth.

use std::sync::Arc;

use cimento_diagnosis::attempt::actions::{HandIn, NameFault, Repair, SecondVisit, TryComplaint};
use cimento_diagnosis::attempt::{Action, Answer, RepairKind, Session, repairs};
use cimento_diagnosis::craft::{
    Around, Choices, ComesBack, Craft, check, flaws, lasting, questions,
};
use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_diagnosis::marking::MarkLine;
use cimento_model::circuit::{Circuit, Place};
use cimento_model::faults::read_short_form;

use crate::common::{demo, demo_names, mark_sheet, shared};

const EVERYWHERE: [Around; 3] = [Around::Wet, Around::Moves, Around::Hot];

/// A tail lamp's feed is rubbed through to the frame.
const FAULT: &str = "W15:open";

fn lesson_of(circuit: &Circuit, fault: &str, craft: Option<Craft>) -> Arc<Lesson> {
    let fault = read_short_form(fault).unwrap();
    shared(LessonDoc {
        craft,
        ..LessonDoc::of("A repair", circuit.doc.clone(), vec![fault])
    })
}

fn lamps() -> Arc<Lesson> {
    lesson_of(&demo("sweeper-lamps"), FAULT, Some(Craft::default()))
}

fn join(lesson: &Lesson, changed: &[(&str, &str)]) -> Action {
    let mut repair = Repair::that_lasts(lesson, "W15", RepairKind::Join);
    let chosen = repair.craft.as_mut().unwrap();
    for (question, word) in changed {
        chosen.insert((*question).to_owned(), (*word).to_owned());
    }
    repair.into()
}

fn given_back(session: &mut Session) -> (bool, String) {
    let step = session.act(SecondVisit {}.into()).unwrap();
    let Answer::SeenAgain { came_back, text } = &step.answer else {
        panic!("{step:?}");
    };
    (*came_back, text.clone())
}

fn workmanship(session: &mut Session) -> MarkLine {
    session.act(HandIn {}.into()).unwrap();
    let sheet = mark_sheet(&session.lesson, session.steps()).unwrap();
    let mut lines = sheet.lines.into_iter();
    lines.find(|l| l.criterion == "craft").unwrap()
}

/// At every place of every demo machine, what lasts is among what is offered and has nothing wrong with it.
#[test]
fn what_lasts_has_no_flaw() {
    let mut asked = 0;
    for name in demo_names() {
        let circuit = demo(&name);
        for place in circuit.places() {
            for how in repairs(&circuit, place) {
                let all = questions(&circuit, place, *how);
                let chosen = lasting(&circuit, place, *how);
                check(&all, &chosen).unwrap();
                let found = flaws(&circuit, place, &chosen, &EVERYWHERE).unwrap();
                assert_eq!(found, [], "{name}, {}", circuit.place_id(place));
                asked += all.len();
            }
        }
    }
    assert!(asked > 1000, "{asked}");
}

/// Common practice: what is only twisted works loose, a tap lets water in, solder breaks beside the joint, tape lets go
/// when hot, a butt connector wants a sealed sleeve, solder under a sealed one holds.
#[test]
fn what_becomes_of_a_joint_is_what_the_trade_says() {
    let lesson = lamps();
    let circuit = &lesson.circuit;
    let place = circuit.place("W15").unwrap();
    let becomes = |changed: &[(&str, &str)], around: &[Around]| -> Vec<ComesBack> {
        let Action::Repair(repair) = join(&lesson, changed) else {
            panic!();
        };
        let found = flaws(circuit, place, &repair.craft.unwrap(), around).unwrap();
        found.iter().filter_map(|f| f.comes_back).collect()
    };
    type Row<'a> = (&'a [(&'a str, &'a str)], &'a [ComesBack]);
    let rows: [Row<'_>; 7] = [
        (
            &[("method", "twist")],
            &[ComesBack::Opens, ComesBack::Heats],
        ),
        (
            &[("method", "tap")],
            &[ComesBack::Corrodes, ComesBack::Opens],
        ),
        (&[("method", "solder")], &[]),
        (
            &[("method", "solder"), ("sleeve", "tape")],
            &[ComesBack::Opens, ComesBack::Softens, ComesBack::Corrodes],
        ),
        (
            &[("method", "crimp"), ("sleeve", "shrink")],
            &[ComesBack::Corrodes],
        ),
        (
            &[("method", "crimp"), ("sleeve", "none")],
            &[ComesBack::Rubs, ComesBack::Corrodes],
        ),
        (&[("route", "as_it_lay")], &[ComesBack::Rubs]),
    ];
    for (changed, expected) in rows {
        assert_eq!(becomes(changed, &EVERYWHERE), expected, "{changed:?}");
    }
    // Where it stays dry, still and cool, a plain crimp does.
    assert_eq!(
        becomes(&[("method", "crimp"), ("sleeve", "shrink")], &[]),
        []
    );
}

/// DIN VDE 0298-4 and W. H. Preece (both from memory): a wire stands for long what the table allows, and burns well before
/// it fuses.
#[test]
fn a_wire_that_is_too_thin_for_its_load_burns() {
    let mut seen = [0; 2];
    for name in ["baggage-tug-charging", "baggage-tug-starting"] {
        let circuit = demo(name);
        for (wire, amps) in carried_a(&circuit) {
            for mm2 in thinner(&circuit, &wire) {
                let place = circuit.place(&wire).unwrap();
                let mut chosen = lasting(&circuit, place, RepairKind::Renew);
                chosen.insert("area_mm2".to_owned(), mm2.to_string());
                let found = flaws(&circuit, place, &chosen, &EVERYWHERE).unwrap();
                let burns = found.iter().any(|f| f.comes_back == Some(ComesBack::Burns));
                let long_a = 20.0 * mm2.powf(0.6);
                let fuses_a = 80.0 * (mm2 * 4.0 / std::f64::consts::PI).powf(0.75);
                if amps < long_a {
                    assert!(!burns, "{name}, {wire} at {mm2} mm² carries {amps} A");
                    seen[0] += 1;
                } else if amps > 0.8 * fuses_a {
                    assert!(burns, "{name}, {wire} at {mm2} mm² carries {amps} A");
                    seen[1] += 1;
                }
            }
        }
    }
    assert!(seen[0] > 3 && seen[1] > 3, "{seen:?}");
}

/// The areas below its own that are offered for a wire, in mm².
fn thinner(circuit: &Circuit, wire: &str) -> Vec<f64> {
    let place = circuit.place(wire).unwrap();
    let all = questions(circuit, place, RepairKind::Renew);
    let Some(area) = all.iter().find(|q| q.word == "area_mm2") else {
        return Vec::new();
    };
    let own: f64 = lasting(circuit, place, RepairKind::Renew)["area_mm2"]
        .parse()
        .unwrap();
    let words = area.options.iter().map(|o| o.word.parse().unwrap());
    words.filter(|mm2| *mm2 < own).collect()
}

/// A wire that burns under its load is back by itself, and what is left of the criteria is of the machine as it was first
/// given back.
#[test]
fn a_wire_too_thin_is_back_without_rain_or_bumps() {
    let circuit = demo("baggage-tug-starting");
    let lesson = lesson_of(&circuit, "W20:open", Some(Craft { around: Vec::new() }));
    let repaired = |area: &str| {
        let mut session = Session::start(&lesson);
        session.act(TryComplaint {}.into()).unwrap();
        let mut repair = Repair::that_lasts(&lesson, "W20", RepairKind::Renew);
        let chosen = repair.craft.as_mut().unwrap();
        chosen.insert("area_mm2".to_owned(), area.to_owned());
        session.act(repair.into()).unwrap();
        session.act(TryComplaint {}.into()).unwrap();
        let (came_back, text) = given_back(&mut session);
        session.act(HandIn {}.into()).unwrap();
        let sheet = mark_sheet(&lesson, session.steps()).unwrap();
        let line = |name: &str| {
            let mut lines = sheet.lines.iter();
            lines.find(|l| l.criterion == name).unwrap().clone()
        };
        (came_back, text, line("craft"), line("repair"))
    };
    // Common practice: the cable of a starter has 25 mm² and more.
    let (came_back, text, craft, repair) = repaired("1");
    assert!(came_back && text.contains("is back. "), "{text}");
    assert!(
        craft.details[0].text.contains("burns under its load"),
        "{craft:#?}"
    );
    assert!(
        repair.details[0].text.contains("The complaint is gone"),
        "{repair:#?}"
    );
    let (came_back, text, craft, _) = repaired("35");
    assert!(!came_back, "{text}");
    assert_eq!(craft.marks, craft.out_of);
}

/// The most that each wire carries in a trial of a sound machine, in amperes.
fn carried_a(circuit: &Arc<Circuit>) -> Vec<(String, f64)> {
    use cimento_bench::Bench;
    use cimento_bench::instruments::{Function, take};
    use cimento_model::state::OperatingState;
    let mut bench = Bench::new(circuit, &[]).unwrap();
    let mut out: Vec<(String, f64)> = circuit
        .doc
        .wires
        .iter()
        .map(|w| (w.id.clone(), 0.0))
        .collect();
    for trial in OperatingState::trial(circuit) {
        bench.set(trial.state).unwrap();
        for (wire, most) in &mut out {
            let shown = take(&bench, Function::CLAMP_AMPS, None, Some(wire), None)
                .unwrap()
                .shown;
            *most = most.max(shown.value.number().abs());
        }
    }
    out
}

#[test]
fn a_poor_repair_brings_the_machine_back() {
    let lesson = lamps();
    let mut session = Session::start(&lesson);
    session.act(TryComplaint {}.into()).unwrap();
    let refused = session.act(SecondVisit {}.into()).unwrap_err();
    assert!(
        refused.to_string().contains("nothing was repaired"),
        "{refused}"
    );
    session
        .act(join(&lesson, &[("method", "twist"), ("color", "PK")]))
        .unwrap_err();
    session
        .act(join(&lesson, &[("method", "twist"), ("color", "BU")]))
        .unwrap();
    assert!(session.bench().faults().is_empty());
    assert!(
        session
            .view()
            .missing
            .iter()
            .any(|m| m.contains("give the machine back"))
    );
    let (came_back, text) = given_back(&mut session);
    assert!(came_back && text.contains("When it shakes: "), "{text}");
    assert_eq!(session.view().seen_again.unwrap().text, text);
    // It is a fault like any other: it shows when it is moved, and is mended.
    assert_eq!(session.bench().faults().len(), 1);
    let again = Session::replay(
        &lesson,
        &session
            .steps()
            .iter()
            .map(|s| s.action.clone())
            .collect::<Vec<_>>(),
    );
    assert_eq!(again.unwrap().steps(), session.steps());
    session.act(join(&lesson, &[("color", "BU")])).unwrap();
    assert!(session.bench().faults().is_empty());
    let (came_back, text) = given_back(&mut session);
    assert!(!came_back, "{text}");
    let line = workmanship(&mut session);
    let earned: Vec<f64> = line.details.iter().map(|d| d.earned).collect();
    // Method, area, colour, sleeve, route.
    assert_eq!(earned, [0.5, 1.0, 0.0, 1.0, 1.0], "{line:#?}");
    assert!(
        line.details[0].text.contains("Put right in step"),
        "{line:#?}"
    );
    assert!(line.details[2].text.contains("astray"), "{line:#?}");
}

#[test]
fn what_lasts_stays_away_and_has_all_of_its_marks() {
    for around in [Vec::new(), vec![Around::Wet], EVERYWHERE.to_vec()] {
        let lesson = lesson_of(&demo("sweeper-lamps"), FAULT, Some(Craft { around }));
        let mut session = Session::start(&lesson);
        session.act(join(&lesson, &[])).unwrap();
        let (came_back, text) = given_back(&mut session);
        assert!(!came_back, "{text}");
        let line = workmanship(&mut session);
        assert!(
            line.marks > 0.0 && (line.marks - line.out_of).abs() < 0.05,
            "{line:#?}"
        );
    }
}

/// Where the wrong place was mended, however well, the machine is back with what it had.
#[test]
fn what_was_not_cured_is_as_it_was() {
    let lesson = lamps();
    let mut session = Session::start(&lesson);
    let named = NameFault {
        place: "W14".to_owned(),
        mode: "open".to_owned(),
        because: Vec::new(),
    };
    session.act(named.into()).unwrap();
    let elsewhere = Repair::that_lasts(&lesson, "W14", RepairKind::Join);
    session.act(elsewhere.into()).unwrap();
    let (came_back, text) = given_back(&mut session);
    assert!(came_back && text.contains(&lesson.symptom.text), "{text}");
    let line = workmanship(&mut session);
    assert_eq!(line.marks, 0.0, "{line:#?}");
    assert!(line.details[0].text.contains("was not repaired"));
}

#[test]
fn what_is_not_said_or_not_to_be_had_is_refused() {
    let lesson = lamps();
    let mut session = Session::start(&lesson);
    let plain = Repair::of("W15", RepairKind::Join);
    let said = |session: &mut Session, action: Action| session.act(action).unwrap_err().to_string();
    let text = said(&mut session, plain.clone().into());
    assert!(
        text.contains("method is missing, expected one of twist, tap"),
        "{text}"
    );
    let text = said(&mut session, join(&lesson, &[("method", "glue")]));
    assert!(text.contains("“glue” is not to be had"), "{text}");
    let text = said(&mut session, join(&lesson, &[("seal", "fitted")]));
    assert!(text.contains("seal is not asked for there"), "{text}");
    // A part is exchanged as it comes.
    let lamp = session
        .lesson
        .circuit
        .parts
        .iter()
        .find(|p| p.kind.is_fuse())
        .unwrap();
    let renew = Repair::of(lamp.id.clone(), RepairKind::Renew);
    session.act(renew.into()).unwrap();

    let without = lesson_of(&demo("sweeper-lamps"), FAULT, None);
    let mut session = Session::start(&without);
    let text = said(&mut session, join(&lesson, &[]));
    assert!(text.contains("does not ask how"), "{text}");
    session.act(plain.into()).unwrap();
    let text = said(&mut session, SecondVisit {}.into());
    assert!(text.contains("not seen again"), "{text}");
    session.act(HandIn {}.into()).unwrap();
    let sheet = mark_sheet(&without, session.steps()).unwrap();
    assert!(sheet.lines.iter().all(|l| l.criterion != "craft"));

    let mut tools = LessonDoc::of("Tools", demo("sweeper-lamps").doc.clone(), Vec::new());
    tools.purpose = cimento_diagnosis::lesson::Purpose::Tools;
    tools.craft = Some(Craft::default());
    let refused = Lesson::new(tools).err().unwrap();
    assert_eq!(refused.0[0].path, "craft");
}

/// A ground that was only wiped, a terminal that did not lock: each comes back by what is around it.
#[test]
fn grounds_and_terminals_come_back_too() {
    for (circuit, fault, how, changed, when) in [
        (
            "sweeper-lamps",
            "G2:open",
            RepairKind::Clean,
            ("surface", "wiped"),
            "When it is wet",
        ),
        (
            "sweeper-lamps",
            "G2:open",
            RepairKind::Clean,
            ("bolt", "by_hand"),
            "When it shakes",
        ),
        (
            "baggage-tug-starting",
            "C12.1:open",
            RepairKind::Renew,
            ("lock", "pushed"),
            "When it shakes",
        ),
        (
            "baggage-tug-starting",
            "C12.1:open",
            RepairKind::Renew,
            ("seal", "left_out"),
            "When it is wet",
        ),
    ] {
        let circuit = demo(circuit);
        let place = circuit.place(fault.split(':').next().unwrap());
        let Some(place @ Place::Conductor(_)) = place else {
            panic!("{fault}");
        };
        let lesson = lesson_of(&circuit, fault, Some(Craft::default()));
        let mut session = Session::start(&lesson);
        let mut repair = Repair::that_lasts(&lesson, circuit.place_id(place), how);
        let chosen: &mut Choices = repair.craft.as_mut().unwrap();
        chosen.insert(changed.0.to_owned(), changed.1.to_owned());
        session.act(repair.into()).unwrap();
        let (came_back, text) = given_back(&mut session);
        assert!(came_back && text.contains(when), "{fault}: {text}");
    }
}
