//! A survey: the drops of a heavy circuit while it works, piece by piece, and what becomes of each piece.

use std::sync::Arc;

use cimento_bench::instruments::Function;
use cimento_bench::{Bench, Shared};
use cimento_model::circuit::{Circuit, ConductorKind, Place, Problem};
use cimento_model::faults::Fault;
use cimento_model::state::{AT_REST, OperatingState};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Choice, LONGEST, Row, TestSheet, choices};
use crate::key::{KeyRow, RowKind, answer_key_between, mid};
use crate::limits::Limits;
use crate::repairs::{RepairKind, cures};

/// What a survey says of a piece.
const KEEP: usize = 0;
const CLEAN: usize = 1;
const RENEW: usize = 2;

/// A limit is rounded up to so many volts.
const STEP_V: f64 = 0.05;

/// The drops of a circuit, piece by piece, in one state of the machine.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Survey {
    /// The state of the machine in which it is surveyed.
    pub state: OperatingState,
    /// The places that are surveyed: wires, cavities, grounds, contacts, in the order of the sheet.
    pub of: Vec<String>,
}

/// A state with every lever that it says nothing of at rest.
pub(crate) fn in_full(circuit: &Circuit, state: &OperatingState) -> OperatingState {
    let mut inputs = OperatingState::at_rest(circuit).inputs;
    inputs.extend(state.inputs.clone());
    OperatingState {
        inputs,
        ..state.clone()
    }
}

/// What of a state is otherwise than at rest, in words: "start · clutch down".
pub(crate) fn beside_rest(circuit: &Circuit, state: &OperatingState) -> String {
    let rest = OperatingState::at_rest(circuit).about();
    let about = state.about();
    let usual: Vec<&str> = rest.split(" · ").collect();
    let words: Vec<&str> = about.split(" · ").filter(|w| !usual.contains(w)).collect();
    match words.is_empty() {
        true => AT_REST.to_owned(),
        false => words.join(" · "),
    }
}

/// What may be said of a piece.
fn verdicts() -> Vec<Choice> {
    choices(&[
        ("keep", "keep"),
        ("clean", "clean and tighten"),
        ("renew", "renew"),
    ])
}

/// The drops along every place that carries current in a state, healthy and as it is, from the supply down.
///
/// # Errors
/// A sentence when the machine cannot be brought into that state.
pub(crate) fn drops(
    circuit: &Arc<Circuit>,
    faults: &[Fault],
    limits: &Limits,
    state: &OperatingState,
) -> Result<Vec<KeyRow>, String> {
    state.check(circuit).map_err(|problems| {
        let text: Vec<String> = problems.iter().map(|p| p.message.clone()).collect();
        text.join("; ")
    })?;
    let shared = Shared::default();
    let standing = |faults: &[Fault]| {
        let mut bench = Bench::sharing(circuit, faults, &shared)?;
        bench.set(state.clone())?;
        Ok(bench)
    };
    let both = standing(&[])
        .and_then(|healthy| Ok::<_, cimento_bench::BenchError>((healthy, standing(faults)?)));
    let found = both.and_then(|(healthy, faulted)| {
        let mut rows = answer_key_between(&healthy, &faulted, limits, &[Function::DC_VOLTS])?;
        rows.retain(|row| row.kind == RowKind::Drop);
        let stands = |row: &KeyRow| {
            let point = circuit.test_point(&row.red);
            point.map_or(0.0, |p| mid(&healthy, p.node))
        };
        rows.sort_by(|a, b| stands(b).total_cmp(&stands(a)));
        Ok(rows)
    });
    found.map_err(|e| e.to_string())
}

/// What a place may lose, whatever it loses on a healthy machine of this make.
fn limit(circuit: &Circuit, limits: &Limits, place: Place, healthy_v: f64) -> f64 {
    let usual = match place {
        Place::Conductor(n) => match circuit.conductors[n].kind {
            ConductorKind::Wire => limits.wire_v,
            ConductorKind::Ground | ConductorKind::Mount => limits.ground_v,
            ConductorKind::Cavity | ConductorKind::Splice => limits.connection_v,
        },
        Place::Part(_) | Place::Pin(..) => limits.contact_v,
    };
    // A long thin cable under a heavy load is made so.
    let most = match healthy_v.abs() <= usual {
        true => usual,
        false => healthy_v.abs() + usual,
    };
    (most / STEP_V - 1e-9).ceil() * STEP_V
}

/// What becomes of a place that loses too much: what cures its fault, or else what is usual for its kind.
fn remedies(circuit: &Circuit, faults: &[Fault], place: Place) -> Vec<usize> {
    let at = faults.iter().filter(|f| f.places().any(|p| p == place));
    let mut out: Vec<usize> = at
        .flat_map(|f| {
            let cleaned = cures(circuit, place, f.mode.spec, RepairKind::Clean);
            let new = [RepairKind::Renew, RepairKind::Join]
                .map(|how| cures(circuit, place, f.mode.spec, how));
            let new = new.contains(&true);
            [cleaned.then_some(CLEAN), new.then_some(RENEW)]
        })
        .flatten()
        .collect();
    out.sort_unstable();
    out.dedup();
    if out.is_empty() {
        let joint = matches!(place, Place::Conductor(n) if circuit.conductors[n].kind != ConductorKind::Wire);
        out.push(if joint { CLEAN } else { RENEW });
    }
    out
}

/// The sheet of a survey.
///
/// # Errors
/// What it asks for that is not there, with its path; a fault that none of its rows shows.
pub(crate) fn survey(
    circuit: &Arc<Circuit>,
    faults: &[Fault],
    limits: &Limits,
    asked: &Survey,
) -> Result<TestSheet, Problem> {
    if !(1..=LONGEST).contains(&asked.of.len()) {
        let text = format!("expected 1 to {LONGEST} places to survey");
        return Err(Problem::refused("task.of", text));
    }
    let state = in_full(circuit, &asked.state);
    let drops = drops(circuit, faults, limits, &state)
        .map_err(|text| Problem::refused("task.state", text))?;
    let mut rows: Vec<Row> = Vec::new();
    for (n, id) in asked.of.iter().enumerate() {
        let refuse = |text: String| Problem::refused(format!("task.of[{n}]"), text);
        let Some(place) = circuit.place(id) else {
            return Err(refuse(format!("there is no place {id}")));
        };
        if asked.of[..n].contains(id) {
            return Err(refuse(format!("{id} is surveyed twice")));
        }
        let drop = drops.iter().find(|row| row.place.as_ref() == Some(id));
        let Some(drop) = drop else {
            return Err(refuse(format!(
                "nothing is to be measured along {id} in this state: no current flows through it, or a lead does not reach both of its ends"
            )));
        };
        rows.push(row(circuit, faults, limits, place, drop));
    }
    let shows = |fault: &Fault| {
        let mut places = fault.places();
        places.any(|p| {
            let id = circuit.place_id(p);
            rows.iter().any(|row| row.faulty && row.title == id)
        })
    };
    if let Some(n) = faults.iter().position(|f| !shows(f)) {
        let text = format!(
            "no row of the sheet shows {}: survey its place too, in a state in which it carries current, or make it worse",
            faults[n].about(circuit)
        );
        return Err(Problem::refused(format!("faults[{n}]"), text));
    }
    Ok(TestSheet {
        about: format!(
            "Measure what each piece loses with the machine at “{}”, and say what becomes of it.",
            beside_rest(circuit, &state)
        ),
        choices: verdicts(),
        rows,
        function: Function::DC_VOLTS,
        state,
        laid_out: false,
        leads: None,
    })
}

fn row(circuit: &Circuit, faults: &[Fault], limits: &Limits, place: Place, drop: &KeyRow) -> Row {
    let [healthy, reads] = [&drop.healthy, &drop.faulted].map(|s| s.value.number());
    let limit = limit(circuit, limits, place, healthy);
    let over = reads.abs() > limit;
    let mut is = match over {
        true => remedies(circuit, faults, place),
        false => vec![KEEP],
    };
    // Within what a meter tells either may be said.
    let doubt = Function::DC_VOLTS.accuracy(reads, cimento_bench::instruments::Range(6.0));
    if (reads.abs() - limit).abs() <= doubt {
        is = match over {
            true => [&[KEEP][..], &is].concat(),
            false => [is, remedies(circuit, faults, place)].concat(),
        };
    }
    Row {
        title: circuit.place_id(place).to_owned(),
        points: Some([drop.red.clone(), drop.black.clone()]),
        about: circuit.place_about(place),
        expects: format!("up to {limit:.2} V"),
        limit,
        is,
        faulty: over,
        reads: drop.faulted.value.text(Function::DC_VOLTS.unit()),
        hangs_with: Vec::new(),
    }
}
