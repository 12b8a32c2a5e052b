//! A class seen live by who teaches or helps in it, and what its benches hear from the front.

use std::convert::Infallible;
use std::time::Duration;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::sse::{Event, KeepAlive, Sse};
use cimento_diagnosis::attempt::{Action, Step};
use cimento_store::{AssignmentRow, AttemptRow, MOST_COLUMNS, MOST_ROWS, Role, User, Whose, Word};
use futures_util::Stream;
use futures_util::stream::unfold;
use serde::{Deserialize, Serialize};
use tokio::sync::broadcast::error::RecvError;
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::attempts::of;
use super::classes::SeatView;
use super::extract::{Body, Path};
use super::pairs::{AskedView, asked_at};
use super::votes::{HeardVote, VoteView, heard_vote, vote_of};
use crate::clock::now;
use crate::live::ALL;
use crate::pool::Urgency;
use crate::problem::Problem;
use crate::session::{SignedIn, Staff};
use crate::state::AppState;

/// What happens within this is told together.
const TOGETHER: Duration = Duration::from_millis(300);
/// After this, who listens is told again: minutes pass, and references are worked out.
const AGAIN: Duration = Duration::from_secs(15);

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(live))
        .routes(routes!(watch))
        .routes(routes!(say))
        .routes(routes!(pause, go_on))
        .routes(routes!(heard))
}

/// An assignment as it is worked on.
#[derive(Clone, PartialEq, Serialize, ToSchema)]
struct LiveView {
    title: String,
    class: String,
    /// All benches stand still.
    paused: bool,
    /// It is closed: nothing more is done at its benches.
    closed: bool,
    /// Whoever looks teaches the class: they give time and attempts.
    teaches: bool,
    class_id: i32,
    /// Columns and rows of the room.
    room: [i32; 2],
    benches: Vec<LiveBench>,
    /// What the class is being asked.
    vote: Option<VoteView>,
}

/// A student's bench. What is wrong with the machine is not said here.
#[derive(Clone, PartialEq, Serialize, ToSchema)]
pub(super) struct LiveBench {
    student: i32,
    pub display: String,
    /// Who else works at it.
    partner: Option<String>,
    attempt: i32,
    no: usize,
    steps: usize,
    handed_in: bool,
    excused: bool,
    /// Where they sit, where that is known.
    seat: Option<SeatView>,
    /// Minutes more than the lesson's time.
    extra_minutes: f64,
    /// What was done last, in words.
    last: Option<String>,
    /// Minutes at the machine.
    minutes: f64,
    hints: usize,
    /// When they began, when they did something last, and when something last told them more, in seconds since 1970.
    began_at: Option<i64>,
    last_at: Option<i64>,
    pub gained_at: Option<i64>,
    /// Places still possible by what they measured, of how many; absent while that is not known, and once named.
    left: Option<usize>,
    of: Option<usize>,
    slips: Vec<String>,
    pub dangers: Vec<String>,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewWord {
    text: String,
    /// To one bench; to all when absent.
    #[serde(default)]
    student: Option<i32>,
}

/// What a bench hears from the front.
#[derive(Clone, PartialEq, Serialize, ToSchema)]
struct HeardView {
    /// All benches stand still: eyes up.
    paused: bool,
    words: Vec<HeardWord>,
    /// How many steps were done at the bench: the other of two may have gone on.
    steps: usize,
    /// Who else works at it.
    partner: Option<String>,
    /// What one of two has asked, and the other not answered.
    asked: Option<AskedView>,
    /// What the class is being asked.
    vote: Option<HeardVote>,
}

#[derive(Clone, PartialEq, Serialize, ToSchema)]
struct HeardWord {
    id: i32,
    author: String,
    said: String,
    at: i64,
}

/// An assignment of a class that somebody teaches or helps in.
pub(super) fn seen(s: &AppState, id: i32, user: &User) -> Result<AssignmentRow, Problem> {
    let found = s.store.assignment(id)?;
    match s.store.class(found.class, user.id)?.asker {
        Some(Role::Instructor | Role::Assistant) => Ok(found),
        _ => Err(Problem::not_found(&format!("assignment {id}"))),
    }
}

/// Does something at an assignment of a class that somebody teaches or helps in, and tells whoever looks at it.
pub(super) async fn in_class(
    state: &AppState,
    user: User,
    id: i32,
    what: impl FnOnce(&AppState, &AssignmentRow) -> Result<(), Problem> + Send + 'static,
) -> Result<StatusCode, Problem> {
    let done = state.work(move |s| {
        let assignment = seen(s, id, &user)?;
        what(s, &assignment)?;
        s.live.happened(id);
        Ok(())
    });
    done.await?;
    Ok(StatusCode::NO_CONTENT)
}

pub(super) fn bench(s: &AppState, row: &AttemptRow) -> Result<LiveBench, Problem> {
    let lesson = s.lesson(row.lesson_id)?;
    let (steps, times) = match row.steps {
        0 => (Vec::new(), Vec::new()),
        _ => (s.store.steps(row.id)?, s.store.step_times(row.id)?),
    };
    let at = |no: usize| no.checked_sub(1).and_then(|n| times.get(n)).copied();
    let come = match s.reasoner.at_hand(row.lesson_id) {
        Some(reference) if lesson.seeks_fault() && !steps.is_empty() => {
            Some(s.live.come(row.id, &reference, &steps)?)
        }
        _ => None,
    };
    let did = |step: &Step| step.said();
    Ok(LiveBench {
        student: row.student_id,
        display: row.student.clone(),
        partner: row.partner.as_ref().map(|p| p.student.clone()),
        attempt: row.id,
        no: row.no,
        steps: row.steps,
        handed_in: row.handed_in,
        excused: row.given.as_ref().is_some_and(|g| g.excused),
        seat: None,
        extra_minutes: row.given.as_ref().map_or(0.0, |g| g.extra_minutes),
        last: steps.last().map(did),
        minutes: steps.iter().map(|step| step.minutes).sum(),
        hints: steps
            .iter()
            .filter(|step| matches!(step.action, Action::Hint(_)))
            .count(),
        began_at: at(1),
        last_at: at(steps.len()),
        gained_at: come.as_ref().and_then(|c| at(c.last_gain)).or(at(1)),
        left: come.as_ref().and_then(|c| c.left),
        of: come.as_ref().map(|c| c.of),
        slips: come.as_ref().map(|c| c.slips.clone()).unwrap_or_default(),
        dangers: come.map(|c| c.dangers).unwrap_or_default(),
    })
}

fn view(s: &AppState, id: i32, user: &User) -> Result<LiveView, Problem> {
    let assignment = seen(s, id, user)?;
    let lesson = s.lesson(assignment.lesson)?;
    // How many are left is known once the lesson has been thought through.
    s.prepare(assignment.lesson, &lesson, Urgency::GivenOut);
    let rows = s.store.attempts(Whose::In {
        assignment: id,
        asker: user.id,
    })?;
    let mut benches = Vec::new();
    // The latest attempt of each comes first.
    for row in &rows {
        if benches
            .iter()
            .all(|b: &LiveBench| b.student != row.student_id)
        {
            benches.push(bench(s, row)?);
        }
    }
    let seats = s.store.seats(assignment.class)?;
    for bench in &mut benches {
        let seat = seats.get(&bench.student);
        bench.seat = seat.map(|s| SeatView {
            column: s.column,
            row: s.row,
        });
    }
    benches.sort_by(|a, b| a.display.cmp(&b.display));
    Ok(LiveView {
        title: assignment.lesson_title,
        class: assignment.class_name,
        paused: assignment.paused_at.is_some(),
        closed: assignment.terms.closes_at.is_some_and(|at| at <= now()),
        teaches: s.store.class(assignment.class, user.id)?.asker == Some(Role::Instructor),
        class_id: assignment.class,
        room: [MOST_COLUMNS, MOST_ROWS],
        benches,
        vote: vote_of(s, id)?,
    })
}

/// Tells what a view of an assignment is, and again whenever it has changed.
async fn told<T: Clone + PartialEq + Serialize + Send + 'static>(
    state: AppState,
    user: User,
    assignment: i32,
    look: impl Fn(&AppState, &User) -> Result<T, Problem> + Clone + Send + 'static,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    let listening = state.fair.listens(user.id)?;
    let heard = state.live.listen();
    // What is refused is refused as such.
    let (asker, first) = (user.clone(), look.clone());
    let first = state.work(move |s| first(s, &asker)).await?;
    let begin = (state, heard, Some(first), None::<T>, listening);
    let stream = unfold(
        begin,
        move |(state, mut heard, mut next, mut before, listening)| {
            let (user, look) = (user.clone(), look.clone());
            async move {
                loop {
                    if let Some(view) = next.take()
                        && before.as_ref() != Some(&view)
                    {
                        let event = Event::default().json_data(&view).unwrap_or_default();
                        before = Some(view);
                        return Some((Ok(event), (state, heard, None, before, listening)));
                    }
                    let something = async {
                        loop {
                            match heard.recv().await {
                                Ok(other) if other != assignment && other != ALL => {}
                                Ok(_) | Err(RecvError::Lagged(_)) => return true,
                                Err(RecvError::Closed) => return false,
                            }
                        }
                    };
                    match tokio::time::timeout(AGAIN, something).await {
                        Ok(false) => return None,
                        Ok(true) => tokio::time::sleep(TOGETHER).await,
                        Err(_) => {}
                    }
                    let (user, look) = (user.clone(), look.clone());
                    match state.work(move |s| look(s, &user)).await {
                        Ok(view) => next = Some(view),
                        // Who was taken out of a class sees it no more.
                        Err(problem) if problem.status < 500 => return None,
                        Err(_) => {}
                    }
                }
            }
        },
    );
    Ok(Sse::new(stream).keep_alive(KeepAlive::default()))
}

/// An assignment as it is worked on, now.
#[utoipa::path(get, operation_id = "assignments_live", path = "/api/assignments/{id}/live", params(("id" = i32, Path)), responses((status = 200, body = LiveView), (status = 404, body = Problem)))]
async fn live(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
) -> Result<Json<LiveView>, Problem> {
    Ok(Json(state.work(move |s| view(s, id, &user)).await?))
}

/// The same as server-sent events: now, and whenever it has changed.
#[utoipa::path(get, operation_id = "assignments_watch", path = "/api/assignments/{id}/watch", params(("id" = i32, Path)), responses((status = 200, body = LiveView, content_type = "text/event-stream"), (status = 404, body = Problem)))]
async fn watch(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    told(state, user, id, move |s, user| view(s, id, user)).await
}

/// Say something to a bench, or to all of them.
#[utoipa::path(post, operation_id = "assignments_say", path = "/api/assignments/{id}/words", params(("id" = i32, Path)), request_body = NewWord, responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn say(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
    Body(said): Body<NewWord>,
) -> Result<StatusCode, Problem> {
    let author = user.display.clone();
    let say = move |s: &AppState, _: &AssignmentRow| {
        Ok(s.store.say(id, said.student, &author, &said.text, now())?)
    };
    in_class(&state, user, id, say).await
}

/// Let all benches stand still: eyes up.
#[utoipa::path(put, operation_id = "assignments_pause", path = "/api/assignments/{id}/pause", params(("id" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn pause(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    still(&state, user, id, true).await
}

/// Let them go on.
#[utoipa::path(delete, operation_id = "assignments_go_on", path = "/api/assignments/{id}/pause", params(("id" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn go_on(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    still(&state, user, id, false).await
}

async fn still(state: &AppState, user: User, id: i32, still: bool) -> Result<StatusCode, Problem> {
    let pause = move |s: &AppState, _: &AssignmentRow| {
        let passed = s.passing.seconds();
        match still {
            true => Ok(s.store.pause(id, now(), passed)?),
            false => Ok(s.store.go_on(id, passed)?),
        }
    };
    in_class(state, user, id, pause).await
}

/// What a student's own bench hears from the front, as server-sent events.
#[utoipa::path(get, operation_id = "attempts_heard", path = "/api/attempts/{id}/heard", params(("id" = i32, Path)), responses((status = 200, body = HeardView, content_type = "text/event-stream"), (status = 404, body = Problem)))]
async fn heard(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    let asker = user.clone();
    let own = |s: &AppState, id: i32, asker: &User| {
        let row = of(s.store.standing(id, "", asker.id)?, asker)?.attempt;
        let given = row.given.clone().filter(|_| row.student_id == asker.id);
        let given = given.ok_or_else(|| Problem::not_found("anybody to hear here"))?;
        Ok((row, given.assignment))
    };
    let found = state.work(move |s| own(s, id, &asker));
    let (_, assignment) = found.await?;
    let look = move |s: &AppState, user: &User| {
        let (row, _) = own(s, id, user)?;
        let word = |w: Word| HeardWord {
            id: w.id,
            author: w.author,
            said: w.said,
            at: w.at,
        };
        let words = s.store.heard(assignment, user.id)?;
        Ok(HeardView {
            paused: s.store.assignment(assignment)?.paused_at.is_some(),
            words: words.into_iter().map(word).collect(),
            steps: row.steps,
            partner: row.partner.as_ref().map(|p| p.student.clone()),
            asked: asked_at(s, &row)?,
            vote: heard_vote(s, assignment, &row)?,
        })
    };
    told(state, user, assignment, look).await
}
