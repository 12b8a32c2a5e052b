//! Circuits, for instructors.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use cimento_bench::instruments::SWEEPS;
use cimento_model::circuit::{Drawing, PlaceInfo, Problem as Finding};
use cimento_parts::build_circuit;
use cimento_store::CircuitLine;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::{Body, Path};
use crate::clock::now;
use crate::problem::Problem;
use crate::session::Instructor;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list))
        .routes(routes!(one, delete))
        .routes(routes!(file))
}

#[derive(Serialize, ToSchema)]
struct CircuitItem {
    id: i32,
    title: String,
    updated_at: i64,
    /// It was put away.
    put_away: bool,
}

/// Where a circuit is kept.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct CircuitFiled {
    put_away: bool,
}

/// A circuit with everything a fault bench needs to begin.
#[derive(Serialize, ToSchema)]
struct CircuitView {
    id: i32,
    /// Counts up with every change: what was computed of another is not of this one.
    version: i32,
    title: String,
    drawing: Drawing,
    /// Sweeps of the oscilloscope, in seconds.
    sweeps: Vec<f64>,
    /// Where a fault can sit, and how.
    places: Vec<PlaceInfo>,
    warnings: Vec<Finding>,
}

/// All circuits; those put away among them.
#[utoipa::path(get, operation_id = "circuits_list", path = "/api/circuits", responses((status = 200, body = Vec<CircuitItem>)))]
async fn list(
    State(state): State<AppState>,
    _: Instructor,
) -> Result<Json<Vec<CircuitItem>>, Problem> {
    let rows = state.work(|s| Ok(s.store.circuits()?)).await?;
    let item = |line: CircuitLine| CircuitItem {
        id: line.id,
        title: line.title,
        updated_at: line.updated_at,
        put_away: line.retired_at.is_some(),
    };
    Ok(Json(rows.into_iter().map(item).collect()))
}

/// One circuit.
#[utoipa::path(get, operation_id = "circuits_one", path = "/api/circuits/{id}", params(("id" = i32, Path)), responses((status = 200, body = CircuitView), (status = 404, body = Problem)))]
async fn one(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
) -> Result<Json<CircuitView>, Problem> {
    let view = state
        .work(move |s| {
            let row = s.store.circuit(id)?;
            let circuit = build_circuit(row.document)?;
            Ok(CircuitView {
                id,
                version: row.version,
                title: row.title,
                drawing: s.diagrams.of(&circuit),
                sweeps: SWEEPS.to_vec(),
                places: circuit.place_list(),
                warnings: circuit.warnings.clone(),
            })
        })
        .await?;
    Ok(Json(view))
}

/// Put a circuit away, or take it back. Lessons that were made of it hold their own and stay.
#[utoipa::path(put, operation_id = "circuits_file", path = "/api/circuits/{id}/put-away", params(("id" = i32, Path)), request_body = CircuitFiled, responses((status = 204), (status = 404, body = Problem)))]
async fn file(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
    Body(filed): Body<CircuitFiled>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| Ok(s.store.file_circuit(id, filed.put_away.then(now))?))
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Delete a circuit that was put away, with its kept versions. Lessons that were made of it hold their own and stay.
#[utoipa::path(delete, operation_id = "circuits_delete", path = "/api/circuits/{id}", params(("id" = i32, Path)), responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn delete(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    state.work(move |s| Ok(s.store.delete_circuit(id)?)).await?;
    Ok(StatusCode::NO_CONTENT)
}
