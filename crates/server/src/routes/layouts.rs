//! Layouts of diagrams. The library that makes them is large: an instructor's page runs it and stores
//! what comes out, and a student's page gets that.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::Body;
use crate::problem::Problem;
use crate::session::{Instructor, SignedIn};
use crate::state::AppState;

/// Longest name of a shape.
const LONGEST: usize = 40;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(one, add))
}

/// Where everything stands on a diagram, in diagram units.
#[derive(Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct Layout {
    width: f64,
    height: f64,
    /// Parts, cavities and splices by id.
    boxes: BTreeMap<String, LayoutBox>,
    /// Test points by id.
    points: BTreeMap<String, Spot>,
    /// Wires by id.
    routes: BTreeMap<String, Vec<Spot>>,
    /// Lines from a case to its metal, by part.
    mounts: BTreeMap<String, Vec<Spot>>,
    /// Metals by name, each a bar that its ground points sit on.
    bars: BTreeMap<String, LayoutBar>,
}

#[derive(Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Spot {
    x: f64,
    y: f64,
}

#[derive(Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct LayoutBox {
    x: f64,
    y: f64,
    width: f64,
    height: f64,
}

#[derive(Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct LayoutBar {
    x1: f64,
    x2: f64,
    y: f64,
}

/// The layout of a shape. It never changes, so a browser may keep it.
#[utoipa::path(get, operation_id = "layout", path = "/api/layouts/{shape}", params(("shape" = String, Path)), responses((status = 200, body = Layout), (status = 404, body = Problem)))]
async fn one(
    State(state): State<AppState>,
    _: SignedIn,
    Path(shape): Path<String>,
) -> Result<impl IntoResponse, Problem> {
    let text = state.work(move |s| Ok(s.store.layout(&shape)?)).await?;
    Ok((
        [
            (header::CONTENT_TYPE, "application/json"),
            (
                header::CACHE_CONTROL,
                "private, max-age=31536000, immutable",
            ),
        ],
        text,
    ))
}

/// Stores the layout of a shape.
#[utoipa::path(put, operation_id = "layout_add", path = "/api/layouts/{shape}", params(("shape" = String, Path)), request_body = Layout, responses((status = 200), (status = 403, body = Problem)))]
async fn add(
    State(state): State<AppState>,
    _: Instructor,
    Path(shape): Path<String>,
    Body(layout): Body<Layout>,
) -> Result<Json<()>, Problem> {
    if shape.len() > LONGEST {
        return Err(Problem::bad("that is no shape of a diagram"));
    }
    let text = serde_json::to_string(&layout).map_err(|e| Problem::bad(e.to_string()))?;
    state
        .work(move |s| Ok(s.store.add_layout(&shape, &text)?))
        .await?;
    Ok(Json(()))
}
