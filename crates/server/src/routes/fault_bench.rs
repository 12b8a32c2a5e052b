//! The fault bench: a circuit with faults, computed in a state. For instructors only.

use cimento_parts::build_circuit;
use std::sync::Arc;

use axum::Json;
use axum::extract::State;
use cimento_bench::instruments::{Capture, Scope, capture};
use cimento_bench::{Bench, Complaint, complaint};
use cimento_diagnosis::key::{
    KeyRow, Staircase, USUAL, answer_key, answer_key_between, key_csv, node_volts,
    staircases_between,
};
use cimento_diagnosis::lesson::Limits;
use cimento_diagnosis::suspects::{SweepRow, sweep, swept};
use cimento_model::circuit::{Circuit, read_json};
use cimento_model::faults::{Fault, FaultDoc};
use cimento_model::part::{Notice, NoticeKind};
use cimento_model::state::OperatingState;
use cimento_model::units::Swing;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::{Body, Path, Query};
use super::file::{CSV, File, file};
use crate::problem::Problem;
use crate::session::Instructor;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(fault_bench))
        .routes(routes!(whole_key))
        .routes(routes!(key_to_print))
        .routes(routes!(compare_captures))
        .routes(routes!(sweep_faults))
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct FaultBenchQuestion {
    #[serde(default)]
    faults: Vec<FaultDoc>,
    /// Label of the state that is shown; the last position of the key when absent.
    #[serde(default)]
    label: Option<String>,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct CaptureQuestion {
    #[serde(default)]
    faults: Vec<FaultDoc>,
    /// Label of the state that is looked at.
    label: String,
    scope: Scope,
}

/// What the oscilloscope shows of the healthy machine and of the faulted one.
#[derive(Serialize, ToSchema)]
struct CaptureView {
    healthy: Capture,
    faulted: Capture,
}

/// Look at a circuit in time, healthy and faulted.
#[utoipa::path(post, operation_id = "fault_bench_capture", path = "/api/circuits/{id}/capture", params(("id" = i32, Path)), request_body = CaptureQuestion, responses((status = 200, body = CaptureView), (status = 422, body = Problem)))]
async fn compare_captures(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
    Body(question): Body<CaptureQuestion>,
) -> Result<Json<CaptureView>, Problem> {
    let view = state
        .work(move |s| {
            let circuit = build_circuit(s.store.circuit(id)?.document)?;
            let faults = read_faults(&circuit, &question.faults)?;
            let trial = OperatingState::trial(&circuit);
            let look = |faults: &[Fault]| -> Result<Capture, Problem> {
                let mut bench = Bench::new(&circuit, faults)?;
                for state in &trial {
                    bench.set(state.state.clone())?;
                    if state.label == question.label {
                        let taken = capture(&bench, &question.scope);
                        return taken.map_err(|e| Problem::bad(e.to_string()));
                    }
                }
                let text = format!("there is no state {}", question.label);
                Err(Problem::bad(text))
            };
            Ok(CaptureView {
                healthy: look(&[])?,
                faulted: look(&faults)?,
            })
        })
        .await?;
    Ok(Json(view))
}

/// A screen, and from which of the circuit's single faults on they are taken through it.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct SweepQuestion {
    label: String,
    scope: Scope,
    #[serde(default)]
    from: usize,
}

/// Some rows of a sweep: it is asked for piece by piece, so that one sees how far it is.
#[derive(Serialize, ToSchema)]
struct SweepView {
    rows: Vec<SweepRow>,
    /// How many faults there are in all.
    all: usize,
}

/// So many faults are taken through a screen in one piece.
const SWEPT_AT_ONCE: usize = 24;

/// Take single faults through a screen.
#[utoipa::path(post, operation_id = "fault_bench_sweep", path = "/api/circuits/{id}/sweep", params(("id" = i32, Path)), request_body = SweepQuestion, responses((status = 200, body = SweepView), (status = 422, body = Problem)))]
async fn sweep_faults(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
    Body(question): Body<SweepQuestion>,
) -> Result<Json<SweepView>, Problem> {
    let view = state
        .work(move |s| {
            let circuit = build_circuit(s.store.circuit(id)?.document)?;
            let trial = OperatingState::trial(&circuit);
            let at = trial.iter().find(|t| t.label == question.label);
            let at = at.ok_or_else(|| Problem::bad("there is no such state"))?;
            let faults = swept(&circuit);
            let until = faults.len().min(question.from + SWEPT_AT_ONCE);
            let piece = faults.get(question.from..until).unwrap_or_default();
            let rows = sweep(&circuit, &at.state, &question.scope, piece);
            Ok(SweepView {
                rows: rows.map_err(|e| Problem::bad(e.to_string()))?,
                all: faults.len(),
            })
        })
        .await?;
    Ok(Json(view))
}

fn read_faults(circuit: &Circuit, docs: &[FaultDoc]) -> Result<Vec<Fault>, Problem> {
    let mut faults = Vec::new();
    for (n, doc) in docs.iter().enumerate() {
        let fault = Fault::read(circuit, doc, &format!("faults[{n}]"));
        faults.push(fault.map_err(|p| cimento_model::circuit::Refused(vec![p]))?);
    }
    Ok(faults)
}

/// The circuit with its faults, beside the healthy one.
#[derive(Serialize, ToSchema)]
struct FaultBenchView {
    /// The faults in words.
    about: Vec<String>,
    /// What a person notices of it, and of the healthy machine.
    symptom: String,
    healthy_symptom: String,
    /// Fuses that have gone by the end of the trial, in words.
    blown: Vec<String>,
    /// The faulted machine behaves otherwise than the healthy one.
    shows: bool,
    /// Labels of the states it can be shown in.
    labels: Vec<String>,
    /// The one that is shown.
    state: StateView,
    /// The key of that state, and of what is read by itself.
    key: Vec<KeyRow>,
}

/// An operating state.
#[derive(Serialize, ToSchema)]
struct StateView {
    /// Position of the key, or the lever that is tried.
    label: String,
    /// "start · clutch down", as key rows name it.
    about: String,
    points: Vec<PointVolts>,
    staircases: Vec<Staircase>,
    notices: Vec<Notice>,
    /// The machine never comes to rest in this state.
    cycles: bool,
}

/// Volts of a test point against battery negative.
#[derive(Serialize, ToSchema)]
struct PointVolts {
    point: String,
    healthy_v: f64,
    faulted_v: f64,
    /// Least and most while the machine cycles.
    faulted_range: Option<Swing>,
    /// The two are further apart than the tolerance.
    tells: bool,
}

/// Compute a circuit with faults.
#[utoipa::path(post, operation_id = "fault_bench_fault_bench", path = "/api/circuits/{id}/fault-bench", params(("id" = i32, Path)), request_body = FaultBenchQuestion, responses((status = 200, body = FaultBenchView), (status = 422, body = Problem)))]
async fn fault_bench(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
    Body(question): Body<FaultBenchQuestion>,
) -> Result<Json<FaultBenchView>, Problem> {
    let view = state
        .work(move |s| {
            let row = s.store.circuit(id)?;
            let version = row.version;
            let circuit = build_circuit(row.document)?;
            let faults = read_faults(&circuit, &question.faults)?;
            let said = serde_json::to_string(&question.faults).map_err(|_| Problem::internal())?;
            let machines = [
                format!("{id} {version} {said}"),
                format!("{id} {version} []"),
            ];
            compute(s, &machines, &circuit, &faults, question.label.as_deref())
        })
        .await?;
    Ok(Json(view))
}

/// The view of a state; the faulted and the healthy machine have names to be remembered by.
fn compute(
    s: &AppState,
    machines: &[String; 2],
    circuit: &Arc<Circuit>,
    faults: &[Fault],
    label: Option<&str>,
) -> Result<FaultBenchView, Problem> {
    let trial = OperatingState::trial(circuit);
    let at = match label {
        Some(label) => trial.iter().position(|t| t.label == label),
        None => trial
            .iter()
            .rposition(|t| t.turns_key)
            .or(trial.len().checked_sub(1)),
    };
    let at = at.ok_or_else(|| Problem::bad("there is no such state"))?;
    let sequence: Vec<OperatingState> = trial[..=at].iter().map(|t| t.state.clone()).collect();
    let mut healthy = Bench::new(circuit, &[])?;
    let mut faulted = healthy.beside(faults)?;
    let [broken, sound] = machines;
    let seen = s.tried(broken, || complaint(&mut healthy.beside(faults)?))?;
    let healthy_complaint = s.tried(sound, || complaint(&mut healthy.beside(&[])?))?;
    for state in &sequence {
        healthy.set(state.clone())?;
        faulted.set(state.clone())?;
    }
    let key = answer_key_between(&healthy, &faulted, &Limits::default(), &USUAL)?;
    let about = sequence[at].about();
    Ok(FaultBenchView {
        about: faults.iter().map(|f| f.about(circuit)).collect(),
        shows: !seen.same_as(&healthy_complaint),
        blown: blown(&seen),
        symptom: seen.text,
        healthy_symptom: healthy_complaint.text,
        labels: trial.iter().map(|t| t.label.clone()).collect(),
        state: StateView {
            label: trial[at].label.clone(),
            points: points(circuit, &healthy, &faulted, &key, &about),
            staircases: staircases_between(&healthy, &faulted),
            notices: faulted.notices(),
            cycles: faulted.settled().cycles(),
            about,
        },
        key,
    })
}

fn blown(seen: &Complaint) -> Vec<String> {
    let last = seen.trials.last().into_iter();
    let all = last.flat_map(|t| &t.notices);
    let gone = all.filter(|n| n.kind == NoticeKind::Blown);
    gone.map(|n| n.text.clone()).collect()
}

/// What a key is asked for by address: faults as JSON.
#[derive(Deserialize, IntoParams)]
struct KeyQuestion {
    #[serde(default)]
    faults: String,
}

/// The whole answer key, to be printed.
#[derive(Serialize, ToSchema)]
struct WholeKey {
    title: String,
    /// The faults in words; none on a healthy machine.
    faults: Vec<String>,
    symptom: String,
    rows: Vec<KeyRow>,
}

/// Faults of a question with their rows in every state of the trial.
fn whole(s: &AppState, id: i32, question: &KeyQuestion) -> Result<WholeKey, Problem> {
    let circuit = build_circuit(s.store.circuit(id)?.document)?;
    let docs: Vec<FaultDoc> = match question.faults.as_str() {
        "" => Vec::new(),
        text => read_json(text)?,
    };
    let faults = read_faults(&circuit, &docs)?;
    let trial = OperatingState::trial(&circuit).into_iter();
    let states: Vec<OperatingState> = trial.map(|t| t.state).collect();
    let rows = answer_key(&circuit, &faults, &states, &Limits::default(), &USUAL)?;
    let mut bench = Bench::new(&circuit, &faults)?;
    Ok(WholeKey {
        faults: faults.iter().map(|f| f.about(&circuit)).collect(),
        symptom: complaint(&mut bench)?.text,
        title: circuit.doc.title.clone(),
        rows,
    })
}

/// The answer key of every state.
#[utoipa::path(get, operation_id = "fault_bench_key", path = "/api/circuits/{id}/key", params(("id" = i32, Path), KeyQuestion), responses((status = 200, body = WholeKey), (status = 422, body = Problem)))]
async fn key_to_print(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
    Query(question): Query<KeyQuestion>,
) -> Result<Json<WholeKey>, Problem> {
    let key = state.work(move |s| whole(s, id, &question)).await?;
    Ok(Json(key))
}

/// The answer key of every state as CSV.
#[utoipa::path(get, operation_id = "fault_bench_key_csv", path = "/api/circuits/{id}/key.csv", params(("id" = i32, Path), KeyQuestion), responses((status = 200, body = String, content_type = "text/csv"), (status = 422, body = Problem)))]
async fn whole_key(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
    Query(question): Query<KeyQuestion>,
) -> Result<File, Problem> {
    let text = state
        .work(move |s| Ok(key_csv(&whole(s, id, &question)?.rows)))
        .await?;
    Ok(file(&format!("key-{id}.csv"), CSV, text))
}

fn points(
    circuit: &Circuit,
    healthy: &Bench,
    faulted: &Bench,
    key: &[KeyRow],
    state: &str,
) -> Vec<PointVolts> {
    let points = circuit.test_points.iter();
    points
        .map(|point| {
            let range = node_volts(faulted.settled(), point.node);
            let row = key.iter().find(|r| {
                r.state == state
                    && r.red == point.id
                    && r.kind == cimento_diagnosis::key::RowKind::Point
            });
            PointVolts {
                point: point.id.clone(),
                healthy_v: node_volts(healthy.settled(), point.node).middle(),
                faulted_v: range.middle(),
                faulted_range: faulted.settled().cycles().then_some(range),
                tells: row.is_some_and(|r| r.tells),
            }
        })
        .collect()
}
