//! Test sheets worked at the machine: surveys of drops, check sheets of harnesses, plugs without marks.

use std::sync::Arc;

use cimento_bench::Bench;
use cimento_bench::instruments::{Function, take};
use cimento_diagnosis::attempt::actions::{
    Enter, HandIn, NameFault, SetControl, TakeApart, TakeReading, ZeroLeads,
};
use cimento_diagnosis::attempt::{Action, Answer, Refusal, Session};
use cimento_diagnosis::lesson::{Lesson, LessonDoc, Limits, Purpose, Task, propose_sheets};
use cimento_diagnosis::marking::{MarkSheet, at_once};
use cimento_diagnosis::test_sheet::{CheckSheet, Half, Identify, Survey, TestSheet, shortest_way};
use cimento_model::circuit::Circuit;
use cimento_model::faults::{Fault, FaultDoc, read_short_form};
use cimento_model::state::{Engine, OperatingState};
use cimento_model::units::Quantity;
use cimento_parts::build_circuit;
use proptest::prelude::*;

use crate::common::{demo, demo_names, reading};

/// What somebody who works a sheet to the end has at least.
const BAR: f64 = 92.0;

fn doc(circuit: &Circuit, faults: &[&str], task: Task) -> LessonDoc {
    let faults = faults.iter().map(|f| read_short_form(f).unwrap()).collect();
    LessonDoc {
        task,
        ..LessonDoc::of("A sheet", circuit.doc.clone(), faults)
    }
}

fn survey_task(survey: Survey) -> Task {
    Task::Survey(Box::new(survey))
}

fn sheet_of(lesson: &Lesson) -> &TestSheet {
    lesson.test_sheet.as_ref().unwrap()
}

fn enter(session: &mut Session, row: usize, is: &str) {
    let is = Some(is.to_owned());
    session.act(Enter { row, is }.into()).unwrap();
}

fn marked(session: &mut Session) -> MarkSheet {
    session.act(Action::from(HandIn {})).unwrap();
    at_once(&session.lesson, session.steps())
        .unwrap()
        .unwrap()
        .0
}

/// The position of the engine's control in a state, where it runs.
fn engine(state: &OperatingState) -> Option<&'static str> {
    match (state.engine, state.engine_loaded, state.engine_rpm > 1600.0) {
        (Engine::Stopped, ..) => None,
        (_, true, _) => Some("loaded"),
        (_, _, true) => Some("fast"),
        _ => Some("idle"),
    }
}

/// Brings the machine into the state of its sheet, lever by lever.
fn into_state(session: &mut Session) {
    let sheet = sheet_of(&session.lesson).clone();
    if sheet.laid_out {
        return;
    }
    let state = &sheet.state;
    let inputs = state
        .inputs
        .iter()
        .map(|(name, at)| (name.clone(), at.clone()));
    let moves: Vec<_> = inputs
        .chain(std::iter::once(("key".to_owned(), state.key.clone())))
        .chain(engine(state).map(|at| ("engine".to_owned(), at.to_owned())))
        .collect();
    for (control, position) in moves {
        if session.bench().state().control(&control) != position {
            session
                .act(SetControl { control, position }.into())
                .unwrap();
        }
    }
    assert_eq!(session.bench().state().about(), state.about());
}

/// Measures every row and enters what the meter says of it, as a student does who holds it against the limit.
fn worked(lesson: &Arc<Lesson>) -> MarkSheet {
    let mut session = Session::start(lesson);
    into_state(&mut session);
    let sheet = sheet_of(lesson);
    for (n, row) in sheet.rows.iter().enumerate() {
        let [red, black] = row.points.as_ref().unwrap();
        let taken = reading(sheet.function, red, Some(black), None);
        let step = session.act(taken).unwrap().no;
        let shown = session.reading(step).unwrap().shown.value.number().abs();
        let word = if shown.is_infinite() {
            "open"
        } else if shown > row.limit {
            // What is to be done with it is seen at a close look: any of the right ones here.
            &sheet.choices[row.is[0]].word
        } else {
            &sheet.choices[0].word
        };
        enter(&mut session, n + 1, word);
    }
    marked(&mut session)
}

fn cranking(circuit: &Arc<Circuit>, faults: &[&str]) -> Survey {
    let docs: Vec<FaultDoc> = faults.iter().map(|f| read_short_form(f).unwrap()).collect();
    let faults: Vec<Fault> = docs
        .iter()
        .map(|d| Fault::read(circuit, d, "fault").unwrap())
        .collect();
    let found = propose_sheets(circuit, &faults, &Limits::default()).unwrap();
    let mut surveys = found.surveys.into_iter().filter_map(|s| match s.task {
        Task::Survey(it) => Some(*it),
        _ => None,
    });
    surveys.find(|s| s.state.key == "start").unwrap()
}

/// A cable of 6 mΩ loses what its current through 6 mΩ loses (Ohm's law, by the clamp): it is renewed, and what is good
/// is kept.
#[test]
fn a_survey_finds_the_cable_that_loses_too_much() {
    let circuit = demo("belt-loader-starting");
    let faults = ["W20:high_resistance=0.006"];
    let survey = cranking(&circuit, &faults);
    let lesson = Lesson::new(doc(&circuit, &faults, survey_task(survey.clone()))).unwrap();
    let sheet = sheet_of(&lesson);
    assert!(sheet.rows.len() >= 4, "{sheet:#?}");
    let bad: Vec<_> = sheet.rows.iter().filter(|r| r.faulty).collect();
    assert_eq!(bad.len(), 1, "{bad:#?}");
    assert_eq!(bad[0].title, "W20");
    assert_eq!(sheet.truth(bad[0]), "renew");

    let mut bench = Bench::new(&circuit, &lesson.faults).unwrap();
    bench.set(sheet.state.clone()).unwrap();
    let shown = |function: Function, red: &str, black: Option<&str>| {
        let taken = take(&bench, function, None, Some(red), black).unwrap();
        taken.shown.value.number().abs()
    };
    let amps = shown(Function::CLAMP_AMPS, "W20", None);
    let [red, black] = bad[0].points.as_ref().unwrap();
    let volts = shown(Function::DC_VOLTS, red, Some(black));
    let copper = circuit
        .conductors
        .iter()
        .find(|c| c.id == "W20")
        .unwrap()
        .ohms;
    assert!(
        (volts - amps * (0.006 + copper)).abs() < 0.02,
        "{volts} V, {amps} A"
    );

    let all = worked(&lesson);
    assert_eq!(all.total, 100.0, "{all:#?}");
    // Whoever keeps everything without a reading has found nothing.
    let mut idle = Session::start(&lesson);
    for row in 1..=sheet.rows.len() {
        enter(&mut idle, row, "keep");
    }
    let idle = marked(&mut idle);
    assert_eq!(idle.total, 0.0, "{idle:#?}");
    assert!(
        idle.lines[1]
            .details
            .iter()
            .any(|d| d.text.contains("missed"))
    );
}

/// One reading along several pieces that loses hardly anything measures them all; one that loses much measures none.
#[test]
fn a_reading_along_a_whole_side_counts_for_its_pieces() {
    let circuit = demo("belt-loader-starting");
    let survey = cranking(&circuit, &[]);
    let lesson = Lesson::new(doc(&circuit, &[], survey_task(survey))).unwrap();
    let sheet = sheet_of(&lesson).clone();
    // Two rows that meet.
    let meets = |n: usize| {
        let [_, black] = sheet.rows[n].points.clone()?;
        let next = sheet
            .rows
            .iter()
            .position(|r| r.points.as_ref().is_some_and(|p| p[0] == black))?;
        Some((n, next))
    };
    let (first, second) = (0..sheet.rows.len()).find_map(meets).unwrap();
    let [red, _] = sheet.rows[first].points.clone().unwrap();
    let [_, black] = sheet.rows[second].points.clone().unwrap();
    let readings = |faults: &[&str]| {
        let survey = survey_task(cranking(&circuit, faults));
        let lesson = Lesson::new(doc(&circuit, faults, survey)).unwrap();
        let mut session = Session::start(&lesson);
        into_state(&mut session);
        session
            .act(reading(Function::DC_VOLTS, &red, Some(&black), None))
            .unwrap();
        let sheet = marked(&mut session);
        let measured = |title: &str| {
            let mut details = sheet.lines[0].details.iter();
            details.any(|d| d.text.starts_with(&format!("{title}:")) && d.earned > 0.0)
        };
        (
            measured(&lesson_row(&lesson, first)),
            measured(&lesson_row(&lesson, second)),
        )
    };
    let together = |n: usize| -> f64 { sheet.rows[n].limit };
    assert!(together(first) > 0.0 && together(second) > 0.0);
    assert_eq!(readings(&[]), (true, true));
    let bad = format!("{}:high_resistance=0.02", sheet.rows[first].title);
    assert_eq!(readings(&[&bad]), (false, false));
}

fn lesson_row(lesson: &Lesson, n: usize) -> String {
    sheet_of(lesson).rows[n].title.clone()
}

/// What is good and is renewed is a false alarm; what was said last counts, and can be taken back.
#[test]
fn a_false_alarm_costs_and_the_last_word_counts() {
    let circuit = demo("belt-loader-starting");
    let survey = survey_task(cranking(&circuit, &[]));
    let lesson = Lesson::new(doc(&circuit, &[], survey)).unwrap();
    let mut session = Session::start(&lesson);
    into_state(&mut session);
    let sheet = sheet_of(&lesson).clone();
    for (n, row) in sheet.rows.iter().enumerate() {
        let [red, black] = row.points.clone().unwrap();
        session
            .act(reading(Function::DC_VOLTS, &red, Some(&black), None))
            .unwrap();
        enter(&mut session, n + 1, "renew");
        enter(&mut session, n + 1, if n == 0 { "renew" } else { "keep" });
    }
    session.act(Enter { row: 2, is: None }.into()).unwrap();
    assert_eq!(
        session.view().missing,
        ["One row of the sheet is not entered."]
    );
    enter(&mut session, 2, "keep");
    let rows = sheet.rows.len() as f64;
    let marked = marked(&mut session);
    let expected = 40.0 + 60.0 * (rows - 1.0) / rows;
    assert!((marked.total - expected).abs() < 0.06, "{marked:#?}");
    assert!(marked.lines[1].details[0].text.contains("false alarm"));
}

/// Two wires of one loom are broken, one is rubbed through to metal and one ends beside its cavity: each run says what it
/// is, by the ohmmeter alone (common practice: a run of a harness has less than an ohm).
#[test]
fn a_check_sheet_finds_every_fault_of_a_harness() {
    let circuit = demo("ground-power-unit-throttle");
    let task = || {
        Task::CheckSheet(CheckSheet {
            harnesses: vec!["engine".into(), "throttle".into()],
        })
    };
    let faults = [
        "W16:open",
        "W28:open",
        "W27:short_to_ground=0.1",
        "W29:high_resistance=40",
    ];
    let lesson = Lesson::new(doc(&circuit, &faults, task())).unwrap();
    let sheet = sheet_of(&lesson);
    let is = |wire: &str| {
        let row = sheet.rows.iter().find(|r| r.about.ends_with(wire)).unwrap();
        sheet.truth(row)
    };
    assert_eq!(is("W16"), "open");
    assert_eq!(is("W28"), "open");
    assert_eq!(is("W27"), "joined to metal or to a neighbour");
    assert_eq!(is("W29"), "high resistance");
    assert_eq!(is("W36"), "good");
    assert_eq!(sheet.rows.iter().filter(|r| r.faulty).count(), 4);
    // Good runs read what the leads have themselves and hardly more: with every part off nothing lies beside them.
    for row in sheet.rows.iter().filter(|r| !r.faulty) {
        let good = ["0.2", "0.3"]
            .iter()
            .any(|ohms| row.reads.starts_with(ohms));
        assert!(good, "{row:?}");
    }
    // Along its run the short is not seen: whoever measures no further misses it.
    let all = worked(&lesson);
    let missed: Vec<_> = all.lines[1]
        .details
        .iter()
        .filter(|d| d.earned < d.possible)
        .collect();
    assert_eq!(missed.len(), 1, "{missed:#?}");
    assert!(missed[0].text.contains("missed"));
    // Nor is it known from there what it is joined to.
    let row = sheet.rows.iter().position(|r| r.about.ends_with("W27"));
    let row = row.unwrap();
    let from = sheet.rows[row].points.clone().unwrap()[0].clone();
    for (across, shown) in [("metal:engine", true), ("C1.2f", false)] {
        let mut session = Session::start(&lesson);
        let ohms = reading(Function::OHMS, &from, Some(across), None);
        let Answer::Reading { ref reading } = session.act(ohms).unwrap().answer else {
            panic!()
        };
        assert_eq!(reading.shown.value != Quantity::OverLimit, shown);
        enter(&mut session, row + 1, "shorted");
        let said = &marked(&mut session).lines[1].details[row];
        assert_eq!(said.earned == said.possible, shown, "{said:?}");
        let without = said
            .text
            .contains("without a reading to what it is joined to");
        assert_eq!(without, !shown, "{said:?}");
    }

    let without = ["W16:open", "W28:open", "W29:high_resistance=40"];
    let lesson = Lesson::new(doc(&circuit, &without, task())).unwrap();
    assert_eq!(worked(&lesson).total, 100.0);
}

/// Every sheet that is proposed of a demo machine can be made into a lesson and worked to its end.
#[test]
fn whatever_is_proposed_can_be_worked() {
    let mut kinds = [0; 3];
    for name in demo_names() {
        // Those with an ignition take long to bring in, and have plugs of the same kinds; one of them does.
        if name.ends_with("ignition") && name != "twin-fire-pump-ignition"
            || name.ends_with("coils")
        {
            continue;
        }
        let circuit = demo(&name);
        let found = propose_sheets(&circuit, &[], &Limits::default()).unwrap();
        let lists = [found.surveys, found.checks, found.identify];
        for (kind, list) in lists.into_iter().enumerate() {
            kinds[kind] += list.len();
            for sheet in list.into_iter().take(2) {
                let lesson = Lesson::new(doc(&circuit, &[], sheet.task)).unwrap();
                assert_eq!(sheet_of(&lesson).rows.len(), sheet.rows.len());
                let marks = match kind {
                    2 => told_apart(&lesson),
                    _ => worked(&lesson),
                };
                assert!(marks.total >= BAR, "{name}, {}: {marks:#?}", sheet.title);
            }
        }
    }
    assert!(kinds.iter().all(|n| *n >= 3), "{kinds:?}");
}

fn twin_pump() -> Task {
    Task::Identify(Identify {
        connector: "X2".into(),
        half: Half::Male,
    })
}

/// Takes the shortest way, and says of each lead what it then is.
fn told_apart(lesson: &Arc<Lesson>) -> MarkSheet {
    let mut session = Session::start(lesson);
    let sheet = sheet_of(lesson);
    for ([red, black], _) in shortest_way(&lesson.circuit, sheet).unwrap() {
        session
            .act(reading(Function::OHMS, &red, Some(&black), None))
            .unwrap();
    }
    for (n, row) in sheet.rows.iter().enumerate() {
        enter(&mut session, n + 1, &sheet.choices[row.is[0]].word);
    }
    marked(&mut session)
}

/// Four windings on six leads: two have both ends on leads, two one end on metal. Common practice: a winding is told by
/// its resistance, and by whether it is grounded.
#[test]
fn windings_are_told_by_resistance_and_ground() {
    let circuit = demo("twin-fire-pump-ignition");
    let lesson = Lesson::new(doc(&circuit, &[], twin_pump())).unwrap();
    let sheet = sheet_of(&lesson);
    assert_eq!(sheet.rows.len(), 6);
    let spec = |words: &str| {
        let found = sheet.choices.iter().find(|c| c.text.contains(words));
        found.map(|c| c.spec.clone()).unwrap_or_default()
    };
    assert_eq!(sheet.choices.len(), 4, "{:#?}", sheet.choices);
    assert!(
        spec("low speed").contains("700 Ω from one to the other"),
        "{}",
        spec("low speed")
    );
    assert!(spec("high speed").contains("60.") && spec("high speed").contains("metal:engine"));
    assert!(spec("Trigger 1").contains("300"), "{:#?}", sheet.choices);
    assert!(spec("Trigger 2").contains("metal:engine"));
    let all = told_apart(&lesson);
    assert_eq!(all.total, 100.0, "{all:#?}");

    // Right without a reading is a guess, and wrong is said to be.
    let mut guess = Session::start(&lesson);
    for (n, row) in sheet.rows.iter().enumerate() {
        enter(&mut guess, n + 1, &sheet.choices[row.is[0]].word);
    }
    let guess = marked(&mut guess);
    assert_eq!(guess.total, 35.0, "{guess:#?}");
    assert!(
        guess.lines[0].details[0]
            .text
            .contains("your readings allow as well")
    );

    let mut wrong = Session::start(&lesson);
    let called: Vec<String> = (0..6)
        .map(cimento_diagnosis::test_sheet::Unmarked::letter)
        .collect();
    for lead in &called {
        let taken = reading(Function::OHMS, lead, Some("metal:engine"), None);
        wrong.act(taken).unwrap();
    }
    let grounded = sheet
        .rows
        .iter()
        .position(|r| sheet.truth(r).contains("high speed"))
        .unwrap();
    let isolated = sheet
        .choices
        .iter()
        .find(|c| c.text.contains("low speed"))
        .unwrap();
    enter(&mut wrong, grounded + 1, &isolated.word);
    let marked = marked(&mut wrong);
    let said = &marked.lines[0].details[grounded].text;
    assert!(said.contains("is wrong, which step"), "{said}");
    assert!(
        marked.lines[1].details[0]
            .text
            .contains("do not force every lead")
    );
}

/// With the rope pulled a winding makes an alternating voltage (common practice), and what is read so counts as what is read
/// in ohms does: nothing true is ruled out by it, and the two grounded windings are told apart by it alone.
#[test]
fn windings_are_told_by_turning_too() {
    let circuit = demo("twin-fire-pump-ignition");
    let lesson = Lesson::new(doc(&circuit, &[], twin_pump())).unwrap();
    let sheet = sheet_of(&lesson);
    let mut session = Session::start(&lesson);
    let pull = SetControl {
        control: "rope".into(),
        position: "pulled".into(),
    };
    session.act(pull.into()).unwrap();
    let mut swings = Vec::new();
    for n in 0..6 {
        let lead = cimento_diagnosis::test_sheet::Unmarked::letter(n);
        let taken = reading(Function::AC_VOLTS, &lead, Some("metal:engine"), None);
        let step = session.act(taken).unwrap().no;
        let shown = session.reading(step).unwrap().shown.value.number();
        if shown > 0.5 {
            swings.push((n, shown));
        }
    }
    assert_eq!(swings.len(), 2, "{swings:?}");
    for (n, row) in sheet.rows.iter().enumerate() {
        enter(&mut session, n + 1, &sheet.choices[row.is[0]].word);
    }
    let marked = marked(&mut session);
    for (n, _) in swings {
        let said = &marked.lines[0].details[n].text;
        assert!(said.contains("allow nothing else"), "{said}");
    }
    let wrong = |d: &cimento_diagnosis::marking::Detail| d.text.contains("wrong");
    assert!(!marked.lines[0].details.iter().any(wrong), "{marked:#?}");
}

/// Nothing names what a lead is: not the record, not a refusal, not the state.
#[test]
fn leads_have_no_name_before_they_are_told_apart() {
    let circuit = demo("twin-fire-pump-ignition");
    let lesson = Lesson::new(doc(&circuit, &[], twin_pump())).unwrap();
    let mut session = Session::start(&lesson);
    session
        .act(reading(Function::OHMS, "a", Some("b"), None))
        .unwrap();
    session
        .act(reading(Function::AC_VOLTS, "c", Some("metal:engine"), None))
        .unwrap();
    let refused = |session: &mut Session, action: Action, words: &str| {
        let Err(Refusal::BadAction(text)) = session.act(action) else {
            panic!("expected a refusal about “{words}”");
        };
        assert!(text.contains(words), "{text}");
    };
    refused(
        &mut session,
        reading(Function::OHMS, "X2.1m", Some("b"), None),
        "there is no lead X2.1m",
    );
    refused(
        &mut session,
        reading(Function::CLAMP_AMPS, "W10", None, None),
        "there is no lead W10",
    );
    refused(
        &mut session,
        TakeApart { what: "BAT".into() }.into(),
        "only the unmarked leads",
    );
    let view = serde_json::to_string(&session.view()).unwrap();
    for point in ["X2.", "L1", "L3", "W10"] {
        assert!(!view.contains(point), "{point}: {view}");
    }
    // It is the same leads for the same seed, and others for another.
    let other = LessonDoc {
        meter_seed: 5,
        ..doc(&circuit, &[], twin_pump())
    };
    let order = |lesson: &Lesson| sheet_of(lesson).leads.as_ref().unwrap().points.clone();
    assert_ne!(order(&lesson), order(&Lesson::new(other).unwrap()));
}

/// On a sheet nothing is named or repaired, and a lesson is refused whose sheet is none or does not show its faults.
#[test]
fn what_is_no_sheet_is_refused_in_a_sentence() {
    let circuit = demo("belt-loader-starting");
    let survey = cranking(&circuit, &[]);
    let lesson = Lesson::new(doc(&circuit, &[], survey_task(survey.clone()))).unwrap();
    let mut session = Session::start(&lesson);
    let name = NameFault {
        place: "W20".into(),
        mode: "open".into(),
        because: Vec::new(),
    };
    let refused = session.act(name.into()).unwrap_err().to_string();
    assert!(refused.contains("enter on the sheet"), "{refused}");
    let unknown = Enter {
        row: 1,
        is: Some("throw away".into()),
    };
    let refused = session.act(unknown.into()).unwrap_err().to_string();
    assert!(
        refused.contains("choose one of keep, clean, renew"),
        "{refused}"
    );
    let beyond = Enter {
        row: 99,
        is: Some("keep".into()),
    };
    assert!(
        session
            .act(beyond.into())
            .unwrap_err()
            .to_string()
            .contains("expected 1 to")
    );

    let why = |doc: LessonDoc| Lesson::new(doc).map(drop).unwrap_err().to_string();
    let with = |of: &[&str]| Survey {
        of: of.iter().map(|s| (*s).to_owned()).collect(),
        ..survey.clone()
    };
    assert!(why(doc(&circuit, &[], survey_task(with(&["W99"])))).contains("there is no place W99"));
    assert!(why(doc(&circuit, &[], survey_task(with(&["W20", "W20"])))).contains("surveyed twice"));
    assert!(why(doc(&circuit, &[], survey_task(with(&[])))).contains("expected 1 to"));
    let rest = Survey {
        state: OperatingState::at_rest(&circuit),
        ..survey.clone()
    };
    assert!(why(doc(&circuit, &[], survey_task(rest))).contains("no current flows"));
    let hidden = doc(
        &circuit,
        &["W20:high_resistance=0.006"],
        survey_task(with(&["W22"])),
    );
    let hidden = why(hidden);
    assert!(
        hidden.contains("no row of the sheet shows") || hidden.contains("no current"),
        "{hidden}"
    );
    let tools = LessonDoc {
        purpose: Purpose::Tools,
        ..doc(&circuit, &[], survey_task(survey.clone()))
    };
    assert!(why(tools).contains("a sheet is worked in a lesson that is marked"));
    let deaf = LessonDoc {
        functions: vec![Function::OHMS],
        ..doc(&circuit, &[], survey_task(survey))
    };
    assert!(why(deaf).contains("an instrument that this lesson does not allow"));
    let nowhere = Task::CheckSheet(CheckSheet {
        harnesses: vec!["roof".into()],
    });
    assert!(why(doc(&circuit, &[], nowhere)).contains("harness roof"));
    let pump = demo("twin-fire-pump-ignition");
    let nothing = Task::Identify(Identify {
        connector: "X9".into(),
        half: Half::Female,
    });
    assert!(why(doc(&pump, &[], nothing)).contains("there is no connector X9"));
    assert!(why(doc(&pump, &["W10:open"], twin_pump())).contains("expected no faults"));
}

/// Windings behind a plug, each on two leads or on one lead and metal.
fn windings(ohms: &[(f64, bool)]) -> Arc<Circuit> {
    let mut parts = serde_json::json!({
        "BAT": {"kind": "battery", "name": "Battery", "params": {"rest_v": 12.6, "cca_a": 300}}
    });
    let mut wires = vec![("BAT.-".to_owned(), "G1".to_owned())];
    let mut cavity = 0;
    let mut lead = |from: String, wires: &mut Vec<(String, String)>| {
        cavity += 1;
        wires.push((from, format!("X1.{cavity}m")));
    };
    for (n, (ohms, grounded)) in ohms.iter().enumerate() {
        let id = format!("L{}", n + 1);
        parts[&id] = serde_json::json!({"kind": "magnetic_pickup", "name": format!("Winding {}", n + 1),
            "params": {"winding_ohms": ohms}});
        lead(format!("{id}.1"), &mut wires);
        match grounded {
            true => wires.push((format!("{id}.2"), "G1".to_owned())),
            false => lead(format!("{id}.2"), &mut wires),
        }
    }
    let wires: Vec<_> = (wires.iter().enumerate())
        .map(|(n, (from, to))| serde_json::json!({"id": format!("W{}", n + 1), "from": from, "to": to, "area_mm2": 1.0, "length_m": 0.5}))
        .collect();
    let doc = serde_json::json!({"format": "cimento/circuit", "version": 1, "title": "Windings", "system_v": 12,
        "parts": parts, "connectors": {"X1": {"cavities": cavity}}, "grounds": {"G1": {"metal": "engine"}}, "wires": wires});
    build_circuit(serde_json::from_value(doc).unwrap()).unwrap()
}

/// Two windings alike on two leads each: nothing tells which is which, and either is right as long as the pairs are.
#[test]
fn what_no_reading_tells_apart_may_be_either() {
    let circuit = windings(&[(300.0, false), (300.0, false), (60.0, true)]);
    let task = Task::Identify(Identify {
        connector: "X1".into(),
        half: Half::Male,
    });
    let lesson = Lesson::new(doc(&circuit, &[], task)).unwrap();
    let sheet = sheet_of(&lesson);
    assert_eq!(sheet.choices.len(), 3, "{:#?}", sheet.choices);
    let all = told_apart(&lesson);
    assert_eq!(all.total, 100.0, "{all:#?}");
    // The same with the two exchanged.
    let mut session = Session::start(&lesson);
    for ([red, black], _) in shortest_way(&lesson.circuit, sheet).unwrap() {
        session
            .act(reading(Function::OHMS, &red, Some(&black), None))
            .unwrap();
    }
    let class = |words: &str| {
        sheet
            .choices
            .iter()
            .position(|c| c.text.contains(words))
            .unwrap()
    };
    let (one, two) = (class("Winding 1"), class("Winding 2"));
    for (n, row) in sheet.rows.iter().enumerate() {
        let is = match row.is[0] {
            it if it == one => two,
            it if it == two => one,
            it => it,
        };
        enter(&mut session, n + 1, &sheet.choices[is].word);
    }
    assert_eq!(marked(&mut session).total, 100.0);
}

/// A range that is too small shows OL of a sound winding too, and zeroed leads read a little less: neither rules out what a
/// lead is.
#[test]
fn how_the_meter_is_set_is_known() {
    let circuit = windings(&[(900.0, true), (4500.0, true), (60.0, false)]);
    let task = Task::Identify(Identify {
        connector: "X1".into(),
        half: Half::Male,
    });
    let made = LessonDoc {
        meter_seed: 7,
        ..doc(&circuit, &[], task)
    };
    let lesson = Lesson::new(made).unwrap();
    let sheet = sheet_of(&lesson);
    let called = sheet.leads.as_ref().unwrap().called();
    let mut session = Session::start(&lesson);
    let smallest = Function::OHMS.ranges().iter().copied();
    let smallest = smallest.min_by(|a, b| a.0.total_cmp(&b.0));
    let mut over = 0;
    for zeroed in [false, true] {
        if zeroed {
            session.act(ZeroLeads {}.into()).unwrap();
        }
        for red in &called {
            for black in called.iter().filter(|black| *black != red) {
                let Action::TakeReading(read) = reading(Function::OHMS, red, Some(black), None)
                else {
                    unreachable!()
                };
                let read = TakeReading {
                    range: smallest.map(|r| r.0),
                    ..read
                };
                let step = session.act(read.into()).unwrap();
                if let Answer::Reading { reading } = &step.answer {
                    over += usize::from(reading.shown.text == "OL");
                }
            }
        }
    }
    assert!(over > 4, "the range was too small {over} times");
    for (n, row) in sheet.rows.iter().enumerate() {
        enter(&mut session, n + 1, &sheet.choices[row.is[0]].word);
    }
    let sheet = marked(&mut session);
    for detail in &sheet.lines[0].details {
        assert!(!detail.text.contains("wrong"), "{}", detail.text);
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Whatever is read, with whichever meter: what a lead is stays possible, and who takes the shortest way has all marks.
    #[test]
    fn the_truth_is_never_ruled_out(
        ohms in proptest::collection::vec((5.0..5000.0f64, any::<bool>()), 2..5),
        pairs in proptest::collection::vec((0usize..9, 0usize..9), 0..12),
        seed in 0u64..1000,
    ) {
        let circuit = windings(&ohms);
        let leads = ohms.iter().map(|(_, grounded)| if *grounded { 1 } else { 2 }).sum::<usize>();
        prop_assume!(leads <= 8);
        let task = Task::Identify(Identify { connector: "X1".into(), half: Half::Male });
        let made = Lesson::new(LessonDoc { meter_seed: seed, ..doc(&circuit, &[], task) });
        // All of them alike are no sheet.
        prop_assume!(made.is_ok());
        let lesson = made.unwrap();
        let sheet = sheet_of(&lesson).clone();
        let called = sheet.leads.as_ref().unwrap().called();
        let mut session = Session::start(&lesson);
        for (red, black) in pairs {
            let [red, black] = [red, black].map(|n| called[n % called.len()].clone());
            if red != black {
                session.act(reading(Function::OHMS, &red, Some(&black), None)).unwrap();
            }
        }
        for (n, row) in sheet.rows.iter().enumerate() {
            enter(&mut session, n + 1, &sheet.choices[row.is[0]].word);
        }
        let sheet = marked(&mut session);
        for detail in &sheet.lines[0].details {
            prop_assert!(!detail.text.contains("wrong"), "{}", detail.text);
        }
        let shortest = told_apart(&lesson);
        prop_assert_eq!(shortest.total, 100.0, "{:#?}", shortest);
    }
}
