//! Circuits, for instructors.

use axum::Json;
use axum::extract::State;
use cimento_bench::instruments::SWEEPS;
use cimento_model::circuit::{Drawing, PlaceInfo, Problem as Finding};
use cimento_parts::build_circuit;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::Path;
use crate::problem::Problem;
use crate::session::Instructor;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list))
        .routes(routes!(one))
}

#[derive(Serialize, ToSchema)]
struct CircuitItem {
    id: i32,
    title: String,
    updated_at: i64,
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

/// All circuits.
#[utoipa::path(get, operation_id = "circuits_list", path = "/api/circuits", responses((status = 200, body = Vec<CircuitItem>)))]
async fn list(
    State(state): State<AppState>,
    _: Instructor,
) -> Result<Json<Vec<CircuitItem>>, Problem> {
    let rows = state.work(|s| Ok(s.store.circuits()?)).await?;
    let item = |(id, title, updated_at)| CircuitItem {
        id,
        title,
        updated_at,
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
