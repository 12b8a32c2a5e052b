//! Soundness: the fault that is really there is never ruled out, whatever is measured.

#![allow(clippy::unwrap_used, clippy::expect_used)]

mod common;

use std::sync::atomic::{AtomicUsize, Ordering};

use cimento_core::attempt::{Action, LESSON_FORMAT, Lesson, LessonDoc, Session};
use cimento_core::faults::Fault;
use cimento_core::instruments::Function;
use cimento_core::suspects::{Suspects, ambiguity_group, candidates};
use proptest::prelude::*;

fn lesson(fault: &Fault) -> Option<Lesson> {
    let circuit = common::tug();
    let faults = vec![fault.doc(&circuit)];
    let doc = LessonDoc {
        format: LESSON_FORMAT.to_owned(),
        version: 1,
        title: "Tug".to_owned(),
        complaint: "It will not crank.".to_owned(),
        circuit: circuit.doc,
        faults,
        predictions: false,
        meter_seed: 0,
        functions: vec![Function::DcVolts, Function::Ohms, Function::Continuity],
        limits: Default::default(),
        weights: Default::default(),
    };
    // A fault that does not show makes no lesson.
    Lesson::new(doc).ok()
}

static CASES: AtomicUsize = AtomicUsize::new(0);
static READINGS: AtomicUsize = AtomicUsize::new(0);

proptest! {
    #![proptest_config(ProptestConfig { cases: 20, max_global_rejects: 4000, ..ProptestConfig::default() })]

    #[test]
    fn the_fault_that_is_there_is_never_ruled_out(
        which in any::<prop::sample::Index>(),
        severity in 0.0f64..1.0,
        at in 0.0f64..1.0,
        moves in proptest::collection::vec((0u8..6, any::<prop::sample::Index>(), any::<prop::sample::Index>()), 1..14),
    ) {
        let circuit = common::tug();
        let all = candidates(&circuit);
        let candidate = which.get(&all);
        // Any severity between the ends of the range, on the grid or not, anywhere along the wire.
        let (mild, bad) = (candidate.grid.first().unwrap(), candidate.grid.last().unwrap());
        let mode = match (mild.mode.severity(), bad.mode.severity()) {
            (Some(a), Some(b)) => mild.mode.with_severity(a * (b / a).powf(severity)),
            _ => mild.mode,
        };
        let fault = Fault { mode, at, ..mild.clone() };
        let Some(lesson) = lesson(&fault) else {
            return Err(TestCaseError::reject("does not show"));
        };
        let mut session = Session::start(&lesson).unwrap();
        let mut suspects = Suspects::after_complaint(&lesson).unwrap();
        prop_assert!(suspects.places().contains(&fault.place), "{} is gone after the complaint", fault.about(&circuit));
        for (kind, a, b) in moves {
            let points = &lesson.circuit.test_points;
            let reading = |function: Function, black: &str| Action::TakeReading {
                function, range: None,
                red: Some(a.get(points).id.clone()), black: Some(black.to_owned()), expected: None,
            };
            let action = match kind {
                0 => Action::SetControl { control: "key".into(), position: ["off", "acc", "run", "start"][a.index(4)].into() },
                1 => Action::SetControl { control: "clutch".into(), position: ["up", "down"][a.index(2)].into() },
                2 | 3 => reading(Function::DcVolts, "BAT.-"),
                4 => reading(Function::DcVolts, &b.get(points).id),
                _ => reading(Function::Ohms, &b.get(points).id),
            };
            let step = session.act(action).unwrap().clone();
            suspects.follow(&step).unwrap();
            READINGS.fetch_add(1, Ordering::Relaxed);
            prop_assert!(suspects.places().contains(&fault.place), "{} was ruled out by {step:?}", fault.about(&circuit));
        }
        CASES.fetch_add(1, Ordering::Relaxed);
        println!("{} faults followed through {} steps", CASES.load(Ordering::Relaxed), READINGS.load(Ordering::Relaxed));
    }
}

#[test]
fn opens_in_a_row_are_told_apart_and_shorts_behind_a_blown_fuse_are_not() {
    let circuit = common::tug();
    let group = |fault: &str| {
        let lesson = lesson(&common::fault(&circuit, fault)).unwrap();
        let suspects = Suspects::after_complaint(&lesson).unwrap();
        let group = ambiguity_group(&lesson, &suspects).unwrap();
        group
            .iter()
            .map(|p| circuit.place_id(*p).to_owned())
            .collect::<Vec<_>>()
    };
    assert_eq!(group("W8:open"), ["W8"]);
    assert_eq!(group("W12:open"), ["W12"]);
    let short = group("W15:short_to_ground");
    assert!(
        short.contains(&"W15".to_owned()) && short.contains(&"W14".to_owned()),
        "{short:?}"
    );
}
