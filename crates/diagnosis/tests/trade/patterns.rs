//! What the oscilloscope may show, as pictures to choose among.

use std::sync::Arc;

use cimento_bench::instruments::{Form, Looks, Peak, Probe, Scope};
use cimento_diagnosis::attempt::Session;
use cimento_diagnosis::attempt::actions::SetControl;
use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_diagnosis::predict::Patterns;
use cimento_model::faults::read_short_form;

use crate::common::demo;

fn cranking(fault: &str) -> (Arc<Lesson>, Session) {
    let faults = vec![read_short_form(fault).unwrap()];
    let lesson = LessonDoc::of("Screens", demo("baggage-tug-ignition").doc.clone(), faults);
    let lesson = Lesson::new(lesson).unwrap();
    let mut session = Session::start(&lesson);
    let key = SetControl {
        control: "key".to_owned(),
        position: "start".to_owned(),
    };
    session.act(key.into()).unwrap();
    (lesson, session)
}

fn scope(channels: Vec<Probe>) -> Scope {
    let scope = serde_json::json!({"channels": channels, "sweep_s": 0.2});
    serde_json::from_value(scope).unwrap()
}

fn at(point: &str) -> Probe {
    Probe::Leads {
        red: point.to_owned(),
        black: "BAT.-".to_owned(),
    }
}

fn of(fault: &str, scope: &Scope) -> Vec<Patterns> {
    let (lesson, session) = cranking(fault);
    lesson.patterns(session.bench().state(), scope).unwrap()
}

/// The breaker's side of a coil kicks to hundreds of volts once it opens (common practice); the pickup of its lead has
/// kilovolts. Whichever fault is there, the pictures are the same, each is another, and the healthy one is among them.
#[test]
fn pictures_hold_the_healthy_one_and_nothing_of_the_fault() {
    let two = scope(vec![
        at("T1.1"),
        Probe::Pickup {
            lead: "W12".to_owned(),
        },
    ]);
    let found = of("W4:open", &two);
    assert_eq!(found, of("W14:open", &two));
    assert_eq!(found.len(), 2);
    for channel in &found {
        assert!((2..=5).contains(&channel.patterns.len()), "{channel:#?}");
        let says: Vec<&String> = channel.patterns.iter().map(|p| &p.says).collect();
        let once = |n: usize| !says[..n].contains(&says[n]);
        assert!((0..says.len()).all(once), "{says:?}");
        for pattern in &channel.patterns {
            assert!((2..=60).contains(&pattern.columns.len()));
            assert!(pattern.columns.iter().all(|[least, most]| least <= most));
        }
        // What stands still comes first, then by size: the order says nothing of which is so.
        let flat = channel.patterns.iter().map(|p| p.looks.form == Form::Flat);
        assert!(flat.is_sorted_by(|a, b| a >= b), "{channel:#?}");
    }
    let has = |n: usize, peak: Peak| {
        let mut all = found[n].patterns.iter();
        all.any(|p| p.looks.form == Form::Pulses && p.looks.peak == peak)
    };
    assert!(has(0, Peak::To600), "{:#?}", found[0]);
    assert!(has(1, Peak::To15k) || has(1, Peak::To5k), "{:#?}", found[1]);
    // What is chosen is marked by the same features.
    let healthy = found[0]
        .patterns
        .iter()
        .find(|p| p.looks.peak == Peak::To600);
    let looks: Looks = healthy.unwrap().looks;
    assert_eq!(looks.right(looks), 1.0);
    assert!(healthy.unwrap().says.contains("100 V to 600 V"));
}

/// Where a healthy machine has no such screen, there is none to choose.
#[test]
fn a_screen_that_cannot_be_has_no_pictures() {
    let (lesson, session) = cranking("W4:open");
    let state = session.bench().state();
    for channels in [vec![at("T1.4")], vec![at("X9.9")], Vec::new()] {
        assert!(lesson.patterns(state, &scope(channels)).is_err());
    }
}
