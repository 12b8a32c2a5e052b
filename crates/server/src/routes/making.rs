//! Lessons in the making: what one that is not saved can show, and faults that would make one. For instructors only.

use std::sync::Arc;
use std::time::{Duration, Instant};

use axum::Json;
use axum::extract::State;
use cimento_diagnosis::course::{MakerError, Tried, Wish, propose};
use cimento_diagnosis::lesson::{Job, Lesson, LessonDoc, contradictions};
use cimento_diagnosis::suspects::Progress;
use cimento_model::faults::FaultDoc;
use serde::Deserialize;
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::Body;
use super::lessons::{NewLesson, circuit_of, document};
use crate::problem::Problem;
use crate::prospect::Prospect;
use crate::session::Instructor;
use crate::state::AppState;

/// So many lessons are proposed at once, and for so long one looks for them.
const PROPOSED: usize = 4;
const PROPOSING: Duration = Duration::from_secs(15);

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(words))
        .routes(routes!(preview))
        .routes(routes!(proposals))
}

/// A complaint in the customer's words, to be held against what a machine does.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Words {
    circuit: i32,
    /// The version that it is about; the present one when absent.
    #[serde(default)]
    version: Option<i32>,
    faults: Vec<FaultDoc>,
    complaint: String,
}

/// Where the customer's words contradict what the machine does.
#[utoipa::path(post, operation_id = "lessons_words", path = "/api/lessons/words", request_body = Words, responses((status = 200, body = Vec<String>), (status = 422, body = Problem)))]
async fn words(
    State(state): State<AppState>,
    _: Instructor,
    Body(words): Body<Words>,
) -> Result<Json<Vec<String>>, Problem> {
    let told = state
        .work(move |s| {
            let circuit = circuit_of(s, words.circuit, words.version)?;
            // Whatever it comes in for, it does what it does.
            let doc = LessonDoc {
                job: Job::CheckUpOrSound,
                ..LessonDoc::of("words", circuit, words.faults)
            };
            let lesson = Lesson::new(doc)?;
            Ok(contradictions(&words.complaint, &lesson.symptom))
        })
        .await?;
    Ok(Json(told))
}

/// What a lesson that has not been saved can show. It is given up when the asker goes away.
#[utoipa::path(post, operation_id = "lessons_preview", path = "/api/lessons/preview", request_body = NewLesson, responses((status = 200, body = Prospect), (status = 422, body = Problem)))]
async fn preview(
    State(state): State<AppState>,
    _: Instructor,
    Body(new): Body<NewLesson>,
) -> Result<Json<Prospect>, Problem> {
    let (doc, lesson) = state
        .work(move |s| {
            let circuit = circuit_of(s, new.circuit, new.version)?;
            let doc = document(s, &new, circuit, new.faults.clone())?;
            Ok((doc.clone(), Lesson::new(doc)?))
        })
        .await?;
    let prospect = state.reasoner.prospect(&doc, lesson).await?;
    Ok(Json(Prospect::clone(&prospect)))
}

/// A lesson without its fault, and what it is wished to be.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Wished {
    /// Its title is a draft, its faults are none.
    lesson: NewLesson,
    wish: Wish,
}

/// Propose lessons on a circuit: faults by chance, each proven, until there are some or a while has passed. It is given up
/// when the asker goes away.
#[utoipa::path(post, operation_id = "lessons_proposals", path = "/api/lessons/proposals", request_body = Wished, responses((status = 200, body = Tried), (status = 422, body = Problem)))]
async fn proposals(
    State(state): State<AppState>,
    _: Instructor,
    Body(wished): Body<Wished>,
) -> Result<Json<Tried>, Problem> {
    let base = state
        .work(move |s| {
            let circuit = circuit_of(s, wished.lesson.circuit, wished.lesson.version)?;
            Ok((
                document(s, &wished.lesson, circuit, Vec::new())?,
                wished.wish,
            ))
        })
        .await?;
    let find = move |progress: &Arc<Progress>| {
        let (lesson, wish) = base;
        let until = Instant::now() + PROPOSING;
        let go_on = |found: usize| found < PROPOSED && Instant::now() < until;
        propose(&lesson, &wish, progress, go_on).map_err(|e| match e {
            MakerError::Refused(refused) => Problem::from(refused),
            MakerError::Bench(e) => Problem::from(e),
        })
    };
    Ok(Json(state.reasoner.aside(find).await?))
}
