//! The instruments there are, for whoever is signed in: the page keeps no list of its own.

use axum::Json;
use cimento_bench::instruments::{Function, InstrumentInfo};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use crate::session::SignedIn;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(instruments))
}

/// Every instrument, in the order of a dial.
#[utoipa::path(get, path = "/api/instruments", responses((status = 200, body = Vec<InstrumentInfo>)))]
async fn instruments(_: SignedIn) -> Json<Vec<InstrumentInfo>> {
    Json(Function::all().map(InstrumentInfo::from).collect())
}
