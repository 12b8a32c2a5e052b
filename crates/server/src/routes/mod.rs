//! The routes: one group a file.

mod assignments;
mod attempts;
mod binder;
mod book;
mod circuits;
mod classes;
mod codes;
mod courses;
mod dealing;
mod diagrams;
mod extract;
mod fault_bench;
mod file;
mod first_minute;
mod groups;
mod insight;
mod instruments;
mod lessons;
mod live;
mod making;
mod marking;
mod notebook;
mod openapi;
mod own_data;
mod pairs;
mod patterns;
mod people;
mod predicting;
mod results;
mod roster;
mod rule_sets;
mod school;
mod scope;
mod second_looks;
mod sign_in;
mod sketches;
mod start;
mod to_fill;
mod votes;
mod working;
mod workshop;

use std::path::PathBuf;
use std::sync::{Arc, OnceLock};

use axum::Json;
use axum::Router;
use axum::extract::{DefaultBodyLimit, Request, State};
use axum::http::{HeaderName, HeaderValue, header};
use axum::middleware::{from_fn, from_fn_with_state};
use axum::response::{IntoResponse, Response};
use axum::routing::get;
use serde::Serialize;
use tower::ServiceExt;
use tower_http::CompressionLevel;
use tower_http::compression::CompressionLayer;
use tower_http::compression::predicate::{DefaultPredicate, Predicate, SizeAbove};
use tower_http::services::{ServeDir, ServeFile};
use tower_http::set_header::SetResponseHeaderLayer;
use utoipa_axum::router::OpenApiRouter;

use crate::journal::noted;
use crate::own_site::own_site;
pub use openapi::document;
pub(crate) use own_data::erase_old;

use crate::peer::whence;
use crate::problem::Problem;
use crate::session::asking;
use crate::state::AppState;

/// The API with its description.
pub(crate) fn api() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .merge(sign_in::routes())
        .merge(school::routes())
        .merge(people::routes())
        .merge(predicting::routes())
        .merge(own_data::routes())
        .merge(notebook::routes())
        .merge(pairs::routes())
        .merge(binder::routes())
        .merge(sketches::routes())
        .merge(patterns::routes())
        .merge(roster::routes())
        .merge(codes::routes())
        .merge(classes::routes())
        .merge(start::routes())
        .merge(book::routes())
        .merge(results::routes())
        .merge(first_minute::routes())
        .merge(groups::routes())
        .merge(insight::routes())
        .merge(live::routes())
        .merge(votes::routes())
        .merge(assignments::routes())
        .merge(circuits::routes())
        .merge(fault_bench::routes())
        .merge(instruments::routes())
        .merge(diagrams::routes())
        .merge(lessons::routes())
        .merge(making::routes())
        .merge(dealing::routes())
        .merge(rule_sets::routes())
        .merge(courses::routes())
        .merge(scope::routes())
        .merge(attempts::routes())
        .merge(marking::routes())
        .merge(second_looks::routes())
        .merge(workshop::routes())
}

/// Largest body of a request, in bytes: a circuit of two thousand parts.
const MOST_BYTES: usize = 1_000_000;
/// Largest body of what a student sends, in bytes.
pub(super) const MOST_OF_A_STUDENT: usize = 64_000;

/// Answers are compressed from so many bytes on: for the answer to a step it took a quarter of what the
/// step takes.
const LARGE: u16 = 3000;

/// The whole site: API, its description, and the page.
pub fn router(state: AppState) -> Router {
    let (api, _) = api().split_for_parts();
    // The page's files lie there compressed: that was done once, with care.
    let page = ServeDir::new(&state.web).precompressed_gzip().fallback(
        Router::new()
            .fallback(page_at)
            .with_state(state.web.clone()),
    );
    let policy = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self' data:; worker-src 'self' blob:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'; object-src 'none'";
    let powers = "camera=(), microphone=(), geolocation=(), usb=(), serial=(), payment=()";
    // Answers are waited for one by one: they are compressed in haste, and what fits a few packets is not.
    let large = DefaultPredicate::new().and(SizeAbove::new(LARGE));
    let compression = CompressionLayer::new().quality(CompressionLevel::Fastest);
    Router::new()
        .merge(
            api.layer(compression.compress_when(large))
                .layer(kept_nowhere())
                .layer(DefaultBodyLimit::max(MOST_BYTES))
                .layer(from_fn_with_state(state.clone(), asking))
                .layer(from_fn(own_site)),
        )
        .route("/health", get(health))
        .route("/api/openapi.json", get(description))
        .route(
            "/api/{*rest}",
            get(nothing).post(nothing).put(nothing).delete(nothing),
        )
        .fallback_service(page)
        .layer(SetResponseHeaderLayer::if_not_present(
            header::CACHE_CONTROL,
            of_a_page,
        ))
        .layer(SetResponseHeaderLayer::if_not_present(
            header::CONTENT_SECURITY_POLICY,
            HeaderValue::from_static(policy),
        ))
        .layer(SetResponseHeaderLayer::if_not_present(
            header::X_CONTENT_TYPE_OPTIONS,
            HeaderValue::from_static("nosniff"),
        ))
        .layer(SetResponseHeaderLayer::if_not_present(
            header::REFERRER_POLICY,
            HeaderValue::from_static("no-referrer"),
        ))
        .layer(SetResponseHeaderLayer::if_not_present(
            HeaderName::from_static("permissions-policy"),
            HeaderValue::from_static(powers),
        ))
        .layer(from_fn(noted))
        .layer(from_fn_with_state(Arc::clone(&state.proxies), whence))
        .with_state(state)
}

/// The page, at every address of its own; a file that is not there is none.
async fn page_at(State(web): State<PathBuf>, request: Request) -> Response {
    let last = request.uri().path().rsplit('/').next();
    if last.is_some_and(|last| last.contains('.')) {
        return Problem::not_found("such file").into_response();
    }
    let index = ServeFile::new(web.join("index.html")).precompressed_gzip();
    match index.oneshot(request).await {
        Ok(page) => page.into_response(),
        Err(never) => match never {},
    }
}

/// A shared computer keeps no answer: one who signs out and goes back sees nothing.
fn kept_nowhere() -> SetResponseHeaderLayer<HeaderValue> {
    SetResponseHeaderLayer::if_not_present(
        header::CACHE_CONTROL,
        HeaderValue::from_static("no-store"),
    )
}

/// The page itself is asked for anew, so that going back after signing out shows nothing; its files, named after what
/// is in them, are kept.
fn of_a_page(response: &Response) -> Option<HeaderValue> {
    let kind = response.headers().get(header::CONTENT_TYPE)?;
    let is_page = kind.to_str().is_ok_and(|k| k.starts_with("text/html"));
    is_page.then(|| HeaderValue::from_static("no-store"))
}

/// Whether it serves, for what watches over it: the database answers.
async fn health(State(state): State<AppState>) -> Result<Json<Health>, Problem> {
    state.work(|s| Ok(s.store.is_empty()?)).await?;
    Ok(Json(Health { status: "ok" }))
}

#[derive(Serialize)]
struct Health {
    status: &'static str,
}

async fn description() -> impl IntoResponse {
    static MADE: OnceLock<String> = OnceLock::new();
    (
        [(header::CONTENT_TYPE, "application/json")],
        MADE.get_or_init(document).as_str(),
    )
}

async fn nothing() -> Problem {
    Problem::not_found("such address in the API")
}
