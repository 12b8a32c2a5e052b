//! Votes: the class predicts a reading on its own screens before it is shown.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use cimento_bench::Bench;
use cimento_bench::instruments::{Function, PutOn, Shown, take};
use cimento_diagnosis::key::tolerance;
use cimento_diagnosis::lesson::Lesson;
use cimento_model::state::OperatingState;
use cimento_model::units::{Expectation, Quantity, Unit};
use cimento_store::{AssignmentRow, AttemptRow, Given, Vote, Whose};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::attempts::of;
use super::extract::{Body, Path};
use super::live::{in_class, seen};
use crate::access::{closed, is_to_do};
use crate::clock::now;
use crate::problem::Problem;
use crate::session::{SignedIn, Staff};
use crate::state::AppState;

/// The state at rest, beside those of the trial.
const AT_REST: &str = "at rest";
/// Longest expectation, in letters.
const LONGEST: usize = 40;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(askable))
        .routes(routes!(ask, end))
        .routes(routes!(show))
        .routes(routes!(answer))
}

/// What a class can be asked of its machine.
#[derive(Serialize, ToSchema)]
struct Askable {
    /// Labels of its states.
    states: Vec<String>,
    points: Vec<String>,
    /// Battery negative.
    negative: String,
    functions: Vec<Function>,
    /// The faulted machine may be asked about: everybody has handed in.
    faulted: bool,
}

/// A reading to be predicted.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewVote {
    /// Label of the state.
    state: String,
    function: Function,
    red: String,
    #[serde(default)]
    black: Option<String>,
    /// Of the machine with its fault instead of a healthy one.
    #[serde(default)]
    faulted: bool,
}

/// A question with its answer, as it is kept.
#[derive(Serialize, Deserialize)]
struct Asked {
    text: String,
    unit: Unit,
    shown: Shown,
    tolerance: f64,
    /// It is of the machine with its fault.
    #[serde(default)]
    faulted: bool,
}

/// What a class is asked, as who asks it sees it.
#[derive(Clone, PartialEq, Serialize, ToSchema)]
pub(super) struct VoteView {
    text: String,
    unit: String,
    /// How many have answered.
    answered: usize,
    /// What they expect, the most frequent first.
    answers: Vec<VoteCount>,
    /// What the meter shows, once that is shown.
    shown: Option<String>,
}

/// An expectation with how many have it.
#[derive(Clone, PartialEq, Serialize, ToSchema)]
struct VoteCount {
    says: String,
    count: usize,
    /// It agrees with the reading; absent until that is shown.
    right: Option<bool>,
}

/// What a class is asked, as one of it sees it.
#[derive(Clone, PartialEq, Serialize, ToSchema)]
pub(super) struct HeardVote {
    text: String,
    unit: String,
    /// What they have answered.
    own: Option<String>,
    /// What the meter shows, once that is shown.
    shown: Option<String>,
    /// Their answer agrees with it; absent until it is shown.
    right: Option<bool>,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Expected {
    expected: String,
}

fn read(vote: &Vote) -> Result<Asked, Problem> {
    serde_json::from_str(&vote.asked).map_err(|e| {
        tracing::error!("a kept vote cannot be read: {e}");
        Problem::internal()
    })
}

impl Asked {
    fn says(&self) -> String {
        self.shown.value.text(self.unit)
    }

    fn agrees(&self, expected: &str) -> bool {
        let Ok(expected) = Expectation::parse(expected, self.unit) else {
            return false;
        };
        match (expected.value, self.shown.value) {
            (Quantity::OverLimit, Quantity::OverLimit) => true,
            (Quantity::Number(v), Quantity::Number(shown)) => {
                let holds = expected.holds(shown, self.tolerance);
                holds.unwrap_or((v - shown).abs() <= self.tolerance)
            }
            _ => false,
        }
    }
}

/// What the class of an assignment is asked, for who asks it.
pub(super) fn vote_of(s: &AppState, assignment: i32) -> Result<Option<VoteView>, Problem> {
    let Some(vote) = s.store.vote(assignment)? else {
        return Ok(None);
    };
    let asked = read(&vote)?;
    let mut answers: Vec<VoteCount> = Vec::new();
    for (_, expected) in &vote.answers {
        let parsed = Expectation::parse(expected, asked.unit);
        let says = parsed.map_or_else(|_| expected.clone(), |q| q.text(asked.unit));
        match answers.iter_mut().find(|a| a.says == says) {
            Some(same) => same.count += 1,
            None => answers.push(VoteCount {
                right: vote.shown_at.map(|_| asked.agrees(expected)),
                says,
                count: 1,
            }),
        }
    }
    answers.sort_by(|a, b| b.count.cmp(&a.count).then(a.says.cmp(&b.says)));
    Ok(Some(VoteView {
        answered: vote.answers.len(),
        answers,
        shown: vote.shown_at.map(|_| asked.says()),
        unit: asked.unit.sign().to_owned(),
        text: asked.text,
    }))
}

/// What one of the class is asked. The machine with its fault is nobody's business who may still work on it in any of
/// their attempts, one that was given after the class was asked among them.
fn put_to(
    s: &AppState,
    assignment: i32,
    row: &AttemptRow,
) -> Result<Option<(Vote, Asked)>, Problem> {
    let Some(vote) = s.store.vote(assignment)? else {
        return Ok(None);
    };
    let asked = read(&vote)?;
    if asked.faulted {
        let at = now();
        let over = |g: &Given| g.assignment != assignment || closed(g, at);
        let own = s.store.attempts(Whose::Of(row.student_id))?;
        let all = own
            .iter()
            .all(|r| r.handed_in || r.given.as_ref().is_none_or(over));
        return Ok(all.then_some((vote, asked)));
    }
    Ok(Some((vote, asked)))
}

/// What one of the class is asked, as they see it.
pub(super) fn heard_vote(
    s: &AppState,
    assignment: i32,
    row: &AttemptRow,
) -> Result<Option<HeardVote>, Problem> {
    let Some((vote, asked)) = put_to(s, assignment, row)? else {
        return Ok(None);
    };
    let own = vote.answers.iter().find(|(id, _)| *id == row.student_id);
    let own = own.map(|(_, expected)| expected.clone());
    let shown = vote.shown_at.is_some();
    Ok(Some(HeardVote {
        right: own.as_ref().filter(|_| shown).map(|e| asked.agrees(e)),
        own,
        shown: shown.then(|| asked.says()),
        unit: asked.unit.sign().to_owned(),
        text: asked.text,
    }))
}

/// Nobody of an assignment works on its machine any more, or will.
fn all_are_done(s: &AppState, assignment: i32, asker: i32) -> Result<bool, Problem> {
    let rows = s.store.attempts(Whose::In { assignment, asker })?;
    Ok(!rows.iter().any(|row| is_to_do(row, now())))
}

/// What a class can be asked of the machine of an assignment.
#[utoipa::path(get, operation_id = "assignments_askable", path = "/api/assignments/{id}/askable", params(("id" = i32, Path)), responses((status = 200, body = Askable), (status = 404, body = Problem)))]
async fn askable(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
) -> Result<Json<Askable>, Problem> {
    let askable = state.work(move |s| {
        let assignment = seen(s, id, &user)?;
        let lesson = s.lesson(assignment.lesson)?;
        let circuit = &lesson.circuit;
        let labels = OperatingState::trial(circuit).into_iter().map(|t| t.label);
        let held = |f: &Function| f.put_on() == PutOn::Points;
        Ok(Askable {
            states: std::iter::once(AT_REST.to_owned()).chain(labels).collect(),
            points: circuit.test_points.iter().map(|p| p.id.clone()).collect(),
            negative: circuit
                .point_at(0)
                .map(|p| p.id.clone())
                .unwrap_or_default(),
            functions: lesson.functions.iter().copied().filter(held).collect(),
            faulted: all_are_done(s, id, user.id)?,
        })
    });
    Ok(Json(askable.await?))
}

fn asked(lesson: &Lesson, new: &NewVote) -> Result<Asked, Problem> {
    let circuit = &lesson.circuit;
    let healthy = Bench::new(circuit, &[])?;
    let mut bench = match new.faulted {
        true => healthy.beside(&lesson.faults)?,
        false => healthy,
    };
    if new.state != AT_REST {
        let trial = OperatingState::trial(circuit);
        let at = trial.iter().position(|t| t.label == new.state);
        let at = at.ok_or_else(|| Problem::bad(format!("there is no state {}", new.state)))?;
        for state in &trial[..=at] {
            bench.set(state.state.clone())?;
        }
    }
    let black = new.black.as_deref();
    let taken = take(&bench, new.function, None, Some(&new.red), black);
    let reading = taken.map_err(|e| Problem::bad(e.to_string()))?;
    let to = black.map_or(String::new(), |b| format!(" to {b}"));
    let machine = if new.faulted {
        "the machine of this lesson"
    } else {
        "a healthy machine"
    };
    Ok(Asked {
        text: format!(
            "{} at {}{to}, {}, on {machine}",
            new.function.title(),
            new.red,
            reading.state,
        ),
        unit: new.function.unit(),
        tolerance: tolerance(circuit, &lesson.limits, &reading, None),
        shown: reading.shown,
        faulted: new.faulted,
    })
}

/// Ask the class to predict a reading: of a healthy machine at any time, of the faulted one once everybody has handed
/// in.
#[utoipa::path(post, operation_id = "votes_ask", path = "/api/assignments/{id}/vote", params(("id" = i32, Path)), request_body = NewVote, responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn ask(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
    Body(new): Body<NewVote>,
) -> Result<StatusCode, Problem> {
    let asker = user.id;
    let ask = move |s: &AppState, assignment: &AssignmentRow| {
        if new.faulted && !all_are_done(s, id, asker)? {
            return Err(Problem::bad(
                "somebody is still at work on this machine: ask of a healthy one, or once everybody has handed in",
            ));
        }
        let lesson = s.lesson(assignment.lesson)?;
        let asked = serde_json::to_string(&asked(&lesson, &new)?);
        let asked = asked.map_err(|_| Problem::internal())?;
        Ok(s.store.ask_class(id, &asked, now())?)
    };
    in_class(&state, user, id, ask).await
}

/// Show the reading that the class was asked to predict.
#[utoipa::path(put, operation_id = "votes_show", path = "/api/assignments/{id}/vote/shown", params(("id" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn show(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    let show = move |s: &AppState, _: &AssignmentRow| Ok(s.store.show_vote(id, now())?);
    in_class(&state, user, id, show).await
}

/// Ask no more.
#[utoipa::path(delete, operation_id = "votes_end", path = "/api/assignments/{id}/vote", params(("id" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn end(
    State(state): State<AppState>,
    Staff(user): Staff,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    let end = move |s: &AppState, _: &AssignmentRow| Ok(s.store.end_vote(id, now())?);
    in_class(&state, user, id, end).await
}

/// Say at one's own bench what one expects of what the class is asked.
#[utoipa::path(put, operation_id = "votes_answer", path = "/api/attempts/{id}/vote", params(("id" = i32, Path)), request_body = Expected, responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn answer(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
    Body(said): Body<Expected>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            let row = of(s.store.standing(id, "", user.id)?, &user)?.attempt;
            let nothing = || Problem::not_found("anything that the class is asked here");
            let given = row.given.as_ref().filter(|_| row.student_id == user.id);
            let assignment = given.ok_or_else(nothing)?.assignment;
            let (vote, asked) = put_to(s, assignment, &row)?.ok_or_else(nothing)?;
            let expected = said.expected.trim();
            if expected.chars().count() > LONGEST {
                return Err(Problem::bad(format!("expected at most {LONGEST} letters")));
            }
            Expectation::parse(expected, asked.unit).map_err(|e| Problem::bad(e.to_string()))?;
            if !s.store.answer_vote(vote.id, user.id, expected)? {
                return Err(Problem::bad(
                    "the reading has been shown: it is too late to say what it is",
                ));
            }
            s.live.happened(assignment);
            Ok(())
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}
