//! Two students at one bench. What one asks the machine waits until the other has said what they expect too: nobody
//! learns from a partner what there is to expect.

use axum::Json;
use axum::extract::{DefaultBodyLimit, State};
use axum::http::StatusCode;
use cimento_bench::instruments::Looks;
use cimento_diagnosis::attempt::{Action, BenchView, Session, Supposed};
use cimento_store::AttemptRow;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::MOST_OF_A_STUDENT;
use super::attempts::of;
use super::extract::{Body, Path};
use super::working::{Asked, Doing, is_own, step};
use crate::access::given_by;
use crate::clock::now;
use crate::pace::paced;
use crate::problem::Problem;
use crate::session::{Instructor, SignedIn};
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(answer, take_back))
        .routes(routes!(part))
        .layer(DefaultBodyLimit::max(MOST_OF_A_STUDENT))
}

/// What one expects of what a partner asked: of a reading in words, of a screen by its channels.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(super) struct OwnExpectation {
    #[serde(default)]
    expected: Option<String>,
    /// The fault with which that is expected; a healthy circuit when absent.
    #[serde(default)]
    supposing: Option<Supposed>,
    #[serde(default)]
    looks: Vec<Looks>,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Answered {
    /// How many steps the asker knows of.
    after: usize,
    /// A key of the asker's choice: sending the same again does it once.
    request: String,
    expects: OwnExpectation,
}

/// What was asked of the machine at a bench of two and is not answered yet.
#[derive(Clone, PartialEq, Serialize, ToSchema)]
pub(super) struct AskedView {
    /// Whoever looks has asked it.
    own: bool,
    /// What is to be done, without what anybody expects of it.
    action: Action,
}

/// What was asked at somebody's bench.
pub(super) fn asked_at(s: &AppState, row: &AttemptRow) -> Result<Option<AskedView>, Problem> {
    let Some(partner) = &row.partner else {
        return Ok(None);
    };
    let asked = s.store.asked([row.id, partner.attempt])?;
    Ok(asked.map(|asked| AskedView {
        own: asked.by == row.id,
        action: asked.action.without_expectations(),
    }))
}

/// Whether an action waits for the other of two to say what they expect.
pub(super) fn waits_for_partner(
    s: &AppState,
    row: &AttemptRow,
    session: &Session,
    action: &Action,
) -> Result<bool, Problem> {
    let Some(partner) = &row.partner else {
        return Ok(false);
    };
    let name = &partner.student;
    let both = [row.id, partner.attempt];
    match s.store.asked(both)? {
        // What is only written down changes nothing of what the other is asked.
        Some(_) if is_written(action) => Ok(false),
        // The same was sent again.
        Some(asked) if asked.by == row.id && asked.action == *action => Ok(true),
        Some(asked) if asked.by == row.id => Err(Problem::bad(format!(
            "what you asked waits for {name}: take it back to do something else"
        ))),
        Some(_) => Err(Problem::bad(format!(
            "{name} has asked for a reading: say first what you expect, or that you do not want it now"
        ))),
        None if session.lesson.predictions && action.asks_for_expectations() => {
            session.may_ask(action)?;
            if !s.store.ask(both, action, now())? {
                return Err(Problem::moved_on(format!(
                    "{name} was quicker: say what you expect of what they ask"
                )));
            }
            tell(s, row);
            Ok(true)
        }
        None => Ok(false),
    }
}

/// It asks nothing of the machine and changes nothing of it. Handing in is always possible: what was asked is asked no
/// more then.
fn is_written(action: &Action) -> bool {
    matches!(
        action,
        Action::Judge(_)
            | Action::Note(_)
            | Action::Clear(_)
            | Action::Suspect(_)
            | Action::HandIn(_)
    )
}

/// What a partner asked, as who answers has it: with what both expect.
pub(super) fn answered(
    s: &AppState,
    row: &AttemptRow,
    own: OwnExpectation,
) -> Result<Action, Problem> {
    let nothing = || Problem::moved_on("nobody asks for a reading here any more".to_owned());
    let partner = row.partner.as_ref().ok_or_else(nothing)?;
    let asked = s.store.asked([row.id, partner.attempt])?;
    let asked = asked
        .filter(|a| a.by == partner.attempt)
        .ok_or_else(nothing)?;
    let mut action = asked.action.of_partner();
    match &mut action {
        Action::TakeReading(reading) => {
            (reading.expected, reading.supposing) = (own.expected, own.supposing);
        }
        Action::Capture(capture) => capture.expected = own.looks,
        _ => return Err(nothing()),
    }
    Ok(action)
}

fn tell(s: &AppState, row: &AttemptRow) {
    if let Some(given) = &row.given {
        s.live.happened(given.assignment);
    }
}

/// Say what one expects of what a partner asked: then it is measured.
#[utoipa::path(post, operation_id = "attempts_answer_partner", path = "/api/attempts/{id}/asked", params(("id" = i32, Path)), request_body = Answered, responses((status = 200, body = BenchView), (status = 400, body = Problem), (status = 409, body = Problem)))]
async fn answer(
    State(state): State<AppState>,
    SignedIn(student): SignedIn,
    Path(id): Path<i32>,
    Body(answered): Body<Answered>,
) -> Result<Json<BenchView>, Problem> {
    let asked = Asked {
        after: answered.after,
        request: answered.request,
    };
    let doing = Doing::AnswerPartner(answered.expects);
    let view = state.work(move |s| step(s, &student, id, &asked, doing));
    Ok(Json(paced(view).await?))
}

/// Take back what one asked, or say that it is not wanted now.
#[utoipa::path(delete, operation_id = "attempts_unask", path = "/api/attempts/{id}/asked", params(("id" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn take_back(
    State(state): State<AppState>,
    SignedIn(student): SignedIn,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    let done = state.work(move |s| {
        let row = of(s.store.standing(id, "", student.id)?, &student)?.attempt;
        is_own(&row, &student)?;
        let partner = row.partner.as_ref();
        let partner = partner.ok_or_else(|| Problem::not_found("a partner at this bench"))?;
        s.store.unask([id, partner.attempt])?;
        tell(s, &row);
        Ok(())
    });
    done.await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Let each of two go on alone from where both stand: for who teaches in their class.
#[utoipa::path(delete, operation_id = "attempts_part", path = "/api/attempts/{id}/partner", params(("id" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn part(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    let done = state.work(move |s| {
        let row = of(s.store.standing(id, "", user.id)?, &user)?.attempt;
        given_by(&row, &user)?;
        s.store.part(id)?;
        tell(s, &row);
        s.store.note(
            &user.name,
            "let go on alone",
            &format!("{}, {}", row.student, row.lesson_title),
            now(),
        )?;
        Ok(())
    });
    done.await?;
    Ok(StatusCode::NO_CONTENT)
}
