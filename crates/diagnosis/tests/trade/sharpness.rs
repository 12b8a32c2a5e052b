//! Sharpness: following the reference plan ends in the fault's own ambiguity group, in about as many
//! readings as halving takes.
//!
//! `cargo test -p cimento-diagnosis --test trade sharpness -- --ignored --nocapture` does it for every single
//! fault of every demo circuit; that takes long. `CIRCUIT=sweeper-lamps` before it does it for one.

use std::sync::Arc;

use crate::common;

use std::collections::BTreeMap;

use cimento_bench::instruments::{Function, Shown};
use cimento_diagnosis::suspects::{Plan, Suspects, Table, candidates, reference_plan};
use cimento_model::circuit::{Circuit, Place};

/// Readings that each way of searching took.
#[derive(Default)]
struct Tally {
    plan: Vec<usize>,
    minutes: f64,
    halving: Vec<usize>,
    in_order: Vec<usize>,
    group: usize,
    /// The fault whose plan is the longest.
    longest: String,
}

impl Tally {
    fn print(&self, name: &str) {
        let mean = |v: &[usize]| v.iter().sum::<usize>() as f64 / v.len().max(1) as f64;
        let worst = |v: &[usize]| v.iter().copied().max().unwrap_or(0);
        println!(
            "{name}: {} faults that show; plan mean {:.2} worst {} for {} ({:.1} min); opens on a path: {} of them, halving mean {:.2} worst {}, in order mean {:.2} worst {}; mean group {:.2}",
            self.plan.len(),
            mean(&self.plan),
            worst(&self.plan),
            self.longest,
            self.minutes / self.plan.len().max(1) as f64,
            self.halving.len(),
            mean(&self.halving),
            worst(&self.halving),
            mean(&self.in_order),
            worst(&self.in_order),
            self.group as f64 / self.plan.len().max(1) as f64,
        );
    }
}

impl Tally {
    /// The row of the table in the docs, by the words that begin it.
    fn row(&self, title: &str) -> String {
        let mean = |v: &[usize]| v.iter().sum::<usize>() as f64 / v.len().max(1) as f64;
        let worst = self.plan.iter().max().unwrap_or(&0);
        let opens = match self.halving.as_slice() {
            [] => "–".to_owned(),
            halving => format!("{:.1}, {:.1}", mean(halving), mean(&self.in_order)),
        };
        format!(
            "| {title} | {} | {:.1}, {worst} | {:.1} | {:.1} | {opens} |",
            self.plan.len(),
            mean(&self.plan),
            self.minutes / self.plan.len().max(1) as f64,
            self.group as f64 / self.plan.len().max(1) as f64,
        )
    }

    /// Puts the row where the table has one for this circuit, or at its end.
    fn write(&self, name: &str) {
        let file = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/reasoning.md");
        let (machine, system) = machine_and_system(name);
        let row = self.row(&format!("{machine}, {system}"));
        let old = std::fs::read_to_string(file).unwrap();
        let mut lines: Vec<&str> = old.lines().collect();
        let begin = format!("| {machine}, {system} |");
        let at = lines.iter().position(|l| l.starts_with(&begin));
        let last = lines.iter().rposition(|l| l.starts_with("| ")).unwrap();
        match at {
            Some(at) => lines[at] = &row,
            None => lines.insert(last + 1, &row),
        }
        std::fs::write(file, lines.join("\n") + "\n").unwrap();
    }
}

/// "baggage tug" and "starting" of `baggage-tug-starting`: the machines' names are of two words or three.
fn machine_and_system(name: &str) -> (String, String) {
    let words: Vec<&str> = name.split('-').collect();
    let long = ["ground-power-unit", "twin-fire-pump", "large-fire-pump"];
    let count = match long.iter().any(|l| name.starts_with(l)) {
        true => 3,
        false if name.starts_with("sweeper") => 1,
        false => 2,
    };
    (words[..count].join(" "), words[count..].join(" "))
}

/// Follows the plan for a fault in the middle of each candidate's severities.
fn follow_every_plan(name: &str, circuit: &Arc<Circuit>) {
    let mut known: BTreeMap<String, (Suspects, Table)> = BTreeMap::new();
    let (mut tally, mut missed) = (Tally::default(), Vec::new());
    for candidate in candidates(circuit, None) {
        let faults = &candidate.grid[candidate.grid.len() / 2];
        let Some(lesson) = common::lesson(circuit, faults) else {
            continue;
        };
        let seen = format!("{:?}", lesson.symptom.trials);
        let (suspects, table) = known.entry(seen).or_insert_with(|| {
            let suspects = Suspects::after_complaint(&lesson).unwrap();
            let table = Table::new(&suspects).unwrap();
            (suspects, table)
        });
        let table = table.for_machine(&lesson).unwrap();
        let plan = reference_plan(suspects, &table).unwrap();
        let place = faults[0].place;
        let about = faults[0].about(circuit);
        let own = circuit.place_id(place).to_owned();
        let left = plan.steps.last().map_or(&plan.begin, |s| &s.left);
        if !plan.group.contains(&own) || *left != plan.group {
            missed.push(format!("{about}: left {left:?}, group {:?}", plan.group));
        }
        if tally.plan.iter().all(|n| *n < plan.steps.len()) {
            tally.longest = about.clone();
        }
        tally.plan.push(plan.steps.len());
        tally.minutes += plan.minutes;
        tally.group += plan.group.len();
        if faults[0].mode.name() == "open"
            && let Some((halving, in_order)) = along_the_path(circuit, &table, &plan, place)
        {
            tally.halving.push(halving);
            tally.in_order.push(in_order);
        }
    }
    tally.print(name);
    if std::env::var("WRITE").is_ok() {
        tally.write(name);
    }
    assert!(missed.is_empty(), "{name}: {missed:#?}");
    assert!(tally.plan.len() > 10);
}

/// Readings of DC volts along the path through an open place, until it lies between a live and a dead
/// point: by halving, and in order from the battery.
fn along_the_path(
    circuit: &Arc<Circuit>,
    table: &Table,
    plan: &Plan,
    place: Place,
) -> Option<(usize, usize)> {
    let id = circuit.place_id(place);
    let path = circuit
        .paths()
        .iter()
        .find(|p| p.stops.iter().any(|s| s.through.as_deref() == Some(id)))?;
    let state = &plan.steps.first()?.measure.state;
    let negative = circuit.point_at(0)?.id.as_str();
    let shown = |point: &str| -> Option<Shown> {
        let n = table.measurements.iter().position(|m| {
            m.question.held() == Some((Function::DC_VOLTS, Some(point), Some(negative)))
                && table.states[m.state].about == *state
        })?;
        Some(table.shown(n).unwrap())
    };
    let fed = |s: &&cimento_model::circuit::PathStop| s.reachable && !s.ground_side;
    let live: Vec<bool> = path
        .stops
        .iter()
        .filter(fed)
        .filter_map(|s| Some(shown(&s.point)?.value.number() > 6.0))
        .collect();
    let dead = live.iter().position(|l| !l)?;
    let (mut low, mut high, mut halving) = (0, live.len() - 1, 0);
    while low < high {
        let middle = usize::midpoint(low, high);
        halving += 1;
        if live[middle] {
            low = middle + 1
        } else {
            high = middle
        }
    }
    Some((halving, dead + 1))
}

#[test]
fn a_circuit_s_name_is_its_machine_and_its_system() {
    let name = |n: &str| machine_and_system(n);
    let pair = |a: &str, b: &str| (a.to_owned(), b.to_owned());
    assert_eq!(
        name("baggage-tug-starting"),
        pair("baggage tug", "starting")
    );
    assert_eq!(
        name("sweeper-speed-sensor"),
        pair("sweeper", "speed sensor")
    );
    assert_eq!(
        name("twin-fire-pump-ignition"),
        pair("twin fire pump", "ignition")
    );
}

#[test]
fn every_plan_ends_in_the_fault_s_own_group() {
    follow_every_plan("sweeper-lamps", &common::demo("sweeper-lamps"));
}

#[test]
#[ignore = "every demo circuit takes long"]
fn on_every_demo_circuit() {
    let only = std::env::var("CIRCUIT").ok();
    let names = common::demo_names().into_iter();
    let chosen = names.filter(|n| only.as_ref().is_none_or(|o| o == n));
    let each = chosen.filter(|name| {
        let follow = || follow_every_plan(name, &common::demo(name));
        std::panic::catch_unwind(follow).is_err()
    });
    let missed: Vec<String> = each.collect();
    assert!(missed.is_empty(), "{missed:?}");
}

/// A chain of n places that can open, one reading halves it: about log₂(n).
#[test]
fn a_chain_takes_about_log2_of_its_length() {
    let longest = if common::all() { 14 } else { 8 };
    for connectors in [2, 5, longest] {
        let circuit = common::chain(connectors, 1);
        let mut worst = 0;
        let mut begin = 0;
        for place in ["W1", "W4", "C2.1"] {
            let fault = common::fault(&circuit, &format!("{place}:open"));
            let lesson = common::lesson(&circuit, &[fault]).unwrap();
            let suspects = Suspects::after_complaint(&lesson).unwrap();
            let plan = reference_plan(&suspects, &Table::new(&suspects).unwrap()).unwrap();
            worst = worst.max(plan.steps.len());
            begin = plan.begin.len();
        }
        let log2 = (begin as f64).log2();
        println!("{begin} places: {worst} readings at most, log2 is {log2:.1}");
        assert!(worst as f64 <= log2 + 2.0);
    }
}
