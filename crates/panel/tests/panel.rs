//! The marks are held against the panel. Lessons of many suspects are left to the long checks:
//! `cargo test --release -p cimento-panel -- --include-ignored`.

#![allow(clippy::unwrap_used, clippy::expect_used)]

use std::collections::HashMap;

use cimento_diagnosis::attempt::Session;
use cimento_diagnosis::marking::{Case, sheet};
use cimento_diagnosis::suspects::Reference;
use cimento_panel::bots::{BOTS, rank_correlation, sensible_with};
use cimento_panel::{Attempt, LESSONS, attempts, lesson, read_script, write_script};

#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

fn reference(name: &str) -> Reference {
    let setting = LESSONS.iter().find(|s| s.name == name).unwrap();
    Reference::new(&lesson(setting).unwrap()).unwrap()
}

/// Every band of the lesson's attempts holds, and every pair is in its order.
fn agrees(name: &str) {
    let reference = reference(name);
    let all = attempts(name).unwrap();
    assert!(!all.is_empty(), "{name} has no attempts");
    let mut totals: HashMap<&str, f64> = HashMap::new();
    let mut out = Vec::new();
    for attempt in &all {
        let Attempt { who, .. } = attempt;
        assert_eq!(attempt.lesson, name, "{who}");
        assert!(
            !attempt.why.is_empty() && !attempt.bands.is_empty(),
            "{who}"
        );
        let session = Session::replay(&reference.lesson, &attempt.actions);
        let session = session.unwrap_or_else(|e| panic!("{name}, {who}: {e}"));
        let sheet = sheet(&Case::new(&reference, session.steps()).unwrap()).unwrap();
        for band in &attempt.bands {
            let line = |of: &str| sheet.lines.iter().find(|l| l.criterion == of).unwrap();
            let marks = match band.of.as_str() {
                "total" => sheet.total,
                "safety" => -sheet.safety_takes,
                of => line(of).marks,
            };
            if !(band.least..=band.most).contains(&marks) {
                out.push(format!("{who}: {} is {marks}", band.of));
            }
        }
        totals.insert(who, sheet.total);
    }
    for attempt in &all {
        for worse in &attempt.better_than {
            let (a, b) = (totals[attempt.who.as_str()], totals[worse.as_str()]);
            if a <= b {
                out.push(format!("{} {a} is not above {worse} {b}", attempt.who));
            }
        }
    }
    assert!(out.is_empty(), "{name}:\n{}", out.join("\n"));
}

macro_rules! lessons {
    ($($test:ident $name:literal $($long:ident)?;)*) => {
        $(#[test]
        $(#[$long])?
        fn $test() {
            agrees($name);
        })*

        #[test]
        fn every_lesson_is_held_against_the_panel() {
            let tested = [$($name),*];
            for setting in LESSONS {
                let has = !attempts(setting.name).unwrap().is_empty();
                assert!(!has || tested.contains(&setting.name), "{}", setting.name);
            }
        }
    };
}

lessons! {
    tug_no_crank "tug-no-crank";
    tug_slow_crank "tug-slow-crank";
    tug_two_faults "tug-two-faults";
    tug_when_moved "tug-when-moved";
    lamps_blow_fuse "lamps-blow-fuse";
    pump_no_crank "pump-no-crank";
    loader_no_crank "loader-no-crank";
    tug_charge_lamp "tug-charge-lamp";
    lamps_share_ground "lamps-share-ground";
    cabin_weak_blower "cabin-weak-blower";
    one_injector "one-injector" ignore;
    pump_no_charge "pump-no-charge" ignore;
    speed_sensor "speed-sensor" ignore;
    throttle_sensor "throttle-sensor" ignore;
    loader_module "loader-module" ignore;
    tug_cable_check "tug-cable-check";
    lamps_are_sound "lamps-are-sound";
    tug_dies "tug-dies" ignore;
}

/// The panel is as large as it has to be to say something.
#[test]
fn the_panel_is_large() {
    let all = LESSONS.iter().flat_map(|s| attempts(s.name).unwrap());
    let all: Vec<Attempt> = all.collect();
    let pairs: usize = all.iter().map(|a| a.better_than.len()).sum();
    let mut lessons: Vec<&str> = all.iter().map(|a| a.lesson.as_str()).collect();
    lessons.dedup();
    assert!(all.len() >= 60 && pairs >= 150 && lessons.len() >= 10);
}

/// The bars for the bots, at one lesson and few runs; `cimento-panel bots` makes the table over all of them.
#[test]
fn bots_stand_in_the_order_of_good_instructors() {
    let reference = reference("tug-no-crank");
    let mean = |name: &str| {
        let bot = BOTS.iter().find(|b| b.name == name).unwrap();
        let runs = if name == "random" { 4 } else { 1 };
        let totals = (0..runs).map(|seed| bot.marked(&reference, seed).unwrap().total);
        totals.sum::<f64>() / runs as f64
    };
    assert!(mean("plan") >= 92.0);
    assert!(mean("halving") >= 80.0);
    let in_order = mean("in order");
    assert!(in_order >= 65.0 && in_order < mean("halving"));
    assert!(mean("random") <= 20.0);
    assert!(mean("battery only") <= 8.0);
    assert!(mean("right guess") <= 40.0);
    assert!(mean("wrong guess") <= 10.0);
    assert!(mean("parts changer") <= 35.0);
    let by_chance = [0.0, 0.5, 1.0].map(|chance| {
        let bot = sensible_with(chance);
        let runs = (0..4).map(|seed| bot.marked(&reference, seed).unwrap().total);
        runs.sum::<f64>()
    });
    assert_eq!(rank_correlation(&by_chance), 1.0, "{by_chance:?}");
}

/// Ranks by hand: 10, 30, 20, 20 have the ranks 1, 4, 2.5, 2.5; beside 1 to 4 that is (2.25 − 0.75) ÷ √(5 · 4.5).
#[test]
fn ranks_are_correlated() {
    assert_eq!(rank_correlation(&[1.0, 2.0, 3.0]), 1.0);
    assert_eq!(rank_correlation(&[3.0, 2.0, 1.0]), -1.0);
    assert_eq!(rank_correlation(&[5.0, 5.0]), 0.0);
    let found = rank_correlation(&[10.0, 30.0, 20.0, 20.0]);
    assert!((found - 1.5 / 22.5_f64.sqrt()).abs() < 1e-9, "{found}");
}

#[test]
fn a_script_that_is_written_reads_the_same() {
    for attempt in LESSONS.iter().flat_map(|s| attempts(s.name).unwrap()) {
        let text = write_script(&attempt.actions);
        let read = read_script(&text, 1).unwrap();
        assert_eq!(read, attempt.actions, "{}", attempt.who);
    }
}

#[test]
fn what_cannot_be_read_is_said_with_its_line() {
    for (text, line, words) in [
        ("try\njump", 2, "“jump” is no act"),
        ("\n# a word\nlook", 3, "needs one name"),
        ("read dc_volts A B = 1 : fine", 1, "expected normal"),
        ("read volts A B", 1, "volts"),
        ("judge A : normal", 1, "nothing was read at A"),
        ("repair W8 bend", 1, "bend"),
        ("set key on", 1, "set control = position"),
    ] {
        let error = read_script(text, 1).unwrap_err();
        assert_eq!(error.line, line, "{text}");
        assert!(error.message.contains(words), "{error}");
    }
    for (text, line, words) in [
        ("who: x\ntotal: many\n---\n", 2, "10 to 20"),
        ("who: x\n", 1, "---"),
        ("who\n---\n", 1, "name: text"),
        ("who: x\n---\ntry\njump\n", 4, "no act"),
    ] {
        let error = Attempt::read(text).unwrap_err();
        assert_eq!(error.line, line, "{text}");
        assert!(error.message.contains(words), "{error}");
    }
}
