//! Leads told apart by readings: what each was said to be, whether the readings force it, and how many were spent.

use std::collections::HashMap;
use std::sync::Arc;

use super::super::sheet::Detail;
use super::{Made, line};
use crate::attempt::{Action, Answer, Step};
use crate::lesson::Lesson;
use crate::test_sheet::{
    Between, TestSheet, Unmarked, Ways, between, left_by_all, shortest_way, shows,
};
use cimento_bench::instruments::Range;
use cimento_bench::{Bench, BenchError, Shared};

/// Marks of 100 for what the leads are; the rest is for readings spent.
const LEADS: f64 = 70.0;
/// What is right and not forced by any reading earns so much.
const GUESSED: f64 = 0.5;

/// A reading between two leads, or a lead and what is marked.
struct Taken {
    step: usize,
    points: [usize; 2],
    shown: f64,
    /// What is read between every two points with that instrument in that state.
    read: Arc<Between>,
}

pub(super) fn made(
    lesson: &Lesson,
    sheet: &TestSheet,
    leads: &Unmarked,
    steps: &[Step],
) -> Result<Made, BenchError> {
    let all = [leads.points.clone(), leads.marked.clone()].concat();
    let shared = Shared::default();
    let mut bench = Bench::sharing(&lesson.circuit, &lesson.faults, &shared)?;
    bench.set(sheet.state.clone())?;
    let meter = leads.own_meter();
    let at_rest = between(&bench, &meter, (sheet.function, None), &all)?;
    let taken = taken(&mut bench, leads, &all, steps)?;
    let mut ways = Ways::all(leads);
    for it in &taken {
        ways.keep(&it.read, it.points, it.shown);
    }
    let left = ways.left();
    // With all that can be read, some may still be alike.
    let mut most = left_by_all(leads, &at_rest);
    for it in &taken {
        most.keep(&it.read, it.points, it.shown);
    }
    let possible = most.left();
    let said: Vec<Option<(usize, Option<usize>)>> = (1..=leads.points.len())
        .map(|row| {
            let entered = steps.iter().rev().find_map(|step| match &step.action {
                Action::Enter(it) if it.row == row => Some((step.no, it.is.as_deref())),
                _ => None,
            });
            entered.and_then(|(no, is)| is.map(|is| (no, sheet.choice(is))))
        })
        .collect();
    let truth = nearest(&most, &leads.class, &said);
    let text = |class: usize| sheet.choices[class].text.as_str();
    let mut forced = 0;
    let details: Vec<Detail> = (said.iter().enumerate())
        .map(|(n, said)| {
            let letter = Unmarked::letter(n);
            let is = text(truth[n]);
            let open = left[n].len() > possible[n].len();
            let Some((step, class)) = *said else {
                let text = format!("{letter}: nothing was entered; it is: {is}.");
                return Detail::new(None, text, 0.0, 1.0);
            };
            let chosen = class.map_or("", text);
            let still: Vec<&str> = left[n].iter().map(|c| text(*c)).collect();
            let (words, earned) = match (class == Some(truth[n]), open) {
                (true, false) => {
                    forced += 1;
                    (format!("{letter}: {chosen}; your readings allow nothing else."), 1.0)
                }
                (true, true) => (
                    format!(
                        "{letter}: {chosen} is right, and your readings allow as well: {}.",
                        others(&still, chosen)
                    ),
                    GUESSED,
                ),
                (false, _) if class.is_some_and(|c| left[n].contains(&c)) => (
                    format!("{letter}: “{chosen}” is wrong, though your readings allow it: measure on; it is: {is}."),
                    0.0,
                ),
                (false, _) => {
                    let by = ruled_out(leads, &taken, n, class);
                    let by = by.map_or_else(String::new, |no| format!(", which step {no} rules out"));
                    (format!("{letter}: “{chosen}” is wrong{by}; it is: {is}."), 0.0)
                }
            };
            Detail::new(Some(step), words, earned, 1.0)
        })
        .collect();
    let best = shortest_way(&lesson.circuit, sheet)?;
    let spent = spent(leads, &best, taken.len(), forced);
    let practise = match (details.iter().all(|d| d.earned == 1.0), spent.earned < 1.0) {
        (true, false) => "All of it was right: find a fault by it now.",
        (true, true) => {
            "Before each reading ask what it can show, and take the one that splits what is left best."
        }
        (false, _) => {
            "Write the papers’ resistances beside the leads, and cross out what each reading forbids."
        }
    };
    Ok(Made {
        lines: vec![
            line("leads", "Leads told apart", details, LEADS),
            line("spent", "Readings spent", vec![spent], 100.0 - LEADS),
        ],
        practise,
    })
}

/// The readings between leads, each with what could be read then: levers are all that moves here.
fn taken(
    bench: &mut Bench,
    leads: &Unmarked,
    all: &[String],
    steps: &[Step],
) -> Result<Vec<Taken>, BenchError> {
    let at = |said: Option<&str>| {
        let point = leads.point(said?)?;
        all.iter().position(|p| p == point)
    };
    // What is read is held against what that meter would read there, in the range that it was set to.
    let mut meter = leads.own_meter();
    let mut known: HashMap<_, Arc<Between>> = HashMap::new();
    let mut out = Vec::new();
    for step in steps {
        if let Action::ZeroLeads(_) = &step.action {
            meter.zeroed = true;
        }
        if let (Action::SetControl(set), Answer::Noticed { .. }) = (&step.action, &step.answer) {
            let mut state = bench.state().clone();
            state.set_control(&set.control, set.position.clone());
            bench.set(state)?;
        }
        let Answer::Reading { reading } = &step.answer else {
            continue;
        };
        let ends = [reading.red.as_deref(), reading.black.as_deref()].map(at);
        let [Some(red), Some(black)] = ends else {
            continue;
        };
        // What goes to and fro tells nothing that could be held against what would be read.
        if red == black || reading.shown.wanders.is_some() {
            continue;
        }
        let range = match &step.action {
            Action::TakeReading(it) => it.range.map(Range),
            _ => None,
        };
        let set = range.map(|r| r.0.to_bits());
        let key = (reading.function, set, meter.zeroed, bench.state().about());
        let read = match known.get(&key) {
            Some(read) => Arc::clone(read),
            None => {
                let read = Arc::new(between(bench, &meter, (reading.function, range), all)?);
                known.insert(key, Arc::clone(&read));
                read
            }
        };
        out.push(Taken {
            step: step.no,
            points: [red, black],
            shown: reading.shown.value.number(),
            read,
        });
    }
    Ok(out)
}

/// Of the ways that all readings allow, the one nearest to what was said: two windings alike may be either.
fn nearest(most: &Ways, class: &[usize], said: &[Option<(usize, Option<usize>)>]) -> Vec<usize> {
    let agrees = |way: &Vec<usize>| {
        let both = way.iter().zip(said);
        both.filter(|(is, said)| matches!(said, Some((_, Some(c))) if c == *is))
            .count()
    };
    let best = most.ways.iter().max_by_key(|way| agrees(way));
    best.cloned().unwrap_or_else(|| class.to_vec())
}

/// The first reading after which a lead can no more be what was said.
fn ruled_out(
    leads: &Unmarked,
    taken: &[Taken],
    lead: usize,
    class: Option<usize>,
) -> Option<usize> {
    let mut ways = Ways::all(leads);
    for it in taken {
        ways.keep(&it.read, it.points, it.shown);
        if !ways.ways.iter().any(|way| Some(way[lead]) == class) {
            return Some(it.step);
        }
    }
    None
}

fn others(still: &[&str], chosen: &str) -> String {
    let other: Vec<&str> = still.iter().copied().filter(|t| *t != chosen).collect();
    other.join(", ")
}

/// Readings spent against the way that reads what tells most next; nothing where the leads are not told apart.
fn spent(leads: &Unmarked, best: &[([String; 2], f64)], count: usize, forced: usize) -> Detail {
    let way: Vec<String> = best
        .iter()
        .map(|([a, b], ohms)| format!("{a} to {b} {}", shows(*ohms)))
        .collect();
    let short = format!("{} are enough: {}", best.len(), way.join(", "));
    let told = forced as f64 / leads.points.len() as f64;
    let share = match count {
        0 => 0.0,
        n => (best.len() as f64 / n as f64).min(1.0),
    };
    let text = match told < 1.0 {
        true => format!("{count} readings, and they do not force every lead; {short}."),
        false => format!("{count} readings; {short}."),
    };
    Detail::new(None, text, told * share, 1.0)
}
