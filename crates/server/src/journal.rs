//! A line in the log for every request: what was asked by its route, never by whom or about whom. Each has a number,
//! which an answer carries, so that what a person saw go wrong is found again.

use std::time::Instant;

use axum::extract::{MatchedPath, Request};
use axum::http::{HeaderName, HeaderValue};
use axum::middleware::Next;
use axum::response::Response;
use tracing::Instrument;

/// The header with the number of a request.
const NUMBER: HeaderName = HeaderName::from_static("x-request-id");

/// Notes a request with its status and how long it took.
pub(crate) async fn noted(request: Request, next: Next) -> Response {
    let number = format!("{:08x}", rand::random::<u32>());
    let method = request.method().clone();
    let route = request.extensions().get::<MatchedPath>().cloned();
    let began = Instant::now();
    // What is logged on the way carries the number too.
    let span = tracing::error_span!("request", number);
    let mut response = next.run(request).instrument(span).await;
    let route = route.as_ref().map_or("the page", MatchedPath::as_str);
    let status = response.status().as_u16();
    let ms = 1e3 * began.elapsed().as_secs_f64();
    match status {
        500.. => tracing::error!("{number} {method} {route} {status} {ms:.1} ms"),
        _ => tracing::info!("{number} {method} {route} {status} {ms:.1} ms"),
    }
    if let Ok(value) = HeaderValue::from_str(&number) {
        response.headers_mut().insert(NUMBER, value);
    }
    response
}
