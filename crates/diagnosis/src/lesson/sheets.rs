//! Test sheets worth working on a circuit, for the instructor who chooses among them.

use std::collections::BTreeSet;
use std::sync::Arc;

use cimento_bench::instruments::{Function, take};
use cimento_bench::{Bench, BenchError, Shared};
use cimento_model::circuit::{Circuit, Place};
use cimento_model::faults::Fault;
use cimento_model::state::{ENGINE, ENGINE_POSITIONS, OperatingState};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::Task;
use super::trial::{Trial, condition_of};
use crate::key::KeyRow;
use crate::limits::Limits;
use crate::test_sheet::{
    CheckSheet, Half, Identify, LONGEST, Survey, TestSheet, beside_rest, check_sheet, drops,
    identification, in_full, survey,
};

/// A heavy circuit carries at least so many amperes, and what carries less than this share of it is none of it.
const HEAVY_A: f64 = 5.0;
const SHARE: f64 = 0.2;
/// A harness with fewer runs is no sheet, nor a plug with fewer things behind it.
const FEWEST_RUNS: usize = 3;
const FEWEST_THINGS: usize = 3;

/// Test sheets that can be worked on a machine with some faults.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ProposedSheets {
    pub surveys: Vec<ProposedSheet>,
    pub checks: Vec<ProposedSheet>,
    pub identify: Vec<ProposedSheet>,
}

/// A test sheet that can be worked.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ProposedSheet {
    /// "start · clutch down, up to 172 A".
    pub title: String,
    pub task: Task,
    pub rows: Vec<ProposedRow>,
}

/// A row of it, with what it is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ProposedRow {
    pub title: String,
    pub reads: String,
    pub is: String,
    pub faulty: bool,
}

impl ProposedSheet {
    fn of(title: String, task: Task, sheet: &TestSheet) -> Self {
        let rows = sheet.rows.iter().map(|row| ProposedRow {
            title: row.title.clone(),
            reads: row.reads.clone(),
            is: sheet.truth(row),
            faulty: row.faulty,
        });
        Self {
            title,
            task,
            rows: rows.collect(),
        }
    }
}

/// What can be worked on a circuit with some faults; a sheet that shows none of one of them is left out.
///
/// # Errors
/// [`BenchError`] when the circuit has no solution.
pub fn propose_sheets(
    circuit: &Arc<Circuit>,
    faults: &[Fault],
    limits: &Limits,
) -> Result<ProposedSheets, BenchError> {
    Ok(ProposedSheets {
        surveys: surveys(circuit, faults, limits)?,
        checks: checks(circuit, faults, limits),
        identify: match faults {
            [] => plugs(circuit),
            _ => Vec::new(),
        },
    })
}

/// States in which something heavy works, each with what carries it.
fn surveys(
    circuit: &Arc<Circuit>,
    faults: &[Fault],
    limits: &Limits,
) -> Result<Vec<ProposedSheet>, BenchError> {
    let mut out: Vec<ProposedSheet> = Vec::new();
    let shared = Shared::default();
    for state in working(circuit) {
        let mut bench = Bench::sharing(circuit, &[], &shared)?;
        bench.set(state.clone())?;
        let amps = |id: &str| {
            let reading = take(&bench, Function::CLAMP_AMPS, None, Some(id), None);
            reading.map_or(0.0, |r| r.shown.value.number().abs())
        };
        let wires = circuit.doc.wires.iter().map(|w| amps(&w.id));
        let most = wires.fold(0.0, f64::max);
        if most < HEAVY_A {
            continue;
        }
        let Ok(mut drops) = drops(circuit, faults, limits, &state) else {
            continue;
        };
        // What is lost within a machine that charges is how it is made.
        drops.retain(|row| !row.place.as_deref().is_some_and(|id| charges(circuit, id)));
        let faulty = |id: &str| {
            let at = circuit.place(id);
            faults.iter().any(|f| f.places().any(|p| Some(p) == at))
        };
        let heavy = heavy_nodes(circuit, |id| amps(id) >= SHARE * most);
        let carries = |row: &KeyRow| {
            let ends = [&row.red, &row.black].map(|id| circuit.test_point(id).map(|p| p.node));
            let wire = |id: &str| circuit.doc.wires.iter().any(|w| w.id == id);
            let light = |id: &str| wire(id) && amps(id) < SHARE * most;
            ends.into_iter().flatten().any(|n| heavy.contains(&n))
                && !row.place.as_deref().is_some_and(light)
        };
        let mut seen: Vec<String> = Vec::new();
        for (what, whole) in [
            ("what carries most", false),
            ("all that carries current", true),
        ] {
            let of = drops
                .iter()
                .filter(|row| whole || carries(row) || row.place.as_deref().is_some_and(faulty));
            let of: Vec<String> = of
                .filter_map(|row| row.place.clone())
                .take(LONGEST)
                .collect();
            if of == seen {
                continue;
            }
            seen.clone_from(&of);
            let state = state.clone();
            let asked = Survey { state, of };
            if let Ok(sheet) = survey(circuit, faults, limits, &asked) {
                let title = format!(
                    "{}, up to {most:.0} A: {what}",
                    beside_rest(circuit, &asked.state)
                );
                out.push(ProposedSheet::of(
                    title,
                    Task::Survey(Box::new(asked)),
                    &sheet,
                ));
            }
        }
    }
    Ok(out)
}

fn charges(circuit: &Circuit, place: &str) -> bool {
    let part = circuit.part(place);
    part.is_some_and(|n| circuit.parts[n].kind.charges())
}

/// The ends of some wires.
fn heavy_nodes(circuit: &Circuit, carries: impl Fn(&str) -> bool) -> BTreeSet<usize> {
    let wires = circuit.doc.wires.iter().filter(|w| carries(&w.id));
    let ends = wires.filter_map(|w| match circuit.place(&w.id)? {
        Place::Conductor(n) => Some([circuit.conductors[n].a, circuit.conductors[n].b]),
        Place::Part(_) | Place::Pin(..) => None,
    });
    ends.flatten().collect()
}

/// The states of a trial, and with everything switched on beside the running engine, each once.
fn working(circuit: &Circuit) -> Vec<OperatingState> {
    let controls = circuit.controls();
    let trial = OperatingState::trial(circuit);
    let mut out: Vec<OperatingState> = Vec::new();
    let mut add = |state: OperatingState| {
        if !out.contains(&state) {
            out.push(state);
        }
    };
    for tried in trial {
        add(in_full(circuit, &tried.state));
    }
    if controls.iter().any(|c| c.name == ENGINE) {
        let mut all = OperatingState::at_rest(circuit);
        for control in controls.iter().filter(|c| c.name != ENGINE) {
            // The last position of a key is the one that cranks.
            let running = control.positions.iter().rev().nth(1);
            let at = match (control.name.as_str(), running) {
                ("key", Some(running)) => running,
                _ => &control.worked,
            };
            all.set_control(&control.name, at.clone());
        }
        all.set_control(ENGINE, ENGINE_POSITIONS[2].to_owned());
        if all.check(circuit).is_ok() {
            add(in_full(circuit, &all));
        }
    }
    out
}

/// Each harness by itself, and all that have runs together.
fn checks(circuit: &Arc<Circuit>, faults: &[Fault], limits: &Limits) -> Vec<ProposedSheet> {
    let trial = Trial {
        circuit,
        condition: condition_of(faults),
    };
    let all = circuit.conductors.iter().filter_map(|c| c.harness.clone());
    let all: Vec<String> = all.collect::<BTreeSet<_>>().into_iter().collect();
    let has_runs =
        |h: &String| !crate::test_sheet::runs(circuit, std::slice::from_ref(h)).is_empty();
    let all: Vec<String> = all.into_iter().filter(has_runs).collect();
    let each = all
        .iter()
        .map(|h| (format!("harness {h}"), vec![h.clone()]));
    let whole = (all.len() > 1).then(|| ("all harnesses".to_owned(), all.clone()));
    let asked: Vec<(String, Vec<String>)> = whole.into_iter().chain(each).collect();
    let under = |state| trial.under_condition(state);
    let sheets = asked.into_iter().filter_map(|(title, harnesses)| {
        let asked = CheckSheet { harnesses };
        let sheet = check_sheet(circuit, faults, limits, &under, &asked).ok()?;
        let title = format!("{title}, {} runs", sheet.rows.len());
        (sheet.rows.len() >= FEWEST_RUNS)
            .then(|| ProposedSheet::of(title, Task::CheckSheet(asked), &sheet))
    });
    sheets.collect()
}

/// The halves of plugs behind which are things that an ohmmeter tells apart.
fn plugs(circuit: &Arc<Circuit>) -> Vec<ProposedSheet> {
    let ids = circuit.doc.connectors.keys();
    let halves = ids.flat_map(|id| [(id, Half::Male), (id, Half::Female)]);
    let sheets = halves.filter_map(|(connector, half)| {
        let asked = Identify {
            connector: connector.clone(),
            half,
        };
        let sheet = identification(circuit, 0, &asked).ok()?;
        let title = format!(
            "{connector}, the half “{}”: {} leads",
            half.letter(),
            sheet.rows.len()
        );
        (sheet.choices.len() >= FEWEST_THINGS)
            .then(|| ProposedSheet::of(title, Task::Identify(asked), &sheet))
    });
    sheets.collect()
}
