//! Diagrams on a sheet of some size.

use axum::Json;
use axum::extract::State;
use cimento_tracks::{Scene, Size};
use serde::Deserialize;
use utoipa::IntoParams;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::{Path, Query};
use crate::problem::Problem;
use crate::session::SignedIn;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(one))
}

/// Least and most pixels of a sheet.
const LEAST: u32 = 240;
const MOST: u32 = 6000;
/// A text is one of so many parts of the width of the sheet, and so many pixels high.
const PARTS: u32 = 64;
const SMALLEST: u32 = 13;
const LARGEST: u32 = 22;
/// Text of fewer pixels can't be read.
const READABLE: u32 = 10;

/// Size of a sheet in pixels.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
#[into_params(parameter_in = Query)]
struct Sheet {
    width: u32,
    height: u32,
    /// All of it has to be on the sheet, however small: for paper.
    #[serde(default)]
    whole: bool,
}

/// The diagram of a drawing that was given out, laid out in current tracks on a sheet.
#[utoipa::path(get, operation_id = "diagram", path = "/api/diagrams/{shape}", params(("shape" = String, Path), Sheet), responses((status = 200, body = Scene), (status = 404, body = Problem)))]
async fn one(
    State(state): State<AppState>,
    _: SignedIn,
    Path(shape): Path<String>,
    Query(sheet): Query<Sheet>,
) -> Result<Json<Scene>, Problem> {
    let [width, height] = [sheet.width, sheet.height].map(|pixels| pixels.clamp(LEAST, MOST));
    let size = Size {
        width,
        height,
        font: (width / PARTS).clamp(SMALLEST, LARGEST),
        least: if sheet.whole { 0 } else { READABLE },
    };
    let scene = state
        .work(move |s| s.diagrams.draw(&s.store, &shape, size))
        .await?;
    Ok(Json(scene))
}
