//! What is somebody's own: taking all of one's work along, erasing it, how long it is kept, two records that are of one
//! student, and a link to set a password by.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use cimento_diagnosis::attempt::{Action, Answer};
use cimento_diagnosis::lesson::Purpose;
use cimento_diagnosis::marking::MarkSheet;
use cimento_store::{Retention, User, Whose};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::{Body, Path};
use super::file::{File, file};
use super::sign_in::Me;
use super::sketches::{self, SketchMark};
use crate::access::{looked_after, sheet_shows};
use crate::clock::{date, now};
use crate::problem::Problem;
use crate::session::{Administrator, SignedIn, Staff};
use crate::state::AppState;

/// Longest time that work is kept by a rule, in months.
const LONGEST_MONTHS: i32 = 240;
/// An average month, in seconds.
const MONTH: i64 = 2_629_746;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(own_work))
        .routes(routes!(own_page))
        .routes(routes!(work))
        .routes(routes!(erase))
        .routes(routes!(page))
        .routes(routes!(merge))
        .routes(routes!(retention, set_retention))
        .routes(routes!(link))
        .routes(routes!(set_by_link))
}

/// All of somebody's work.
#[derive(Serialize, ToSchema)]
struct Work {
    format: &'static str,
    version: u32,
    school: String,
    who: Me,
    attempts: Vec<WorkOfOne>,
    sketches: Vec<SketchOfOne>,
}

/// What was sketched on the diagram of a machine.
#[derive(Serialize, ToSchema)]
struct SketchOfOne {
    machine: String,
    marks: Vec<SketchMark>,
}

/// An attempt with its steps, and its marks where they show.
#[derive(Serialize, ToSchema)]
struct WorkOfOne {
    attempt: i32,
    lesson: String,
    class: Option<String>,
    given_at: i64,
    handed_in_at: Option<i64>,
    steps: Vec<WorkStep>,
    sheet: Option<MarkSheet>,
    /// The total by the school's scale.
    says: Option<String>,
    second_looks: Vec<Look>,
}

#[derive(Serialize, ToSchema)]
struct WorkStep {
    no: usize,
    /// What was done, in words.
    did: String,
    action: Action,
    answer: Answer,
    minutes: f64,
}

/// A second look that was asked for, with its answer.
#[derive(Serialize, ToSchema)]
struct Look {
    criterion: String,
    asked: String,
    answer: Option<String>,
}

/// Who is to become one with another.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Into {
    /// Who stays, with the work of both.
    into: i32,
}

/// When work is erased.
#[derive(Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Kept {
    /// Months after which work is erased, from when it was last gone on with; never when absent.
    months: Option<i32>,
    /// Erased work leaves its marks behind for the means of its class, without a name.
    keeps_figures: bool,
}

/// A link by which somebody sets a new password, once, within three days.
#[derive(Serialize, ToSchema)]
struct Link {
    display: String,
    /// The path on this server.
    path: String,
}

/// A new password by a link.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct ByLink {
    token: String,
    password: String,
}

/// The name to sign in with.
#[derive(Serialize, ToSchema)]
struct SignsInAs {
    name: String,
}

/// What somebody erased had.
#[derive(Serialize, ToSchema)]
struct Erased {
    attempts: usize,
}

/// All work of somebody, with the marks that show to them.
fn work_of(s: &AppState, person: User) -> Result<Work, Problem> {
    let scale = s.store.scale()?;
    let handed_in = s.store.handed_in_at(person.id)?;
    let mut attempts = Vec::new();
    for row in s.store.attempts(Whose::Of(person.id))?.into_iter().rev() {
        let purpose = s.lesson(row.lesson_id)?.purpose;
        let shows = row.handed_in && purpose == Purpose::Marks && sheet_shows(&row, purpose, now());
        let kept = match shows {
            true => s.store.standing_sheet(row.id)?,
            false => None,
        };
        let sheet = kept.map(|kept| {
            let sheet: MarkSheet = serde_json::from_str(&kept.sheet).map_err(|e| {
                tracing::error!("a kept mark sheet cannot be read: {e}");
                Problem::internal()
            })?;
            let given = s.store.given_marks(row.id)?;
            sheet.with_overrides(&given).map_err(Problem::bad)
        });
        let sheet = sheet.transpose()?;
        let looks = s.store.second_looks(row.id)?.into_iter();
        let steps = s.store.steps(row.id)?.into_iter();
        attempts.push(WorkOfOne {
            attempt: row.id,
            lesson: row.lesson_title,
            class: row.given.map(|g| g.class_name),
            given_at: row.given_at,
            handed_in_at: handed_in
                .iter()
                .find(|(id, _)| *id == row.id)
                .and_then(|(_, at)| *at),
            steps: steps
                .map(|step| WorkStep {
                    no: step.no,
                    did: step.said(),
                    minutes: step.minutes,
                    action: step.action,
                    answer: step.answer,
                })
                .collect(),
            says: sheet.as_ref().map(|sheet| scale.says(sheet.total)),
            sheet,
            second_looks: looks
                .map(|look| Look {
                    criterion: look.criterion,
                    asked: look.asked,
                    answer: look.answer.map(|a| a.text),
                })
                .collect(),
        });
    }
    let kept = s.store.sketches(person.id)?.into_iter();
    let sketches = kept.map(|(machine, marks)| {
        let marks = sketches::read(&marks)?;
        Ok::<_, Problem>(SketchOfOne { machine, marks })
    });
    let sketches = sketches.collect::<Result<_, _>>()?;
    Ok(Work {
        format: "cimento/work",
        version: 1,
        school: s.store.school()?.unwrap_or_default(),
        who: person.into(),
        attempts,
        sketches,
    })
}

fn as_file(work: &Work) -> Result<File, Problem> {
    let text = serde_json::to_string(work).map_err(|_| Problem::internal())?;
    let name = format!("work-{}.json", work.who.id);
    Ok(file(&name, "application/json", text))
}

fn as_page(work: &Work) -> File {
    let name = format!("work-{}.html", work.who.id);
    file(&name, "text/html; charset=utf-8", html(work))
}

/// A text within a page.
fn plain(text: &str) -> String {
    let escape = |c: char| match c {
        '&' => "&amp;".to_owned(),
        '<' => "&lt;".to_owned(),
        '>' => "&gt;".to_owned(),
        '"' => "&quot;".to_owned(),
        c => c.to_string(),
    };
    text.chars().map(escape).collect()
}

/// A page that any browser reads without this program.
fn html(work: &Work) -> String {
    let name = plain(&work.who.display);
    let mut out = format!(
        "<!doctype html><html lang=\"en\"><meta charset=\"utf-8\"><title>Work of {name}</title>\
         <style>body{{font:16px/1.5 sans-serif;max-width:60em;margin:2em auto;padding:0 1em}}\
         table{{border-collapse:collapse}}td,th{{border:1px solid #999;padding:.2em .6em;text-align:left}}</style>\
         <h1>Work of {name}</h1><p>{}, {}</p>",
        plain(&work.school),
        date(now()),
    );
    for one in &work.attempts {
        out += &format!("<h2>{}</h2><p>", plain(&one.lesson));
        if let Some(class) = &one.class {
            out += &format!("{} · ", plain(class));
        }
        out += &format!("given {}", date(one.given_at));
        if let Some(at) = one.handed_in_at {
            out += &format!(", handed in {}", date(at));
        }
        if let Some(says) = &one.says {
            out += &format!(" · <b>{}</b> of 100", plain(says));
        }
        out += "</p><table><tr><th>Step</th><th>Done</th><th>Minutes</th></tr>";
        for step in &one.steps {
            out += &format!(
                "<tr><td>{}</td><td>{}</td><td>{:.1}</td></tr>",
                step.no,
                plain(&step.did),
                step.minutes
            );
        }
        out += "</table>";
        if let Some(sheet) = &one.sheet {
            out += "<table><tr><th>Criterion</th><th>Marks</th><th>Why</th></tr>";
            for line in &sheet.lines {
                let given = line.given.as_ref();
                let marks = given.and_then(|g| g.marks).unwrap_or(line.marks);
                let mut why: Vec<String> = line.details.iter().map(|d| plain(&d.text)).collect();
                why.extend(given.map(|g| format!("<i>The instructor: {}</i>", plain(&g.reason))));
                out += &format!(
                    "<tr><td>{}</td><td>{marks:.1} / {:.1}</td><td>{}</td></tr>",
                    plain(&line.title),
                    line.out_of,
                    why.join("<br>")
                );
            }
            out += "</table>";
        }
        for look in &one.second_looks {
            let answer = look.answer.as_deref().unwrap_or("not answered yet");
            out += &format!(
                "<p>Second look at {}: {} – {}</p>",
                plain(&look.criterion),
                plain(&look.asked),
                plain(answer)
            );
        }
    }
    out + "</html>\n"
}

/// All of one's own work as JSON, with the marks that show.
#[utoipa::path(get, operation_id = "own_work", path = "/api/me/work", responses((status = 200, body = Work)))]
async fn own_work(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
) -> Result<File, Problem> {
    as_file(&state.work(move |s| work_of(s, user)).await?)
}

/// All of one's own work as a page to read.
#[utoipa::path(get, operation_id = "own_work_page", path = "/api/me/work.html", responses((status = 200, body = String, content_type = "text/html")))]
async fn own_page(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
) -> Result<File, Problem> {
    Ok(as_page(&state.work(move |s| work_of(s, user)).await?))
}

/// For who asks the school for all it has of them; it is on record who took it.
fn taken_along(s: &AppState, id: i32, asker: &User) -> Result<Work, Problem> {
    let person = s.store.person(id)?;
    s.store
        .note(&asker.name, "took the work along of", &person.name, now())?;
    work_of(s, person)
}

/// All work of somebody as JSON, for an administrator; it is noted.
#[utoipa::path(get, operation_id = "people_work", path = "/api/people/{id}/work", params(("id" = i32, Path)), responses((status = 200, body = Work), (status = 403, body = Problem), (status = 404, body = Problem)))]
async fn work(
    State(state): State<AppState>,
    Administrator(asker): Administrator,
    Path(id): Path<i32>,
) -> Result<File, Problem> {
    as_file(&state.work(move |s| taken_along(s, id, &asker)).await?)
}

/// All work of somebody as a page to read, for an administrator; it is noted.
#[utoipa::path(get, operation_id = "people_work_page", path = "/api/people/{id}/work.html", params(("id" = i32, Path)), responses((status = 200, body = String, content_type = "text/html"), (status = 403, body = Problem), (status = 404, body = Problem)))]
async fn page(
    State(state): State<AppState>,
    Administrator(asker): Administrator,
    Path(id): Path<i32>,
) -> Result<File, Problem> {
    Ok(as_page(
        &state.work(move |s| taken_along(s, id, &asker)).await?,
    ))
}

/// Erase a student with all their work, for good.
#[utoipa::path(delete, operation_id = "people_erase", path = "/api/people/{id}", params(("id" = i32, Path)), responses((status = 200, body = Erased), (status = 400, body = Problem), (status = 403, body = Problem), (status = 404, body = Problem)))]
async fn erase(
    State(state): State<AppState>,
    Administrator(asker): Administrator,
    Path(id): Path<i32>,
) -> Result<Json<Erased>, Problem> {
    let erased = state.work(move |s| {
        let figures = s.store.retention()?.keeps_figures;
        let attempts = s.store.erase_person(id, figures)?;
        s.benches.clear();
        s.store
            .note(&asker.name, "erased for good", "a student", now())?;
        Ok(Erased { attempts })
    });
    Ok(Json(erased.await?))
}

/// Two records of one student become one.
#[utoipa::path(post, operation_id = "people_merge", path = "/api/people/{id}/merge", params(("id" = i32, Path)), request_body = Into, responses((status = 204), (status = 400, body = Problem), (status = 403, body = Problem), (status = 404, body = Problem)))]
async fn merge(
    State(state): State<AppState>,
    Administrator(asker): Administrator,
    Path(id): Path<i32>,
    Body(Into { into }): Body<Into>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            let (one, other) = (s.store.person(id)?, s.store.person(into)?);
            s.store.merge_people(id, into)?;
            let act = format!("made {} one with", one.name);
            Ok(s.store.note(&asker.name, &act, &other.name, now())?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// When work is erased.
#[utoipa::path(get, operation_id = "school_retention", path = "/api/school/retention", responses((status = 200, body = Kept), (status = 403, body = Problem)))]
async fn retention(State(state): State<AppState>, _: Administrator) -> Result<Json<Kept>, Problem> {
    let Retention {
        months,
        keeps_figures,
    } = state.work(|s| Ok(s.store.retention()?)).await?;
    Ok(Json(Kept {
        months,
        keeps_figures,
    }))
}

/// Erase work after another time from now on. What is older goes within the day.
#[utoipa::path(put, operation_id = "school_set_retention", path = "/api/school/retention", request_body = Kept, responses((status = 204), (status = 400, body = Problem), (status = 403, body = Problem)))]
async fn set_retention(
    State(state): State<AppState>,
    Administrator(asker): Administrator,
    Body(kept): Body<Kept>,
) -> Result<StatusCode, Problem> {
    if kept
        .months
        .is_some_and(|m| !(1..=LONGEST_MONTHS).contains(&m))
    {
        let text = format!("months: expected 1 to {LONGEST_MONTHS}, or nothing to keep all work");
        return Err(Problem::bad(text));
    }
    state
        .work(move |s| {
            s.store.set_retention(Retention {
                months: kept.months,
                keeps_figures: kept.keeps_figures,
            })?;
            let what = match kept.months {
                Some(months) => format!("{months} months"),
                None => "without end".to_owned(),
            };
            Ok(s.store
                .note(&asker.name, "lets work be kept", &what, now())?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Erases what has been kept for its time.
///
/// # Errors
/// When the database fails.
pub(crate) fn erase_old(s: &AppState) -> Result<usize, Problem> {
    let Retention {
        months: Some(months),
        keeps_figures,
    } = s.store.retention()?
    else {
        return Ok(0);
    };
    let before = now() - i64::from(months) * MONTH;
    let erased = s.store.erase_older(before, keeps_figures)?;
    if erased > 0 {
        s.benches.clear();
        let what = format!("{erased} attempts after {months} months");
        s.store.note("the program", "erased", &what, now())?;
    }
    Ok(erased)
}

/// Make a link by which somebody sets a new password.
#[utoipa::path(post, operation_id = "people_reset_link", path = "/api/people/{id}/reset-link", params(("id" = i32, Path)), responses((status = 200, body = Link), (status = 403, body = Problem), (status = 404, body = Problem)))]
async fn link(
    State(state): State<AppState>,
    Staff(asker): Staff,
    Path(id): Path<i32>,
) -> Result<Json<Link>, Problem> {
    let link = state.work(move |s| {
        let person = looked_after(s, id, &asker)?;
        let token = s.store.reset_link(id, now())?;
        s.store
            .note(&asker.name, "made a password link for", &person.name, now())?;
        Ok(Link {
            display: person.display,
            path: format!("/new-password#{token}"),
        })
    });
    Ok(Json(link.await?))
}

/// Set a new password by a link.
#[utoipa::path(post, operation_id = "password_by_link", path = "/api/new-password", request_body = ByLink, responses((status = 200, body = SignsInAs), (status = 400, body = Problem), (status = 503, body = Problem)))]
async fn set_by_link(
    State(state): State<AppState>,
    Body(new): Body<ByLink>,
) -> Result<Json<SignsInAs>, Problem> {
    let place = state.passwords.enter().await?;
    let name = state
        .work(move |s| {
            let name = s.store.set_password_by(&new.token, &new.password, now())?;
            s.throttle.forget(&name);
            Ok(name)
        })
        .await?;
    drop(place);
    Ok(Json(SignsInAs { name }))
}
