//! A student's attempts. What leaves here never holds a fault, a key, a candidate or a voltage that
//! was not measured; the mark sheet, which names the fault, waits until the attempt is handed in.

use super::MOST_OF_A_STUDENT;
use axum::extract::DefaultBodyLimit;
use cimento_diagnosis::attempt::actions::{Hint, TakeUp};
use std::collections::BTreeSet;
use std::sync::Arc;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use cimento_bench::instruments::{Function, SWEEPS};
use cimento_diagnosis::attempt::{
    Action, Answer, BenchView, RepairKind, Session, Step, Warning, repairs, warnings,
};
use cimento_diagnosis::binder::{Binder, HealthySheet, SheetTitle};
use cimento_diagnosis::craft::{Craft, Question, questions};
use cimento_diagnosis::lesson::{
    Experiment, IntroShown, Job, Lesson, Means, Papers, Purpose, experiments,
};
use cimento_diagnosis::predict::{Reason, Truth};
use cimento_diagnosis::suspects::{hint, next_level};
use cimento_diagnosis::test_sheet::Unmarked;
use cimento_model::circuit::{Circuit, CurrentPath, Drawing, PlaceInfo};
use cimento_store::{AttemptRow, NewStep, Standing, User, Whose};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::{Body, Path};
use super::file::{CSV, File, file};
use super::first_minute::is_first_minute;
use super::lessons::NamedQuestion;
use super::to_fill::{SheetToFill, ToWire};
use super::working::{Asked, Doing, is_own, left_s, stand, step};
use crate::access::{closed, given_by, sheet_shows, to_attempt, unopened};
use crate::clock::now;
use crate::pace::{Pace, paced};
use crate::pool::Urgency;
use crate::problem::Problem;
use crate::session::{Instructor, SignedIn, Student};
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list))
        .routes(routes!(one))
        .routes(routes!(act))
        .routes(routes!(again))
        .routes(routes!(take_up))
        .routes(routes!(ask_hint))
        .routes(routes!(things_to_try))
        .routes(routes!(capture_csv))
        .layer(DefaultBodyLimit::max(MOST_OF_A_STUDENT))
}

#[derive(Serialize, ToSchema)]
struct OwnAttempt {
    id: i32,
    title: String,
    purpose: Purpose,
    given_at: i64,
    steps: usize,
    handed_in: bool,
    /// The first, the second …
    no: usize,
    /// Who else works at it.
    partner: Option<String>,
    /// The class in which it was given.
    class: String,
    opens_at: Option<i64>,
    due_at: Option<i64>,
    closes_at: Option<i64>,
    /// It is not asked of them.
    excused: bool,
    /// Its sheet can be seen.
    sheet: bool,
    /// Another attempt can be begun.
    again: bool,
}

/// A student's bench: the work order, what the machine looks like, and what was done.
#[derive(Serialize, ToSchema)]
struct AttemptView {
    id: i32,
    title: String,
    student: String,
    /// It is the asker's own bench.
    own: bool,
    /// It is there to learn the bench on: the page shows how.
    first_minute: bool,
    /// Who else works at it.
    partner: Option<String>,
    /// The asker gives its marks.
    marks: bool,
    /// It was given in a class, whose front can speak to it.
    in_class: bool,
    purpose: Purpose,
    /// What the machine came in for.
    job: Job,
    /// The complaint in the customer's words.
    words: String,
    /// What the machine did when it was tried, computed.
    complaint: String,
    /// What to read before one begins.
    intro: Option<IntroShown>,
    cautions: Vec<String>,
    /// What is warned of again before it is done.
    warnings: Vec<Warning>,
    predictions: bool,
    functions: Vec<Function>,
    /// The oscilloscope may be used.
    scope: bool,
    /// What may not be done to the machine.
    forbidden: Vec<Means>,
    /// The words of the actions that are not allowed for it.
    forbidden_actions: Vec<&'static str>,
    papers: Papers,
    /// Readings to be predicted; empty where a fault is looked for.
    asked: Vec<ToPredict>,
    /// The test sheet to be filled in at the machine; none where a fault is looked for.
    sheet: Option<SheetToFill>,
    /// The machine to be wired; none where there is nothing to build.
    build: Option<ToWire>,
    /// What the customer may be asked; nothing where nobody has brought the machine in.
    questions: Vec<NamedQuestion>,
    /// What a repair has to stand; none where it does not count how it is made.
    craft: Option<String>,
    /// The faults of a machine whose readings are predicted, which are told.
    told: Option<String>,
    /// Connectors that another looks like, where they can be mixed up.
    look_alikes: Vec<String>,
    /// The contents of the binder, where the papers come as one; its sheets are opened one by one.
    binder: Vec<SheetTitle>,
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
    /// Parts of which there is a known-good one to try.
    known_good: Vec<String>,
    modules: Vec<String>,
    harnesses: Vec<String>,
    bench: BenchView,
}

/// A reading to be predicted, without what it comes to.
#[derive(Serialize, ToSchema)]
pub(super) struct ToPredict {
    /// Its number on the sheet, from 1.
    no: usize,
    function: Function,
    red: String,
    black: Option<String>,
    /// The state of the machine, in words.
    state: String,
    /// Reasons to choose from; empty where none is asked for.
    choice: Vec<ReasonView>,
}

/// A reason with its words.
#[derive(Serialize, ToSchema)]
pub(super) struct ReasonView {
    reason: Reason,
    text: &'static str,
}

impl ToPredict {
    pub(super) fn of(no: usize, truth: &Truth) -> Self {
        let named = |reason: &Reason| ReasonView {
            reason: *reason,
            text: reason.text(),
        };
        Self {
            no,
            function: truth.asked.function,
            red: truth.asked.red.clone(),
            black: truth.asked.black.clone(),
            state: truth.state.clone(),
            choice: truth.choice.iter().map(named).collect(),
        }
    }
}

/// Another attempt.
#[derive(Serialize, ToSchema)]
struct BegunAgain {
    id: i32,
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
    /// What is to be chosen in doing it, where the lesson asks for that.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    craft: Vec<Question>,
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
            let at = now();
            let rows = s.store.attempts(Whose::Of(student.id))?;
            let last = |row: &AttemptRow| {
                let of = |r: &&AttemptRow| r.given.as_ref().map(|g| g.assignment);
                let same = rows
                    .iter()
                    .filter(|r| of(r) == of(&row) && r.given.is_some());
                same.map(|r| r.no).max() == Some(row.no)
            };
            let item = |row: &AttemptRow| -> Result<OwnAttempt, Problem> {
                let purpose = s.lesson(row.lesson_id)?.purpose;
                let given = row.given.as_ref();
                let terms = given.map(|g| &g.terms);
                Ok(OwnAttempt {
                    id: row.id,
                    purpose,
                    title: row.lesson_title.clone(),
                    given_at: row.given_at,
                    steps: row.steps,
                    handed_in: row.handed_in,
                    no: row.no,
                    partner: row.partner.as_ref().map(|p| p.student.clone()),
                    class: given.map(|g| g.class_name.clone()).unwrap_or_default(),
                    opens_at: terms.and_then(|t| t.opens_at),
                    due_at: terms.and_then(|t| t.due_at),
                    closes_at: terms.and_then(|t| t.closes_at),
                    excused: given.is_some_and(|g| g.excused),
                    sheet: row.handed_in && sheet_shows(row, purpose, at),
                    again: last(row) && may_begin_again(row, at),
                })
            };
            // A trial of an instructor's own is no work order.
            let given = rows.iter().filter(|row| row.given.is_some());
            given.map(item).collect::<Result<Vec<_>, _>>()
        })
        .await?;
    Ok(Json(own))
}

/// The student of an attempt may begin another of the same.
fn may_begin_again(row: &AttemptRow, at: i64) -> bool {
    row.given.as_ref().is_some_and(|given| {
        let allowed = usize::try_from(given.terms.attempts).unwrap_or(1);
        row.handed_in && row.no < allowed && !closed(given, at) && !unopened(given, at)
    })
}

/// Begin another attempt of what one has handed in, where that is allowed.
#[utoipa::path(post, operation_id = "attempts_again", path = "/api/attempts/{id}/again", params(("id" = i32, Path)), responses((status = 200, body = BegunAgain), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn again(
    State(state): State<AppState>,
    Student(student): Student,
    Path(id): Path<i32>,
) -> Result<Json<BegunAgain>, Problem> {
    let begun = state.work(move |s| {
        let row = of(s.store.standing(id, "", student.id)?, &student)?.attempt;
        let given = row.given.as_ref().filter(|_| row.student_id == student.id);
        let given = given.ok_or_else(|| Problem::not_found(&format!("attempt {id}")))?;
        let rows = s.store.attempts(Whose::Of(student.id))?;
        let same =
            |r: &&AttemptRow| r.given.as_ref().map(|g| g.assignment) == Some(given.assignment);
        let last = rows.iter().filter(same).map(|r| r.no).max();
        if last != Some(row.no) || !may_begin_again(&row, now()) {
            return Err(Problem::bad("there is no further attempt of this one"));
        }
        match row.partner {
            Some(_) => Ok(s.store.give_again_to_both(id, now())?),
            None => Ok(s.store.give_again(given.assignment, student.id, now())?),
        }
    });
    Ok(Json(BegunAgain { id: begun.await? }))
}

/// One's own attempt; for who teaches or helps in its class, anybody's.
#[utoipa::path(get, operation_id = "attempts_one", path = "/api/attempts/{id}", params(("id" = i32, Path)), responses((status = 200, body = AttemptView), (status = 404, body = Problem)))]
async fn one(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path(id): Path<i32>,
) -> Result<Json<AttemptView>, Problem> {
    let view = state.work(move |s| {
        let standing = of(s.store.standing(id, "", user.id)?, &user)?;
        s.benches.at(id, |bench| {
            let session = stand(s, bench, &standing)?;
            let pace = Pace::of(&session.lesson, None);
            Ok((pace, attempt_view(s, &standing, session, &user)))
        })
    });
    Ok(Json(paced(view).await?))
}

/// Do something on one's own bench. It is stored before it is answered; the answer holds of the lists that
/// grow only what is new or changed since the steps that the asker knows of.
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
    if matches!(new.action, Action::TakeUp(_)) {
        return Err(Problem::forbidden("this is for instructors"));
    }
    if new.action.speaks_for_a_partner() {
        return Err(Problem::bad(
            "your partner says themselves what they expect",
        ));
    }
    let asked = Asked {
        after: new.after,
        request: new.request,
    };
    let view = state.work(move |s| step(s, &student, id, &asked, Doing::Act(new.action)));
    Ok(Json(paced(view).await?))
}

/// Let somebody go on with what they have handed in: for who teaches in their class. What was marked of it is kept, and stands
/// no more.
#[utoipa::path(post, operation_id = "attempts_take_up", path = "/api/attempts/{id}/take-up", params(("id" = i32, Path)), responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn take_up(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    let done = state.work(move |s| {
        s.benches.at(id, |bench| {
            let standing = of(s.store.standing(id, "", user.id)?, &user)?;
            let row = &standing.attempt;
            let given = given_by(row, &user)?;
            let session = stand(s, bench, &standing)?;
            let step = session.act(TakeUp {}.into())?;
            let stored = NewStep {
                step,
                request: &format!("taken up {}", step.no),
                at: now(),
                began_passed_s: None,
            };
            if let Err(e) = s.store.add_step(id, &stored) {
                *bench = None;
                return Err(e.into());
            }
            s.live.happened(given.assignment);
            s.store.note(
                &user.name,
                "let go on",
                &format!("{}, {}", row.student, row.lesson_title),
                now(),
            )?;
            Ok(())
        })
    });
    done.await?;
    Ok(StatusCode::NO_CONTENT)
}

/// An attempt that the asker may see. Somebody else's is as if it were not there, and one's own until it opens.
pub(super) fn of(standing: Standing, user: &User) -> Result<Standing, Problem> {
    let row = &standing.attempt;
    let nothing = || Problem::not_found(&format!("attempt {}", row.id));
    let access = to_attempt(row, user).ok_or_else(nothing)?;
    let early = row.given.as_ref().is_some_and(|g| unopened(g, now()));
    match early && !access.sees {
        true => Err(Problem::forbidden("this work order is not open yet")),
        false => Ok(standing),
    }
}

/// Ask for a hint in practice. Each one since the last measurement says more and costs more.
#[utoipa::path(post, operation_id = "attempts_hint", path = "/api/attempts/{id}/hints", params(("id" = i32, Path)), request_body = Asked, responses((status = 200, body = BenchView), (status = 400, body = Problem), (status = 409, body = Problem)))]
async fn ask_hint(
    State(state): State<AppState>,
    SignedIn(student): SignedIn,
    Path(id): Path<i32>,
    Body(asked): Body<Asked>,
) -> Result<Json<BenchView>, Problem> {
    let asking = student.clone();
    let (row, lesson, steps) = state
        .work(move |s| {
            let (row, lesson, steps) = load(s, &asking, id)?;
            if lesson.purpose != Purpose::Practice || !lesson.seeks_fault() || row.handed_in {
                return Err(Problem::bad("hints are for practice that is going on"));
            }
            is_own(&row, &asking)?;
            Ok((row, lesson, steps))
        })
        .await?;
    let reference = state.reference(row.lesson_id, &lesson, Urgency::Hint);
    let reference = reference.await?;
    let view = state
        .work(move |s| {
            let level = next_level(&steps);
            let text = hint(&reference, &steps, level)?;
            step(
                s,
                &student,
                id,
                &asked,
                Doing::Act(Action::Hint(Hint { level, text })),
            )
        })
        .await?;
    Ok(Json(view.1))
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

/// A screen of the oscilloscope as CSV.
#[utoipa::path(get, operation_id = "attempts_capture_csv", path = "/api/attempts/{id}/captures/{step}", params(("id" = i32, Path), ("step" = usize, Path)), responses((status = 200, body = String, content_type = "text/csv"), (status = 404, body = Problem)))]
async fn capture_csv(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
    Path((id, step)): Path<(i32, usize)>,
) -> Result<File, Problem> {
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
    let name = format!("attempt-{id}-step-{step}.csv");
    Ok(file(&name, CSV, text))
}

/// An attempt that the asker may see, with its lesson and its steps.
pub(super) fn load(
    s: &AppState,
    user: &User,
    id: i32,
) -> Result<(AttemptRow, Arc<Lesson>, Vec<Step>), Problem> {
    let row = of(s.store.standing(id, "", user.id)?, user)?.attempt;
    let lesson = s.lesson(row.lesson_id)?;
    let steps = s.store.steps(id)?;
    Ok((row, lesson, steps))
}

/// What of the papers lies open: a diagram that is in the binder has to be found there first. Once the work is handed in
/// nothing has.
fn papers_at_hand(session: &Session) -> Papers {
    let papers = session.lesson.papers;
    let Some(binder) = &session.lesson.binder else {
        return papers;
    };
    let mut opened = session.opened().iter();
    let found = opened.any(|sheet| binder.is_own_diagram(sheet));
    Papers {
        diagram: papers.diagram && (found || session.is_handed_in()),
        ..papers
    }
}

fn attempt_view(s: &AppState, standing: &Standing, session: &Session, user: &User) -> AttemptView {
    let (row, lesson) = (&standing.attempt, &session.lesson);
    let left_s = left_s(s, lesson, standing);
    let circuit = &lesson.circuit;
    let papers = papers_at_hand(session);
    let places = match papers.diagram {
        true => circuit.place_list(),
        false => circuit.place_list_without_wiring(),
    };
    let places = circuit.places().zip(places);
    let view = AttemptView {
        id: row.id,
        title: lesson.title.clone(),
        purpose: lesson.purpose,
        job: lesson.job,
        student: row.student.clone(),
        own: row.student_id == user.id,
        first_minute: is_first_minute(row),
        partner: row.partner.as_ref().map(|p| p.student.clone()),
        marks: to_attempt(row, user).is_some_and(|access| access.marks),
        in_class: row.given.is_some(),
        words: lesson.words.clone(),
        complaint: lesson.symptom.text.clone(),
        intro: lesson.intro.clone(),
        cautions: circuit.cautions(),
        warnings: warnings(circuit),
        predictions: lesson.predictions,
        functions: lesson.functions.clone(),
        scope: lesson.scope,
        forbidden: lesson.forbidden.clone(),
        forbidden_actions: Action::forbidden(&lesson.forbidden),
        papers,
        look_alikes: {
            let all = circuit.doc.connectors.keys().filter(|_| lesson.look_alikes);
            let alike = all.filter(|id| !circuit.look_alikes(id).is_empty());
            alike.cloned().collect()
        },
        binder: lesson.binder.as_ref().map_or(Vec::new(), Binder::contents),
        asked: {
            let all = lesson.predicted.iter().enumerate();
            all.map(|(n, truth)| ToPredict::of(n + 1, truth)).collect()
        },
        sheet: lesson.test_sheet.as_ref().map(SheetToFill::of),
        build: lesson.build.as_ref().map(ToWire::of),
        questions: match lesson.seeks_fault() {
            true => NamedQuestion::all(),
            false => Vec::new(),
        },
        craft: lesson.craft.as_ref().map(Craft::about),
        told: (lesson.task.is_on_paper() && !lesson.faults.is_empty())
            .then(|| lesson.fault_in_words()),
        healthy: match lesson.task.is_diagnosis() {
            true => lesson.sheets.clone(),
            // It would say what is asked for.
            false => Vec::new(),
        },
        method: lesson.method.text(),
        left_s,
        sweeps: SWEEPS.to_vec(),
        drawing: match papers.diagram {
            true => s.diagrams.of(circuit),
            false => circuit.drawing().without_wiring(),
        },
        paths: match papers.diagram {
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
                        craft: match lesson.craft {
                            Some(_) => questions(circuit, place, how),
                            None => Vec::new(),
                        },
                    })
                    .collect()
                },
            })
            .collect(),
        comes_apart: lesson.comes_apart.clone(),
        alike: circuit.exchangeable(),
        known_good: {
            let parts = circuit
                .parts
                .iter()
                .filter(|p| !p.kind.is_source() && p.is_tried_by_another());
            parts.map(|p| p.id.clone()).collect()
        },
        modules: {
            let parts = circuit.parts.iter().filter(|p| p.kind.module().is_some());
            parts.map(|p| p.id.clone()).collect()
        },
        harnesses: {
            let all = circuit.conductors.iter().filter_map(|c| c.harness.clone());
            all.collect::<BTreeSet<_>>().into_iter().collect()
        },
        bench: session.view(),
    };
    if lesson.build.is_some() {
        return as_wired(s, view, &session.bench().circuit);
    }
    match lesson.test_sheet.as_ref().and_then(|s| s.leads.as_ref()) {
        Some(unmarked) => without_names(view, unmarked),
        None => view,
    }
}

/// A view without anything that goes by the names of the lesson's own circuit.
fn unnamed(view: AttemptView) -> AttemptView {
    AttemptView {
        complaint: String::new(),
        scope: false,
        places: Vec::new(),
        comes_apart: Vec::new(),
        alike: Vec::new(),
        known_good: Vec::new(),
        look_alikes: Vec::new(),
        modules: Vec::new(),
        harnesses: Vec::new(),
        ..view
    }
}

/// Of a machine that is to be wired, what has been wired so far and nothing of how it was thought of.
fn as_wired(s: &AppState, view: AttemptView, circuit: &Arc<Circuit>) -> AttemptView {
    AttemptView {
        papers: Papers {
            healthy: false,
            diagram: true,
            ..view.papers
        },
        cautions: circuit.cautions(),
        warnings: warnings(circuit),
        drawing: s.diagrams.of_draft(circuit, None),
        paths: circuit.paths().to_vec(),
        ..unnamed(view)
    }
}

/// Of a plug whose leads nobody has marked, only the leads: what lies behind them is what is asked for.
fn without_names(mut view: AttemptView, unmarked: &Unmarked) -> AttemptView {
    // Nothing is taken apart here, and what could be has a name.
    let names = |w: &Warning| w.before.iter().any(|action| action.contains_key("what"));
    view.warnings.retain(|w| !names(w));
    AttemptView {
        papers: Papers {
            diagram: false,
            connectors: false,
            healthy: false,
        },
        drawing: Drawing::of_points(&view.title, unmarked.called()),
        paths: Vec::new(),
        ..unnamed(view)
    }
}
