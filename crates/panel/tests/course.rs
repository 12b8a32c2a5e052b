//! Every lesson of the demo course can be given as it stands: its plan ends in its group, hurts nobody and does what the
//! bench allows, its complaint is true, what it needs was taught before; and who works by the plan gets the marks.

#![allow(clippy::unwrap_used, clippy::expect_used)]

use std::path::PathBuf;
use std::sync::Arc;

use cimento_diagnosis::course::{CourseDoc, Proof, untaught};
use cimento_diagnosis::lesson::{Lesson, LessonDoc, Purpose};
use cimento_diagnosis::suspects::Reference;
use cimento_model::circuit::read_json;
use cimento_panel::bots::BOTS;
use serde::de::DeserializeOwned;

/// What a bot that follows the plan gets at least.
const BAR: f64 = 92.0;

fn read<T: DeserializeOwned>(file: &str) -> T {
    let folder = PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/course"));
    let text = std::fs::read_to_string(folder.join(file)).unwrap();
    read_json(&text).unwrap_or_else(|e| panic!("{file}: {e}"))
}

fn course() -> CourseDoc {
    let course: CourseDoc = read("course.json");
    course.check().unwrap();
    course
}

fn document(file: &str) -> LessonDoc {
    let course = course();
    let entry = course.lessons.iter().find(|l| l.lesson == file).unwrap();
    let mut doc: serde_json::Value = read(file);
    doc["circuit"] = read(&entry.circuit);
    read_json(&doc.to_string()).unwrap_or_else(|e| panic!("{file}: {e}"))
}

fn lesson(file: &str) -> Arc<Lesson> {
    Lesson::new(document(file)).unwrap_or_else(|e| panic!("{file}: {e}"))
}

/// A lesson that can be given, and worked.
fn stands(file: &str) {
    let lesson = lesson(file);
    assert!(lesson.intro.is_some(), "{file} begins with a page");
    if lesson.purpose == Purpose::Tools {
        return;
    }
    let reference = Reference::new(&lesson).unwrap();
    let proof = Proof::of(&reference).unwrap();
    assert_eq!(proof.hinders, [], "{file}");
    assert!(proof.group.len() <= 4, "{file}: {:?}", proof.group);
    let plan = BOTS.iter().find(|b| b.name == "plan").unwrap();
    let sheet = plan.marked(&reference, 0).unwrap();
    assert!(sheet.total >= BAR, "{file}: {sheet:#?}");
}

macro_rules! lessons {
    ($($name:ident: $file:literal,)*) => {
        const LESSONS: &[&str] = &[$($file),*];
        $(#[test] fn $name() { stands($file); })*
    };
}

lessons! {
    know_your_tools: "01-know-your-tools.json",
    where_are_the_volts: "02-where-are-the-volts.json",
    one_lamp_stays_dark: "03-one-lamp-stays-dark.json",
    both_lamps_glow: "04-both-lamps-glow.json",
    will_not_crank: "05-will-not-crank.json",
    takes_its_fuse: "06-takes-its-fuse.json",
    neutral_and_still_nothing: "07-neutral-and-still-nothing.json",
    it_only_chatters: "08-it-only-chatters.json",
    cranks_slowly: "09-cranks-slowly.json",
    survey_the_starting_circuit: "10-survey-the-starting-circuit.json",
    paint_under_the_foot: "11-paint-under-the-foot.json",
    cranks_by_itself: "12-cranks-by-itself.json",
    key_one_step_out: "13-key-one-step-out.json",
    charge_lamp_never_lit: "14-charge-lamp-never-lit.json",
    boils_its_battery: "15-boils-its-battery.json",
    survey_the_charging_circuit: "16-survey-the-charging-circuit.json",
    the_lamp_flickers: "17-the-lamp-flickers.json",
    flat_by_monday: "18-flat-by-monday.json",
    half_a_wave: "19-half-a-wave.json",
    two_ends_of_one_wire: "20-two-ends-of-one-wire.json",
    the_code_points_elsewhere: "21-the-code-points-elsewhere.json",
    no_speed_signal: "22-no-speed-signal.json",
    reduced_power_after_a_bump: "23-reduced-power-after-a-bump.json",
    one_cylinder_of_four: "24-one-cylinder-of-four.json",
    wont_start: "25-wont-start.json",
    dies_as_the_key_returns: "26-dies-as-the-key-returns.json",
    misses_under_load: "27-misses-under-load.json",
    coil_driver_or_trigger: "28-coil-driver-or-trigger.json",
    warm_and_it_dies: "29-warm-and-it-dies.json",
    two_from_one_chafe: "30-two-from-one-chafe.json",
}

#[test]
fn every_lesson_is_looked_at_and_needs_only_what_came_before() {
    let course = course();
    let files: Vec<&str> = course.lessons.iter().map(|l| l.lesson.as_str()).collect();
    assert_eq!(files, LESSONS);
    let declared: Vec<_> = files.iter().map(|f| document(f).skills).collect();
    assert_eq!(untaught(&declared), []);
}
