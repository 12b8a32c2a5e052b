//! A school's people: who is there, who comes, who leaves, and their passwords.

use std::time::{Duration, Instant};

use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum_extra::extract::CookieJar;
use cimento_store::{NewPerson, Role, User};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::Body;
use super::sign_in::Me;
use crate::clock::now;
use crate::passwords;
use crate::peer::Peer;
use crate::problem::Problem;
use crate::session::{Instructor, SignedIn, Stay, cookie};
use crate::state::AppState;

/// Most people added at once: each of their passwords takes a while.
const MOST: usize = 60;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list, add))
        .routes(routes!(reset))
        .routes(routes!(retire, restore))
        .routes(routes!(change_own))
}

#[derive(Serialize, ToSchema)]
struct PersonView {
    #[serde(flatten)]
    who: Me,
    /// They have left.
    left: bool,
}

impl From<User> for PersonView {
    fn from(user: User) -> Self {
        Self {
            left: user.retired_at.is_some(),
            who: user.into(),
        }
    }
}

/// Students to be added.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewStudents {
    students: Vec<NewStudent>,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewStudent {
    /// The name that others see, such as "I. Varga".
    display: String,
    /// The name to sign in with; made from the other when it is left out.
    name: Option<String>,
}

/// Somebody with the password that was made for them: it is told this once.
#[derive(Serialize, ToSchema)]
struct Told {
    id: i32,
    name: String,
    display: String,
    password: String,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewPassword {
    old: String,
    new: String,
}

/// Everybody, by name.
#[utoipa::path(get, operation_id = "people", path = "/api/people", responses((status = 200, body = Vec<PersonView>), (status = 403, body = Problem)))]
async fn list(
    _: Instructor,
    State(state): State<AppState>,
) -> Result<Json<Vec<PersonView>>, Problem> {
    let people = state.work(|s| Ok(s.store.people()?)).await?;
    Ok(Json(people.into_iter().map(PersonView::from).collect()))
}

/// Adds students, all of them or none.
#[utoipa::path(post, operation_id = "people_add", path = "/api/people", request_body = NewStudents, responses((status = 200, body = Vec<Told>), (status = 400, body = Problem), (status = 403, body = Problem), (status = 503, body = Problem)))]
async fn add(
    _: Instructor,
    State(state): State<AppState>,
    Body(given): Body<NewStudents>,
) -> Result<Json<Vec<Told>>, Problem> {
    let count = given.students.len();
    if count == 0 || count > MOST {
        return Err(Problem::bad(format!(
            "expected 1 to {MOST} students at once, found {count}"
        )));
    }
    let place = state.passwords.enter().await?;
    let told = state
        .work(move |s| {
            let known = s.store.people()?;
            let mut taken: Vec<String> = known.into_iter().map(|p| p.name).collect();
            let mut new = Vec::new();
            for student in given.students {
                let name = match student.name {
                    Some(name) => name,
                    None => name_for(&student.display, &taken),
                };
                taken.push(name.clone());
                new.push(NewPerson {
                    name,
                    display: student.display,
                    role: Role::Student,
                    password: passwords::made(),
                });
            }
            let users = s.store.add_people(&new)?;
            let told = users.into_iter().zip(new).map(|(user, new)| Told {
                id: user.id,
                name: user.name,
                display: user.display,
                password: new.password,
            });
            Ok(told.collect())
        })
        .await?;
    drop(place);
    Ok(Json(told))
}

/// A name to sign in with: the last word of one's name in plain letters, with a number where it is taken.
fn name_for(display: &str, taken: &[String]) -> String {
    let words = display.split_whitespace().rev();
    let mut plain = words.map(|word| {
        let letters = word.chars().filter(|c| c.is_alphanumeric());
        letters.flat_map(char::to_lowercase).collect::<String>()
    });
    let base = plain.find(|word| !word.is_empty()).unwrap_or_default();
    let mut name = base.clone();
    let mut number = 2;
    while taken.contains(&name) {
        name = format!("{base}{number}");
        number += 1;
    }
    name
}

/// Makes a student another password and ends their sign-ins.
#[utoipa::path(post, operation_id = "people_reset", path = "/api/people/{id}/password", params(("id" = i32, Path)), responses((status = 200, body = Told), (status = 403, body = Problem), (status = 404, body = Problem), (status = 503, body = Problem)))]
async fn reset(
    _: Instructor,
    State(state): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<Told>, Problem> {
    let place = state.passwords.enter().await?;
    let told = state
        .work(move |s| {
            let user = student(s, id)?;
            let password = passwords::made();
            s.store.set_password(&user.name, &password)?;
            s.throttle.forget(&user.name);
            Ok(Told {
                id,
                name: user.name,
                display: user.display,
                password,
            })
        })
        .await?;
    drop(place);
    Ok(Json(told))
}

/// A student has left: they sign in no more, and their work stays.
#[utoipa::path(put, operation_id = "people_retire", path = "/api/people/{id}/left", params(("id" = i32, Path)), responses((status = 204), (status = 403, body = Problem), (status = 404, body = Problem)))]
async fn retire(
    _: Instructor,
    State(state): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    left(&state, id, Some(now())).await
}

/// A student is back.
#[utoipa::path(delete, operation_id = "people_restore", path = "/api/people/{id}/left", params(("id" = i32, Path)), responses((status = 204), (status = 403, body = Problem), (status = 404, body = Problem)))]
async fn restore(
    _: Instructor,
    State(state): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    left(&state, id, None).await
}

async fn left(state: &AppState, id: i32, at: Option<i64>) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            let user = student(s, id)?;
            Ok(s.store.set_retired(&user.name, at)?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// A student by number: instructors look after those, and of one another they change nothing.
fn student(s: &AppState, id: i32) -> Result<User, Problem> {
    let people = s.store.people()?;
    let found = people.into_iter().find(|p| p.id == id);
    let user = found.ok_or_else(|| Problem::not_found("such person"))?;
    match user.role {
        Role::Student => Ok(user),
        Role::Instructor => Err(Problem::forbidden(
            "an instructor's password is changed by its owner, or with `cimento person`",
        )),
    }
}

/// Changes one's own password; one's other sign-ins end.
#[utoipa::path(put, operation_id = "people_password", path = "/api/me/password", request_body = NewPassword, responses((status = 204), (status = 400, body = Problem), (status = 401, body = Problem), (status = 503, body = Problem)))]
async fn change_own(
    SignedIn(user): SignedIn,
    State(state): State<AppState>,
    peer: Peer,
    jar: CookieJar,
    Body(given): Body<NewPassword>,
) -> Result<(CookieJar, StatusCode), Problem> {
    let (name, from) = (user.name.clone(), peer.address);
    let wait = |d: Duration| Problem::wait_to_sign_in(d.as_secs_f64());
    let tries = state.throttle.tries(&name, from, Instant::now());
    tries.map_err(wait)?;
    let place = state.passwords.enter().await?;
    let token = state
        .work(move |s| {
            let until = (now(), Stay::Day.seconds());
            let right = s.store.sign_in(&user.name, &given.old, until)?;
            if right.is_none() {
                return Err(Problem::bad("the present password is wrong"));
            }
            s.store.set_password(&user.name, &given.new)?;
            let again = s.store.sign_in(&user.name, &given.new, until)?;
            Ok(again.map(|(token, _)| token))
        })
        .await?;
    drop(place);
    state.throttle.right(&name, from);
    let token = token.ok_or_else(Problem::internal)?;
    Ok((
        jar.add(cookie(token, peer, Stay::Day)),
        StatusCode::NO_CONTENT,
    ))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_name_is_made_from_the_last_word() {
        let taken = ["varga".to_owned(), "varga2".to_owned()];
        for (display, name) in [
            ("I. Varga", "varga3"),
            ("Ana María O'Dell", "odell"),
            ("  Lindqvist ", "lindqvist"),
            ("Jörg Öhler (B)", "b"),
        ] {
            assert_eq!(name_for(display, &taken), name);
        }
        assert_eq!(name_for(" ", &taken), "");
    }
}
