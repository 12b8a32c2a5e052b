//! What comes with a request: bodies, refused with the path of the mistake, and what is in its address.

use axum::body::Bytes;
use axum::extract::{FromRequest, FromRequestParts, Request};
use axum::http::StatusCode;
use axum::http::request::Parts;
use cimento_model::circuit::read_json;
use serde::de::DeserializeOwned;

use crate::problem::Problem;

/// A JSON body.
pub(crate) struct Body<T>(pub T);

impl<S: Send + Sync, T: DeserializeOwned> FromRequest<S> for Body<T> {
    type Rejection = Problem;

    async fn from_request(request: Request, state: &S) -> Result<Self, Problem> {
        let bytes = Bytes::from_request(request, state)
            .await
            .map_err(|e| match e.status() {
                StatusCode::PAYLOAD_TOO_LARGE => Problem::too_large(),
                _ => Problem::bad(e.body_text()),
            })?;
        let text =
            std::str::from_utf8(&bytes).map_err(|_| Problem::bad("the body is no UTF-8 text"))?;
        Ok(Self(read_json(text)?))
    }
}

/// What stands in an address where the route has a gap.
pub(crate) struct Path<T>(pub T);

impl<S: Send + Sync, T: DeserializeOwned + Send> FromRequestParts<S> for Path<T> {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Problem> {
        let found = axum::extract::Path::<T>::from_request_parts(parts, state).await;
        // What is no number is the number of nothing.
        found
            .map(|axum::extract::Path(it)| Self(it))
            .map_err(|_| Problem::not_found("such address"))
    }
}

/// What stands behind the question mark of an address.
pub(crate) struct Query<T>(pub T);

impl<S: Send + Sync, T: DeserializeOwned> FromRequestParts<S> for Query<T> {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Problem> {
        let found = axum::extract::Query::<T>::from_request_parts(parts, state).await;
        found
            .map(|axum::extract::Query(it)| Self(it))
            .map_err(|e| Problem::bad(format!("the address: {}", e.body_text())))
    }
}
