//! What is given out: lessons to classes, from when until when, how often, and when marks show.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use cimento_store::{AssignmentRow, Counts, Role, SheetsShow, Terms, To, User};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::{Body, Path};
use crate::access::taught;
use crate::clock::now;
use crate::problem::Problem;
use crate::session::{Instructor, Staff};
use crate::state::AppState;

/// Most attempts of one lesson, and most minutes that one has more.
const MOST_ATTEMPTS: i32 = 20;
/// Longest name of a category, in letters.
pub(super) const LONGEST_CATEGORY: usize = 40;
const MOST_EXTRA_MINUTES: f64 = 600.0;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list, create))
        .routes(routes!(change, withdraw))
        .routes(routes!(release, hide))
        .routes(routes!(allow))
        .routes(routes!(again))
        .routes(routes!(end))
}

/// From when until when, how often, and when marks show.
#[derive(Serialize, Deserialize, ToSchema)]
#[serde(default, deny_unknown_fields)]
pub(super) struct TermsView {
    /// Seconds since 1970, each where there is one.
    opens_at: Option<i64>,
    due_at: Option<i64>,
    closes_at: Option<i64>,
    /// How many attempts each has.
    attempts: i32,
    /// Which of several counts: last, best or mean.
    counts: String,
    /// When students see their sheets: handed_in, all_done (everybody has handed in, or it is closed) or released.
    sheets: String,
    /// What kind of work it is, as its class weighs it; empty for none.
    category: String,
}

impl Default for TermsView {
    fn default() -> Self {
        (&Terms::default()).into()
    }
}

impl From<&Terms> for TermsView {
    fn from(terms: &Terms) -> Self {
        Self {
            opens_at: terms.opens_at,
            due_at: terms.due_at,
            closes_at: terms.closes_at,
            attempts: terms.attempts,
            counts: terms.counts.name().to_owned(),
            sheets: terms.sheets.name().to_owned(),
            category: terms.category.clone(),
        }
    }
}

impl TermsView {
    pub(super) fn terms(&self) -> Result<Terms, Problem> {
        let one_of = |field: &str, names: Vec<&str>, found: &str| {
            let names = names.join(", ");
            Problem::bad(format!("{field}: expected one of {names}, found {found}"))
        };
        let counts = Counts::named(&self.counts).ok_or_else(|| {
            let names = Counts::ALL.iter().map(|c| c.name()).collect();
            one_of("counts", names, &self.counts)
        })?;
        let sheets = SheetsShow::named(&self.sheets).ok_or_else(|| {
            let names = SheetsShow::ALL.iter().map(|c| c.name()).collect();
            one_of("sheets", names, &self.sheets)
        })?;
        if !(1..=MOST_ATTEMPTS).contains(&self.attempts) {
            return Err(Problem::bad(format!(
                "attempts: expected 1 to {MOST_ATTEMPTS}, found {}",
                self.attempts
            )));
        }
        let category = self.category.trim();
        if category.chars().count() > LONGEST_CATEGORY || category.chars().any(char::is_control) {
            return Err(Problem::bad(format!(
                "category: expected one line of at most {LONGEST_CATEGORY} letters"
            )));
        }
        let order = [self.opens_at, self.due_at, self.closes_at];
        let order: Vec<i64> = order.into_iter().flatten().collect();
        if !order.is_sorted() {
            return Err(Problem::bad(
                "expected it to open before it is due, and to be due before it closes",
            ));
        }
        Ok(Terms {
            opens_at: self.opens_at,
            due_at: self.due_at,
            closes_at: self.closes_at,
            attempts: self.attempts,
            counts,
            sheets,
            category: category.to_owned(),
        })
    }
}

/// An assignment.
#[derive(Serialize, ToSchema)]
struct AssignmentView {
    id: i32,
    class: i32,
    class_name: String,
    lesson: i32,
    title: String,
    /// Whoever joins the class is given it too.
    whole_class: bool,
    terms: TermsView,
    /// Its sheets were released to its students.
    released: bool,
    made_at: i64,
    /// How many lessons of one difficulty are dealt in it; none where all have the same.
    dealt: usize,
    /// Students it was given to, and those of them who have handed in.
    given: usize,
    handed_in: usize,
}

impl From<AssignmentRow> for AssignmentView {
    fn from(row: AssignmentRow) -> Self {
        Self {
            id: row.id,
            class: row.class,
            class_name: row.class_name,
            lesson: row.lesson,
            title: row.lesson_title,
            whole_class: row.whole_class,
            terms: (&row.terms).into(),
            released: row.released_at.is_some(),
            made_at: row.made_at,
            dealt: row.dealt,
            given: row.given,
            handed_in: row.handed_in,
        }
    }
}

/// A lesson to be given out.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewAssignment {
    class: i32,
    lesson: i32,
    /// Some of its students; the whole class, and whoever joins it, when absent.
    #[serde(default)]
    students: Option<Vec<i32>>,
    /// Students who work two at a bench.
    #[serde(default)]
    pairs: Vec<[i32; 2]>,
    #[serde(default)]
    terms: TermsView,
}

/// What is otherwise for one student.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Allowance {
    /// Minutes more than the lesson's time.
    extra_minutes: f64,
    /// It is not asked of them.
    excused: bool,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Again {
    student: i32,
}

#[derive(Serialize, ToSchema)]
struct GivenOut {
    id: i32,
    /// Its attempts, in the order of the students.
    attempts: Vec<i32>,
}

#[derive(Serialize, ToSchema)]
struct GivenAgain {
    attempt: i32,
}

/// An assignment of a class that somebody teaches.
fn own(s: &AppState, id: i32, user: &User) -> Result<AssignmentRow, Problem> {
    let found = s.store.assignment(id)?;
    match s.store.class(found.class, user.id)?.asker {
        Some(Role::Instructor) => Ok(found),
        _ => Err(Problem::not_found(&format!("assignment {id}"))),
    }
}

/// What was given out in one's classes, newest first.
#[utoipa::path(get, operation_id = "assignments_list", path = "/api/assignments", responses((status = 200, body = Vec<AssignmentView>), (status = 403, body = Problem)))]
async fn list(
    State(state): State<AppState>,
    Staff(user): Staff,
) -> Result<Json<Vec<AssignmentView>>, Problem> {
    let found = state.work(move |s| Ok(s.store.assignments(user.id)?));
    let found = found.await?.into_iter();
    Ok(Json(found.map(AssignmentView::from).collect()))
}

/// Give a lesson to a class, or to some of it.
#[utoipa::path(post, operation_id = "assignments_create", path = "/api/assignments", request_body = NewAssignment, responses((status = 200, body = GivenOut), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn create(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Body(new): Body<NewAssignment>,
) -> Result<Json<GivenOut>, Problem> {
    let made = state.work(move |s| {
        let class = taught(s, new.class, &user)?;
        if class.over_at.is_some() {
            let name = class.name;
            return Err(Problem::bad(format!(
                "the class {name} is over: say that it goes on first"
            )));
        }
        let lesson = s.lesson(new.lesson)?;
        let to = match &new.students {
            Some(students) if students.is_empty() => {
                return Err(Problem::bad("students: expected at least one"));
            }
            Some(students) => To::Some(students),
            None => To::Class,
        };
        let terms = new.terms.terms()?;
        let (id, attempts) =
            s.store
                .assign_in_pairs(new.class, new.lesson, (to, &new.pairs), &terms, now())?;
        s.think_ahead(new.lesson, &lesson);
        Ok(GivenOut { id, attempts })
    });
    Ok(Json(made.await?))
}

/// Change from when until when, how often, and when marks show.
#[utoipa::path(put, operation_id = "assignments_change", path = "/api/assignments/{id}", params(("id" = i32, Path)), request_body = TermsView, responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn change(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
    Body(terms): Body<TermsView>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            own(s, id, &user)?;
            Ok(s.store.change_terms(id, &terms.terms()?)?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Take back what nobody has begun.
#[utoipa::path(delete, operation_id = "assignments_withdraw", path = "/api/assignments/{id}", params(("id" = i32, Path)), responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn withdraw(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            own(s, id, &user)?;
            Ok(s.store.withdraw(id)?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Show its sheets to its students.
#[utoipa::path(put, operation_id = "assignments_release", path = "/api/assignments/{id}/release", params(("id" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn release(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    shown(&state, user, id, true).await
}

/// Hide its sheets again, where they are not shown by its terms.
#[utoipa::path(delete, operation_id = "assignments_hide", path = "/api/assignments/{id}/release", params(("id" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn hide(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    shown(&state, user, id, false).await
}

async fn shown(state: &AppState, user: User, id: i32, shown: bool) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            let row = own(s, id, &user)?;
            s.store.release(id, shown.then(now))?;
            let act = if shown { "released marks" } else { "hid marks" };
            let of = format!("{}, {}", row.lesson_title, row.class_name);
            Ok(s.store.note(&user.name, act, &of, now())?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Give one student more time, or excuse them.
#[utoipa::path(put, operation_id = "assignments_allow", path = "/api/assignments/{id}/students/{person}", params(("id" = i32, Path), ("person" = i32, Path)), request_body = Allowance, responses((status = 204), (status = 400, body = Problem), (status = 404, body = Problem)))]
async fn allow(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path((id, person)): Path<(i32, i32)>,
    Body(given): Body<Allowance>,
) -> Result<StatusCode, Problem> {
    let extra = given.extra_minutes;
    if !(0.0..=MOST_EXTRA_MINUTES).contains(&extra) {
        return Err(Problem::bad(format!(
            "extra_minutes: expected 0 to {MOST_EXTRA_MINUTES}, found {extra}"
        )));
    }
    state
        .work(move |s| {
            own(s, id, &user)?;
            let excused = given.excused.then(now);
            s.store.allow(id, person, extra, excused)?;
            s.live.happened(id);
            Ok(())
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Give a student another attempt.
#[utoipa::path(post, operation_id = "assignments_again", path = "/api/assignments/{id}/again", params(("id" = i32, Path)), request_body = Again, responses((status = 200, body = GivenAgain), (status = 404, body = Problem)))]
async fn again(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
    Body(to): Body<Again>,
) -> Result<Json<GivenAgain>, Problem> {
    let made = state.work(move |s| {
        own(s, id, &user)?;
        let attempt = s.store.give_again(id, to.student, now())?;
        s.live.happened(id);
        Ok(attempt)
    });
    let attempt = made.await?;
    Ok(Json(GivenAgain { attempt }))
}

/// End an assignment now: nothing more is done at its benches, and who has not handed in hands in what they have.
#[utoipa::path(post, operation_id = "assignments_end", path = "/api/assignments/{id}/end", params(("id" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn end(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            let at = now();
            let mut terms = own(s, id, &user)?.terms;
            // What was to open or to be due later is not any more.
            terms.opens_at = terms.opens_at.map(|opens| opens.min(at));
            terms.due_at = terms.due_at.map(|due| due.min(at));
            terms.closes_at = Some(at);
            s.store.change_terms(id, &terms)?;
            s.live.happened(id);
            Ok(())
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}
