//! Pictures among which a student chooses what the oscilloscope will show of a healthy machine.

use axum::Json;
use axum::extract::{DefaultBodyLimit, State};
use cimento_bench::instruments::Scope;
use cimento_diagnosis::predict::Patterns;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::MOST_OF_A_STUDENT;
use super::attempts::of;
use super::extract::{Body, Path};
use super::working::{is_own, stand};
use crate::problem::Problem;
use crate::session::SignedIn;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(to_choose))
        .layer(DefaultBodyLimit::max(MOST_OF_A_STUDENT))
}

/// What a screen may show, of one's own bench as it stands; nothing where a healthy machine has no such screen. Nothing in
/// it hangs on the fault that is there.
#[utoipa::path(post, operation_id = "attempts_patterns", path = "/api/attempts/{id}/patterns", params(("id" = i32, Path)), request_body = Scope, responses((status = 200, body = Vec<Patterns>), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn to_choose(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
    Body(scope): Body<Scope>,
) -> Result<Json<Vec<Patterns>>, Problem> {
    let found = state.work(move |s| {
        let (of_lesson, lesson, stands) = s.benches.at(id, |bench| {
            let standing = of(s.store.standing(id, "", user.id)?, &user)?;
            is_own(&standing.attempt, &user)?;
            let of_lesson = standing.attempt.lesson_id;
            let lesson = s.lesson(of_lesson)?;
            let session = stand(s, bench, &standing)?;
            Ok::<_, Problem>((of_lesson, lesson, session.bench().state().clone()))
        })?;
        if !lesson.predictions || !lesson.scope {
            return Err(Problem::bad("no screen is predicted in this lesson"));
        }
        Ok(s.pictures.of((of_lesson, &lesson), stands, &scope).to_vec())
    });
    Ok(Json(found.await?))
}
