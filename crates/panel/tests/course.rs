//! Every lesson of the demo course can be given as it stands: its plan ends in its group, hurts nobody and does what the
//! bench allows, its complaint is true, what it needs was taught before; and who works by the plan gets the marks.

#![allow(clippy::unwrap_used, clippy::expect_used)]

use std::sync::Arc;

use cimento_diagnosis::attempt::Session;
use cimento_diagnosis::attempt::actions::PredictReading;
use cimento_diagnosis::course::{Proof, untaught};
use cimento_diagnosis::lesson::{Lesson, Purpose};
use cimento_diagnosis::marking::on_paper;
use cimento_diagnosis::suspects::Reference;
use cimento_panel::bots::BOTS;
use cimento_panel::{course, course_lesson};

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
        if lesson.purpose != Purpose::Tools {
            predicted(&lesson);
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
    let (sheet, _) = on_paper(lesson, session.steps()).unwrap();
    assert_eq!(sheet.total, 100.0, "{sheet:#?}");
}

/// Every lesson is proven; those that are slow to mark are worked in the long checks only.
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
    proven survey_the_starting_circuit: "10-survey-the-starting-circuit.json",
    worked paint_under_the_foot: "11-paint-under-the-foot.json",
    worked cranks_by_itself: "12-cranks-by-itself.json",
    worked new_key_switch: "13-new-key-switch.json",
    worked charge_lamp_never_lit: "14-charge-lamp-never-lit.json",
    worked boils_its_battery: "15-boils-its-battery.json",
    proven survey_the_charging_circuit: "16-survey-the-charging-circuit.json",
    proven the_lamp_flickers: "17-the-lamp-flickers.json",
    worked flat_by_monday: "18-flat-by-monday.json",
    worked half_a_wave: "19-half-a-wave.json",
    worked two_ends_of_one_wire: "20-two-ends-of-one-wire.json",
    worked the_code_points_elsewhere: "21-the-code-points-elsewhere.json",
    worked no_speed_signal: "22-no-speed-signal.json",
    proven reduced_power_after_a_bump: "23-reduced-power-after-a-bump.json",
    worked one_cylinder_of_four: "24-one-cylinder-of-four.json",
    worked wont_start: "25-wont-start.json",
    proven dies_as_the_key_returns: "26-dies-as-the-key-returns.json",
    proven misses_under_load: "27-misses-under-load.json",
    proven coil_driver_or_trigger: "28-coil-driver-or-trigger.json",
    proven warm_and_it_dies: "29-warm-and-it-dies.json",
    proven two_from_one_chafe: "30-two-from-one-chafe.json",
}

#[test]
#[ignore = "takes minutes"]
fn those_that_are_slow_to_mark_are_worked_too() {
    let slow = LESSONS.iter().filter(|(check, _)| *check == "proven");
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
