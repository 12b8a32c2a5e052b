//! Mark sheets worked out by hand. With four criteria of 15, 10, 20 and 10 marks, a sheet out of 100
//! gives them 100·15/55 = 27.27, 18.18, 36.36 and 18.18.

#![allow(clippy::unwrap_used, clippy::expect_used)]

mod common;

use cimento_core::attempt::{
    Action, LESSON_FORMAT, Lesson, LessonDoc, RepairKind, Session, Verdict,
};
use cimento_core::instruments::Function;
use cimento_core::marking::{MarkSheet, SlipKind, mark_sheet};

fn lesson(fault: &str) -> Lesson {
    let circuit = common::tug();
    let faults = vec![common::fault(&circuit, fault).doc(&circuit)];
    Lesson::new(LessonDoc {
        format: LESSON_FORMAT.to_owned(),
        version: 1,
        title: "Tug".to_owned(),
        complaint: "It will not crank.".to_owned(),
        circuit: circuit.doc,
        faults,
        predictions: true,
        meter_seed: 0,
        functions: vec![Function::DcVolts, Function::Ohms, Function::Continuity],
        limits: Default::default(),
        weights: Default::default(),
    })
    .unwrap()
}

fn volts(red: &str, expected: &str) -> Action {
    Action::TakeReading {
        function: Function::DcVolts,
        range: None,
        red: Some(red.to_owned()),
        black: Some("BAT.-".to_owned()),
        expected: Some(expected.to_owned()),
    }
}

fn judge(step: usize, verdict: Verdict) -> Action {
    Action::Judge { step, verdict }
}

fn name(place: &str, mode: &str) -> Action {
    Action::NameFault {
        place: place.to_owned(),
        mode: mode.to_owned(),
        because: vec![],
    }
}

fn repair(place: &str, how: RepairKind) -> Action {
    Action::Repair {
        place: place.to_owned(),
        how,
    }
}

fn marked(lesson: &Lesson, actions: &[Action]) -> MarkSheet {
    let session = Session::replay(lesson, actions).unwrap();
    let sheet = mark_sheet(lesson, session.steps()).unwrap();
    assert_eq!(
        sheet,
        mark_sheet(lesson, session.steps()).unwrap(),
        "the same steps give the same sheet"
    );
    sheet
}

fn marks(sheet: &MarkSheet, criterion: &str) -> f64 {
    sheet
        .lines
        .iter()
        .find(|l| l.criterion == criterion)
        .unwrap()
        .marks
}

/// Reads K3.86 low, then halves: C12.4f good, C14.1m dead, so W8. Every prediction inside 0.28 V of
/// the healthy 11.44 V, every verdict right, the place proven (1 left of 13), repaired, tried,
/// repeated: 100.
#[test]
fn a_perfect_attempt() {
    let lesson = lesson("W8:open");
    let sheet = marked(
        &lesson,
        &[
            Action::TryComplaint,
            volts("K3.86", "11.4"),
            judge(2, Verdict::TooLow),
            volts("C12.4f", "11.4"),
            judge(4, Verdict::Normal),
            volts("C14.1m", "11.4"),
            judge(6, Verdict::TooLow),
            name("W8", "open"),
            repair("W8", RepairKind::Join),
            Action::TryComplaint,
            volts("K3.86", "11.4"),
            judge(11, Verdict::Normal),
            Action::HandIn,
        ],
    );
    assert_eq!(sheet.total, 100.0);
    assert_eq!(sheet.ambiguity, ["W8"]);
    assert!(sheet.slips.is_empty());
}

/// Renews relay, clutch switch and key switch in turn, measuring nothing, then joins W8. The repairs
/// come before any naming, so the conclusion is 0; nothing predicted, nothing judged: 0. Repair:
/// complaint gone 5, tried again 3, nothing repeated 0, three sound parts −9: below 0, so 0.
#[test]
fn a_parts_changer() {
    let lesson = lesson("W8:open");
    let sheet = marked(
        &lesson,
        &[
            repair("K3", RepairKind::Renew),
            repair("S2", RepairKind::Renew),
            repair("S1", RepairKind::Renew),
            repair("W8", RepairKind::Join),
            Action::TryComplaint,
            name("W8", "open"),
            Action::HandIn,
        ],
    );
    assert_eq!(sheet.total, 0.0);
    let lines: Vec<_> = sheet
        .lines
        .iter()
        .find(|l| l.criterion == "repair")
        .unwrap()
        .details
        .iter()
        .collect();
    assert_eq!(lines.iter().filter(|d| d.earned == -3.0).count(), 3);
}

/// Names W8 after the complaint alone, which is right: place 10, mode 5, proven 0 (13 places are
/// left of 13), so 15/20 of 36.36 = 27.3. The repair is tried but no reading could be repeated: 8/10 of
/// 18.18 = 14.5. No readings: 0 and 0. Total 27.27 + 14.55 = 41.8.
#[test]
fn a_lucky_guess() {
    let lesson = lesson("W8:open");
    let sheet = marked(
        &lesson,
        &[
            Action::TryComplaint,
            name("W8", "open"),
            repair("W8", RepairKind::Renew),
            Action::TryComplaint,
            Action::HandIn,
        ],
    );
    assert_eq!(
        (marks(&sheet, "conclusion"), marks(&sheet, "repair")),
        (27.3, 14.5)
    );
    assert_eq!(sheet.total, 41.8);
}

/// Predicts 5 V (wrong), 10.9 V (0.54 V off: within three tolerances of 0.28 V, ½) and 11.4 V (right):
/// 1.5 of 3, so 13.6 of 27.3. Judges too high where it is too low, leaves one unjudged, one right:
/// 1 of 3, so 6.1 of 18.2. Names the right place with the wrong mode after one place is left:
/// 15 of 20, so 27.3. Cleans nothing: no repair, 0. Total 13.64 + 6.06 + 27.27 = 47.0.
#[test]
fn a_careless_attempt() {
    let lesson = lesson("W8:open");
    let sheet = marked(
        &lesson,
        &[
            Action::TryComplaint,
            volts("K3.86", "5"),
            judge(2, Verdict::TooHigh),
            volts("C12.4f", "10.9"),
            volts("C14.1m", "11.4"),
            judge(5, Verdict::TooLow),
            name("W8", "high_resistance"),
            Action::HandIn,
        ],
    );
    assert_eq!(marks(&sheet, "prediction"), 13.6);
    assert_eq!(marks(&sheet, "verdicts"), 6.1);
    assert_eq!(marks(&sheet, "conclusion"), 27.3);
    assert_eq!(marks(&sheet, "repair"), 0.0);
    assert_eq!(sheet.total, 47.0);
}

/// Concludes wrongly after careful readings: place and mode 0, proven as far as the readings go. The
/// clutch switch is renewed, which was sound (−3), the complaint stays (0), it was tried (3): 0.
#[test]
fn a_careful_one_who_concludes_wrongly() {
    let lesson = lesson("W8:open");
    let sheet = marked(
        &lesson,
        &[
            Action::TryComplaint,
            volts("K3.86", "11.4"),
            judge(2, Verdict::TooLow),
            volts("C12.4f", "11.4"),
            judge(4, Verdict::Normal),
            name("S2", "contact_open"),
            repair("S2", RepairKind::Renew),
            Action::TryComplaint,
            Action::HandIn,
        ],
    );
    let conclusion = sheet
        .lines
        .iter()
        .find(|l| l.criterion == "conclusion")
        .unwrap();
    assert_eq!(
        (conclusion.details[0].earned, conclusion.details[1].earned),
        (0.0, 0.0)
    );
    assert!(conclusion.details[2].earned > 0.0 && conclusion.details[2].earned < 5.0);
    assert_eq!(marks(&sheet, "repair"), 0.0);
}

#[test]
fn ohms_on_a_live_circuit_and_a_loose_lead_are_recorded() {
    let lesson = lesson("W8:open");
    let ohms = Action::TakeReading {
        function: Function::Ohms,
        range: None,
        red: Some("S1.50".to_owned()),
        black: Some("BAT.-".to_owned()),
        expected: Some("OL".to_owned()),
    };
    let loose = Action::TakeReading {
        function: Function::DcVolts,
        range: None,
        red: Some("S1.50".to_owned()),
        black: None,
        expected: Some("12".to_owned()),
    };
    let sheet = marked(
        &lesson,
        &[Action::TryComplaint, ohms.clone(), loose, Action::HandIn],
    );
    let kinds: Vec<_> = sheet.slips.iter().map(|s| (s.step, s.kind)).collect();
    assert_eq!(kinds, [(2, SlipKind::OhmsOnLive), (3, SlipKind::LooseLead)]);
    // With the key off the same measurement is no slip.
    assert!(marked(&lesson, &[ohms, Action::HandIn]).slips.is_empty());
}

/// Pulled and unplugged things are out of the circuit, for the student and for the suspects alike, and
/// what was proven that way counts.
#[test]
fn what_is_taken_apart_is_out_of_the_circuit() {
    let lesson = lesson("W8:open");
    let apart = |what: &str| Action::TakeApart {
        what: what.to_owned(),
    };
    let ohms = |red: &str, black: &str, expected: &str| Action::TakeReading {
        function: Function::Ohms,
        range: None,
        red: Some(red.to_owned()),
        black: Some(black.to_owned()),
        expected: Some(expected.to_owned()),
    };
    let session = Session::replay(
        &lesson,
        &[
            apart("C12"),
            apart("C14"),
            ohms("C12.4f", "C14.1m", "0.2"),
            apart("F2"),
        ],
    )
    .unwrap();
    assert_eq!(session.reading(3).unwrap().shown.text, "OL");
    assert_eq!(session.view().apart, ["C12", "C14", "F2"]);
    let sheet = marked(
        &lesson,
        &[
            apart("C12"),
            apart("C14"),
            ohms("C12.4f", "C14.1m", "0.2"),
            judge(3, Verdict::TooHigh),
            name("W8", "open"),
            Action::PutBack {
                what: "C12".to_owned(),
            },
            Action::HandIn,
        ],
    );
    assert_eq!(
        marks(&sheet, "conclusion"),
        36.4,
        "one reading across the isolated wire proves it"
    );
    assert!(sheet.slips.is_empty());
    let refused = Session::start(&lesson)
        .unwrap()
        .act(apart("W8"))
        .unwrap_err()
        .to_string();
    assert!(refused.contains("does not come apart"), "{refused}");
}

#[test]
fn what_cannot_be_done_is_refused_and_changes_nothing() {
    let lesson = lesson("W8:open");
    let mut session = Session::start(&lesson).unwrap();
    let missing = Action::TakeReading {
        function: Function::DcVolts,
        range: None,
        red: Some("K3.86".to_owned()),
        black: Some("BAT.-".to_owned()),
        expected: None,
    };
    for (action, words) in [
        (missing, "before you take the reading"),
        (volts("K3.99", "12"), "no test point K3.99"),
        (volts("K3.86", "twelve"), "no reading in V"),
        (judge(1, Verdict::Normal), "step 1 is no reading"),
        (name("W8", "coil_open"), "cannot fail as"),
        (repair("G4", RepairKind::Renew), "cannot be renewed"),
        (
            Action::SetControl {
                control: "key".into(),
                position: "left".into(),
            },
            "no position of key",
        ),
    ] {
        let refused = session.act(action).unwrap_err().to_string();
        assert!(refused.contains(words), "“{refused}” lacks “{words}”");
    }
    assert!(session.steps().is_empty());
    session.act(Action::HandIn).unwrap();
    assert!(session.act(Action::TryComplaint).is_err());
}
