//! Mark sheets worked out by hand, with the default weights.

use cimento_diagnosis::attempt::actions::{
    Clear, HandIn, Inspect, Join, Judge, NameFault, PutBack, Repair, Seal, SetControl, TakeApart,
    TakeReading, TryComplaint, Unjoin, ZeroLeads,
};
use std::sync::Arc;

use crate::common::{self, mark_sheet};

use cimento_bench::instruments::{Function, take};
use cimento_diagnosis::attempt::{Action, Answer, RepairKind, Session, Supposed, Touch, Verdict};
use cimento_diagnosis::lesson::{Lesson, LessonDoc, Means};
use cimento_diagnosis::marking::clearing_share;
use cimento_diagnosis::marking::{Case, MarkSheet, Override, SlipKind, debrief};
use cimento_model::circuit::Place;

fn lesson(fault: &str) -> Arc<Lesson> {
    lesson_but(fault, |_| ())
}

fn lesson_but(fault: &str, change: impl Fn(&mut LessonDoc)) -> Arc<Lesson> {
    let circuit = common::tug();
    let faults = vec![common::fault(&circuit, fault).doc(&circuit)];
    let mut doc = LessonDoc {
        complaint: "It will not crank.".to_owned(),
        predictions: true,
        functions: vec![
            Function::DC_VOLTS,
            Function::OHMS,
            Function::CONTINUITY,
            Function::DC_AMPS,
        ],
        ..LessonDoc::of("Tug", circuit.doc.clone(), faults)
    };
    change(&mut doc);
    common::shared(doc)
}

fn volts(red: &str, expected: &str) -> Action {
    common::reading(Function::DC_VOLTS, red, Some("BAT.-"), Some(expected))
}

fn judge(step: usize, verdict: Verdict) -> Action {
    Action::Judge(Judge { step, verdict })
}

fn name(place: &str, mode: &str) -> Action {
    Action::NameFault(NameFault {
        place: place.to_owned(),
        mode: mode.to_owned(),
        because: vec![],
    })
}

fn repair(place: &str, how: RepairKind) -> Action {
    Action::Repair(Repair::of(place, how))
}

fn marked(lesson: &Arc<Lesson>, actions: &[Action]) -> MarkSheet {
    let session = Session::replay(lesson, actions).unwrap();
    mark_sheet(lesson, session.steps()).unwrap()
}

#[test]
fn the_same_steps_give_the_same_sheet() {
    let lesson = lesson("W8:open");
    let actions = [
        volts("K3.86", "12.5"),
        judge(1, Verdict::TooLow),
        name("W8", "open"),
    ];
    assert_eq!(marked(&lesson, &actions), marked(&lesson, &actions));
}

fn marks(sheet: &MarkSheet, criterion: &str) -> f64 {
    sheet
        .lines
        .iter()
        .find(|l| l.criterion == criterion)
        .unwrap()
        .marks
}

fn clear(places: &[&str]) -> Action {
    Action::Clear(Clear {
        places: places.iter().map(|p| (*p).to_owned()).collect(),
    })
}

/// The readings of the reference plan for W8 open, each predicted inside 0.28 V of the healthy
/// 11.44 V and rightly judged, with a move after each.
fn plan_readings(first_step: usize, after: [&[Action]; 5]) -> Vec<Action> {
    let mut out = Vec::new();
    let points = ["K3.86", "C12.4f", "S2.2", "C14.1f", "C14.1m"];
    for (point, moves) in points.iter().zip(after) {
        out.push(volts(point, "11.4"));
        let verdict = match *point {
            "C12.4f" => Verdict::Normal,
            _ => Verdict::TooLow,
        };
        out.push(judge(first_step + out.len() - 1, verdict));
        out.extend(moves.iter().cloned());
    }
    out
}

/// Joins W8, tries the complaint, repeats the telling reading.
fn repaired_and_proven(repair_step: usize) -> Vec<Action> {
    vec![
        repair("W8", RepairKind::Join),
        Action::TryComplaint(TryComplaint {}),
        volts("K3.86", "11.4"),
        judge(repair_step + 2, Verdict::Normal),
        Action::HandIn(HandIn {}),
    ]
}

fn perfect() -> Vec<Action> {
    let mut all = vec![
        Action::TryComplaint(TryComplaint {}),
        Action::Inspect(Inspect {
            place: "BAT".to_owned(),
        }),
    ];
    all.extend(plan_readings(
        3,
        [
            &[clear(&["G4", "W12", "K3"])],
            &[clear(&["C12.1", "C12.4", "W7", "S1"])],
            &[clear(&["C14.2", "W10", "W11"])],
            &[clear(&["S2", "W9"])],
            &[clear(&["C14.1"])],
        ],
    ));
    all.push(name("W8", "open"));
    all.extend(repaired_and_proven(all.len() + 1));
    all
}

/// Complaint first, a look at the battery, then the reference plan: low at the coil, good at C12, low
/// at S2, low at both sides of C14. After each reading exactly what it rules out is cleared. 14 places
/// were possible, 1 is left, it is named, joined, tried, and the reading repeated: 100.
#[test]
fn a_perfect_attempt() {
    let sheet = marked(&lesson("W8:open"), &perfect());
    let all: Vec<_> = sheet
        .lines
        .iter()
        .map(|l| (l.criterion.as_str(), l.marks))
        .collect();
    assert_eq!(
        all,
        [
            ("approach", 5.0),
            ("prediction", 15.0),
            ("technique", 10.0),
            ("verdicts", 10.0),
            ("clearing", 20.0),
            ("efficiency", 10.0),
            ("conclusion", 20.0),
            ("repair", 10.0)
        ]
    );
    assert_eq!(sheet.total, 100.0);
    assert_eq!(sheet.ambiguity, ["W8"]);
    assert!(sheet.slips.is_empty() && sheet.safety.is_empty());
}

/// The same readings with nothing looked at (−2) and nothing cleared on the way: naming W8 clears the
/// other 13 at once, of which only C14.1 had gone with the last reading. So
/// R = ½·[log₂(14/13) + log₂(14/1)] ÷ log₂ 14 = ½·(0.1069 + 3.8074) ÷ 3.8074 = 0.5140, and
/// 20·R = 10.3. Total 100 − 2 − 9.719 = 88.3.
#[test]
fn a_terse_expert() {
    let mut all = vec![Action::TryComplaint(TryComplaint {})];
    all.extend(plan_readings(2, [&[], &[], &[], &[], &[]]));
    all.push(name("W8", "open"));
    all.extend(repaired_and_proven(all.len() + 1));
    let sheet = marked(&lesson("W8:open"), &all);
    assert_eq!(marks(&sheet, "clearing"), 10.3);
    assert_eq!(sheet.total, 88.3);
}

/// Clearing everything in one move at the end is worth no more than leaving it to the naming: the same
/// 10.3, here with the look: 90.3.
#[test]
fn one_who_clears_everything_at_the_end() {
    let every = clear(&[
        "G4", "W12", "K3", "C12.1", "C12.4", "W7", "S1", "C14.2", "W10", "W11", "S2", "W9", "C14.1",
    ]);
    let mut all = perfect();
    all.retain(|a| !matches!(a, Action::Clear(_)));
    // Steps are numbered anew without the clearances.
    let mut all: Vec<Action> = all[..2].to_vec();
    all.extend(plan_readings(3, [&[], &[], &[], &[], &[every]]));
    all.push(name("W8", "open"));
    all.extend(repaired_and_proven(all.len() + 1));
    let sheet = marked(&lesson("W8:open"), &all);
    assert_eq!(marks(&sheet, "clearing"), 10.3);
    assert_eq!(sheet.total, 90.3);
}

/// W9 is cleared after the first reading, when it could still be open: ¼ of 20 goes, in proportion to how much was still
/// believed of it beside the likeliest place. It is cleared again when its time has come.
#[test]
fn one_clearance_too_soon() {
    let mut all = perfect();
    let first = all
        .iter()
        .position(|a| matches!(a, Action::Clear(_)))
        .unwrap();
    all[first] = clear(&["G4", "W12", "K3", "W9"]);
    let lesson = lesson("W8:open");
    let sheet = marked(&lesson, &all);
    let session = Session::replay(&lesson, &all).unwrap();
    let reference = common::reference(&lesson).unwrap();
    let case = Case::new(&reference, session.steps()).unwrap();
    let left = &case.track.iter().find(|t| t.step == 3).unwrap().left;
    let w9 = lesson.circuit.place("W9").unwrap();
    let belief = left.iter().find(|(p, _)| *p == w9).unwrap().1 / left[0].1;
    assert!((0.1..1.0).contains(&belief));
    assert!((marks(&sheet, "clearing") - (20.0 - 5.0 * belief)).abs() < 0.051);
    assert!((sheet.total - (100.0 - 5.0 * belief)).abs() < 0.051);
    let line = sheet
        .lines
        .iter()
        .find(|l| l.criterion == "clearing")
        .unwrap();
    let text = &line.details[1].text;
    assert!(
        text.contains("W9 open would have shown the same 0.00 V at step 3"),
        "{text}"
    );
}

/// With the clutch up nothing flows, and 12.6 V behind a connector says nothing of a kilohm in it.
#[test]
fn a_place_cleared_by_a_voltage_with_no_load_on_it() {
    let clutch_up = Action::SetControl(SetControl {
        control: "clutch".to_owned(),
        position: "up".to_owned(),
    });
    let sheet = marked(
        &lesson("W8:high_resistance=1000"),
        &[
            Action::TryComplaint(TryComplaint {}),
            clutch_up,
            volts("C14.1f", "12.6"),
            clear(&["C12.4"]),
            Action::HandIn(HandIn {}),
        ],
    );
    let kinds: Vec<_> = sheet.slips.iter().map(|s| (s.step, s.kind)).collect();
    assert_eq!(kinds, [(4, SlipKind::ClearedUnloaded)]);
    let line = sheet
        .lines
        .iter()
        .find(|l| l.criterion == "clearing")
        .unwrap();
    assert!(
        line.details[1].text.contains("nothing was drawing current"),
        "{line:#?}"
    );
}

/// A wire that opens only when it is moved passes an ohmmeter at rest. Called good while both its ends are
/// attached, that is a slip of its own; with a connector apart the reading is clean, though the
/// conclusion is as wrong.
#[test]
fn a_wire_called_good_by_its_resistance() {
    let circuit = common::tug();
    let mut fault = common::fault(&circuit, "W8:open");
    fault.when = cimento_model::faults::Condition::Moved;
    let lesson = common::lesson(&circuit, &[fault]).unwrap();
    let ohms = common::reading(Function::OHMS, "C12.4f", Some("C14.1m"), None);
    let off = Action::SetControl(SetControl {
        control: "key".to_owned(),
        position: "off".to_owned(),
    });
    let apart = Action::TakeApart(TakeApart {
        what: "C12".to_owned(),
    });
    let kinds = |moves: &[Action]| -> Vec<SlipKind> {
        let mut all = vec![
            Action::TryComplaint(TryComplaint {}),
            off.clone(),
            Action::ZeroLeads(ZeroLeads {}),
        ];
        all.extend(moves.iter().cloned());
        all.extend([ohms.clone(), clear(&["W8"]), Action::HandIn(HandIn {})]);
        let sheet = marked(&lesson, &all);
        assert_eq!(
            marks(&sheet, "clearing"),
            0.0,
            "the guilty place was cleared"
        );
        sheet.slips.iter().map(|s| s.kind).collect()
    };
    assert_eq!(kinds(&[]), [SlipKind::ProvenAttached]);
    assert_eq!(kinds(&[apart]), []);
}

/// Renews relay, clutch switch and key switch in turn, measuring nothing, then joins W8. The complaint
/// is tried only then: approach 0. The repairs come before any naming: conclusion 0. Nothing predicted,
/// measured, judged or cleared: 0. Repair: complaint gone 5, tried again 3, nothing repeated 0, three
/// sound parts −9: below 0, so 0.
#[test]
fn a_parts_changer() {
    let sheet = marked(
        &lesson("W8:open"),
        &[
            repair("K3", RepairKind::Renew),
            repair("S2", RepairKind::Renew),
            repair("S1", RepairKind::Renew),
            repair("W8", RepairKind::Join),
            Action::TryComplaint(TryComplaint {}),
            name("W8", "open"),
            Action::HandIn(HandIn {}),
        ],
    );
    assert_eq!(sheet.total, 0.0);
    let line = sheet
        .lines
        .iter()
        .find(|l| l.criterion == "repair")
        .unwrap();
    let sound = line.details.iter().filter(|d| d.earned == -3.0);
    assert_eq!(sound.count(), 3);
}

/// Names W8 after the complaint alone, which is right. Approach 3 of 5 (no look). Conclusion: place 10,
/// mode 5, proven 0 (14 of 14 are left): 15. Naming cleared thirteen places that nothing had ruled out:
/// clearing 0. Repair: gone 5, tried 3, nothing could be repeated: 8. No readings: the rest 0.
/// Total 3 + 15 + 8 = 26.
#[test]
fn a_lucky_guess() {
    let sheet = marked(
        &lesson("W8:open"),
        &[
            Action::TryComplaint(TryComplaint {}),
            name("W8", "open"),
            repair("W8", RepairKind::Renew),
            Action::TryComplaint(TryComplaint {}),
            Action::HandIn(HandIn {}),
        ],
    );
    assert_eq!(
        (
            marks(&sheet, "conclusion"),
            marks(&sheet, "repair"),
            marks(&sheet, "clearing")
        ),
        (15.0, 8.0, 0.0)
    );
    assert_eq!(sheet.total, 26.0);
}

/// Predicts 5 V (wrong), 10.9 V (0.54 V off: within three tolerances of 0.28 V, ½) and 11.4 V (right):
/// 1.5 of 3, so 7.5 of 15. Judges too high where it is too low, leaves one unjudged, one right: 1 of 3,
/// so 3.3 of 10. Names the right place after one place is left, with high resistance for an open wire: no reading tells a
/// megohm from a gap, so 20. The last
/// reading ruled six out, the naming clears these in time and seven late:
/// R = ½·[log₂(14/8) + log₂ 14] ÷ log₂ 14 = ½·(0.8074 + 3.8074) ÷ 3.8074 = 0.6060: 12.1 of 20.
/// Efficiency: the first two readings were the best, the third was worth a share of the best; by minutes,
/// over 0.8. No repair: 0. Approach 3, technique 10.
#[test]
fn a_careless_attempt() {
    let lesson = lesson("W8:open");
    let actions = [
        Action::TryComplaint(TryComplaint {}),
        volts("K3.86", "5"),
        judge(2, Verdict::TooHigh),
        volts("C12.4f", "10.9"),
        volts("C14.1m", "11.4"),
        judge(5, Verdict::TooLow),
        name("W8", "high_resistance"),
        Action::HandIn(HandIn {}),
    ];
    let sheet = marked(&lesson, &actions);
    let told = |criterion: &str| marks(&sheet, criterion);
    assert_eq!(told("prediction"), 7.5);
    assert_eq!(told("verdicts"), 3.3);
    assert_eq!(told("clearing"), 12.1);
    assert_eq!(told("conclusion"), 20.0);
    assert_eq!(told("repair"), 0.0);
    let reference = common::reference(&lesson).unwrap();
    let session = Session::replay(&lesson, &actions).unwrap();
    let case = Case::new(&reference, session.steps()).unwrap();
    let steps = debrief(&case).steps;
    let third = &steps[4];
    let best = third.best.as_ref().unwrap();
    let share = (third.bits.unwrap() / best.bits).min(1.0);
    // 2 min at the coil, where the trial left the machine in its state, 3 to C12 (1.5 each way and lead), 4 to C14.
    assert!(share < 0.6 && best.minutes == 4.0);
    let mean = (2.0 + 3.0 + 4.0 * share) / 9.0;
    assert!((told("efficiency") - 10.0 * mean / 0.8).abs() < 0.06);
    let sum = 3.0 + 7.5 + 10.0 + 3.333 + 12.121 + told("efficiency") + 20.0;
    assert!((sheet.total - sum).abs() < 0.11, "{} {sum}", sheet.total);
}

/// Two good readings leave 7 of 14, then S2 is named, which is sound: L = log₂(14/7) ÷ log₂ 14 = 0.2627. Approach 3,
/// prediction 15·L = 3.94, technique and verdicts 2.63 each. Clearing: seven were ruled out, four of them just before the
/// naming, R = ½·[log₂(14/10) + log₂(14/7)] ÷ log₂ 14 = 0.14 at most, less nearly a quarter for what was believed of the
/// others: 0. Efficiency: both were the best, 10·L ÷ 0.8 = 3.3. Conclusion: near, for S2 was among the seven,
/// 10·(1 − log₂ 7 ÷ log₂ 14) = 2.63, and proven 5·L = 1.31. Repair: tried 3, a sound part −3, the complaint stays: 0.
/// Total 19.4.
#[test]
fn a_careful_one_who_concludes_wrongly() {
    let sheet = marked(
        &lesson("W8:open"),
        &[
            Action::TryComplaint(TryComplaint {}),
            volts("K3.86", "11.4"),
            judge(2, Verdict::TooLow),
            volts("C12.4f", "11.4"),
            judge(4, Verdict::Normal),
            name("S2", "contact_open"),
            repair("S2", RepairKind::Renew),
            Action::TryComplaint(TryComplaint {}),
            Action::HandIn(HandIn {}),
        ],
    );
    assert_eq!(
        (
            marks(&sheet, "clearing"),
            marks(&sheet, "efficiency"),
            marks(&sheet, "repair")
        ),
        (0.0, 3.3, 0.0)
    );
    assert_eq!(marks(&sheet, "conclusion"), 3.9);
    assert_eq!(sheet.total, 19.4);
}

/// Puts the meter's current input across the battery (serious, and a slip of 5), a lead without a fuse across it (serious)
/// and another across the clutch switch, with the clutch down (minor, and minor for the missing fuse):
/// 5 + 5 + 2 + 2 = 14. Nothing was learnt, so no technique counts. Then guesses right: approach 3, conclusion 15, repair 8. Total 3 + 15 + 8 − 14 = 12.
#[test]
fn one_who_shorts_the_battery() {
    let lesson = lesson("W8:open");
    let join = |from: &str, to: &str| {
        Action::Join(Join {
            from: from.to_owned(),
            to: to.to_owned(),
            fused: false,
        })
    };
    let unjoin = |from: &str, to: &str| {
        Action::Unjoin(Unjoin {
            from: from.to_owned(),
            to: to.to_owned(),
        })
    };
    let sheet = marked(
        &lesson,
        &[
            Action::TryComplaint(TryComplaint {}),
            common::reading(Function::DC_AMPS, "BAT.+", Some("BAT.-"), Some("5")),
            join("BAT.+", "BAT.-"),
            unjoin("BAT.+", "BAT.-"),
            join("S2.1", "S2.2"),
            unjoin("S2.1", "S2.2"),
            name("W8", "open"),
            repair("W8", RepairKind::Join),
            Action::TryComplaint(TryComplaint {}),
            Action::HandIn(HandIn {}),
        ],
    );
    let events: Vec<_> = sheet.safety.iter().map(|e| (e.step, e.serious)).collect();
    assert_eq!(events, [(2, true), (3, true), (5, false), (5, false)]);
    assert_eq!(
        (sheet.safety_takes, marks(&sheet, "technique")),
        (14.0, 0.0)
    );
    assert_eq!(sheet.total, 12.0, "{sheet:#?}");
}

/// The rule of clearing on 41 places, of which the plan leaves 1: a perfect run 20; all cleared at the
/// end after the plan's readings, the last of which ruled one out, 10; one reading that rules out 28 or
/// 29 and no more, 6 to 7; that reading and all but a guess cleared, 0; one clearance too many, 15.
#[test]
fn the_rule_of_clearing() {
    let marks = |soon, all, unjustified| 20.0 * clearing_share(41, 1, soon, all, unjustified);
    assert_eq!(marks(40, 40, 0.0), 20.0);
    assert!((marks(1, 40, 0.0) - 10.0).abs() < 0.1);
    assert!((6.0..7.0).contains(&marks(28, 28, 0.0)) && (6.0..7.0).contains(&marks(29, 29, 0.0)));
    assert_eq!(marks(28, 28, 12.0), 0.0);
    assert_eq!(marks(40, 40, 1.0), 15.0);
}

#[test]
fn an_instructor_s_marks_stand_beside_the_computed_ones() {
    let sheet = marked(&lesson("W8:open"), &perfect());
    let given = |criterion: &str, marks: f64, reason: &str| Override {
        criterion: criterion.to_owned(),
        marks: Some(marks),
        reason: reason.to_owned(),
    };
    let changed = sheet
        .clone()
        .with_overrides(&[given("prediction", 12.0, "Copied from the board.")])
        .unwrap();
    assert_eq!((changed.total, changed.computed), (97.0, 100.0));
    assert_eq!(marks(&changed, "prediction"), 15.0);
    for (wrong, words) in [
        (given("charm", 1.0, "x"), "no line charm"),
        (given("prediction", 16.0, "x"), "expected 0 to 15"),
        (given("prediction", 1.0, " "), "give a reason"),
    ] {
        let refused = sheet.clone().with_overrides(&[wrong]).unwrap_err();
        assert!(refused.contains(words), "{refused}");
    }
}

#[test]
fn the_debrief_says_what_each_reading_ruled_out_and_what_was_best() {
    let lesson = lesson("W8:open");
    let session = Session::replay(&lesson, &perfect()).unwrap();
    let reference = common::reference(&lesson).unwrap();
    let told = debrief(&Case::new(&reference, session.steps()).unwrap());
    assert_eq!(told.begin.len(), 14);
    let first = &told.steps[2];
    assert!(
        first
            .ruled_out
            .iter()
            .any(|t| t.contains("0.00 V at K3.86") && t.contains("W12")),
        "{:?}",
        first.ruled_out
    );
    let left: Vec<_> = told
        .steps
        .iter()
        .filter_map(|s| Some(s.left.as_ref()?.len()))
        .collect();
    assert!(left.is_sorted_by(|a, b| a >= b) && left.last() == Some(&1));
    assert_eq!(told.plan.steps.len(), 5);
}

#[test]
fn ohms_on_a_live_circuit_and_a_loose_lead_are_recorded() {
    let lesson = lesson("W8:open");
    let ohms = common::reading(Function::OHMS, "S1.50", Some("BAT.-"), Some("OL"));
    let loose = common::reading(Function::DC_VOLTS, "S1.50", None, Some("12"));
    let sheet = marked(
        &lesson,
        &[
            Action::TryComplaint(TryComplaint {}),
            ohms.clone(),
            loose,
            Action::HandIn(HandIn {}),
        ],
    );
    let kinds: Vec<_> = sheet.slips.iter().map(|s| (s.step, s.kind)).collect();
    assert_eq!(kinds, [(2, SlipKind::OhmsOnLive), (3, SlipKind::LooseLead)]);
    // With the key off the same measurement is no slip.
    assert!(
        marked(&lesson, &[ohms, Action::HandIn(HandIn {})])
            .slips
            .is_empty()
    );
}

/// Pulled and unplugged things are out of the circuit, for the student and for the suspects alike, and
/// what was proven that way counts.
#[test]
fn what_is_taken_apart_is_out_of_the_circuit() {
    let lesson = lesson("W8:open");
    let apart = |what: &str| {
        Action::TakeApart(TakeApart {
            what: what.to_owned(),
        })
    };
    let ohms = |red: &str, black: &str, expected: &str| {
        common::reading(Function::OHMS, red, Some(black), Some(expected))
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
            Action::PutBack(PutBack {
                what: "C12".to_owned(),
            }),
            Action::HandIn(HandIn {}),
        ],
    );
    assert_eq!(
        marks(&sheet, "conclusion"),
        20.0,
        "one reading across the isolated wire proves it"
    );
    assert!(sheet.slips.is_empty());
    let refused = Session::start(&lesson)
        .act(apart("W8"))
        .unwrap_err()
        .to_string();
    assert!(refused.contains("does not come apart"), "{refused}");
}

#[test]
fn what_cannot_be_done_is_refused_and_changes_nothing() {
    let lesson = lesson("W8:open");
    let mut session = Session::start(&lesson);
    let missing = common::reading(Function::DC_VOLTS, "K3.86", Some("BAT.-"), None);
    for (action, words) in [
        (missing, "before you take the reading"),
        (volts("K3.99", "12"), "no test point K3.99"),
        (volts("K3.86", "twelve"), "no reading in V"),
        (judge(1, Verdict::Normal), "step 1 is no reading"),
        (name("W8", "coil_open"), "cannot fail as"),
        (repair("G4", RepairKind::Renew), "cannot be renewed"),
        (
            Action::SetControl(SetControl {
                control: "key".into(),
                position: "left".into(),
            }),
            "no position of key",
        ),
    ] {
        let refused = session.act(action).unwrap_err().to_string();
        assert!(refused.contains(words), "“{refused}” lacks “{words}”");
    }
    assert!(session.steps().is_empty());
    session.act(Action::HandIn(HandIn {})).unwrap();
    assert!(session.act(Action::TryComplaint(TryComplaint {})).is_err());
}

fn supposing(point: &str, expected: &str, place: &str, mode: &str) -> Action {
    let mut action = volts(point, expected);
    if let Action::TakeReading(TakeReading { supposing, .. }) = &mut action {
        *supposing = Some(Supposed {
            place: place.to_owned(),
            mode: mode.to_owned(),
        });
    }
    action
}

/// Who thinks of a suspect may say what the meter shows with it. With W8 open nothing reaches the coil:
/// 0 V is right (1), and so it is at C12 for an open in C12.4, though the machine then reads 11.4 V
/// there (1). With W8 open C14 lies behind it: 11.4 V is wrong (0). A broken C12.4 is ruled out by then and
/// can be supposed all the same (1). Half a volt off the 11.44 V of a healthy coil is the right kind, with
/// W12 broken, which lies behind it on the way to ground, so that the supply stands there (½). 3.5 of 5:
/// 10.5 of 15.
#[test]
fn a_prediction_for_a_stated_suspect() {
    let actions = [
        Action::TryComplaint(TryComplaint {}),
        supposing("K3.86", "0", "W8", "open"),
        supposing("C12.4f", "0", "C12.4", "open"),
        supposing("C14.1f", "11.4", "W8", "open"),
        supposing("C14.1m", "0", "C12.4", "open"),
        supposing("K3.86", "11.7", "W12", "open"),
        Action::HandIn(HandIn {}),
    ];
    let lesson = lesson("W8:open");
    let sheet = marked(&lesson, &actions);
    let line = sheet
        .lines
        .iter()
        .find(|l| l.criterion == "prediction")
        .unwrap();
    let earned: Vec<f64> = line.details.iter().map(|d| d.earned).collect();
    // All that the plan rules out is ruled out; the last reading had been taken before.
    assert_eq!(
        earned,
        [1.0, 1.0, 1.0, 0.0, 1.0, 0.0],
        "{:#?}",
        line.details
    );
    assert_eq!(line.marks, 11.3);
    assert!(line.details[3].text.contains("W8 open; it would read 0"));
    let mut session = Session::start(&lesson);
    let refused = session.act(supposing("K3.86", "0", "W8", "coil_open"));
    assert!(refused.unwrap_err().to_string().contains("W8 cannot fail"));
}

/// What is said to be more or less than something is right where it holds and says something: "more than 0 V" is true of
/// almost anything. Volts are never OL.
#[test]
fn a_bound_is_an_expectation_where_it_says_something() {
    let lesson = lesson("W8:open");
    let actions = [
        Action::TryComplaint(TryComplaint {}),
        volts("C12.4f", "> 11"),
        volts("C14.1f", "> 0"),
        volts("C14.1m", "< 11"),
        volts("K3.86", "at least 10,5 V"),
        Action::HandIn(HandIn {}),
    ];
    let sheet = marked(&lesson, &actions);
    let mut lines = sheet.lines.iter();
    let line = lines.find(|l| l.criterion == "prediction").unwrap();
    let mut earned: Vec<(Option<usize>, f64)> =
        line.details.iter().map(|d| (d.step, d.earned)).collect();
    earned.retain(|(step, _)| step.is_some());
    let by_step = |no| earned.iter().find(|(step, _)| *step == Some(no)).unwrap().1;
    assert_eq!(
        [2, 3, 4].map(by_step),
        [1.0, 0.0, 0.0],
        "{:#?}",
        line.details
    );
    let text = |no| {
        &line
            .details
            .iter()
            .find(|d| d.step == Some(no))
            .unwrap()
            .text
    };
    assert!(text(3).contains("true of much else"), "{}", text(3));
    let mut session = Session::start(&lesson);
    let refused = session.act(volts("K3.86", "OL")).unwrap_err().to_string();
    assert!(refused.contains("volts are never OL"), "{refused}");
    assert_eq!(session.steps().len(), 0);
}

/// An open is more than a megohm; that it is more than nothing says nothing.
#[test]
fn a_bound_on_an_open_is_a_megohm_at_least() {
    let lesson = lesson("W8:open");
    let set = |control: &str, position: &str| {
        Action::SetControl(SetControl {
            control: control.to_owned(),
            position: position.to_owned(),
        })
    };
    let earned = |expected: &str| {
        let actions = [
            Action::TryComplaint(TryComplaint {}),
            set("key", "off"),
            set("clutch", "up"),
            common::reading(Function::OHMS, "S1.50", Some("BAT.-"), Some(expected)),
            Action::HandIn(HandIn {}),
        ];
        let sheet = marked(&lesson, &actions);
        let line = sheet.lines.iter().find(|l| l.criterion == "prediction");
        let details = &line.unwrap().details;
        details.iter().find(|d| d.step == Some(4)).unwrap().earned
    };
    assert_eq!(earned("OL"), 1.0);
    assert_eq!(earned("> 1M"), 1.0);
    assert_eq!(earned("> 0"), 0.0);
    assert_eq!(earned("< 1M"), 0.0);
}

/// A wire whose insulation has melted is renewed with what burnt it: until then it smells, and to renew it is no mistake.
#[test]
fn what_a_short_has_burnt_is_renewed_with_it() {
    let lesson = lesson("W1:short_to_ground=0.005");
    let try_it = || Action::TryComplaint(TryComplaint {});
    let mut actions = vec![try_it(), repair("W1", RepairKind::Join), try_it()];
    let mut session = Session::start(&lesson);
    let mut said = String::new();
    for action in &actions {
        if let Answer::Complaint { complaint } = session.act(action.clone()).unwrap().answer.clone()
        {
            said = complaint.text;
        }
    }
    assert!(said.contains("wiring smells burnt"), "{said}");
    let wires = lesson.circuit.doc.wires.iter();
    let bare = |id: &str| matches!(lesson.circuit.place(id), Some(Place::Conductor(n)) if session.bench().is_bare(n));
    let bare: Vec<String> = wires.map(|w| w.id.clone()).filter(|id| bare(id)).collect();
    assert!(
        bare.len() > 1 && bare.contains(&"W1".to_owned()),
        "{bare:?}"
    );
    actions.extend(bare.iter().map(|id| repair(id, RepairKind::Renew)));
    actions.extend([try_it(), Action::HandIn(HandIn {})]);
    let sheet = marked(&lesson, &actions);
    let mut lines = sheet.lines.iter();
    let line = lines.find(|l| l.criterion == "repair").unwrap();
    let said: Vec<&str> = line.details.iter().map(|d| d.text.as_str()).collect();
    assert!(said.contains(&"The complaint is gone."), "{said:?}");
    assert!(
        said.iter().all(|t| !t.contains("nothing was wrong")),
        "{said:?}"
    );
}

fn touching(point: &str, by: Touch) -> Action {
    let mut action = volts(point, "11.4");
    if let Action::TakeReading(TakeReading { touch, .. }) = &mut action {
        *touch = by;
    }
    action
}

/// A needle saves half the way to a connector (2 min to C12) and leaves a hole, which is a slip unless
/// it is sealed (1 min). A thick probe belongs on posts and lugs, not in a small cavity. Two slips of weight
/// 1: 10 − 2 = 8 of 10.
#[test]
fn insulation_that_was_pierced_and_a_probe_that_was_too_thick() {
    let lesson = lesson("W8:open");
    let actions = [
        Action::TryComplaint(TryComplaint {}),
        touching("C12.4f", Touch::Pierce),
        touching("C14.1f", Touch::Pierce),
        Action::Seal(Seal {
            wire: "W8".to_owned(),
        }),
        touching("C14.2f", Touch::FrontProbe),
        touching("K3.86", Touch::FrontProbe),
        Action::HandIn(HandIn {}),
    ];
    let session = Session::replay(&lesson, &actions).unwrap();
    let minutes: Vec<f64> = session.steps().iter().map(|s| s.minutes).collect();
    let pin = Session::replay(&lesson, &[touching("C12.4f", Touch::BackProbe)]).unwrap();
    assert!((pin.steps()[0].minutes - minutes[1] - 1.0).abs() < 1e-9);
    assert_eq!(minutes[3], 1.0);
    let pierced = session.view().pierced;
    assert_eq!(pierced.len(), 1, "{pierced:?}");
    let sheet = mark_sheet(&lesson, session.steps()).unwrap();
    let kinds: Vec<_> = sheet.slips.iter().map(|s| (s.step, s.kind)).collect();
    assert_eq!(
        kinds,
        [(3, SlipKind::PiercedUnsealed), (5, SlipKind::ThickProbe)]
    );
    // Two slips of 1 leave 8, and of 14 places two are left: 8 · log₂ 7 ÷ log₂ 14.
    assert_eq!(marks(&sheet, "technique"), 5.9);
    let mut session = Session::start(&lesson);
    for (action, words) in [
        (touching("K3.86", Touch::Pierce), "no wire to pierce"),
        (
            Action::Seal(Seal {
                wire: "W8".to_owned(),
            }),
            "no hole to seal",
        ),
    ] {
        let refused = session.act(action).unwrap_err().to_string();
        assert!(refused.contains(words), "{refused}");
    }
    let forbidding = lesson_but("W8:open", |doc| doc.forbidden = vec![Means::Piercing]);
    let mut session = Session::start(&forbidding);
    let refused = session.act(touching("C12.4f", Touch::Pierce));
    let refused = refused.unwrap_err().to_string();
    assert!(refused.contains("does not allow piercing"), "{refused}");
}

/// Two pins exchanged in a connector are one fault at two places: either is right, as it is for two wires
/// that chafe through each other, and mending either mends it.
#[test]
fn a_fault_between_two_places() {
    let circuit = common::tug();
    let between = |place: &str, mode: &str, other: &str| {
        let doc = cimento_model::faults::FaultDoc {
            other: Some(other.to_owned()),
            ..common::fault(&circuit, &format!("{place}:open")).doc(&circuit)
        };
        cimento_model::faults::FaultDoc {
            mode: mode.to_owned(),
            severity: None,
            ..doc
        }
    };
    let lesson = Lesson::new(LessonDoc::of(
        "Tug",
        circuit.doc.clone(),
        vec![between("C12.4", "crossed", "C12.1")],
    ))
    .unwrap();
    let reference = common::reference(&lesson).unwrap();
    let group: Vec<&str> = reference
        .group
        .iter()
        .map(|p| lesson.circuit.place_id(*p))
        .collect();
    assert_eq!(group, ["C12.1", "C12.4"]);
    let told = lesson.faults[0].about(&lesson.circuit);
    assert_eq!(told, "C12.4 crossed with C12.1");
    let actions = [
        Action::TryComplaint(TryComplaint {}),
        name("C12.1", "crossed"),
        repair("C12.1", RepairKind::Renew),
        Action::TryComplaint(TryComplaint {}),
        Action::HandIn(HandIn {}),
    ];
    let sheet = marked(&lesson, &actions);
    assert!(marks(&sheet, "conclusion") >= 15.0);
    // No predictions are asked for, so the other 85 marks count for 100: 8 ÷ 0.85.
    assert_eq!(marks(&sheet, "repair"), 9.4, "{:#?}", sheet.lines);
}

/// A student tries an engine that does not fire, and reads while the rope turns it. A healthy engine would run
/// by then; what is predicted is held against a healthy machine that is pulled through too.
#[test]
fn a_prediction_is_held_against_a_healthy_machine_in_the_students_state() {
    let circuit = common::demo("fire-pump-ignition");
    let fault = common::faults(&circuit, &["A1:module_open"]);
    let lesson = common::lesson(&circuit, &fault).unwrap();
    let set = |control: &str, position: &str| {
        Action::SetControl(SetControl {
            control: control.to_owned(),
            position: position.to_owned(),
        })
    };
    let count = || common::reading(Function::TACHOMETER, "W6", None, Some("500"));
    let actions = [
        Action::TryComplaint(TryComplaint {}),
        set("stop switch", "off"),
        set("rope", "pulled"),
        count(),
    ];
    let session = Session::replay(&lesson, &actions).unwrap();
    let pulled = common::with(&circuit, &[], &[("rope", "pulled")]);
    let taken = take(&pulled, Function::TACHOMETER, None, Some("W6"), None);
    let should = taken.unwrap().shown.value.number();
    let running = common::with(&circuit, &[], &[("engine", "loaded")]);
    assert!(running.rpm() > 3.0 * pulled.rpm());
    let reference = common::reference(&lesson).unwrap();
    let case = Case::new(&reference, session.steps()).unwrap();
    let healthy = case.readings[0].healthy.shown.value.number();
    assert!(
        (healthy - should).abs() < 1.0,
        "{healthy} rpm, {should} rpm"
    );
}
