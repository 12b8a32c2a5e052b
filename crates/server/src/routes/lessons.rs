//! Lessons and to whom they are given. For instructors only.

use axum::Json;
use axum::extract::{Path, State};
use cimento_core::attempt::{LESSON_FORMAT, Lesson, LessonDoc};
use cimento_core::faults::FaultDoc;
use cimento_core::suspects::Plan;
use cimento_store::AttemptRow;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::Body;
use crate::problem::Problem;
use crate::session::Instructor;
use crate::state::{AppState, now};

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list, create))
        .routes(routes!(give))
        .routes(routes!(prospect))
        .routes(routes!(students))
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewLesson {
    title: String,
    /// The complaint in the customer's words.
    complaint: String,
    circuit: i32,
    faults: Vec<FaultDoc>,
    predictions: bool,
}

#[derive(Serialize, ToSchema)]
struct LessonItem {
    id: i32,
    title: String,
    created_at: i64,
    attempts: Vec<AttemptItem>,
}

/// An attempt as an instructor sees it in a list.
#[derive(Serialize, ToSchema)]
struct AttemptItem {
    id: i32,
    student: String,
    steps: usize,
    handed_in: bool,
}

#[derive(Serialize, ToSchema)]
struct Created {
    id: i32,
}

#[derive(Serialize, ToSchema)]
struct StudentItem {
    id: i32,
    name: String,
    display: String,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Give {
    students: Vec<i32>,
}

fn item(row: &AttemptRow) -> AttemptItem {
    AttemptItem {
        id: row.id,
        student: row.student.clone(),
        steps: row.steps,
        handed_in: row.handed_in,
    }
}

/// All lessons with their attempts.
#[utoipa::path(get, operation_id = "lessons_list", path = "/api/lessons", responses((status = 200, body = Vec<LessonItem>)))]
async fn list(
    State(state): State<AppState>,
    _: Instructor,
) -> Result<Json<Vec<LessonItem>>, Problem> {
    let items = state
        .work(|s| {
            let attempts = s.store.attempts(None, None)?;
            let lesson = |(id, title, created_at)| LessonItem {
                id,
                title,
                created_at,
                attempts: attempts
                    .iter()
                    .filter(|a| a.lesson_id == id)
                    .map(item)
                    .collect(),
            };
            Ok(s.store.lessons()?.into_iter().map(lesson).collect())
        })
        .await?;
    Ok(Json(items))
}

/// Save a circuit with its faults as a lesson.
#[utoipa::path(post, operation_id = "lessons_create", path = "/api/lessons", request_body = NewLesson, responses((status = 200, body = Created), (status = 422, body = Problem)))]
async fn create(
    State(state): State<AppState>,
    Instructor(author): Instructor,
    Body(new): Body<NewLesson>,
) -> Result<Json<Created>, Problem> {
    let id = state
        .work(move |s| {
            let doc = LessonDoc {
                format: LESSON_FORMAT.to_owned(),
                version: 1,
                title: new.title.trim().to_owned(),
                complaint: new.complaint.trim().to_owned(),
                circuit: s.store.circuit(new.circuit)?.document,
                faults: new.faults,
                predictions: new.predictions,
                meter_seed: 0,
                functions: cimento_core::attempt::all_functions(),
                limits: cimento_core::key::Limits::default(),
                weights: cimento_core::marking::Weights::default(),
            };
            Lesson::new(doc.clone())?;
            let id = s.store.add_lesson(&doc, author.id, now())?;
            s.prepare(id);
            Ok(id)
        })
        .await?;
    Ok(Json(Created { id }))
}

/// What a lesson's meter and states can show of its fault.
#[derive(Serialize, ToSchema)]
struct Prospect {
    /// Its fault can be told from every other.
    provable: bool,
    /// What it cannot be told from, its own places first among them.
    group: Vec<String>,
    plan: Plan,
    /// What the instructor should know before giving it out; empty when all is well.
    warning: String,
}

/// Whether a lesson's fault can be proven, with how many readings, and what it is confused with.
#[utoipa::path(get, operation_id = "lessons_prospect", path = "/api/lessons/{id}/prospect", params(("id" = i32, Path)), responses((status = 200, body = Prospect)))]
async fn prospect(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
) -> Result<Json<Prospect>, Problem> {
    let told = state
        .work(move |s| {
            s.reason(id, |r| {
                let circuit = &r.lesson.circuit;
                let own: Vec<_> = r.lesson.faults.iter().map(|f| f.place).collect();
                let others = r.group.iter().filter(|p| !own.contains(p));
                let names = |p: &cimento_core::circuit::Place| circuit.place_id(*p).to_owned();
                let others: Vec<String> = others.map(names).collect();
                let warning = if others.is_empty() {
                    String::new()
                } else {
                    format!(
                        "With this meter the fault cannot be told from one at {}; naming any of them counts as right.",
                        others.join(", ")
                    )
                };
                Ok(Prospect {
                    provable: others.is_empty(),
                    group: own.iter().map(names).chain(others).collect(),
                    plan: r.plan.clone(),
                    warning,
                })
            })
        })
        .await?;
    Ok(Json(told))
}

/// Give a lesson to students.
#[utoipa::path(post, operation_id = "lessons_give", path = "/api/lessons/{id}/give", params(("id" = i32, Path)), request_body = Give, responses((status = 200, body = Vec<AttemptItem>)))]
async fn give(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
    Body(to): Body<Give>,
) -> Result<Json<Vec<AttemptItem>>, Problem> {
    let items = state
        .work(move |s| {
            s.store.lesson(id)?;
            let known = s.store.students()?;
            if let Some(other) = to
                .students
                .iter()
                .find(|id| known.iter().all(|u| u.id != **id))
            {
                return Err(Problem::not_found(&format!("student {other}")));
            }
            s.store.give(id, &to.students, now())?;
            Ok(s.store.attempts(None, Some(id))?.iter().map(item).collect())
        })
        .await?;
    Ok(Json(items))
}

/// All students.
#[utoipa::path(get, operation_id = "lessons_students", path = "/api/students", responses((status = 200, body = Vec<StudentItem>)))]
async fn students(
    State(state): State<AppState>,
    _: Instructor,
) -> Result<Json<Vec<StudentItem>>, Problem> {
    let users = state.work(|s| Ok(s.store.students()?)).await?;
    let item = |u: cimento_store::User| StudentItem {
        id: u.id,
        name: u.name,
        display: u.display,
    };
    Ok(Json(users.into_iter().map(item).collect()))
}
