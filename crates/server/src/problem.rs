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
    /// Seconds after which to ask again, where that helps.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub retry_s: Option<u32>,
    /// Every mistake of a refused document, with its path.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub mistakes: Vec<Finding>,
}

/// Seconds after which one who was turned away asks again.
const RETRY_S: u32 = 2;

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
            retry_s: None,
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

    pub fn wrong_code() -> Self {
        Self {
            detail: "no class has this code: your instructor has it".to_owned(),
            ..Self::wrong_password()
        }
    }

    pub fn wrong_pin() -> Self {
        Self {
            detail: "the PIN is wrong; an instructor can let you set another".to_owned(),
            ..Self::wrong_password()
        }
    }

    /// Something from outside with mistakes, each with where it is.
    pub fn refused(mistakes: impl Iterator<Item = (String, String)>) -> Self {
        let mistakes = mistakes.map(|(path, message)| Finding::refused(path, message));
        Refused(mistakes.collect()).into()
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

    pub fn too_large() -> Self {
        let detail =
            "this is larger than the server takes: 64 kB of a student, 1 MB of an instructor";
        Self::new(
            "too-large",
            "Too large",
            StatusCode::PAYLOAD_TOO_LARGE,
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
        let detail = "too many are asking at once; it goes on by itself in a moment";
        Self {
            retry_s: Some(RETRY_S),
            ..Self::new("busy", "Busy", StatusCode::SERVICE_UNAVAILABLE, detail)
        }
    }

    /// Nothing can be kept, and so nothing is done.
    fn cannot_store(detail: impl Into<String>) -> Self {
        Self::new(
            "cannot-store",
            "Nothing can be stored",
            StatusCode::INSUFFICIENT_STORAGE,
            detail,
        )
    }

    pub fn too_often(wait_s: f64) -> Self {
        let detail =
            "this is more than one person may ask for at once; it goes on by itself in a moment";
        Self {
            retry_s: Some(wait_s.ceil().max(1.0) as u32),
            ..Self::new(
                "too-often",
                "Too much at once",
                StatusCode::TOO_MANY_REQUESTS,
                detail,
            )
        }
    }

    pub fn wait_to_sign_in(wait_s: f64) -> Self {
        let mut problem = Self::too_often(wait_s);
        let wait = problem.retry_s.unwrap_or_default();
        problem.detail = format!(
            "too many wrong passwords for this name: wait {wait} seconds, or ask an instructor for another password"
        );
        problem
    }

    pub fn given_up() -> Self {
        let detail = "this was stopped before it was done; ask for it again to begin anew";
        Self::new("given-up", "Stopped", StatusCode::CONFLICT, detail)
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
            StoreError::NotFound { .. } | StoreError::NothingThere => Self::new(
                "not-found",
                "Not found",
                StatusCode::NOT_FOUND,
                e.to_string(),
            ),
            StoreError::MovedOn { .. }
            | StoreError::LessonMovedOn(_)
            | StoreError::ChangedElsewhere { .. }
            | StoreError::Answered => Self::moved_on(e.to_string()),
            StoreError::NameTaken(_)
            | StoreError::NotPutAway
            | StoreError::NoName(_)
            | StoreError::NoClassName(_)
            | StoreError::NoSeat(..)
            | StoreError::NoPin(..)
            | StoreError::NoFolder(_)
            | StoreError::NoRuleSet(..)
            | StoreError::NoGroup(..)
            | StoreError::NoCourseTitle(_)
            | StoreError::NoCourse(_)
            | StoreError::NoAbout(_)
            | StoreError::NoWord(_)
            | StoreError::AskedBefore
            | StoreError::NotAStudent
            | StoreError::NoLink
            | StoreError::NoSchoolName(_)
            | StoreError::LastAdministrator
            | StoreError::Begun
            | StoreError::WeakPassword(_) => Self::bad(e.to_string()),
            StoreError::Gone { .. } => {
                tracing::error!("{e}");
                let detail = "the school's file was moved or deleted: nothing can be stored until somebody who runs the server has put it back; nothing that was stored before is lost";
                Self::cannot_store(detail)
            }
            StoreError::Full | StoreError::ReadOnly => {
                tracing::error!("{e}");
                Self::cannot_store(e.to_string())
            }
            StoreError::Locked | StoreError::Busy => Self {
                detail: e.to_string(),
                ..Self::busy()
            },
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
        if e == BenchError::GivenUp {
            return Self::given_up();
        }
        if let BenchError::TooLarge { .. } = e {
            return Self::new(
                "too-large",
                "Too large",
                StatusCode::UNPROCESSABLE_ENTITY,
                e.to_string(),
            );
        }
        // The sentence names an element, which may be the faulted one: it is for the log only.
        tracing::error!("{e}");
        Self::internal()
    }
}

impl IntoResponse for Problem {
    fn into_response(self) -> Response {
        let status = StatusCode::from_u16(self.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
        let body = serde_json::to_string(&self).unwrap_or_default();
        let kind = [(header::CONTENT_TYPE, "application/problem+json")];
        let again = self.retry_s.map(|s| [(header::RETRY_AFTER, s.to_string())]);
        match again {
            Some(again) => (status, kind, again, body).into_response(),
            None => (status, kind, body).into_response(),
        }
    }
}
