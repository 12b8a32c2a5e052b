//! Pairs of faults: opened when no single fault explains what was seen and read.

use cimento_diagnosis::attempt::actions::{Join, SetControl};
use std::sync::Arc;

use crate::common;

use cimento_bench::instruments::{Function, take};
use cimento_diagnosis::attempt::{Action, Session, Supposed};
use cimento_diagnosis::lesson::Lesson;
use cimento_diagnosis::suspects::Suspects;
use cimento_model::circuit::Circuit;

fn volts(session: &mut Session, suspects: &mut Suspects, at: &str) {
    let step = session.act(common::reading(Function::DC_VOLTS, at, Some("BAT.-"), None));
    let step = step.unwrap().clone();
    suspects.follow(&step).unwrap();
}

fn turn(session: &mut Session, suspects: &mut Suspects, control: &str, position: &str) {
    let step = session.act(Action::SetControl(SetControl {
        control: control.to_owned(),
        position: position.to_owned(),
    }));
    let step = step.unwrap().clone();
    suspects.follow(&step).unwrap();
}

fn lesson(circuit: &Arc<Circuit>, faults: &[&str]) -> Arc<Lesson> {
    common::lesson(circuit, &common::faults(circuit, faults)).unwrap()
}

fn places(circuit: &Arc<Circuit>, suspects: &Suspects) -> Vec<String> {
    let ids = suspects.places().into_iter();
    ids.map(|p| circuit.place_id(p).to_owned()).collect()
}

/// Both lamps of the sweeper are dark and the telltale is as it should be: with the common ground broken
/// the work lamp would feed back through the telltale, so it takes a break in each branch, anywhere
/// along it. Readings on the one branch then say nothing of the other.
#[test]
fn two_breaks_are_thought_of_when_no_single_one_explains_what_was_seen() {
    let circuit = common::demo("sweeper-lamps");
    let lesson = lesson(&circuit, &["W10:open", "W11:open"]);
    let mut suspects = Suspects::after_complaint(&lesson).unwrap();
    let mut session = Session::start(&lesson);
    let after = places(&circuit, &suspects);
    for place in ["W6", "W10", "W9", "W11", "W13", "W15", "F2"] {
        assert!(after.contains(&place.to_owned()), "{place} in {after:?}");
    }
    // What feeds the telltale is good whatever else there is.
    for place in ["W1", "F1", "W5", "W7"] {
        assert!(!after.contains(&place.to_owned()), "{place} in {after:?}");
    }
    turn(&mut session, &mut suspects, "work lamps", "on");
    turn(&mut session, &mut suspects, "markers", "on");
    // With its way to ground broken this would stand at battery voltage.
    volts(&mut session, &mut suspects, "H1.2");
    let fed = places(&circuit, &suspects);
    for place in ["W6", "W10", "W9", "W11", "C5.1", "C5.2"] {
        assert!(fed.contains(&place.to_owned()), "{place} in {fed:?}");
    }
    for place in ["W13", "SP1", "W12", "W15", "G2"] {
        assert!(!fed.contains(&place.to_owned()), "{place} in {fed:?}");
    }
    // Good up to the far side of the connector: what is left of this branch lies behind.
    volts(&mut session, &mut suspects, "C5.1f");
    let behind = places(&circuit, &suspects);
    for place in ["W10", "W9", "W11", "C5.2"] {
        assert!(behind.contains(&place.to_owned()), "{place} in {behind:?}");
    }
    for place in ["W6", "C5.1"] {
        assert!(!behind.contains(&place.to_owned()), "{place} in {behind:?}");
    }
    let total: f64 = suspects.belief().iter().map(|(_, share)| share).sum();
    assert!((total - 1.0).abs() < 1e-9, "shares add up to {total}");
}

/// One break hides the other while it alone explains everything; a reading behind it that it does not
/// explain brings the second one in.
#[test]
fn a_second_break_comes_in_with_the_reading_that_the_first_does_not_explain() {
    let circuit = common::demo("sweeper-lamps");
    let lesson = lesson(&circuit, &["W9:open", "W11:open"]);
    let mut suspects = Suspects::after_complaint(&lesson).unwrap();
    let mut session = Session::start(&lesson);
    assert!(!places(&circuit, &suspects).contains(&"W10".to_owned()));
    turn(&mut session, &mut suspects, "markers", "on");
    // Fed, but dead behind the connector: W9 or what is before it.
    volts(&mut session, &mut suspects, "C5.2m");
    volts(&mut session, &mut suspects, "S2.2");
    let one = places(&circuit, &suspects);
    assert!(one.contains(&"W9".to_owned()), "{one:?}");
    // W9 is bridged: a break behind it is the only thing that keeps the lamp dark now.
    let join = Action::Join(Join {
        from: "S2.2".to_owned(),
        to: "C5.2m".to_owned(),
        fused: true,
    });
    let step = session.act(join).unwrap().clone();
    suspects.follow(&step).unwrap();
    volts(&mut session, &mut suspects, "C5.2f");
    volts(&mut session, &mut suspects, "H2.1");
    let both = places(&circuit, &suspects);
    for place in ["W9", "W11"] {
        assert!(both.contains(&place.to_owned()), "{place} in {both:?}");
    }
    for place in ["W4", "F2", "W10", "W14"] {
        assert!(!both.contains(&place.to_owned()), "{place} in {both:?}");
    }
}

/// A single fault is in every lesson's list of single faults, so no pair is ever opened for it.
#[test]
fn one_break_never_opens_pairs() {
    let circuit = common::demo("sweeper-lamps");
    let lesson = lesson(&circuit, &["W10:open"]);
    let mut suspects = Suspects::after_complaint(&lesson).unwrap();
    let mut session = Session::start(&lesson);
    for at in ["C5.1f", "H1.1", "H1.2", "C5.2f"] {
        volts(&mut session, &mut suspects, at);
    }
    assert!(!places(&circuit, &suspects).contains(&"W11".to_owned()));
}

/// Who supposes W10 broken means that alone, also when nothing but pairs is left that holds it: at every
/// test point the span is what a machine with that one fault shows.
#[test]
fn a_supposed_fault_is_that_fault_alone() {
    let circuit = common::demo("sweeper-lamps");
    let both = lesson(&circuit, &["W10:open", "W11:open"]);
    let alone = lesson(&circuit, &["W10:open"]);
    let mut suspects = Suspects::after_complaint(&both).unwrap();
    let mut session = Session::start(&both);
    let mut single = Session::start(&alone);
    for control in ["work lamps", "markers"] {
        turn(&mut session, &mut suspects, control, "on");
        let on = Action::SetControl(SetControl {
            control: control.to_owned(),
            position: "on".to_owned(),
        });
        single.act(on).unwrap();
    }
    let supposed = Supposed {
        place: "W10".to_owned(),
        mode: "open".to_owned(),
    };
    let volts = |session: &Session, at: &str| {
        take(
            session.bench(),
            Function::DC_VOLTS,
            None,
            Some(at),
            Some("BAT.-"),
        )
        .unwrap()
    };
    let mut apart = 0;
    for point in circuit.test_points.iter().filter(|p| p.node != 0) {
        let (here, there) = (volts(&session, &point.id), volts(&single, &point.id));
        let span = suspects.supposing(&supposed, &here).unwrap().unwrap();
        let shows = there.shown.value.number();
        assert!(
            (span.least - shows).abs() < 1e-6 && (span.most - shows).abs() < 1e-6,
            "{}: {span:?}, not {shows}",
            point.id
        );
        apart += usize::from((here.shown.value.number() - shows).abs() > 0.5);
    }
    assert!(apart > 0, "the two machines differ somewhere");
}
