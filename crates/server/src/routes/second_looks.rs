//! Second looks: what a student asks of a line of a sheet, and what the instructor answers. Both are on record.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use cimento_diagnosis::marking::Override;
use cimento_store::{OpenLook, SecondLook};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::attempts::of;
use super::extract::{Body, Path};
use super::marking::{Perhaps, overridden, own_to_mark};
use crate::access::to_attempt;
use crate::clock::now;
use crate::problem::Problem;
use crate::session::{Instructor, SignedIn};
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(of_attempt, ask))
        .routes(routes!(answer))
        .routes(routes!(open))
}

/// What was asked of a line, and what came of it.
#[derive(Serialize, ToSchema)]
struct SecondLookView {
    criterion: String,
    asked: String,
    asked_at: i64,
    /// Absent while it waits for an answer.
    answer: Option<SecondAnswerView>,
}

#[derive(Serialize, ToSchema)]
struct SecondAnswerView {
    text: String,
    /// Other marks were given; otherwise the line was kept.
    changed: bool,
    at: i64,
    by: String,
}

impl SecondLookView {
    fn of(look: SecondLook) -> Self {
        let answer = look.answer.map(|a| SecondAnswerView {
            text: a.text,
            changed: a.changed,
            at: a.at,
            by: a.by,
        });
        Self {
            criterion: look.criterion,
            asked: look.asked,
            asked_at: look.asked_at,
            answer,
        }
    }
}

/// One that waits for an answer.
#[derive(Serialize, ToSchema)]
struct OpenLookView {
    attempt: i32,
    student: String,
    lesson: String,
    criterion: String,
    asked: String,
    asked_at: i64,
}

/// What a student asks of a line of their sheet.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewLook {
    criterion: String,
    /// Why it is to be looked at again.
    asked: String,
}

/// What an instructor answers.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewAnswer {
    text: String,
    /// Other marks for the line; it is kept when absent.
    marks: Option<f64>,
}

/// Every second look at an attempt: for its student, and for who sees it.
#[utoipa::path(get, operation_id = "second_looks_of_attempt", path = "/api/attempts/{id}/second-looks", params(("id" = i32, Path)), responses((status = 200, body = Vec<SecondLookView>), (status = 404, body = Problem)))]
async fn of_attempt(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<Json<Vec<SecondLookView>>, Problem> {
    let looks = state.work(move |s| {
        of(s.store.standing(id, "", user.id)?, &user)?;
        Ok(s.store.second_looks(id)?)
    });
    let looks = looks.await?.into_iter();
    Ok(Json(looks.map(SecondLookView::of).collect()))
}

/// Ask for a second look at a line of one's own sheet, once it shows.
#[utoipa::path(post, operation_id = "second_looks_ask", path = "/api/attempts/{id}/second-looks", params(("id" = i32, Path)), request_body = NewLook, responses((status = 204), (status = 400, body = Problem), (status = 403, body = Problem)))]
async fn ask(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
    Body(new): Body<NewLook>,
) -> Result<StatusCode, Problem> {
    let own = user.clone();
    state
        .work(move |s| {
            let row = of(s.store.standing(id, "", own.id)?, &own)?.attempt;
            let asks = to_attempt(&row, &own).is_some_and(|access| access.own);
            match asks && row.handed_in && row.given.is_some() {
                true => Ok(()),
                false => Err(Problem::forbidden(
                    "a second look is asked for by the student, once the attempt is marked",
                )),
            }
        })
        .await?;
    let Perhaps::There(view) = overridden(&state, user, id).await? else {
        return Err(Problem::bad("there are no marks yet"));
    };
    let mut lines = view.sheet.lines.iter();
    if !lines.any(|l| l.criterion == new.criterion) && new.criterion != "safety" {
        return Err(Problem::bad(format!("there is no line {}", new.criterion)));
    }
    state
        .work(move |s| {
            Ok(s.store
                .ask_second_look(id, &new.criterion, &new.asked, now())?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Answer a second look: with other marks for the line, or without, and it is kept. It is answered once.
#[utoipa::path(put, operation_id = "second_looks_answer", path = "/api/attempts/{id}/second-looks/{criterion}", params(("id" = i32, Path), ("criterion" = String, Path)), request_body = NewAnswer, responses((status = 204), (status = 400, body = Problem), (status = 409, body = Problem)))]
async fn answer(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path((id, criterion)): Path<(i32, String)>,
    Body(new): Body<NewAnswer>,
) -> Result<StatusCode, Problem> {
    let own = user.clone();
    state.work(move |s| own_to_mark(s, id, &own)).await?;
    let Perhaps::There(view) = overridden(&state, user.clone(), id).await? else {
        return Err(Problem::bad("there are no marks yet"));
    };
    state
        .work(move |s| {
            if new.marks.is_some() {
                let given = Override {
                    criterion: criterion.clone(),
                    marks: new.marks,
                    reason: new.text.clone(),
                };
                let checked = view.sheet.with_overrides(&[given]);
                checked.map_err(Problem::bad)?;
            }
            let answer = (new.text.as_str(), new.marks);
            Ok(s.store
                .answer_second_look(id, &criterion, answer, &user, now())?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The second looks that wait for one's answer, the oldest first.
#[utoipa::path(get, operation_id = "second_looks_open", path = "/api/second-looks", responses((status = 200, body = Vec<OpenLookView>)))]
async fn open(
    State(state): State<AppState>,
    Instructor(user): Instructor,
) -> Result<Json<Vec<OpenLookView>>, Problem> {
    let looks = state.work(move |s| Ok(s.store.open_looks(user.id)?));
    let view = |look: OpenLook| OpenLookView {
        attempt: look.attempt,
        student: look.student,
        lesson: look.lesson,
        criterion: look.criterion,
        asked: look.asked,
        asked_at: look.asked_at,
    };
    Ok(Json(looks.await?.into_iter().map(view).collect()))
}
