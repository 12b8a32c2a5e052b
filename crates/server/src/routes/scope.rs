//! Screens of the oscilloscope after they were taken: cursors on them, and screens from files.

use axum::Json;
use axum::extract::State;
use cimento_bench::instruments::{Capture, CursorReading, Cursors};
use serde::Deserialize;
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::Body;
use crate::problem::Problem;
use crate::session::SignedIn;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(cursors))
        .routes(routes!(from_file))
}

/// A screen that one has, and where the cursors stand on it.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct CursorQuestion {
    capture: Capture,
    cursors: Cursors,
}

/// What two cursors read.
#[utoipa::path(post, operation_id = "scope_cursors", path = "/api/scope/cursors", request_body = CursorQuestion, responses((status = 200, body = CursorReading), (status = 422, body = Problem)))]
async fn cursors(
    _: SignedIn,
    State(state): State<AppState>,
    Body(question): Body<CursorQuestion>,
) -> Result<Json<CursorReading>, Problem> {
    let read = state.work(move |_| {
        let read = question.capture.between(question.cursors);
        read.map_err(|text| Problem::bad(&text))
    });
    Ok(Json(read.await?))
}

/// A screen that was kept as CSV.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct ScreenFile {
    text: String,
}

/// Take a screen in.
#[utoipa::path(post, operation_id = "scope_from_file", path = "/api/scope/screens", request_body = ScreenFile, responses((status = 200, body = Capture), (status = 422, body = Problem)))]
async fn from_file(
    _: SignedIn,
    State(state): State<AppState>,
    Body(file): Body<ScreenFile>,
) -> Result<Json<Capture>, Problem> {
    let read = state.work(move |_| {
        let read = Capture::from_csv(&file.text);
        read.map_err(|text| Problem::bad(&text))
    });
    Ok(Json(read.await?))
}
