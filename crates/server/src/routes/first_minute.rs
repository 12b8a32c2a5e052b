//! The first minute at a bench: a healthy machine of two lamps that ships with the program, on which the page shows how a
//! reading is taken. Everybody's own, as often as they like.

use std::sync::LazyLock;

use axum::Json;
use axum::extract::State;
use cimento_diagnosis::lesson::{LessonDoc, Purpose};
use cimento_parts::start;
use cimento_store::AttemptRow;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use crate::clock::now;
use crate::problem::Problem;
use crate::session::SignedIn;
use crate::state::AppState;

const TITLE: &str = "Your first minute at a bench";
const WORDS: &str = "Nothing is wrong with this machine. It is here to learn the bench on.";

/// The lesson; none when what ships with the program is damaged, which a test rules out.
static LESSON: LazyLock<Option<LessonDoc>> = LazyLock::new(|| {
    let circuit = start("lamps")?.document()?;
    Some(LessonDoc {
        complaint: WORDS.to_owned(),
        purpose: Purpose::Tools,
        predictions: true,
        scope: false,
        ..LessonDoc::of(TITLE, circuit, Vec::new())
    })
});

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(begin))
}

/// The attempt at which it is shown.
#[derive(Serialize, ToSchema)]
struct FirstMinute {
    attempt: i32,
}

/// Whether an attempt is somebody's first minute.
pub(super) fn is_first_minute(row: &AttemptRow) -> bool {
    row.given.is_none() && row.lesson_title == TITLE
}

/// Begin the first minute at a bench, or begin it anew.
#[utoipa::path(post, operation_id = "first_minute", path = "/api/first-minute", responses((status = 200, body = FirstMinute)))]
async fn begin(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
) -> Result<Json<FirstMinute>, Problem> {
    let begun = state.work(move |s| {
        let document = LESSON.as_ref().ok_or_else(Problem::internal)?;
        let lesson = s.store.built_in_lesson(document, now())?;
        Ok(s.store.fresh_trial(lesson, user.id, now())?)
    });
    let attempt = begun.await?;
    Ok(Json(FirstMinute { attempt }))
}
