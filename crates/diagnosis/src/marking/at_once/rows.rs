//! A test sheet row by row: what was measured, and what was said of it.

use std::collections::{HashMap, VecDeque};

use super::super::sheet::Detail;
use super::{Made, line};
use crate::attempt::{Action, Answer, Step};
use crate::test_sheet::{Row, TestSheet};
use cimento_bench::instruments::Reading;
use cimento_model::units::Quantity;

/// Marks of 100 for what was measured; the rest is for what was said.
const READINGS: f64 = 40.0;
/// What is wrong weighs as much, all together, as all that is good: "good" in every row finds nothing.
const FAULTY: f64 = 0.5;

/// What was said of a row, and the step.
struct Said<'a> {
    step: usize,
    is: &'a str,
}

pub(super) fn made(sheet: &TestSheet, steps: &[Step]) -> Made {
    let covered = covered(sheet, steps);
    let across = across(sheet, steps);
    let rows = || sheet.rows.iter().enumerate();
    let each = READINGS / sheet.rows.len() as f64;
    let readings = rows().map(|(n, row)| match covered[n] {
        Some(step) => Detail::new(Some(step), format!("{}: measured.", row.title), each, each),
        None => Detail::new(None, format!("{}: left out.", row.title), 0.0, each),
    });
    let readings: Vec<Detail> = readings.collect();
    let faulty = sheet.rows.iter().filter(|r| r.faulty).count() as f64;
    let good = sheet.rows.len() as f64 - faulty;
    // Where all are alike, they have all of the marks.
    let share = |all: f64, part: f64, other: f64| {
        let part = if other == 0.0 { 1.0 } else { part };
        part * (100.0 - READINGS) / all
    };
    let weight = |row: &Row| match row.faulty {
        true => share(faulty, FAULTY, good),
        false => share(good, 1.0 - FAULTY, faulty),
    };
    let verdicts = rows().map(|(n, row)| {
        let said = last(steps, n + 1);
        let measured = [covered[n].is_some(), across[n]];
        verdict(sheet, row, said.as_ref(), measured, weight(row))
    });
    let verdicts: Vec<Detail> = verdicts.collect();
    let practise = practise(sheet, &readings, &verdicts);
    Made {
        lines: vec![
            line("readings", "Readings", readings, READINGS),
            line("verdicts", "Verdicts", verdicts, 100.0 - READINGS),
        ],
        practise,
    }
}

fn last(steps: &[Step], row: usize) -> Option<Said<'_>> {
    let said = steps.iter().rev().find_map(|step| match &step.action {
        Action::Enter(it) if it.row == row => Some((step.no, it.is.as_deref())),
        _ => None,
    });
    said.and_then(|(step, is)| Some(Said { step, is: is? }))
}

fn verdict(
    sheet: &TestSheet,
    row: &Row,
    said: Option<&Said<'_>>,
    [along, across]: [bool; 2],
    weight: f64,
) -> Detail {
    let truth = sheet.truth(row);
    let reads = match row.reads.is_empty() {
        true => String::new(),
        false => format!(" (it reads {}, {})", row.reads, row.expects),
    };
    let Some(said) = said else {
        let text = format!("{}: nothing was entered; it is: {truth}{reads}.", row.title);
        return Detail::new(None, text, 0.0, weight);
    };
    let chosen = sheet.choice(said.is);
    let text = chosen.map_or(said.is, |n| sheet.choices[n].text.as_str());
    let right = chosen.is_some_and(|n| row.is.contains(&n));
    let joined = chosen.is_some_and(|n| sheet.choices[n].joined);
    let (text, earned) = match (right, if joined { across } else { along }) {
        (true, true) => (format!("{}: {text}{reads}.", row.title), weight),
        (true, false) if joined => (
            format!(
                "{}: {text} is right, and was said without a reading to what it is joined to.",
                row.title
            ),
            0.0,
        ),
        (true, false) => (
            format!(
                "{}: {text} is right, and was said without a reading.",
                row.title
            ),
            0.0,
        ),
        (false, _) => {
            let what = match (row.faulty, chosen.is_some_and(|n| n == 0)) {
                (true, true) => "missed",
                (true, false) => "not what is wrong there",
                (false, _) => "a false alarm",
            };
            (
                format!("{}: “{text}” is {what}; it is: {truth}{reads}.", row.title),
                0.0,
            )
        }
    };
    Detail::new(Some(said.step), text, earned, weight)
}

/// Which rows were measured, each with the step: by a reading between their ends, or by one along several of them that
/// lost no more than each may.
fn covered(sheet: &TestSheet, steps: &[Step]) -> Vec<Option<usize>> {
    let ends: Vec<Option<[&str; 2]>> = (sheet.rows.iter())
        .map(|r| r.points.as_ref().map(|[a, b]| [a.as_str(), b.as_str()]))
        .collect();
    let state = sheet.state.about();
    let mut out = vec![None; sheet.rows.len()];
    for step in steps {
        let Answer::Reading { reading } = &step.answer else {
            continue;
        };
        let Some([red, black]) = along(sheet, &state, reading) else {
            continue;
        };
        let way = way(&ends, red, black);
        let shown = reading.shown.value.number().abs();
        for &n in &way {
            if way.len() == 1 || shown <= sheet.rows[n].limit {
                out[n] = out[n].or(Some(step.no));
            }
        }
    }
    out
}

/// Of which rows a reading to what they should not be joined to shows that they are.
fn across(sheet: &TestSheet, steps: &[Step]) -> Vec<bool> {
    let state = sheet.state.about();
    let shows = |row: &Row, reading: &Reading| {
        let on = |point: &str| row.hangs_with.iter().any(|p| p == point);
        let ends = along(sheet, &state, reading);
        let leaves = ends.is_some_and(|[red, black]| on(red) != on(black));
        leaves && reading.shown.value != Quantity::OverLimit
    };
    let seen = |row: &Row| {
        steps.iter().any(|step| match &step.answer {
            Answer::Reading { reading } => shows(row, reading),
            _ => false,
        })
    };
    sheet.rows.iter().map(seen).collect()
}

/// The points of a reading that counts for a sheet: its instrument, in its state.
fn along<'r>(sheet: &TestSheet, state: &str, reading: &'r Reading) -> Option<[&'r str; 2]> {
    // What is laid out may be moved, warmed or wetted to find what hides.
    let in_state = sheet.laid_out || reading.state == state;
    let counts = in_state && reading.function == sheet.function;
    counts.then_some([reading.red.as_deref()?, reading.black.as_deref()?])
}

/// The rows that lie between two points, in order; none where no way through the rows leads from one to the other.
fn way(ends: &[Option<[&str; 2]>], from: &str, to: &str) -> Vec<usize> {
    let mut came: HashMap<&str, (usize, &str)> = HashMap::new();
    let mut next = VecDeque::from([from]);
    while let Some(at) = next.pop_front() {
        if at == to {
            break;
        }
        for (n, end) in ends.iter().enumerate() {
            let Some([a, b]) = end else { continue };
            for (here, there) in [(a, b), (b, a)] {
                if *here == at && *there != from && !came.contains_key(there) {
                    came.insert(there, (n, here));
                    next.push_back(there);
                }
            }
        }
    }
    let (mut out, mut at) = (Vec::new(), to);
    while let Some(&(n, before)) = came.get(at) {
        out.push(n);
        at = before;
    }
    out
}

fn practise(sheet: &TestSheet, readings: &[Detail], verdicts: &[Detail]) -> &'static str {
    let lost = |all: &[Detail]| all.iter().any(|d| d.earned < d.possible);
    let alarm = sheet.rows.iter().zip(verdicts);
    let mut alarm = alarm.filter(|(row, d)| !row.faulty && d.earned == 0.0 && d.step.is_some());
    match () {
        () if lost(readings) => {
            "Measure every piece before anything is said of it: one reading along several pieces that loses hardly anything clears them all."
        }
        () if alarm.next().is_some() => {
            "Hold each reading against its limit before you call a piece bad: what is renewed for nothing is paid for."
        }
        () if lost(verdicts) => {
            "What loses more than it may is cleaned where it is a joint, and renewed where it is a cable or a contact."
        }
        () => "All of it was right: find a fault by it now.",
    }
}
