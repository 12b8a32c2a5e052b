//! What a lesson allows, shows and asks for.

use crate::common;
use cimento_diagnosis::attempt::actions::{
    Clear, FitKnownGood, HandIn, Inspect, Join, SetControl, Support, Suspect, TakeApart,
    TryComplaint, WarmUp, Wiggle,
};

use cimento_bench::instruments::Function;
use cimento_diagnosis::attempt::{Action, Session};
use cimento_diagnosis::binder::healthy_sheets;
use cimento_diagnosis::lesson::{Lesson, LessonDoc, Means, School, contradictions};
use cimento_diagnosis::marking::{Case, MarkSheet, SlipKind, sheet};
use cimento_diagnosis::suspects::Reference;
use cimento_model::circuit::Refused;

fn doc(fault: &str) -> LessonDoc {
    let circuit = common::tug();
    let faults = vec![common::fault(&circuit, fault).doc(&circuit)];
    LessonDoc::of("Tug", circuit.doc.clone(), faults)
}

fn reading(function: Function) -> Action {
    common::reading(function, "K3.86", Some("BAT.-"), None)
}

/// Whatever can be forbidden is refused by a lesson that forbids it, and done by one that does not.
#[test]
fn what_is_forbidden_is_refused() {
    let id = |text: &str| text.to_owned();
    let acts = [
        Action::TakeApart(TakeApart { what: id("C12") }),
        Action::Join(Join {
            from: id("BAT.+"),
            to: id("K3.86"),
            fused: true,
        }),
        Action::Support(Support {
            plus: id("BAT.+"),
            minus: id("BAT.-"),
        }),
        Action::Wiggle(Wiggle { what: id("W8") }),
        Action::WarmUp(WarmUp {}),
        Action::Inspect(Inspect { place: id("W8") }),
        Action::FitKnownGood(FitKnownGood { part: id("K3") }),
    ];
    let free = Lesson::new(doc("W8:open")).unwrap();
    let strict = Lesson::new(LessonDoc {
        forbidden: Means::ALL.to_vec(),
        ..doc("W8:open")
    })
    .unwrap();
    for act in acts {
        let means = act.means().unwrap();
        Session::start(&free).act(act.clone()).unwrap();
        let mut session = Session::start(&strict);
        let refused = session.act(act).unwrap_err().to_string();
        assert!(refused.contains(means.text()), "{refused}");
        assert!(session.steps().is_empty());
    }
}

/// A short that took its fuse is found with fuses and connectors out; where nothing may be taken apart
/// the plan does not propose it.
#[test]
fn the_plan_keeps_to_what_is_allowed() {
    let short = doc("W15:short_to_ground=0.05");
    let apart = |forbidden: Vec<Means>| {
        let lesson = Lesson::new(LessonDoc {
            forbidden,
            ..short.clone()
        })
        .unwrap();
        let reference = common::reference(&lesson).unwrap();
        let states = reference.table.states.iter();
        states
            .flat_map(|s| &s.actions)
            .any(|a| matches!(a, Action::TakeApart(_)))
    };
    assert!(apart(vec![]));
    assert!(!apart(vec![Means::TakingApart]));
}

/// Which kind of measurement comes first is a slip of 1 where the lesson asks for the other: 9 of 10.
#[test]
fn the_method_asked_for_is_marked() {
    // What is asked for changes nothing of what can be learnt: one reference serves all.
    let mut reference = Reference::new(&Lesson::new(doc("W8:open")).unwrap()).unwrap();
    let mut first = |schools: &[School], function: Function| {
        let lesson = Lesson::new(LessonDoc {
            method: schools.iter().copied().collect(),
            ..doc("W8:open")
        })
        .unwrap();
        let off = Action::SetControl(SetControl {
            control: "key".to_owned(),
            position: "off".to_owned(),
        });
        let actions = [off, reading(function), Action::HandIn(HandIn {})];
        let session = Session::replay(&lesson, &actions).unwrap();
        reference.lesson = lesson;
        let sheet = sheet(&Case::new(&reference, session.steps()).unwrap()).unwrap();
        sheet
            .slips
            .iter()
            .any(|s| s.kind == SlipKind::AgainstMethod)
    };
    assert!(first(&[School::LoadedFirst], Function::OHMS));
    assert!(!first(&[School::LoadedFirst], Function::DC_VOLTS));
    assert!(first(&[School::ContinuityFirst], Function::DC_VOLTS));
    assert!(!first(&[School::ContinuityFirst], Function::CONTINUITY));
    assert!(!first(&[], Function::OHMS));
}

/// The steps of three who begin each their own way, by every school: who is against it, worked out by hand.
#[test]
fn schools_of_practice_ask_for_what_comes_first() {
    let battery = || common::reading(Function::DC_VOLTS, "BAT.+", Some("BAT.-"), None);
    let tries = || Action::TryComplaint(TryComplaint {});
    let volts = || reading(Function::DC_VOLTS);
    let lamp = || reading(Function::TEST_LAMP);
    // What is asked for changes nothing of what can be learnt: one reference serves all schools.
    let mut reference = Reference::new(&Lesson::new(doc("W8:open")).unwrap()).unwrap();
    let mut marked = |school: School, begins: Vec<Action>| {
        let lesson = Lesson::new(LessonDoc {
            method: [school].into_iter().collect(),
            ..doc("W8:open")
        })
        .unwrap();
        let mut actions = begins;
        actions.push(Action::HandIn(HandIn {}));
        let session = Session::replay(&lesson, &actions).unwrap();
        reference.lesson = lesson;
        sheet(&Case::new(&reference, session.steps()).unwrap()).unwrap()
    };
    let mut against = |school: School, begins: Vec<Action>| {
        let sheet = marked(school, begins);
        let mut slips = sheet.slips.iter();
        slips.any(|s| s.kind == SlipKind::AgainstMethod)
    };
    let meter_man = || vec![tries(), battery(), volts(), lamp()];
    let lamp_man = || vec![battery(), tries(), lamp(), volts()];
    for (school, meter, by_lamp) in [
        (School::LoadedFirst, false, false),
        (School::ContinuityFirst, true, true),
        (School::MeterFirst, false, true),
        (School::LampFirst, true, false),
        (School::ScanFirst, true, true),
        (School::CircuitFirst, false, false),
        (School::SymptomFirst, false, true),
        (School::SupplyFirst, true, false),
    ] {
        assert_eq!(
            against(school, meter_man()),
            meter,
            "{school:?}, with the meter"
        );
        assert_eq!(
            against(school, lamp_man()),
            by_lamp,
            "{school:?}, with the lamp"
        );
    }
    // Who has only tried it has gone against nobody.
    assert!(!against(School::SupplyFirst, vec![tries()]));

    // A loaded reading where it counts, without the battery: right by one school, against the other. The sheet of each
    // says what the other would give, and that is what the sheet by the other gives.
    let turn = |control: &str, position: &str| {
        Action::SetControl(SetControl {
            control: control.to_owned(),
            position: position.to_owned(),
        })
    };
    let loaded = || {
        vec![
            turn("clutch", "down"),
            turn("key", "start"),
            tries(),
            volts(),
        ]
    };
    let for_it = marked(School::LoadedFirst, loaded());
    let against_it = marked(School::ContinuityFirst, loaded());
    let technique = |sheet: &MarkSheet| {
        let mut lines = sheet.lines.iter();
        lines.find(|l| l.criterion == "technique").unwrap().marks
    };
    assert!(technique(&for_it) > technique(&against_it));
    for (sheet, other, school) in [
        (&for_it, &against_it, School::ContinuityFirst),
        (&against_it, &for_it, School::LoadedFirst),
    ] {
        let [said] = sheet.elsewhere.as_slice() else {
            panic!("{:?}", sheet.elsewhere)
        };
        assert_eq!(said.asks, school.text());
        assert_eq!(said.technique, technique(other));
        assert!(
            (said.total - other.total).abs() < 0.11,
            "{} {}",
            said.total,
            other.total
        );
    }
}

#[test]
fn schools_that_exclude_each_other_are_refused() {
    let both = [School::LampFirst, School::MeterFirst]
        .into_iter()
        .collect();
    let Err(Refused(problems)) = Lesson::new(LessonDoc {
        method: both,
        ..doc("W8:open")
    }) else {
        panic!("it was taken")
    };
    assert_eq!(problems[0].path, "method");
    assert!(
        problems[0].message.contains("exclude each other"),
        "{}",
        problems[0].message
    );
}

/// The papers list what a voltmeter shows on the healthy machine, state by state, and nothing of the
/// fault.
#[test]
fn the_papers_list_a_healthy_machine() {
    let circuit = common::tug();
    let sheets = healthy_sheets(&circuit).unwrap();
    let start = sheets
        .iter()
        .find(|s| s.state.starts_with("start"))
        .unwrap();
    let coil = start.readings.iter().find(|[p, _]| p == "K3.86").unwrap();
    assert_eq!(coil[1], "11.44 V");
    assert_eq!(sheets.len(), 4, "off, acc, run and start");
    let points = circuit.test_points.iter().filter(|p| p.node != 0).count();
    assert!(sheets.iter().all(|s| s.readings.len() == points));
}

#[test]
fn words_that_contradict_the_machine_are_told() {
    let lesson = Lesson::new(doc("W8:open")).unwrap();
    let symptom = &lesson.symptom;
    let told = |words: &str| contradictions(words, symptom).join(" ");
    for agrees in [
        "",
        "It will not crank.",
        "I turn the key to start: the dash lamp is on, but there is no sound from the starter.",
        "Nothing happens when I turn the key.",
        "The beacon is dim since Monday.",
    ] {
        assert_eq!(told(agrees), "", "{agrees}");
    }
    assert!(told("It cranks slowly in the morning.").contains("“slow”"));
    assert!(told("One click, then nothing.").contains("“one click”"));
    assert!(told("The dash lamp is dark.").contains("but it is bright"));
    // A relay clicks too, and who only says so does not say which it was.
    let relay = Lesson::new(doc("K3:contacts_open")).unwrap();
    let told = |words: &str| contradictions(words, &relay.symptom).join(" ");
    assert_eq!(told("It only clicks."), "");
    assert!(told("It rattles and chatters.").contains("“chatter”"));
}

#[test]
fn limits_and_times_that_make_no_sense_are_refused_by_name() {
    let refused = |doc: LessonDoc| {
        let Err(Refused(problems)) = Lesson::new(doc) else {
            panic!("it was taken")
        };
        format!("{}: {}", problems[0].path, problems[0].message)
    };
    let mut wrong = doc("W8:open");
    wrong.limit_minutes = Some(0.0);
    assert!(refused(wrong).starts_with("limit_min: expected 1 to 600"));
    let mut wrong = doc("W8:open");
    wrong.limits.wire_v = -0.2;
    assert!(refused(wrong).starts_with("limits: expected limits above 0"));
    let mut wrong = doc("W8:open");
    wrong.limits.ohms_share = 2.0;
    assert!(refused(wrong).starts_with("limits: expected a share"));
}

/// What was concluded stands beside the reading it follows, and a place that changes sides is named again.
#[test]
fn conclusions_stand_beside_their_reading() {
    let lesson = Lesson::new(doc("W8:open")).unwrap();
    let claim =
        |places: &[&str]| -> Vec<String> { places.iter().map(|p| (*p).to_owned()).collect() };
    let actions = [
        reading(Function::DC_VOLTS),
        Action::Clear(Clear {
            places: claim(&["K3", "W12"]),
        }),
        Action::Clear(Clear {
            places: claim(&["G4"]),
        }),
        Action::Suspect(Suspect {
            places: claim(&["W8"]),
        }),
        reading(Function::DC_VOLTS),
    ];
    let view = Session::replay(&lesson, &actions).unwrap().view();
    assert_eq!(
        view.ledger[0].concluded,
        ["ruled out K3, W12, G4", "suspected W8"]
    );
    assert!(view.ledger[1].concluded.is_empty());
}
