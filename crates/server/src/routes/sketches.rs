//! What a student sketches on the diagram of a machine: words and arrows at its places. It is their own, from lesson to lesson,
//! and nobody marks it.

use axum::Json;
use axum::extract::{DefaultBodyLimit, State};
use axum::http::StatusCode;
use cimento_store::User;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::MOST_OF_A_STUDENT;
use super::attempts::of;
use super::extract::{Body, Path};
use super::working::is_own;
use crate::clock::now;
use crate::problem::Problem;
use crate::session::SignedIn;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(own, keep))
        .layer(DefaultBodyLimit::max(MOST_OF_A_STUDENT))
}

/// Most marks of a sketch, and the longest text of one, in characters.
const MOST: usize = 100;
const LONGEST: usize = 60;

/// A mark at a place or test point, or an arrow from there to another.
#[derive(Clone, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(super) struct SketchMark {
    /// `W8`, `K3.86`.
    pub(super) at: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub(super) to: Option<String>,
    /// "measured here".
    #[serde(default)]
    pub(super) text: String,
}

/// A sketch.
#[derive(Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Sketch {
    marks: Vec<SketchMark>,
}

impl Sketch {
    fn check(&self) -> Result<(), Problem> {
        if self.marks.len() > MOST {
            return Err(Problem::bad(format!("marks: expected at most {MOST}")));
        }
        let plain = |text: &str| !text.chars().any(char::is_control);
        for (n, mark) in self.marks.iter().enumerate() {
            let all = [Some(&mark.at), mark.to.as_ref(), Some(&mark.text)];
            let fits = |t: &&String| t.chars().count() <= LONGEST && plain(t);
            if mark.at.is_empty() || !all.into_iter().flatten().all(|t| fits(&t)) {
                let text = format!(
                    "marks[{n}]: expected a place, and at most {LONGEST} characters in one line"
                );
                return Err(Problem::bad(text));
            }
            if mark.text.trim().is_empty() && mark.to.is_none() {
                let text = format!("marks[{n}]: expected words, or where an arrow goes");
                return Err(Problem::bad(text));
            }
        }
        Ok(())
    }
}

/// The marks of a kept sketch.
pub(super) fn read(marks: &str) -> Result<Vec<SketchMark>, Problem> {
    serde_json::from_str(marks).map_err(|e| {
        tracing::error!("a kept sketch cannot be read: {e}");
        Problem::internal()
    })
}

/// The machine of a bench of one's own.
fn machine(s: &AppState, user: &User, attempt: i32) -> Result<String, Problem> {
    let row = of(s.store.standing(attempt, "", user.id)?, user)?.attempt;
    is_own(&row, user)?;
    Ok(s.lesson(row.lesson_id)?.circuit.doc.title.clone())
}

/// What one has sketched on the machine of a bench of one's own.
#[utoipa::path(get, operation_id = "sketch", path = "/api/attempts/{id}/sketch", params(("id" = i32, Path)), responses((status = 200, body = Sketch), (status = 404, body = Problem)))]
async fn own(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<Json<Sketch>, Problem> {
    let found = state.work(move |s| {
        let kept = s.store.sketch(user.id, &machine(s, &user, id)?)?;
        let marks = kept.map(|marks| read(&marks)).transpose()?;
        Ok(Sketch {
            marks: marks.unwrap_or_default(),
        })
    });
    Ok(Json(found.await?))
}

/// Keep a sketch in the place of what was there.
#[utoipa::path(put, operation_id = "sketch_keep", path = "/api/attempts/{id}/sketch", params(("id" = i32, Path)), request_body = Sketch, responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn keep(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
    Body(sketch): Body<Sketch>,
) -> Result<StatusCode, Problem> {
    sketch.check()?;
    let kept = state.work(move |s| {
        let machine = machine(s, &user, id)?;
        let text = serde_json::to_string(&sketch.marks).map_err(|_| Problem::internal())?;
        let marks = (!sketch.marks.is_empty()).then_some(text.as_str());
        Ok(s.store.keep_sketch(user.id, &machine, marks, now())?)
    });
    kept.await?;
    Ok(StatusCode::NO_CONTENT)
}
