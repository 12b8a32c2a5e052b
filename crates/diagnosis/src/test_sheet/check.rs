//! The check sheet of a harness: off the machine, each run from end to end by the ohmmeter.

use std::sync::Arc;

use cimento_bench::instruments::{Function, read};
use cimento_bench::{Bench, Shared};
use cimento_model::circuit::{Circuit, HarnessRun, Place, Problem};
use cimento_model::faults::Fault;
use cimento_model::state::OperatingState;
use cimento_model::units::{Quantity, Unit};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Choice, LONGEST, Row, TestSheet, choices};
use crate::limits::Limits;

const GOOD: usize = 0;
const OPEN: usize = 1;
const HIGH: usize = 2;
const SHORTED: usize = 3;
const CROSSED: usize = 4;

/// What a run of a harness may have more than its copper, in ohms: what leads and cavities add; common practice.
const MOST_OHMS: f64 = 1.0;

/// Harnesses off the machine, checked run by run.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CheckSheet {
    /// The harnesses that are checked, in the order of the sheet.
    pub harnesses: Vec<String>,
}

/// What may be said of a run.
fn verdicts() -> Vec<Choice> {
    let mut out = choices(&[
        ("good", "good"),
        ("open", "open"),
        ("high", "high resistance"),
        ("shorted", "joined to metal or to a neighbour"),
        ("crossed", "ends in another cavity"),
    ]);
    for n in [SHORTED, CROSSED] {
        out[n].joined = true;
    }
    out
}

/// Everything that is plugged in is apart, every ground undone, and every part off: only conductors are left.
fn laid_out(circuit: &Circuit) -> OperatingState {
    let mut state = OperatingState::at_rest(circuit);
    let connectors = circuit.doc.connectors.keys();
    state.unplugged = connectors.chain(circuit.undone()).cloned().collect();
    state.removed = circuit.parts.iter().map(|p| p.id.clone()).collect();
    state
}

/// The runs of some harnesses of which a lead reaches both ends.
pub(crate) fn runs(circuit: &Circuit, harnesses: &[String]) -> Vec<HarnessRun> {
    let reached = |id: &str| circuit.test_point(id).is_some();
    let mut out: Vec<HarnessRun> = circuit.harness_runs();
    out.retain(|run| reached(&run.from) && reached(&run.to) && harnesses.contains(&run.harness));
    out.sort_by_key(|run| harnesses.iter().position(|h| *h == run.harness));
    out
}

/// The sheet of some harnesses.
///
/// # Errors
/// What it asks for that is not there, with its path; a fault that none of its rows shows.
pub(crate) fn check_sheet(
    circuit: &Arc<Circuit>,
    faults: &[Fault],
    limits: &Limits,
    under_condition: &dyn Fn(OperatingState) -> OperatingState,
    asked: &CheckSheet,
) -> Result<TestSheet, Problem> {
    for (n, harness) in asked.harnesses.iter().enumerate() {
        let path = format!("task.harnesses[{n}]");
        if asked.harnesses[..n].contains(harness) {
            return Err(Problem::refused(
                path,
                format!("{harness} is checked twice"),
            ));
        }
        if runs(circuit, std::slice::from_ref(harness)).is_empty() {
            let text = format!("no run of a harness {harness} has two ends that a lead reaches");
            return Err(Problem::refused(path, text));
        }
    }
    let runs = runs(circuit, &asked.harnesses);
    if !(1..=LONGEST).contains(&runs.len()) {
        let text = format!(
            "expected harnesses with 1 to {LONGEST} runs: these have {}",
            runs.len()
        );
        return Err(Problem::refused("task.harnesses", text));
    }
    let unsolved = |e: cimento_bench::BenchError| Problem::refused("circuit", e.to_string());
    let state = laid_out(circuit);
    let shared = Shared::default();
    // What shows only when it is moved, or warm, is found by whoever moves or warms it.
    let standing = |faults: &[Fault]| {
        let mut bench = Bench::sharing(circuit, faults, &shared)?;
        bench.set(under_condition(state.clone()))?;
        Ok(bench)
    };
    let healthy = standing(&[]).map_err(unsolved)?;
    let faulted = standing(faults).map_err(unsolved)?;
    let all = circuit.harness_runs();
    let mut rows = Vec::new();
    for run in &runs {
        // Every run of what hangs together begins at the same end.
        let together = all.iter().filter(|other| other.from == run.from);
        let mut hangs_with: Vec<String> = together.map(|other| other.to.clone()).collect();
        hangs_with.push(run.from.clone());
        let ohms = |bench: &Bench| {
            let [from, to] = [&run.from, &run.to].map(|id| circuit.test_point(id));
            let shown = read(bench, Function::OHMS, None, from, to)?.shown;
            Ok(shown.value)
        };
        let (should, reads) = ohms(&healthy)
            .and_then(|should| Ok((should, ohms(&faulted)?)))
            .map_err(unsolved)?;
        rows.push(Row {
            hangs_with,
            ..row(circuit, faults, limits, run, should, reads)
        });
    }
    let shows = |fault: &Fault| {
        let mut places = fault.places().map(|p| circuit.place_id(p));
        places.any(|id| {
            let mut of = runs.iter().zip(&rows);
            of.any(|(run, row)| row.faulty && run.through.iter().any(|c| c == id))
        })
    };
    if let Some(n) = faults.iter().position(|f| !shows(f)) {
        let text = format!(
            "no row of the sheet shows {}: check its harness too, or choose a fault that an ohmmeter finds in a wire",
            faults[n].about(circuit)
        );
        return Err(Problem::refused(format!("faults[{n}]"), text));
    }
    Ok(TestSheet {
        about: "The harness lies off the machine, every plug apart: measure each run from end to end, and to metal and its neighbours, and say what it is.".to_owned(),
        choices: verdicts(),
        rows,
        function: Function::OHMS,
        state,
        laid_out: true,
        leads: None,
    })
}

fn row(
    circuit: &Circuit,
    faults: &[Fault],
    limits: &Limits,
    run: &HarnessRun,
    should: Quantity,
    reads: Quantity,
) -> Row {
    let most = should.number() + MOST_OHMS.max(limits.ohms_share * should.number());
    let passes = |n: usize| run.through.contains(&circuit.conductors[n].id);
    let mut is = Vec::new();
    for fault in faults {
        let Some(how) = fault.mode.of_conductor() else {
            continue;
        };
        let mut places = fault.places();
        if !places.any(|p| matches!(p, Place::Conductor(n) if passes(n))) {
            continue;
        }
        match fault.mode.crossed_with() {
            Some(_) => is.push(CROSSED),
            None if how.taps() => is.push(SHORTED),
            None => {}
        }
    }
    match reads {
        Quantity::OverLimit => is.push(OPEN),
        Quantity::Number(ohms) if ohms > most => is.push(HIGH),
        Quantity::Number(_) => {}
    }
    let faulty = !is.is_empty();
    if !faulty {
        is.push(GOOD);
    }
    is.sort_unstable();
    is.dedup();
    let area = run.area_mm2.map(|a| format!(" {a} mm²"));
    Row {
        title: format!("{} to {}", run.from, run.to),
        points: Some([run.from.clone(), run.to.clone()]),
        about: format!(
            "{}{}, {}",
            run.colors.join(", "),
            area.unwrap_or_default(),
            run.through.join(" ")
        ),
        expects: format!(
            "less than {}",
            Quantity::Number(most.max(MOST_OHMS)).text(Unit::Ohm)
        ),
        limit: most.max(MOST_OHMS),
        is,
        faulty,
        reads: reads.text(Unit::Ohm),
        hangs_with: Vec::new(),
    }
}
