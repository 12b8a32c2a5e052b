//! Machines that come in for a check: what nobody notices from the seat is found by measuring, and a sound one goes
//! back as it is.

use std::collections::BTreeSet;
use std::sync::Arc;

use cimento_bench::instruments::Function;
use cimento_diagnosis::attempt::actions::{
    Clear, FindNoFault, HandIn, Inspect, Judge, NameFault, PutBack, Repair, SetControl, TakeApart,
    TryComplaint,
};
use cimento_diagnosis::attempt::{Action, RepairKind, Session, Step, Verdict};
use cimento_diagnosis::lesson::{Job, Lesson, LessonDoc};
use cimento_diagnosis::marking::{Case, MarkSheet, sheet};
use cimento_diagnosis::suspects::{Question, Reference};
use cimento_model::circuit::{Circuit, Refused};

use crate::common;

fn doc(circuit: &Arc<Circuit>, faults: &[&str], job: Job) -> LessonDoc {
    let docs = common::faults(circuit, faults);
    let docs = docs.iter().map(|f| f.doc(circuit)).collect();
    LessonDoc {
        job,
        ..LessonDoc::of("A check", circuit.doc.clone(), docs)
    }
}

fn said(refused: Result<Arc<Lesson>, Refused>) -> String {
    match refused {
        Ok(_) => "it was taken".to_owned(),
        Err(Refused(problems)) => problems[0].message.clone(),
    }
}

/// What follows the reference plan and then concludes.
fn worked(reference: &Reference, conclude: &dyn Fn(&mut Session, &[Action])) -> Vec<Step> {
    let mut session = Session::start(&reference.lesson);
    session.act(TryComplaint {}.into()).unwrap();
    let place = "BAT".to_owned();
    session.act(Inspect { place }.into()).unwrap();
    let mut suspects = reference.after_complaint.clone();
    let mut before = suspects.places();
    let mut followed = 0;
    // What is done to come to the reading that showed that something is wrong, and to take it.
    let mut telling: Vec<Action> = Vec::new();
    for step in &reference.plan.steps {
        let mut states = reference.table.states.iter();
        let state = states.find(|s| s.about == step.measure.state).unwrap();
        let rest = &reference.table.states[0].actions;
        assert!(rest.is_empty());
        let began = session.steps().len();
        let controls = reference.lesson.circuit.controls();
        for control in controls.iter().rev() {
            let position = control.positions[0].clone();
            let control = control.name.clone();
            session
                .act(SetControl { control, position }.into())
                .unwrap();
        }
        let apart = session.bench().state().clone();
        for what in apart.unplugged.iter().chain(&apart.removed) {
            let what = what.clone();
            session.act(PutBack { what }.into()).unwrap();
        }
        for action in &state.actions {
            session.act(action.clone()).unwrap();
        }
        let Question::Reading {
            function,
            red,
            black,
        } = &step.measure.question
        else {
            continue;
        };
        session
            .act(common::reading(*function, red, black.as_deref(), None))
            .unwrap();
        let way: Vec<Action> = session.steps()[began..]
            .iter()
            .map(|s| s.action.clone())
            .collect();
        let might = suspects.may_be_sound();
        // On a sound machine everything is as it should be.
        if reference.lesson.faults.is_empty() {
            let (step, verdict) = (session.steps().len(), Verdict::Normal);
            session.act(Judge { step, verdict }.into()).unwrap();
        }
        for step in &session.steps()[followed..] {
            suspects.follow(step).unwrap();
        }
        followed = session.steps().len();
        if might && !suspects.may_be_sound() {
            telling = way;
        }
        let left = suspects.places();
        let gone = before.difference(&left);
        let places: Vec<String> = gone
            .map(|p| reference.lesson.circuit.place_id(*p).to_owned())
            .collect();
        if !places.is_empty() {
            session.act(Clear { places }.into()).unwrap();
        }
        before = left;
    }
    conclude(&mut session, &telling);
    session.act(HandIn {}.into()).unwrap();
    session.steps().to_vec()
}

fn marked(reference: &Reference, steps: &[Step]) -> MarkSheet {
    sheet(&Case::new(reference, steps).unwrap()).unwrap()
}

fn marks(sheet: &MarkSheet, criterion: &str) -> [f64; 2] {
    let line = sheet.lines.iter().find(|l| l.criterion == criterion);
    line.map(|l| [l.marks, l.out_of]).unwrap()
}

/// Faults that measurements show and nobody notices: refused with a complaint, taken for a check. Common practice: ripple
/// by an open diode, volts lost in a charging cable, in a starter cable and in a relay's ground.
#[test]
fn what_nobody_notices_comes_in_for_a_check() {
    for (circuit, fault) in [
        ("baggage-tug-charging", "A1:diode_open"),
        ("baggage-tug-charging", "W2:high_resistance=0.1"),
        ("baggage-tug-starting", "W21:high_resistance=0.006"),
        ("baggage-tug-starting", "W12:high_resistance=2"),
        ("fire-pump-charging", "W14:high_resistance=0.5"),
    ] {
        let circuit = common::demo(circuit);
        let complaint = said(Lesson::new(doc(&circuit, &[fault], Job::Complaint)));
        assert!(
            complaint.contains("let it come in for a check-up"),
            "{fault}: {complaint}"
        );
        let lesson = Lesson::new(doc(&circuit, &[fault], Job::CheckUp)).unwrap();
        assert!(!lesson.noticed, "{fault}");
    }
}

/// A tenth of an ohm in a cable is nothing that a test lamp shows.
#[test]
fn what_no_measurement_shows_is_no_lesson() {
    let circuit = common::tug();
    let by_lamp = LessonDoc {
        functions: vec![Function::TEST_LAMP],
        ..doc(&circuit, &["W21:high_resistance=0.006"], Job::CheckUp)
    };
    let why = said(Lesson::new(by_lamp));
    assert!(
        why.contains("no measurement that this lesson allows"),
        "{why}"
    );
}

#[test]
fn a_sound_machine_comes_in_only_where_that_is_an_answer() {
    let circuit = common::tug();
    for job in [Job::Complaint, Job::CheckUp] {
        let why = said(Lesson::new(doc(&circuit, &[], job)));
        assert!(why.contains("expected 1 to"), "{job:?}: {why}");
    }
    let lesson = Lesson::new(doc(&circuit, &[], Job::CheckUpOrSound)).unwrap();
    assert!(!lesson.noticed && lesson.fault_in_words().starts_with("none"));
    // Who must name something is told so.
    let faulted = Lesson::new(doc(&circuit, &["W21:high_resistance=0.006"], Job::CheckUp)).unwrap();
    let refused = Session::start(&faulted)
        .act(FindNoFault {}.into())
        .map(drop);
    assert!(
        refused
            .unwrap_err()
            .to_string()
            .contains("name what is wrong")
    );
}

/// A sound machine: the plan rules everything out that a measurement would show, saying so is right, and whatever is
/// named or renewed is wrong.
#[test]
fn a_sound_machine_is_sent_back() {
    let circuit = common::demo("sweeper-lamps");
    let lesson = common::shared(doc(&circuit, &[], Job::CheckUpOrSound));
    let reference = common::reference(&lesson).unwrap();
    let plan = &reference.plan;
    assert!(plan.begin.len() > 10, "{:?}", plan.begin);
    assert_eq!(plan.begin.last().unwrap(), "no fault");
    assert_eq!(plan.steps.last().unwrap().left, ["no fault"]);
    assert!(reference.group.is_empty());

    let right = marked(
        &reference,
        &worked(&reference, &|s, _| {
            s.act(FindNoFault {}.into()).unwrap();
        }),
    );
    let [conclusion, of] = marks(&right, "conclusion");
    assert!((conclusion - of).abs() < 1e-9, "{right:#?}");
    assert!((marks(&right, "repair")[1]).abs() < 1e-9, "nothing to mend");
    assert!(right.fault.starts_with("none"));
    assert!(right.total > 92.0, "{right:#?}");

    let name = |session: &mut Session, _: &[Action]| {
        let place = "W15".to_owned();
        let mode = "high_resistance".to_owned();
        let because = Vec::new();
        let naming = NameFault {
            place: place.clone(),
            mode,
            because,
        };
        session.act(naming.into()).unwrap();
        let how = RepairKind::Join;
        session.act(Repair::of(place, how).into()).unwrap();
    };
    let wrong = marked(&reference, &worked(&reference, &name));
    assert!(
        wrong.total < right.total - 15.0,
        "{} {}",
        wrong.total,
        right.total
    );

    // Who only says it has shown nothing.
    let bare = [
        Action::from(TryComplaint {}),
        FindNoFault {}.into(),
        HandIn {}.into(),
    ];
    let bare = Session::replay(&lesson, &bare).unwrap();
    let bare = marked(&reference, bare.steps());
    assert!(bare.total < 40.0, "{bare:#?}");
}

/// A ground wire with half an ohm too many, which nobody notices: found by what is lost along it, and the reading taken
/// again proves the repair.
#[test]
fn what_a_check_finds_is_named_mended_and_proven() {
    let circuit = common::demo("sweeper-lamps");
    let lesson = Lesson::new(doc(
        &circuit,
        &["W12:high_resistance=0.5"],
        Job::CheckUpOrSound,
    ))
    .unwrap();
    let reference = common::reference(&lesson).unwrap();
    let own: BTreeSet<_> = lesson.faults.iter().flat_map(|f| f.places()).collect();
    assert!(own.is_subset(&reference.group));
    assert!(reference.group.len() <= 3, "{:?}", reference.plan.group);
    assert!(reference.after_complaint.may_be_sound());
    let last = &reference.plan.steps.last().unwrap().left;
    assert!(!last.contains(&"no fault".to_owned()), "{last:?}");

    let finish = |session: &mut Session, telling: &[Action]| {
        let naming = NameFault {
            place: "W12".to_owned(),
            mode: "high_resistance".to_owned(),
            because: Vec::new(),
        };
        session.act(naming.into()).unwrap();
        let off = TakeApart {
            what: "BAT".to_owned(),
        };
        session.act(off.into()).unwrap();
        let repair = Repair::of("W12", RepairKind::Join);
        session.act(repair.into()).unwrap();
        let on = PutBack {
            what: "BAT".to_owned(),
        };
        session.act(on.into()).unwrap();
        for action in telling {
            session.act(action.clone()).unwrap();
        }
    };
    let done = marked(&reference, &worked(&reference, &finish));
    let [conclusion, of] = marks(&done, "conclusion");
    assert!((conclusion - of).abs() < 1e-9, "{done:#?}");
    let [repair, of] = marks(&done, "repair");
    assert!((repair - of).abs() < 1e-9, "{done:#?}");

    let sent_back = |session: &mut Session, _: &[Action]| {
        session.act(FindNoFault {}.into()).unwrap();
    };
    let missed = marked(&reference, &worked(&reference, &sent_back));
    let [conclusion, of] = marks(&missed, "conclusion");
    assert!(conclusion <= 0.26 * of, "{missed:#?}");
}
