//! Request bodies: refused with the path of the mistake.

use axum::body::Bytes;
use axum::extract::{FromRequest, Request};
use axum::http::StatusCode;
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
