//! Marks: sheets and debriefs as they were given, and how far one is that is being worked out. Looking at one
//! is a read; marking again keeps both, and the old one stands until it is told otherwise.

use cimento_model::text::inert;
use std::convert::Infallible;
use std::time::Duration;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::sse::{Event, KeepAlive, Sse};
use axum::response::{IntoResponse, Response};
use cimento_diagnosis::lesson::Purpose;
use cimento_diagnosis::marking::{
    Case, Corrected, Debrief, MarkSheet, Override, at_once, corrected,
};
use cimento_store::{AttemptRow, SheetRow, User};
use futures_util::Stream;
use futures_util::stream::unfold;
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::attempts::{load, of};
use super::extract::{Body, Path};
use super::file::{CSV, csv, file};
use crate::access::{sheet_shows, to_attempt};
use crate::clock::now;
use crate::pool::{Ticket, Urgency};
use crate::problem::Problem;
use crate::reasoner::{Task, marked};
use crate::session::{Instructor, SignedIn};
use crate::state::AppState;

/// How often one who waits is told how far it is.
const TELL: Duration = Duration::from_millis(400);

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(sheet))
        .routes(routes!(sheet_csv))
        .routes(routes!(debriefed))
        .routes(routes!(corrections))
        .routes(routes!(waiting, stop_waiting))
        .routes(routes!(sheets, mark_again))
        .routes(routes!(let_stand))
        .routes(routes!(give_marks))
        .routes(routes!(give_many))
}

/// How far something is that is being worked out.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub(super) struct Waiting {
    pub state: WaitingState,
    /// What is to be worked out before it.
    pub ahead: usize,
    /// "trying what could be wrong".
    pub about: &'static str,
    /// The share of that which is done, from 0 to 1.
    pub share: f64,
    /// About how many seconds are left of it, once there is anything to go by.
    pub left_s: Option<f64>,
    /// Why it failed.
    pub detail: Option<String>,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub(super) enum WaitingState {
    Queued,
    Working,
    Done,
    Failed,
}

impl Waiting {
    /// How far a task is.
    pub(super) fn of(s: &AppState, task: &Task, ticket: &Ticket) -> Self {
        let ended = ticket.ended();
        let progress = &ticket.progress;
        Self {
            state: match &ended {
                Some(Ok(())) => WaitingState::Done,
                Some(Err(_)) => WaitingState::Failed,
                None if progress.about().is_empty() => WaitingState::Queued,
                None => WaitingState::Working,
            },
            ahead: s.reasoner.pool.ahead(task),
            about: progress.about(),
            share: progress.share(),
            left_s: progress.left().map(|left| left.as_secs_f64()),
            detail: ended.and_then(Result::err).map(|problem| problem.detail),
        }
    }

    /// There is nothing to wait for.
    fn done() -> Self {
        Self {
            state: WaitingState::Done,
            ahead: 0,
            about: "",
            share: 1.0,
            left_s: Some(0.0),
            detail: None,
        }
    }
}

/// What is there, or how far it is.
pub(super) enum Perhaps<T> {
    There(T),
    Waiting(Waiting),
}

impl<T: Serialize> IntoResponse for Perhaps<T> {
    fn into_response(self) -> Response {
        match self {
            Self::There(it) => Json(it).into_response(),
            Self::Waiting(waiting) => (StatusCode::ACCEPTED, Json(waiting)).into_response(),
        }
    }
}

/// Tells how far a task is until it has ended.
pub(super) fn told(
    state: AppState,
    task: Task,
) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    let ticket = state.reasoner.pool.asked(&task);
    let stream = unfold(Some((ticket, false)), move |now| {
        let (state, task) = (state.clone(), task.clone());
        async move {
            let (ticket, waited) = now?;
            if waited {
                tokio::time::sleep(TELL).await;
            }
            let waiting = match &ticket {
                Some(ticket) => Waiting::of(&state, &task, ticket),
                None => Waiting::done(),
            };
            let goes_on = matches!(waiting.state, WaitingState::Queued | WaitingState::Working);
            let event = Event::default().json_data(&waiting).unwrap_or_default();
            Some((Ok(event), goes_on.then_some((ticket, true))))
        }
    });
    Sse::new(stream).keep_alive(KeepAlive::default())
}

/// Sheet and debrief of an attempt whose marks the asker may see, or how far they are: a student's own is
/// marked once it is handed in; an instructor sees how one stands that is going on.
async fn judged(
    state: &AppState,
    user: User,
    id: i32,
) -> Result<Perhaps<(MarkSheet, Debrief)>, Problem> {
    let found = state
        .work(move |s| {
            let (row, lesson, steps) = load(s, &user, id)?;
            if lesson.purpose == Purpose::Tools {
                return Err(Problem::not_found("a debrief of a healthy machine"));
            }
            let sees = to_attempt(&row, &user).is_some_and(|access| access.sees);
            if row.handed_in && !sees && !sheet_shows(&row, lesson.purpose, now()) {
                return Err(not_shown());
            }
            if !row.handed_in {
                if !sees {
                    return Err(too_early());
                }
                if let Some(both) = at_once(&lesson, &steps)? {
                    return Ok(Perhaps::There(both));
                }
                if let Some(reference) = s.reasoner.at_hand(row.lesson_id) {
                    return Ok(Perhaps::There(marked(&reference, &steps)?));
                }
                let task = Task::Reference(row.lesson_id);
                let ticket = s
                    .reasoner
                    .reference(row.lesson_id, &lesson, Urgency::Mark)?;
                return Ok(Perhaps::Waiting(Waiting::of(s, &task, &ticket)));
            }
            if let Some(kept) = s.store.standing_sheet(id)? {
                return Ok(Perhaps::There(read(&kept)?));
            }
            if let Some(made) = s.reasoner.marks_at_once(id, &lesson, &steps)? {
                return Ok(Perhaps::There(made));
            }
            let ticket = s.reasoner.marks(id, (row.lesson_id, &lesson), steps)?;
            Ok(Perhaps::Waiting(Waiting::of(s, &Task::Marks(id), &ticket)))
        })
        .await?;
    Ok(found)
}

fn too_early() -> Problem {
    Problem::forbidden("hand the attempt in first, then it is marked")
}

fn not_shown() -> Problem {
    Problem::forbidden("this sheet shows when everybody is done, or when your instructor says so")
}

/// An attempt whose marks somebody gives.
pub(super) fn own_to_mark(s: &AppState, id: i32, user: &User) -> Result<AttemptRow, Problem> {
    let row = of(s.store.standing(id, "", user.id)?, user)?.attempt;
    match to_attempt(&row, user).is_some_and(|access| access.marks) {
        true => Ok(row),
        false => Err(Problem::forbidden(
            "its class's instructor gives these marks",
        )),
    }
}

/// A kept sheet with its debrief.
fn read(kept: &SheetRow) -> Result<(MarkSheet, Debrief), Problem> {
    fn of<T: DeserializeOwned>(text: &str) -> Result<T, Problem> {
        serde_json::from_str(text).map_err(|e| {
            tracing::error!("a kept mark sheet cannot be read: {e}");
            Problem::internal()
        })
    }
    Ok((of(&kept.sheet)?, of(&kept.debrief)?))
}

/// A mark sheet as its school says it.
#[derive(Serialize, ToSchema)]
pub(super) struct SheetView {
    #[serde(flatten)]
    pub sheet: MarkSheet,
    /// The total, rounded and graded by the school's scale.
    pub says: String,
    /// The school gives grades: what is said is more than a number of 100.
    pub graded: bool,
}

impl SheetView {
    fn of(s: &AppState, sheet: MarkSheet) -> Result<Self, Problem> {
        let scale = s.store.scale()?;
        Ok(Self {
            says: scale.says(sheet.total),
            graded: scale.grade(sheet.total).is_some(),
            sheet,
        })
    }
}

/// The sheet of an attempt with the instructor's marks on it.
pub(super) async fn overridden(
    state: &AppState,
    user: User,
    id: i32,
) -> Result<Perhaps<SheetView>, Problem> {
    let practice = state.work({
        let user = user.clone();
        move |s| {
            let lesson = load(s, &user, id)?.1;
            // What was predicted is gone through on its sheet.
            Ok(lesson.purpose == Purpose::Practice && lesson.task.is_diagnosis())
        }
    });
    if practice.await? {
        return Err(Problem::forbidden("this one is not marked"));
    }
    let sheet = match judged(state, user, id).await? {
        Perhaps::Waiting(waiting) => return Ok(Perhaps::Waiting(waiting)),
        Perhaps::There((sheet, _)) => sheet,
    };
    let view = state.work(move |s| {
        let given = s.store.given_marks(id)?;
        SheetView::of(s, sheet.with_overrides(&given).map_err(Problem::bad)?)
    });
    Ok(Perhaps::There(view.await?))
}

/// The mark sheet: for the student once the attempt is handed in, for an instructor at any time. While it is
/// being worked out, how far that is.
#[utoipa::path(get, operation_id = "attempts_sheet", path = "/api/attempts/{id}/sheet", params(("id" = i32, Path)), responses((status = 200, body = SheetView), (status = 202, body = Waiting), (status = 403, body = Problem)))]
async fn sheet(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<impl IntoResponse, Problem> {
    overridden(&state, user, id).await
}

/// The mark sheet as CSV, a line for each reason.
#[utoipa::path(get, operation_id = "attempts_sheet_csv", path = "/api/attempts/{id}/sheet.csv", params(("id" = i32, Path)), responses((status = 200, body = String, content_type = "text/csv"), (status = 202, body = Waiting), (status = 403, body = Problem)))]
async fn sheet_csv(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<Response, Problem> {
    let sheet = match overridden(&state, user, id).await? {
        Perhaps::There(sheet) => sheet,
        waiting @ Perhaps::Waiting(_) => return Ok(waiting.into_response()),
    };
    let text = csv_of(&sheet)?;
    Ok(file(&format!("attempt-{id}.csv"), CSV, text).into_response())
}

/// The attempt replayed, step by step: for the student once it is handed in.
#[utoipa::path(get, operation_id = "attempts_debrief", path = "/api/attempts/{id}/debrief", params(("id" = i32, Path)), responses((status = 200, body = Debrief), (status = 202, body = Waiting), (status = 403, body = Problem)))]
async fn debriefed(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<Perhaps<Debrief>, Problem> {
    Ok(match judged(&state, user, id).await? {
        Perhaps::There((_, debrief)) => Perhaps::There(debrief),
        Perhaps::Waiting(waiting) => Perhaps::Waiting(waiting),
    })
}

/// What is wrong so far in practice, with its reason: claims and repairs as they stand. While the lesson's reference is
/// being worked out, how far that is.
#[utoipa::path(get, operation_id = "attempts_corrections", path = "/api/attempts/{id}/corrections", params(("id" = i32, Path)), responses((status = 200, body = Vec<Corrected>), (status = 202, body = Waiting), (status = 403, body = Problem)))]
async fn corrections(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<Perhaps<Vec<Corrected>>, Problem> {
    state
        .work(move |s| {
            let (row, lesson, steps) = load(s, &user, id)?;
            if lesson.purpose != Purpose::Practice {
                return Err(Problem::forbidden("only practice is corrected at once"));
            }
            if let Some(reference) = s.reasoner.at_hand(row.lesson_id) {
                let case = Case::new(&reference, &steps)?;
                return Ok(Perhaps::There(corrected(&case)));
            }
            let task = Task::Reference(row.lesson_id);
            let ticket = s
                .reasoner
                .reference(row.lesson_id, &lesson, Urgency::Hint)?;
            Ok(Perhaps::Waiting(Waiting::of(s, &task, &ticket)))
        })
        .await
}

/// How far the marks of an attempt are, as server-sent events until they are there.
#[utoipa::path(get, operation_id = "attempts_waiting", path = "/api/attempts/{id}/waiting", params(("id" = i32, Path)), responses((status = 200, body = Waiting, content_type = "text/event-stream"), (status = 404, body = Problem)))]
async fn waiting(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<impl IntoResponse, Problem> {
    let task = state.work(move |s| {
        let row = of(s.store.standing(id, "", user.id)?, &user)?.attempt;
        let sees = to_attempt(&row, &user).is_some_and(|access| access.sees);
        let purpose = s.lesson(row.lesson_id)?.purpose;
        match (row.handed_in, sees) {
            // How long it takes tells something of the fault.
            (false, false) => Err(too_early()),
            (true, false) if !sheet_shows(&row, purpose, now()) => Err(not_shown()),
            (true, _) => Ok(Task::Marks(id)),
            (false, true) => Ok(Task::Reference(row.lesson_id)),
        }
    });
    Ok(told(state.clone(), task.await?))
}

/// Stop what an attempt's marks are waiting for; asked for again it begins anew.
#[utoipa::path(delete, operation_id = "attempts_stop_waiting", path = "/api/attempts/{id}/waiting", params(("id" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn stop_waiting(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            let row = own_to_mark(s, id, &user)?;
            let task = match row.handed_in {
                true => Task::Marks(id),
                false => Task::Reference(row.lesson_id),
            };
            s.reasoner.pool.give_up(&task);
            Ok(())
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// A mark sheet that was made for an attempt.
#[derive(Serialize, ToSchema)]
struct KeptSheet {
    id: i32,
    /// The engine that made it.
    engine: String,
    made_at: i64,
    /// It is the one that counts.
    stands: bool,
    sheet: MarkSheet,
}

/// Every sheet that was made for an attempt, oldest first, without an instructor's own marks.
#[utoipa::path(get, operation_id = "attempts_sheets", path = "/api/attempts/{id}/sheets", params(("id" = i32, Path)), responses((status = 200, body = Vec<KeptSheet>)))]
async fn sheets(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<Json<Vec<KeptSheet>>, Problem> {
    let kept = state
        .work(move |s| {
            own_to_mark(s, id, &user)?;
            let one = |row: SheetRow| {
                let (sheet, _) = read(&row)?;
                Ok(KeptSheet {
                    id: row.id,
                    engine: row.engine,
                    made_at: row.made_at,
                    stands: row.stands,
                    sheet,
                })
            };
            s.store.sheets(id)?.into_iter().map(one).collect()
        })
        .await?;
    Ok(Json(kept))
}

/// Mark an attempt again with the engine of today. The sheet that stands goes on standing.
#[utoipa::path(post, operation_id = "attempts_mark_again", path = "/api/attempts/{id}/sheets", params(("id" = i32, Path)), responses((status = 202, body = Waiting), (status = 400, body = Problem)))]
async fn mark_again(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<Perhaps<()>, Problem> {
    let waiting = state
        .work(move |s| {
            own_to_mark(s, id, &user)?;
            let (row, lesson, steps) = load(s, &user, id)?;
            if !row.handed_in || lesson.purpose == Purpose::Tools {
                return Err(Problem::bad("only what was handed in is marked again"));
            }
            if s.reasoner.marks_at_once(id, &lesson, &steps)?.is_some() {
                return Ok(Waiting::done());
            }
            let ticket = s.reasoner.marks(id, (row.lesson_id, &lesson), steps)?;
            Ok(Waiting::of(s, &Task::Marks(id), &ticket))
        })
        .await?;
    Ok(Perhaps::Waiting(waiting))
}

/// Let another sheet of an attempt stand.
#[utoipa::path(put, operation_id = "attempts_let_stand", path = "/api/attempts/{id}/sheets/{sheet}/stands", params(("id" = i32, Path), ("sheet" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn let_stand(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path((id, sheet)): Path<(i32, i32)>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            own_to_mark(s, id, &user)?;
            Ok(s.store.let_stand(id, sheet)?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Give other marks for a line, or a comment; the computed ones stay beside them.
#[utoipa::path(post, operation_id = "attempts_give_marks", path = "/api/attempts/{id}/marks", params(("id" = i32, Path)), request_body = Override, responses((status = 200, body = SheetView), (status = 202, body = Waiting), (status = 400, body = Problem)))]
async fn give_marks(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
    Body(given): Body<Override>,
) -> Result<Perhaps<SheetView>, Problem> {
    let author = user.id;
    let own = user.clone();
    state.work(move |s| own_to_mark(s, id, &own)).await?;
    let sheet = match overridden(&state, user, id).await? {
        Perhaps::There(view) => view.sheet,
        waiting @ Perhaps::Waiting(_) => return Ok(waiting),
    };
    let view = state
        .work(move |s| {
            let changed = sheet
                .with_overrides(std::slice::from_ref(&given))
                .map_err(Problem::bad)?;
            s.store.give_marks(id, &given, author, now())?;
            SheetView::of(s, changed)
        })
        .await?;
    Ok(Perhaps::There(view))
}

/// The same marks, or the same comment, for a line of several sheets.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Many {
    attempts: Vec<i32>,
    given: Override,
}

/// Most sheets that are changed at once: a class has fewer.
const MOST_SHEETS: usize = 200;

/// Give the same marks, or the same comment, for a line of several marked sheets: for all of them, or for none.
#[utoipa::path(post, operation_id = "marks_give_many", path = "/api/marks", request_body = Many, responses((status = 204), (status = 400, body = Problem), (status = 403, body = Problem)))]
async fn give_many(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Body(Many { attempts, given }): Body<Many>,
) -> Result<StatusCode, Problem> {
    if attempts.is_empty() || attempts.len() > MOST_SHEETS {
        let text = format!("expected 1 to {MOST_SHEETS} sheets");
        return Err(Problem::bad(text));
    }
    state
        .work(move |s| {
            for &id in &attempts {
                let row = own_to_mark(s, id, &user)?;
                let of = |why: String| Problem::bad(format!("{}: {why}", row.student));
                let kept = s.store.standing_sheet(id)?;
                let kept = kept.ok_or_else(|| of("there are no marks yet".to_owned()))?;
                let (sheet, _) = read(&kept)?;
                sheet
                    .with_overrides(std::slice::from_ref(&given))
                    .map_err(of)?;
            }
            Ok(s.store.give_many_marks(&attempts, &given, user.id, now())?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

fn csv_of(SheetView { sheet, says, .. }: &SheetView) -> Result<String, Problem> {
    csv(|out| {
        out.write_record([
            "criterion",
            "marks",
            "out_of",
            "given",
            "step",
            "earned",
            "possible",
            "reason",
        ])?;
        for line in &sheet.lines {
            let given = line.given.as_ref();
            let instead = given
                .and_then(|g| g.marks)
                .map_or(String::new(), |m| m.to_string());
            out.write_record([
                line.title.as_str(),
                &line.marks.to_string(),
                &line.out_of.to_string(),
                &instead,
                "",
                "",
                "",
                &given.map_or(String::new(), |g| inert(&g.reason)),
            ])?;
            for detail in &line.details {
                let step = detail.step.map_or(String::new(), |s| s.to_string());
                out.write_record([
                    line.title.as_str(),
                    "",
                    "",
                    "",
                    &step,
                    &format!("{:.2}", detail.earned),
                    &format!("{:.2}", detail.possible),
                    &inert(&detail.text),
                ])?;
            }
        }
        for event in &sheet.safety {
            out.write_record([
                "Safety",
                "",
                "",
                "",
                &event.step.to_string(),
                &(-event.takes()).to_string(),
                "0",
                &inert(&event.text),
            ])?;
        }
        let total = sheet.total.to_string();
        out.write_record(["Total", &total, "100", "", "", "", "", &inert(says)])?;
        Ok(())
    })
}
