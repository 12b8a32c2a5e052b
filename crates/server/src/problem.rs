//! Errors as problem+json (RFC 9457).

use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use cimento_bench::BenchError;
use cimento_diagnosis::attempt::Refusal;
use cimento_model::circuit::{Problem as Finding, Refused};
use cimento_store::StoreError;
use serde::Serialize;
use utoipa::ToSchema;

/// What went wrong, for a person and for the page.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Problem {
    /// A short name of the kind of problem.
    #[serde(rename = "type")]
    pub kind: &'static str,
    pub title: &'static str,
    pub status: u16,
    /// One sentence to act on.
    pub detail: String,
    /// Every mistake of a refused document, with its path.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub mistakes: Vec<Finding>,
}

impl Problem {
    fn new(
        kind: &'static str,
        title: &'static str,
        status: StatusCode,
        detail: impl Into<String>,
    ) -> Self {
        Self {
            kind,
            title,
            status: status.as_u16(),
            detail: detail.into(),
            mistakes: Vec::new(),
        }
    }

    pub fn signed_out() -> Self {
        Self::new(
            "signed-out",
            "Not signed in",
            StatusCode::UNAUTHORIZED,
            "sign in first",
        )
    }

    pub fn wrong_password() -> Self {
        let detail = "name or password is wrong";
        Self::new(
            "wrong-password",
            "Not signed in",
            StatusCode::UNAUTHORIZED,
            detail,
        )
    }

    pub fn forbidden(detail: &str) -> Self {
        Self::new("forbidden", "Not allowed", StatusCode::FORBIDDEN, detail)
    }

    pub fn not_found(what: &str) -> Self {
        Self::new(
            "not-found",
            "Not found",
            StatusCode::NOT_FOUND,
            format!("there is no {what}"),
        )
    }

    pub fn bad(detail: impl Into<String>) -> Self {
        Self::new(
            "bad-request",
            "Cannot be done",
            StatusCode::BAD_REQUEST,
            detail,
        )
    }

    pub fn moved_on(detail: impl Into<String>) -> Self {
        Self::new(
            "moved-on",
            "Somebody was faster",
            StatusCode::CONFLICT,
            detail,
        )
    }

    pub fn busy() -> Self {
        let detail = "too much is waiting to be worked out; try again in a moment";
        Self::new("busy", "Busy", StatusCode::SERVICE_UNAVAILABLE, detail)
    }

    pub fn internal() -> Self {
        let detail = "the server could not do this; what was stored is safe, try again";
        Self::new(
            "internal",
            "Server error",
            StatusCode::INTERNAL_SERVER_ERROR,
            detail,
        )
    }
}

impl From<Refused> for Problem {
    fn from(Refused(mistakes): Refused) -> Self {
        let detail = mistakes.first().map_or(String::new(), ToString::to_string);
        Self {
            mistakes,
            ..Self::new(
                "refused",
                "Document refused",
                StatusCode::UNPROCESSABLE_ENTITY,
                detail,
            )
        }
    }
}

impl From<StoreError> for Problem {
    fn from(e: StoreError) -> Self {
        match e {
            StoreError::NotFound { .. } => Self::new(
                "not-found",
                "Not found",
                StatusCode::NOT_FOUND,
                e.to_string(),
            ),
            StoreError::MovedOn { .. } | StoreError::ChangedElsewhere { .. } => {
                Self::moved_on(e.to_string())
            }
            StoreError::NameTaken(_) | StoreError::WeakPassword(_) => Self::bad(e.to_string()),
            StoreError::Locked => Self::new(
                "locked",
                "Busy",
                StatusCode::SERVICE_UNAVAILABLE,
                e.to_string(),
            ),
            _ => {
                tracing::error!("{e}");
                Self::internal()
            }
        }
    }
}

impl From<Refusal> for Problem {
    fn from(e: Refusal) -> Self {
        match e {
            Refusal::Bench(e) => e.into(),
            e => Self::bad(e.to_string()),
        }
    }
}

impl From<BenchError> for Problem {
    fn from(e: BenchError) -> Self {
        // The sentence names an element, which may be the faulted one: it is for the log only.
        tracing::error!("{e}");
        Self::internal()
    }
}

impl IntoResponse for Problem {
    fn into_response(self) -> Response {
        let status = StatusCode::from_u16(self.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
        let body = serde_json::to_string(&self).unwrap_or_default();
        (
            status,
            [(header::CONTENT_TYPE, "application/problem+json")],
            body,
        )
            .into_response()
    }
}
