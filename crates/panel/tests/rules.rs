//! Rules that marks keep whatever a student does, on attempts that are thrown together.

#![allow(clippy::unwrap_used, clippy::expect_used)]

use std::sync::LazyLock;

use cimento_diagnosis::attempt::{Action, Session};
use cimento_diagnosis::lesson::Weights;
use cimento_diagnosis::marking::{Case, MarkSheet, sheet};
use cimento_diagnosis::suspects::{Reference, TELLS_NOTHING_BITS};
use cimento_panel::{LESSONS, lesson, read_script};
use proptest::prelude::*;
use proptest::sample::select;

#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

static REFERENCE: LazyLock<Reference> = LazyLock::new(|| {
    let setting = LESSONS.iter().find(|s| s.name == "tug-no-crank").unwrap();
    Reference::new(&lesson(setting).unwrap()).unwrap()
});

const PLACES: [&str; 14] = [
    "G4", "C12.1", "C12.4", "C14.1", "C14.2", "W7", "W8", "W9", "W10", "W11", "W12", "S1", "S2",
    "K3",
];
const POINTS: [&str; 9] = [
    "F2.2", "S1.50", "C12.4f", "C14.1m", "C14.1f", "S2.2", "C14.2m", "K3.86", "K3.85",
];

/// A line of a script before the fault is named.
fn line() -> impl Strategy<Value = String> {
    let expected = select(vec!["11.45", "0", "12.6", "> 10", "5"]);
    let verdict = select(vec!["normal", "too low", "too high", "tells nothing"]);
    let place = || select(&PLACES[..]);
    prop_oneof![
        5 => (select(&POINTS[..]), expected, verdict)
            .prop_map(|(p, e, v)| format!("read dc_volts {p} BAT.- = {e} : {v}")),
        4 => prop::collection::vec(place(), 1..4).prop_map(|p| format!("clear {}", p.join(" "))),
        2 => place().prop_map(|p| format!("suspect {p}")),
        1 => place().prop_map(|p| format!("look {p}")),
        1 => select(vec!["set clutch = up", "set clutch = down", "try"]).prop_map(str::to_owned),
    ]
}

/// What comes after: a naming, a repair, a proof, or nothing.
fn end() -> impl Strategy<Value = Vec<String>> {
    let named = (select(&PLACES[..5]), any::<bool>()).prop_map(|(place, mends)| {
        let mut out = vec![format!("name {place} open")];
        if mends {
            out.extend([format!("repair {place} clean"), "try".to_owned()]);
        }
        out
    });
    let right = Just(vec![
        "name W8 open".to_owned(),
        "repair W8 join".to_owned(),
        "try".to_owned(),
        "hand in".to_owned(),
    ]);
    prop_oneof![Just(Vec::new()), named, right]
}

fn attempt() -> impl Strategy<Value = (Vec<String>, Vec<String>)> {
    let lines = prop::collection::vec(line(), 2..14);
    (lines, end()).prop_map(|(mut lines, end)| {
        lines.insert(0, "try".to_owned());
        (lines, end)
    })
}

fn actions(lines: &[String]) -> Vec<Action> {
    read_script(&lines.join("\n"), 1).unwrap()
}

fn marked(lines: &[String], end: &[String]) -> MarkSheet {
    let all = actions(&[lines, end].concat());
    let session = Session::replay(&REFERENCE.lesson, &all).unwrap();
    sheet(&Case::new(&REFERENCE, session.steps()).unwrap()).unwrap()
}

fn with(lines: &[String], at: usize, new: &[String]) -> Vec<String> {
    [&lines[..at], new, &lines[at..]].concat()
}

/// The places that are still possible after some lines.
fn left(lines: &[String]) -> Vec<String> {
    let session = Session::replay(&REFERENCE.lesson, &actions(lines)).unwrap();
    let mut suspects = REFERENCE.after_complaint.clone();
    for step in session.steps() {
        suspects.follow(step).unwrap();
    }
    let circuit = &REFERENCE.lesson.circuit;
    let places = suspects.places().into_iter();
    places.map(|p| circuit.place_id(p).to_owned()).collect()
}

/// Rounding of nine lines to a tenth.
const ROUNDED: f64 = 0.051;

proptest! {
    #![proptest_config(ProptestConfig { cases: 16, ..ProptestConfig::default() })]

    #[test]
    fn a_clearance_counts_for_what_it_is((lines, end) in attempt(), place in select(&PLACES[..]), at in 1_usize..15) {
        let at = at.min(lines.len());
        let before = marked(&lines, &end).total;
        let after = marked(&with(&lines, at, &[format!("clear {place}")]), &end).total;
        if left(&lines[..at]).iter().any(|p| p == place) {
            prop_assert!(after <= before + ROUNDED, "unjustified: {before} became {after}");
        } else {
            prop_assert!(after >= before - ROUNDED, "justified: {before} became {after}");
        }
    }

    #[test]
    fn what_is_taken_back_at_once_was_never_said((lines, end) in attempt(), place in select(&PLACES[..]), at in 1_usize..15) {
        let at = at.min(lines.len());
        // What is said of the place beside it would be what stands.
        prop_assume!(!lines.iter().any(|l| l.split(' ').any(|w| w == place)));
        let before = marked(&lines, &end).total;
        let slip = [format!("clear {place}"), format!("suspect {place}")];
        prop_assert_eq!(before, marked(&with(&lines, at, &slip), &end).total);
    }

    #[test]
    fn claims_between_two_acts_have_no_order((lines, end) in attempt(), at in 1_usize..15, places in prop::sample::subsequence(PLACES.to_vec(), 2..5)) {
        let at = at.min(lines.len());
        let claims: Vec<String> = places.iter().map(|p| format!("clear {p}")).collect();
        let turned: Vec<String> = claims.iter().rev().cloned().collect();
        let [a, b] = [claims, turned].map(|c| marked(&with(&lines, at, &c), &end).total);
        prop_assert_eq!(a, b);
    }

    #[test]
    fn a_reading_that_tells_nothing_raises_nothing((lines, end) in attempt(), at in 1_usize..15) {
        let at = at.min(lines.len());
        let useless = "read dc_volts F1.2 BAT.- = 11.47 : normal".to_owned();
        let longer = with(&lines, at, &[useless]);
        let session = Session::replay(&REFERENCE.lesson, &actions(&[longer.clone(), end.clone()].concat())).unwrap();
        let case = Case::new(&REFERENCE, session.steps()).unwrap();
        let own = case.readings.iter().find(|t| t.reading.red.as_deref() == Some("F1.2")).unwrap();
        // Where nothing else was read, the first reading is the one that counts.
        prop_assume!(own.bits.is_some_and(|bits| bits < TELLS_NOTHING_BITS));
        prop_assume!(case.readings.iter().any(|t| t.bits.is_some_and(|bits| bits >= TELLS_NOTHING_BITS)));
        let (before, after) = (marked(&lines, &end).total, marked(&longer, &end).total);
        prop_assert!(after <= before + ROUNDED, "{before} became {after}");
    }

    #[test]
    fn totals_are_marks_and_weights_shift_no_shares((lines, end) in attempt(), weights in prop::collection::vec(1.0..40.0_f64, 8)) {
        let all = actions(&[lines, end].concat());
        let session = Session::replay(&REFERENCE.lesson, &all).unwrap();
        let case = Case::new(&REFERENCE, session.steps()).unwrap();
        let plain = sheet(&case).unwrap();
        prop_assert!((0.0..=100.0).contains(&plain.total));
        let shifted = {
            let mut shifted = Weights::default();
            for (weight, line) in weights.iter().zip(&plain.lines) {
                shifted.0.insert(line.criterion.clone(), *weight);
            }
            cimento_diagnosis::marking::weighed(&case, &shifted).unwrap()
        };
        prop_assert!((0.0..=100.0).contains(&shifted.total));
        for (a, b) in plain.lines.iter().zip(&shifted.lines) {
            let share = |l: &cimento_diagnosis::marking::MarkLine| l.marks / l.out_of.max(1e-9);
            // Marks are rounded to a tenth.
            let slack = 0.06 / a.out_of.max(1e-9) + 0.06 / b.out_of.max(1e-9);
            prop_assert!((share(a) - share(b)).abs() <= 2.0 * slack, "{}", a.criterion);
        }
    }
}
