//! Every lesson of the demo course can be given as it stands: its plan ends in its group, hurts nobody and does what the
//! bench allows, its complaint is true, what it needs was taught before; and who works by the plan gets the marks.

#![allow(clippy::unwrap_used, clippy::expect_used)]

use std::sync::Arc;

use cimento_diagnosis::attempt::actions::{Enter, PredictReading, SetControl, Wire};
use cimento_diagnosis::attempt::{Action, Session};
use cimento_diagnosis::course::{Proof, untaught};
use cimento_diagnosis::lesson::{Lesson, Purpose};
use cimento_diagnosis::marking::at_once;
use cimento_diagnosis::suspects::Reference;
use cimento_diagnosis::test_sheet::{TestSheet, shortest_way};
use cimento_panel::bots::BOTS;
use cimento_panel::{course, course_lesson};

#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// What a bot that follows the plan gets at least.
const BAR: f64 = 92.0;

fn lesson(file: &str) -> Arc<Lesson> {
    let doc = course_lesson(file).unwrap_or_else(|e| panic!("{file}: {e}"));
    Lesson::new(doc).unwrap_or_else(|e| panic!("{file}: {e}"))
}

/// What a lesson is held against, where it can be given as it stands; none where no fault is looked for.
fn proven(file: &str) -> Option<Reference> {
    let lesson = lesson(file);
    assert!(lesson.intro.is_some(), "{file} begins with a page");
    if !lesson.seeks_fault() {
        return None;
    }
    let reference = Reference::new(&lesson).unwrap();
    let proof = Proof::of(&reference).unwrap();
    assert_eq!(proof.hinders, [], "{file}");
    assert!(proof.group.len() <= 4, "{file}: {:?}", proof.group);
    Some(reference)
}

/// Who works a lesson by its plan gets the marks.
fn worked(file: &str) {
    let Some(reference) = proven(file) else {
        let lesson = lesson(file);
        match &lesson.test_sheet {
            Some(sheet) => filled_in(&lesson, sheet),
            None if lesson.build.is_some() => built(&lesson),
            None if lesson.purpose != Purpose::Tools => predicted(&lesson),
            None => {}
        }
        return;
    };
    let plan = BOTS.iter().find(|b| b.name == "plan").unwrap();
    let sheet = plan.marked(&reference, 0).unwrap();
    assert!(sheet.total >= BAR, "{file}: {sheet:#?}");
}

/// Who knows what each reading comes to, and why, has all marks of a lesson that asks for predictions.
fn predicted(lesson: &Arc<Lesson>) {
    let mut session = Session::start(lesson);
    for (n, truth) in lesson.predicted.iter().enumerate() {
        let it = PredictReading {
            no: n + 1,
            expected: truth.shown.value.text(truth.asked.function.unit()),
            reason: truth.holds.first().copied(),
        };
        session.act(it.into()).unwrap();
    }
    let (sheet, _) = at_once(lesson, session.steps()).unwrap().unwrap();
    assert_eq!(sheet.total, 100.0, "{sheet:#?}");
}

/// Who measures every row of a test sheet, in its state, and holds it against its limit, has all marks; so has who tells
/// leads apart by the readings that tell most.
fn filled_in(lesson: &Arc<Lesson>, sheet: &TestSheet) {
    let mut session = Session::start(lesson);
    let levers = sheet.state.inputs.clone().into_iter();
    let key = std::iter::once(("key".to_owned(), sheet.state.key.clone()));
    let engine =
        (sheet.state.engine_rpm > 1600.0).then(|| ("engine".to_owned(), "fast".to_owned()));
    for (control, position) in levers.chain(key).chain(engine) {
        if !sheet.laid_out && session.bench().state().control(&control) != position {
            session
                .act(SetControl { control, position }.into())
                .unwrap();
        }
    }
    let read = |session: &mut Session, [red, black]: &[String; 2]| {
        let taken = serde_json::json!({"do": "take_reading", "function": sheet.function, "red": red, "black": black});
        let taken: Action = serde_json::from_value(taken).unwrap();
        let step = session.act(taken).unwrap().no;
        session.reading(step).unwrap().shown.value.number().abs()
    };
    for (pair, _) in shortest_way(&lesson.circuit, sheet).unwrap() {
        read(&mut session, &pair);
    }
    for (n, row) in sheet.rows.iter().enumerate() {
        let over = match &row.points {
            Some(points) => read(&mut session, points) > row.limit,
            None => true,
        };
        let is = if over { row.is[0] } else { 0 };
        let is = Some(sheet.choices[is].word.clone());
        session.act(Enter { row: n + 1, is }.into()).unwrap();
    }
    let (marks, _) = at_once(lesson, session.steps()).unwrap().unwrap();
    assert_eq!(marks.total, 100.0, "{marks:#?}");
}

/// Who wires a machine as it was thought of has all marks.
fn built(lesson: &Arc<Lesson>) {
    let mut session = Session::start(lesson);
    let there = session.bench().circuit.doc.wires.clone();
    let wires = lesson
        .circuit
        .doc
        .wires
        .iter()
        .filter(|w| !there.contains(w));
    for wire in wires.cloned() {
        session.act(Wire { wire }.into()).unwrap();
    }
    let (marks, _) = at_once(lesson, session.steps()).unwrap().unwrap();
    assert_eq!(marks.total, 100.0, "{marks:#?}");
}

/// A lesson whose proof takes minutes is made, and proven in the long checks.
fn begun(file: &str) {
    let lesson = lesson(file);
    assert!(lesson.intro.is_some(), "{file} begins with a page");
    assert!(lesson.seeks_fault(), "{file}");
}

/// Every lesson is begun, and all but the slowest are proven; those that are slow to mark are worked in the long checks
/// only, as are the proofs that take longest.
macro_rules! lessons {
    ($($check:ident $name:ident: $file:literal,)*) => {
        const LESSONS: &[(&str, &str)] = &[$((stringify!($check), $file)),*];
        $(#[test] fn $name() { let _ = $check($file); })*
    };
}

lessons! {
    worked know_your_tools: "01-know-your-tools.json",
    worked where_are_the_volts: "02-where-are-the-volts.json",
    worked one_lamp_stays_dark: "03-one-lamp-stays-dark.json",
    worked both_lamps_glow: "04-both-lamps-glow.json",
    worked will_not_crank: "05-will-not-crank.json",
    worked takes_its_fuse: "06-takes-its-fuse.json",
    worked neutral_and_still_nothing: "07-neutral-and-still-nothing.json",
    worked it_only_chatters: "08-it-only-chatters.json",
    worked cranks_slowly: "09-cranks-slowly.json",
    worked survey_the_starting_circuit: "10-survey-the-starting-circuit.json",
    worked paint_under_the_foot: "11-paint-under-the-foot.json",
    worked cranks_by_itself: "12-cranks-by-itself.json",
    worked horn_by_relay: "13-horn-by-relay.json",
    worked new_key_switch: "14-new-key-switch.json",
    worked charge_lamp_never_lit: "15-charge-lamp-never-lit.json",
    worked boils_its_battery: "16-boils-its-battery.json",
    worked survey_the_charging_circuit: "17-survey-the-charging-circuit.json",
    begun the_lamp_flickers: "18-the-lamp-flickers.json",
    worked flat_by_monday: "19-flat-by-monday.json",
    worked half_a_wave: "20-half-a-wave.json",
    worked four_unmarked_windings: "21-four-unmarked-windings.json",
    worked two_ends_of_one_wire: "22-two-ends-of-one-wire.json",
    worked the_code_points_elsewhere: "23-the-code-points-elsewhere.json",
    worked no_speed_signal: "24-no-speed-signal.json",
    begun reduced_power_after_a_bump: "25-reduced-power-after-a-bump.json",
    worked one_cylinder_of_four: "26-one-cylinder-of-four.json",
    worked wont_start: "27-wont-start.json",
    proven dies_as_the_key_returns: "28-dies-as-the-key-returns.json",
    begun misses_under_load: "29-misses-under-load.json",
    begun coil_driver_or_trigger: "30-coil-driver-or-trigger.json",
    begun warm_and_it_dies: "31-warm-and-it-dies.json",
    worked two_from_one_chafe: "32-two-from-one-chafe.json",
    worked pulled_till_tired: "33-pulled-till-tired.json",
    worked stopped_for_good: "34-stopped-for-good.json",
    worked needles_fall_and_it_dies: "35-needles-fall-and-it-dies.json",
}

#[test]
#[ignore = "takes minutes"]
fn those_that_are_slow_to_mark_are_worked_too() {
    let slow = LESSONS
        .iter()
        .filter(|(check, _)| matches!(*check, "proven" | "begun"));
    slow.for_each(|(_, file)| worked(file));
}

#[test]
fn every_lesson_is_looked_at_and_needs_only_what_came_before() {
    let course = course().unwrap();
    let files: Vec<&str> = course.lessons.iter().filter_map(|l| l.file()).collect();
    let tested: Vec<&str> = LESSONS.iter().map(|(_, file)| *file).collect();
    assert_eq!(files, tested);
    let declared: Vec<_> = files
        .iter()
        .map(|f| course_lesson(f).unwrap().skills)
        .collect();
    assert_eq!(untaught(&declared), []);
}
