//! A student's attempts. What leaves here never holds a fault, a key, a candidate or a voltage that
//! was not measured; the mark sheet, which names the fault, waits until the attempt is handed in.

use cimento_diagnosis::attempt::actions::{HandIn, Hint};
use std::collections::BTreeSet;
use std::sync::Arc;

use axum::Json;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use cimento_bench::instruments::{Function, SWEEPS};
use cimento_diagnosis::attempt::{Action, Answer, BenchView, RepairKind, Session, Step, repairs};
use cimento_diagnosis::lesson::{
    Experiment, HealthySheet, Lesson, Means, Papers, Purpose, experiments,
};
use cimento_diagnosis::marking::{Case, Debrief, MarkSheet, Override, debrief};
use cimento_diagnosis::suspects::{hint, next_level};
use cimento_model::circuit::{CurrentPath, Danger, Drawing, PlaceInfo};
use cimento_store::{AttemptRow, NewStep, Role, User};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::Body;
use crate::pace::paced;
use crate::problem::Problem;
use crate::session::{Instructor, SignedIn, Student};
use crate::state::{AppState, now};

/// Longest key of a request.
const LONGEST_KEY: usize = 64;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list))
        .routes(routes!(one))
        .routes(routes!(act))
        .routes(routes!(ask_hint))
        .routes(routes!(things_to_try))
        .routes(routes!(sheet))
        .routes(routes!(sheet_csv))
        .routes(routes!(capture_csv))
        .routes(routes!(debriefed))
        .routes(routes!(give_marks))
}

#[derive(Serialize, ToSchema)]
struct OwnAttempt {
    id: i32,
    title: String,
    purpose: Purpose,
    given_at: i64,
    steps: usize,
    handed_in: bool,
}

/// A student's bench: the work order, what the machine looks like, and what was done.
#[derive(Serialize, ToSchema)]
struct AttemptView {
    id: i32,
    title: String,
    student: String,
    purpose: Purpose,
    /// The complaint in the customer's words.
    words: String,
    /// What the machine did when it was tried, computed.
    complaint: String,
    cautions: Vec<String>,
    /// What is warned of again before it is done.
    dangers: Vec<Danger>,
    predictions: bool,
    functions: Vec<Function>,
    /// The oscilloscope may be used.
    scope: bool,
    /// What may not be done to the machine.
    forbidden: Vec<Means>,
    /// The words of the actions that are not allowed for it.
    forbidden_actions: Vec<&'static str>,
    papers: Papers,
    /// What a healthy machine reads, where its papers list it.
    healthy: Vec<HealthySheet>,
    /// What is to be measured first, in words; empty where it does not matter.
    method: String,
    /// Seconds of the time limit that are left, by the server's clock; absent without a limit.
    left_s: Option<i64>,
    /// Sweeps of the oscilloscope, in seconds.
    sweeps: Vec<f64>,
    drawing: Drawing,
    paths: Vec<CurrentPath>,
    places: Vec<PlaceWithRepairs>,
    /// Connectors, fuses and relays that can be taken apart by hand.
    comes_apart: Vec<String>,
    /// Pairs of parts that can be exchanged.
    alike: Vec<[String; 2]>,
    modules: Vec<String>,
    harnesses: Vec<String>,
    bench: BenchView,
}

/// A place with the ways any such place can fail and be repaired.
#[derive(Serialize, ToSchema)]
struct PlaceWithRepairs {
    #[serde(flatten)]
    place: PlaceInfo,
    repairs: Vec<RepairItem>,
}

/// A repair with the words it is offered in.
#[derive(Serialize, ToSchema)]
struct RepairItem {
    how: RepairKind,
    text: &'static str,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewAction {
    /// How many steps the asker knows of: another tab may have gone on.
    after: usize,
    /// A key of the asker's choice: sending the same again does it once.
    request: String,
    action: Action,
}

/// The attempts of the student who asks.
#[utoipa::path(get, operation_id = "attempts_list", path = "/api/attempts", responses((status = 200, body = Vec<OwnAttempt>)))]
async fn list(
    State(state): State<AppState>,
    Student(student): Student,
) -> Result<Json<Vec<OwnAttempt>>, Problem> {
    let own = state
        .work(move |s| {
            let item = |row: AttemptRow| -> Result<OwnAttempt, Problem> {
                Ok(OwnAttempt {
                    id: row.id,
                    purpose: s.lesson(row.lesson_id)?.purpose,
                    title: row.lesson_title,
                    given_at: row.given_at,
                    steps: row.steps,
                    handed_in: row.handed_in,
                })
            };
            let rows = s.store.attempts(Some(student.id), None)?;
            rows.into_iter().map(item).collect::<Result<Vec<_>, _>>()
        })
        .await?;
    Ok(Json(own))
}

/// One's own attempt; for an instructor, anybody's.
#[utoipa::path(get, operation_id = "attempts_one", path = "/api/attempts/{id}", params(("id" = i32, Path)), responses((status = 200, body = AttemptView), (status = 404, body = Problem)))]
async fn one(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<Json<AttemptView>, Problem> {
    let view = state.work(move |s| {
        let (row, lesson, steps) = load(s, &user, id)?;
        let session = Session::resume(&lesson, &steps)?;
        let began = s.store.began(id)?;
        attempt_view(&row, &lesson, &session, began)
    });
    Ok(Json(paced(view).await?))
}

/// Do something on one's own bench. It is stored before it is answered.
#[utoipa::path(post, operation_id = "attempts_act", path = "/api/attempts/{id}/steps", params(("id" = i32, Path)), request_body = NewAction, responses((status = 200, body = BenchView), (status = 400, body = Problem), (status = 409, body = Problem)))]
async fn act(
    State(state): State<AppState>,
    SignedIn(student): SignedIn,
    Path(id): Path<i32>,
    Body(new): Body<NewAction>,
) -> Result<Json<BenchView>, Problem> {
    if matches!(new.action, Action::Hint(_)) {
        return Err(Problem::bad("a hint is asked for by its own button"));
    }
    let asked = Asked {
        after: new.after,
        request: new.request,
    };
    let view = state.work(move |s| step(s, &student, id, &asked, |_, _| Ok(new.action)));
    Ok(Json(paced(view).await?))
}

/// Who asks, and what the asker knows of.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Asked {
    /// How many steps the asker knows of: another tab may have gone on.
    after: usize,
    /// A key of the asker's choice: sending the same again does it once.
    request: String,
}

/// Does one step on an attempt, once, and stores it before it is answered.
fn step(
    s: &AppState,
    student: &User,
    id: i32,
    asked: &Asked,
    action: impl FnOnce(&AttemptRow, &[Step]) -> Result<Action, Problem>,
) -> Result<BenchView, Problem> {
    // An instructor tries lessons on attempts of their own, and looks at others' only.
    if s.store.attempt(id)?.student_id != student.id {
        return Err(match student.role {
            Role::Student => Problem::not_found(&format!("attempt {id}")),
            Role::Instructor => Problem::forbidden("this bench is its student's"),
        });
    }
    if asked.request.is_empty() || asked.request.len() > LONGEST_KEY {
        return Err(Problem::bad(format!(
            "request: expected 1 to {LONGEST_KEY} characters"
        )));
    }
    let (row, lesson, steps) = load(s, student, id)?;
    let mut session = Session::resume(&lesson, &steps)?;
    if s.store.step_of_request(id, &asked.request)?.is_some() {
        return Ok(session.view());
    }
    if asked.after != steps.len() {
        return Err(Problem::moved_on(format!(
            "this attempt has gone on elsewhere: it has {} steps, not {}; it was loaded again",
            steps.len(),
            asked.after
        )));
    }
    let action = action(&row, &steps)?;
    let began = s.store.began(id)?;
    if left_s(&lesson, began) == Some(0) && action != Action::HandIn(HandIn {}) {
        return Err(Problem::bad("the time of this lesson is over: hand in"));
    }
    let stored = NewStep {
        step: session.act(action)?,
        request: &asked.request,
        at: now(),
    };
    s.store.add_step(id, &stored)?;
    // The sheet will be asked for at the end: its reference can be ready by then.
    if stored.step.no == 1 {
        s.prepare(row.lesson_id);
    }
    Ok(session.view())
}

/// Ask for a hint in practice. Each one since the last measurement says more and costs more.
#[utoipa::path(post, operation_id = "attempts_hint", path = "/api/attempts/{id}/hints", params(("id" = i32, Path)), request_body = Asked, responses((status = 200, body = BenchView), (status = 400, body = Problem), (status = 409, body = Problem)))]
async fn ask_hint(
    State(state): State<AppState>,
    SignedIn(student): SignedIn,
    Path(id): Path<i32>,
    Body(asked): Body<Asked>,
) -> Result<Json<BenchView>, Problem> {
    let view = state
        .work(move |s| {
            let (row, lesson, _) = load(s, &student, id)?;
            if lesson.purpose != Purpose::Practice || row.handed_in {
                return Err(Problem::bad("hints are for practice that is going on"));
            }
            step(s, &student, id, &asked, |row, steps| {
                let level = next_level(steps);
                let steps = steps.to_vec();
                let text = s.reason(row.lesson_id, move |r| hint(r, &steps, level))?;
                Ok(Action::Hint(Hint { level, text }))
            })
        })
        .await?;
    Ok(Json(view))
}

/// What can be tried on a healthy machine.
#[utoipa::path(get, operation_id = "attempts_experiments", path = "/api/attempts/{id}/experiments", params(("id" = i32, Path)), responses((status = 200, body = Vec<Experiment>), (status = 404, body = Problem)))]
async fn things_to_try(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<Json<Vec<Experiment>>, Problem> {
    let found = state
        .work(move |s| {
            let (_, lesson, _) = load(s, &user, id)?;
            match lesson.purpose {
                Purpose::Tools => Ok(experiments(&lesson.circuit)?),
                _ => Err(Problem::not_found("anything to try here")),
            }
        })
        .await?;
    Ok(Json(found))
}

/// The mark sheet: for the student once the attempt is handed in, for an instructor at any time.
#[utoipa::path(get, operation_id = "attempts_sheet", path = "/api/attempts/{id}/sheet", params(("id" = i32, Path)), responses((status = 200, body = MarkSheet), (status = 403, body = Problem)))]
async fn sheet(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<Json<MarkSheet>, Problem> {
    let sheet = state.work(move |s| marked(s, &user, id)).await?;
    Ok(Json(sheet))
}

/// A screen of the oscilloscope as CSV.
#[utoipa::path(get, operation_id = "attempts_capture_csv", path = "/api/attempts/{id}/captures/{step}", params(("id" = i32, Path), ("step" = usize, Path)), responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
async fn capture_csv(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path((id, step)): Path<(i32, usize)>,
) -> Result<impl IntoResponse, Problem> {
    let text = state
        .work(move |s| {
            let (_, _, steps) = load(s, &user, id)?;
            let found = step.checked_sub(1).and_then(|n| steps.get(n));
            match found.map(|s| &s.answer) {
                Some(Answer::Captured { capture }) => Ok(capture.csv()),
                _ => Err(Problem::not_found("this screen")),
            }
        })
        .await?;
    let name = format!("attachment; filename=\"attempt-{id}-step-{step}.csv\"");
    let kind = "text/csv; charset=utf-8".to_owned();
    Ok((
        [
            (header::CONTENT_TYPE, kind),
            (header::CONTENT_DISPOSITION, name),
        ],
        text,
    ))
}

/// The mark sheet as CSV, a line for each reason.
#[utoipa::path(get, operation_id = "attempts_sheet_csv", path = "/api/attempts/{id}/sheet.csv", params(("id" = i32, Path)), responses((status = 200, body = String, content_type = "text/csv"), (status = 403, body = Problem)))]
async fn sheet_csv(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<impl IntoResponse, Problem> {
    let sheet = state.work(move |s| marked(s, &user, id)).await?;
    let text = csv_of(&sheet).map_err(|_| Problem::internal())?;
    let name = format!("attachment; filename=\"attempt-{id}.csv\"");
    Ok((
        [
            (header::CONTENT_TYPE, "text/csv; charset=utf-8".to_owned()),
            (header::CONTENT_DISPOSITION, name),
        ],
        text,
    ))
}

/// The attempt replayed, step by step: for the student once it is handed in.
#[utoipa::path(get, operation_id = "attempts_debrief", path = "/api/attempts/{id}/debrief", params(("id" = i32, Path)), responses((status = 200, body = Debrief), (status = 403, body = Problem)))]
async fn debriefed(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<Json<Debrief>, Problem> {
    let told = state
        .work(move |s| {
            let (row, _, steps) = load_closed(s, &user, id)?;
            s.reason(row.lesson_id, move |r| Ok(debrief(&Case::new(r, &steps)?)))
        })
        .await?;
    Ok(Json(told))
}

/// Give other marks for a line, or a comment; the computed ones stay beside them.
#[utoipa::path(post, operation_id = "attempts_give_marks", path = "/api/attempts/{id}/marks", params(("id" = i32, Path)), request_body = Override, responses((status = 200, body = MarkSheet), (status = 400, body = Problem)))]
async fn give_marks(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
    Body(given): Body<Override>,
) -> Result<Json<MarkSheet>, Problem> {
    let sheet = state
        .work(move |s| {
            let sheet = marked(s, &user, id)?;
            let changed = sheet
                .with_overrides(std::slice::from_ref(&given))
                .map_err(Problem::bad)?;
            s.store.give_marks(id, &given, user.id, now())?;
            Ok(changed)
        })
        .await?;
    Ok(Json(sheet))
}

/// The sheet of an attempt with the instructor's marks on it.
fn marked(s: &AppState, user: &User, id: i32) -> Result<MarkSheet, Problem> {
    let (row, lesson, steps) = load_closed(s, user, id)?;
    if lesson.purpose != Purpose::Marks {
        return Err(Problem::forbidden("this one is not marked"));
    }
    let sheet = s.reason(row.lesson_id, move |r| {
        cimento_diagnosis::marking::sheet(&Case::new(r, &steps)?)
    })?;
    sheet
        .with_overrides(&s.store.given_marks(id)?)
        .map_err(Problem::bad)
}

/// A text that a spreadsheet does not take for a formula: students write some of them.
fn inert(text: &str) -> String {
    match text.starts_with(['=', '+', '-', '@', '\t', '\r']) {
        true => format!("'{text}"),
        false => text.to_owned(),
    }
}

fn csv_of(sheet: &MarkSheet) -> Result<String, csv::Error> {
    let mut out = csv::Writer::from_writer(Vec::new());
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
            &event.text,
        ])?;
    }
    out.write_record(["Total", &sheet.total.to_string(), "100", "", "", "", "", ""])?;
    Ok(String::from_utf8_lossy(&out.into_inner().map_err(|e| e.into_error())?).into_owned())
}

/// An attempt whose marks the asker may see: a student's own is marked once it is handed in.
fn load_closed(
    s: &AppState,
    user: &User,
    id: i32,
) -> Result<(AttemptRow, Arc<Lesson>, Vec<Step>), Problem> {
    let (row, lesson, steps) = load(s, user, id)?;
    if lesson.purpose == Purpose::Tools {
        return Err(Problem::not_found("a debrief of a healthy machine"));
    }
    if user.role == Role::Student && !row.handed_in {
        return Err(Problem::forbidden(
            "hand the attempt in first, then it is marked",
        ));
    }
    Ok((row, lesson, steps))
}

/// An attempt that the asker may see. Somebody else's is as if it were not there.
fn load(
    s: &AppState,
    user: &User,
    id: i32,
) -> Result<(AttemptRow, Arc<Lesson>, Vec<Step>), Problem> {
    let row = s.store.attempt(id)?;
    if user.role == Role::Student && row.student_id != user.id {
        return Err(Problem::not_found(&format!("attempt {id}")));
    }
    let lesson = s.lesson(row.lesson_id)?;
    let steps = s.store.steps(id)?;
    Ok((row, lesson, steps))
}

/// Seconds that are left of a lesson's time, by the server's clock.
fn left_s(lesson: &Lesson, began: Option<i64>) -> Option<i64> {
    let whole = (lesson.limit_minutes? * 60.0) as i64;
    let spent = began.map_or(0, |at| now() - at);
    Some((whole - spent).max(0))
}

fn attempt_view(
    row: &AttemptRow,
    lesson: &Lesson,
    session: &Session,
    began: Option<i64>,
) -> Result<AttemptView, Problem> {
    let circuit = &lesson.circuit;
    let places = circuit.places().zip(circuit.place_list());
    Ok(AttemptView {
        id: row.id,
        title: lesson.title.clone(),
        purpose: lesson.purpose,
        student: row.student.clone(),
        words: lesson.words.clone(),
        complaint: lesson.symptom.text.clone(),
        cautions: circuit.cautions(),
        dangers: circuit.dangers(),
        predictions: lesson.predictions,
        functions: lesson.functions.clone(),
        scope: lesson.scope,
        forbidden: lesson.forbidden.clone(),
        forbidden_actions: Action::forbidden(&lesson.forbidden),
        papers: lesson.papers,
        healthy: lesson.sheets.clone(),
        method: lesson.method.text().to_owned(),
        left_s: left_s(lesson, began),
        sweeps: SWEEPS.to_vec(),
        drawing: match lesson.papers.diagram {
            true => circuit.drawing(),
            false => circuit.drawing().without_wiring(),
        },
        paths: match lesson.papers.diagram {
            true => circuit.paths().to_vec(),
            false => Vec::new(),
        },
        places: places
            .map(|(place, info)| PlaceWithRepairs {
                place: info,
                repairs: {
                    let all = repairs(circuit, place).iter().copied();
                    all.map(|how| RepairItem {
                        how,
                        text: how.to_do(),
                    })
                    .collect()
                },
            })
            .collect(),
        comes_apart: lesson.comes_apart.clone(),
        alike: lesson.alike.clone(),
        modules: {
            let parts = circuit.parts.iter().filter(|p| p.kind.module().is_some());
            parts.map(|p| p.id.clone()).collect()
        },
        harnesses: {
            let all = circuit.conductors.iter().filter_map(|c| c.harness.clone());
            all.collect::<BTreeSet<_>>().into_iter().collect()
        },
        bench: session.view(),
    })
}
