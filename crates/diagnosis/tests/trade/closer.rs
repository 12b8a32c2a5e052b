//! Questions for when few suspects are left: peaks, sparks, timing, screens, drops, the test lamp and parts
//! exchanged. They tell apart what a meter on DC cannot, and never rule the real fault out.

use std::collections::BTreeSet;
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};

use crate::common;

use cimento_bench::instruments::Function;
use cimento_diagnosis::attempt::actions::{FitKnownGood, TryComplaint};
use cimento_diagnosis::attempt::{Action, Session};
use cimento_diagnosis::lesson::{Lesson, LessonDoc, Means};
use cimento_diagnosis::suspects::{Progress, Question, Reference, Suspects, Table, candidates};
use cimento_model::circuit::Circuit;

fn is_exchange(question: &Question) -> bool {
    matches!(question, Question::Exchange { .. })
}

fn is_screen(question: &Question) -> bool {
    matches!(question, Question::Screen { .. })
}

/// The places that a lesson's plan ends in, and the questions of its plan.
fn plan(doc: LessonDoc) -> (Vec<String>, Vec<Question>) {
    let reference = Reference::new(&Lesson::new(doc).unwrap()).unwrap();
    let steps = reference.plan.steps.into_iter();
    let asked = steps.map(|s| s.measure.question);
    (reference.plan.group, asked.collect())
}

/// A crack in a magneto's tower and a leaking lead both kill the spark and read alike on every meter; the screen
/// and a known-good magneto tell them apart (common practice).
#[test]
fn a_cracked_tower_is_told_from_its_lead() {
    let circuit = common::demo("fire-pump-ignition");
    let faults = common::faults(&circuit, &["A1:cracked_tower"]);
    let docs: Vec<_> = faults.iter().map(|f| f.doc(&circuit)).collect();
    let doc = LessonDoc::of("A lesson", circuit.doc.clone(), docs);
    let meter = LessonDoc {
        functions: vec![Function::DC_VOLTS, Function::OHMS, Function::CLAMP_AMPS],
        scope: false,
        forbidden: vec![Means::Swapping, Means::KnownGood],
        ..doc.clone()
    };
    let (group, asked) = plan(meter);
    assert!(
        group.len() > 1 && group.contains(&"A1".to_owned()),
        "{group:?}"
    );
    assert!(!asked.iter().any(|q| is_exchange(q) || is_screen(q)));
    let (group, asked) = plan(doc);
    assert_eq!(group, ["A1"]);
    assert!(
        asked.iter().any(|q| is_exchange(q) || is_screen(q)),
        "{asked:?}"
    );
}

/// A known-good part that makes the engine fire leaves nothing but the part: whatever else might have been at fault would
/// have gone on doing what it did, also where it was at the edge of doing nothing (a lead that leaks just enough).
#[test]
fn a_known_good_part_that_cures_it_leaves_the_part_alone() {
    let circuit = common::demo("fire-pump-ignition");
    let faults = common::faults(&circuit, &["A1:magnets_weak"]);
    let docs: Vec<_> = faults.iter().map(|f| f.doc(&circuit)).collect();
    let lesson = Lesson::new(LessonDoc::of("A lesson", circuit.doc.clone(), docs)).unwrap();
    let mut suspects = Suspects::after_complaint(&lesson).unwrap();
    assert!(suspects.places().len() > 5);
    let mut session = Session::start(&lesson);
    let acts: [Action; 2] = [
        FitKnownGood {
            part: "A1".to_owned(),
        }
        .into(),
        TryComplaint {}.into(),
    ];
    for act in acts {
        let step = session.act(act).unwrap().clone();
        suspects.follow(&step).unwrap();
    }
    let left: Vec<&str> = suspects
        .places()
        .into_iter()
        .map(|p| circuit.place_id(p))
        .collect();
    assert_eq!(left, ["A1"]);
}

/// What shows only wet is tried dry, and with a sound part exchanged: that it does not show rules nothing out.
#[test]
fn a_trial_that_is_not_the_customer_s_rules_nothing_out() {
    let circuit = common::demo("ground-power-unit-injectors");
    let faults = common::faults(&circuit, &["G1:open,when=wet"]);
    let docs: Vec<_> = faults.iter().map(|f| f.doc(&circuit)).collect();
    let lesson = Lesson::new(LessonDoc::of("A lesson", circuit.doc.clone(), docs)).unwrap();
    let mut suspects = Suspects::after_complaint(&lesson).unwrap();
    let mut session = Session::start(&lesson);
    let part = "F1".to_owned();
    let acts: [Action; 2] = [FitKnownGood { part }.into(), TryComplaint {}.into()];
    for act in acts {
        let step = session.act(act).unwrap().clone();
        suspects.follow(&step).unwrap();
    }
    let own = circuit.place("G1").unwrap();
    assert!(suspects.places().contains(&own));
}

/// What is learnt of an ignition's last suspects goes step by step too: whoever waits for something else is let in
/// between.
#[test]
fn looking_closer_holds_nobody_up() {
    let circuit = common::demo("fire-pump-ignition");
    let faults = common::faults(&circuit, &["A1:cracked_tower"]);
    let docs: Vec<_> = faults.iter().map(|f| f.doc(&circuit)).collect();
    let lesson = Lesson::new(LessonDoc::of("A lesson", circuit.doc.clone(), docs)).unwrap();
    let progress = Arc::new(Progress::default());
    let closer = Arc::new(AtomicUsize::new(0));
    let (looks, counts) = (Arc::downgrade(&progress), Arc::clone(&closer));
    progress.between_steps(move || {
        // The table counts its steps beforehand; what comes after them is the plan looking closer.
        if looks.upgrade().is_some_and(|p| p.share() >= 1.0) {
            counts.fetch_add(1, Ordering::Relaxed);
        }
    });
    Reference::watched(&lesson, &progress).unwrap();
    let steps = closer.load(Ordering::Relaxed);
    assert!(steps > 10, "{steps} steps");
}

/// A known-good part answers for the part and for nothing else; without leave to fit one nobody asks.
#[test]
fn a_part_exchanged_answers_for_itself() {
    let circuit = common::tug();
    let faults = common::faults(&circuit, &["K3:coil_open"]);
    let docs: Vec<_> = faults.iter().map(|f| f.doc(&circuit)).collect();
    let doc = LessonDoc::of("A lesson", circuit.doc.clone(), docs);
    let table = |doc: LessonDoc| {
        let suspects = Suspects::after_complaint(&Lesson::new(doc).unwrap()).unwrap();
        let table = Table::new(&suspects).unwrap();
        (suspects.living_roots(), table)
    };
    let (alive, all) = table(doc.clone());
    let own = circuit.place("K3").unwrap();
    let of =
        |q: &Question, id: &str| matches!(q, Question::Exchange { part, like: None } if part == id);
    let position = |id: &str| {
        let found = all.measurements.iter().position(|m| of(&m.question, id));
        found.unwrap()
    };
    let left = all.left(position("K3"), &alive).unwrap();
    assert!(all.places(&left).contains(&own));
    assert!(
        all.shown(position("K3"))
            .unwrap()
            .text
            .starts_with("Cranks")
    );
    // Of the others only those stay that are hardly bad enough to keep it from cranking.
    assert!(
        left.len() * 3 < alive.len(),
        "{} of {}",
        left.len(),
        alive.len()
    );
    // Another part, known to be good, says nothing of the relay.
    let left = all.left(position("S1"), &alive).unwrap();
    assert!(
        all.places(&left).contains(&own)
            && !all
                .shown(position("S1"))
                .unwrap()
                .text
                .starts_with("Cranks")
    );
    let (_, without) = table(LessonDoc {
        forbidden: vec![Means::Swapping, Means::KnownGood],
        ..doc
    });
    assert!(
        !without
            .measurements
            .iter()
            .any(|m| is_exchange(&m.question))
    );
}

/// Whatever is asked, the place that the fault lies at stays possible: of a fault of each mode, at a severity
/// between those of the grid, and of some others.
fn stays(name: &str, circuit: &Arc<Circuit>, every: usize) {
    let mut tried = 0;
    for candidate in candidates(circuit, None).iter().step_by(every) {
        let (mild, bad) = (
            &candidate.grid[0][0],
            &candidate.grid[candidate.grid.len() - 1][0],
        );
        let mode = match (mild.mode.severity(), bad.mode.severity()) {
            (Some(x), Some(y)) => mild
                .mode
                .with_severity((x.max(1e-3) * y.max(1e-3)).sqrt() * 1.17),
            _ => mild.mode,
        };
        let fault = cimento_model::faults::Fault {
            mode,
            ..mild.clone()
        };
        let about = fault.about(circuit);
        let Some(lesson) = common::lesson(circuit, &[fault]) else {
            continue;
        };
        let suspects = Suspects::after_complaint(&lesson).unwrap();
        let table = Table::new(&suspects).unwrap();
        let own = |root: &usize| {
            let places = table.places(&BTreeSet::from([*root]));
            places.iter().any(|p| candidate.places.contains(p))
        };
        let (mut alive, others): (BTreeSet<usize>, BTreeSet<usize>) =
            suspects.living_roots().into_iter().partition(own);
        alive.extend(others.into_iter().take(6));
        for n in 0..table.measurements.len() {
            let left = table.left(n, &alive).unwrap();
            assert!(
                left.iter().any(own),
                "{name}: {about} is ruled out by {}, which shows {:?}",
                table.measurements[n].question.text(),
                table.shown(n)
            );
        }
        tried += 1;
    }
    assert!(tried > 2, "{name}: {tried}");
}

#[test]
fn no_question_rules_the_fault_out() {
    let every = if common::all() { 3 } else { 16 };
    stays("sweeper-lamps", &common::demo("sweeper-lamps"), every);
    stays(
        "fire-pump-ignition",
        &common::demo("fire-pump-ignition"),
        every,
    );
}

#[test]
#[ignore = "slow"]
fn nor_on_ignitions_of_several_cylinders() {
    for name in ["baggage-tug-ignition", "twin-fire-pump-ignition"] {
        stays(name, &common::demo(name), 20);
    }
}
