//! Class codes and PINs: how a class signs in where nobody has an address to send a password to.

use axum::Json;
use axum::extract::{DefaultBodyLimit, State};
use axum::http::{HeaderMap, StatusCode};
use axum_extra::extract::CookieJar;
use cimento_store::SignInFrom;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::MOST_OF_A_STUDENT;
use super::extract::{Body, Path};
use super::sign_in::{Me, browser};
use crate::access::{looked_after, taught};
use crate::clock::now;
use crate::passwords;
use crate::peer::Peer;
use crate::problem::Problem;
use crate::session::{Instructor, Staff, Stay, cookie};
use crate::state::AppState;

/// What guesses of codes are counted under: no name to sign in with holds a blank.
const CODES: &str = "class code";

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(class_of))
        .routes(routes!(sign_in))
        .routes(routes!(renew, take_away))
        .routes(routes!(forget_pin))
        .layer(DefaultBodyLimit::max(MOST_OF_A_STUDENT))
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Code {
    code: String,
}

/// A class as one who has its code sees it.
#[derive(Serialize, ToSchema)]
struct CodedClassView {
    name: String,
    students: Vec<CodedStudent>,
}

#[derive(Serialize, ToSchema)]
struct CodedStudent {
    id: i32,
    display: String,
    /// They have set a PIN; otherwise the first that is typed becomes theirs.
    has_pin: bool,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Pin {
    code: String,
    person: i32,
    /// Four to eight digits.
    pin: String,
}

#[derive(Serialize, ToSchema)]
struct NewCode {
    code: String,
}

fn found(s: &AppState, code: &str, peer: Peer) -> Result<cimento_store::CodedClass, Problem> {
    match s.store.class_by_code(code)? {
        Some(class) => {
            s.throttle.right(CODES, peer.address);
            Ok(class)
        }
        None => Err(Problem::wrong_code()),
    }
}

/// The students of the class that has a code.
#[utoipa::path(post, operation_id = "people_by_code", path = "/api/class-code", request_body = Code, responses((status = 200, body = CodedClassView), (status = 401, body = Problem), (status = 429, body = Problem)))]
async fn class_of(
    State(state): State<AppState>,
    peer: Peer,
    Body(given): Body<Code>,
) -> Result<Json<CodedClassView>, Problem> {
    state.may_try(CODES, peer.address)?;
    let class = state.work(move |s| found(s, &given.code, peer)).await?;
    let student = |(id, display, has_pin)| CodedStudent {
        id,
        display,
        has_pin,
    };
    Ok(Json(CodedClassView {
        name: class.name,
        students: class.students.into_iter().map(student).collect(),
    }))
}

/// Sign in as a student of the class that has a code.
#[utoipa::path(post, operation_id = "people_sign_in_by_pin", path = "/api/class-code/sign-in", request_body = Pin, responses((status = 200, body = Me), (status = 400, body = Problem), (status = 401, body = Problem), (status = 429, body = Problem)))]
async fn sign_in(
    State(state): State<AppState>,
    peer: Peer,
    headers: HeaderMap,
    jar: CookieJar,
    Body(given): Body<Pin>,
) -> Result<(CookieJar, Json<Me>), Problem> {
    // A PIN is short: what counts is how often it may be guessed.
    let who = format!("pin {}", given.person);
    state.may_try(&who, peer.address)?;
    let browser = browser(&headers);
    let place = state.passwords.enter().await?;
    let signed_in = state
        .work(move |s| {
            let class = found(s, &given.code, peer)?;
            if !class.students.iter().any(|(id, ..)| *id == given.person) {
                return Err(Problem::wrong_code());
            }
            let from = SignInFrom {
                now: now(),
                lasts_s: Stay::Day.seconds(),
                browser: &browser,
            };
            let signed_in = s.store.sign_in_by_pin(given.person, &given.pin, &from)?;
            signed_in.ok_or_else(Problem::wrong_pin)
        })
        .await?;
    drop(place);
    let (token, user) = signed_in;
    state.throttle.right(&who, peer.address);
    Ok((jar.add(cookie(token, peer, Stay::Day)), Json(user.into())))
}

/// Give a class one's own code, in the place of the one that it had.
#[utoipa::path(put, operation_id = "classes_renew_code", path = "/api/classes/{id}/code", params(("id" = i32, Path)), responses((status = 200, body = NewCode), (status = 404, body = Problem)))]
async fn renew(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<Json<NewCode>, Problem> {
    let code = state.work(move |s| {
        taught(s, id, &user)?;
        let code = passwords::code();
        s.store.set_class_code(id, Some(&code))?;
        Ok(code)
    });
    Ok(Json(NewCode { code: code.await? }))
}

/// Take a class's code away: nobody signs in by it any more.
#[utoipa::path(delete, operation_id = "classes_end_code", path = "/api/classes/{id}/code", params(("id" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn take_away(
    State(state): State<AppState>,
    Instructor(user): Instructor,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            taught(s, id, &user)?;
            Ok(s.store.set_class_code(id, None)?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Forget a student's PIN: the next that they type becomes theirs.
#[utoipa::path(delete, operation_id = "people_forget_pin", path = "/api/people/{id}/pin", params(("id" = i32, Path)), responses((status = 204), (status = 404, body = Problem)))]
async fn forget_pin(
    State(state): State<AppState>,
    Staff(asker): Staff,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            let user = looked_after(s, id, &asker)?;
            s.store.forget_pin(id)?;
            s.throttle.forget(&format!("pin {id}"));
            s.store
                .note(&asker.name, "let set a new PIN", &user.name, now())?;
            Ok(())
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}
