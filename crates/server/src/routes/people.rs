//! A school's people: who is there, who comes, who leaves, and their passwords.

use axum::Json;
use axum::extract::State;
use axum::http::{HeaderMap, StatusCode};
use axum_extra::extract::CookieJar;
use cimento_store::{NewPerson, Role, Roles, SignInFrom, User, name_for};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::{Body, Path};
use super::sign_in::{Me, browser};
use crate::access::{looked_after, peopled};
use crate::clock::now;
use crate::passwords;
use crate::peer::Peer;
use crate::problem::Problem;
use crate::session::{SignedIn, Staff, Stay, cookie};
use crate::state::AppState;

/// Most people added at once: each of their passwords takes a while.
const MOST: usize = 60;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list, add))
        .routes(routes!(change))
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

/// People to be added.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NewPeople {
    people: Vec<Newcomer>,
    /// What they are: students when absent. Others are added by administrators.
    #[serde(default)]
    roles: Option<Vec<String>>,
    /// The class that they are taken into, as students.
    #[serde(default)]
    class: Option<i32>,
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Newcomer {
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

/// What is changed of somebody.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct PersonChange {
    /// The name that others see.
    display: String,
    /// administrator, instructor, assistant, student: one or more.
    roles: Vec<String>,
}

fn roles(names: &[String]) -> Result<Roles, Problem> {
    let role = |name: &String| {
        let known = Role::ALL.into_iter().find(|r| r.name() == name);
        known.ok_or_else(|| {
            Problem::bad(format!(
                "roles: expected administrator, instructor, assistant or student, found {name}"
            ))
        })
    };
    let roles: Roles = names.iter().map(role).collect::<Result<_, _>>()?;
    match roles.is_empty() {
        true => Err(Problem::bad("roles: expected at least one")),
        false => Ok(roles),
    }
}

/// Everybody, by name.
#[utoipa::path(get, operation_id = "people", path = "/api/people", responses((status = 200, body = Vec<PersonView>), (status = 403, body = Problem)))]
async fn list(_: Staff, State(state): State<AppState>) -> Result<Json<Vec<PersonView>>, Problem> {
    let people = state.work(|s| Ok(s.store.people()?)).await?;
    Ok(Json(people.into_iter().map(PersonView::from).collect()))
}

/// Adds people, all of them or none.
#[utoipa::path(post, operation_id = "people_add", path = "/api/people", request_body = NewPeople, responses((status = 200, body = Vec<Told>), (status = 400, body = Problem), (status = 403, body = Problem), (status = 503, body = Problem)))]
async fn add(
    Staff(user): Staff,
    State(state): State<AppState>,
    Body(given): Body<NewPeople>,
) -> Result<Json<Vec<Told>>, Problem> {
    let count = given.people.len();
    if count == 0 || count > MOST {
        return Err(Problem::bad(format!(
            "expected 1 to {MOST} people at once, found {count}"
        )));
    }
    let what = match &given.roles {
        Some(names) => roles(names)?,
        None => Role::Student.into(),
    };
    if !user.roles.has(Role::Administrator) {
        if what != Role::Student.into() {
            return Err(Problem::forbidden(
                "an administrator adds instructors and assistants",
            ));
        }
        if given.class.is_none() {
            return Err(Problem::bad("class: say which class they are taken into"));
        }
    }
    let place = state.passwords.enter().await?;
    let told = state
        .work(move |s| {
            if let Some(class) = given.class {
                peopled(s, class, &user)?;
            }
            let known = s.store.people()?;
            let mut taken: Vec<String> = known.into_iter().map(|p| p.name).collect();
            let mut new = Vec::new();
            for one in given.people {
                let name = match one.name {
                    Some(name) => name,
                    None => name_for(&one.display, &taken),
                };
                taken.push(name.clone());
                new.push(NewPerson {
                    name,
                    display: one.display,
                    roles: what,
                    password: passwords::made(),
                });
            }
            let users = s.store.add_people(&new)?;
            for added in &users {
                if let Some(class) = given.class {
                    s.store.enrol(class, added.id, Role::Student, now())?;
                }
                s.store.note(&user.name, "added", &added.name, now())?;
            }
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

/// Gives somebody another name to be shown by, or makes them something else.
#[utoipa::path(put, operation_id = "people_change", path = "/api/people/{id}", params(("id" = i32, Path)), request_body = PersonChange, responses((status = 200, body = PersonView), (status = 400, body = Problem), (status = 403, body = Problem), (status = 404, body = Problem)))]
async fn change(
    Staff(user): Staff,
    State(state): State<AppState>,
    Path(id): Path<i32>,
    Body(given): Body<PersonChange>,
) -> Result<Json<PersonView>, Problem> {
    let changed = state.work(move |s| {
        let before = looked_after(s, id, &user)?;
        let roles = roles(&given.roles)?;
        if roles != before.roles && !user.roles.has(Role::Administrator) {
            return Err(Problem::forbidden(
                "an administrator says who is instructor or assistant",
            ));
        }
        let after = s.store.change_person(id, &given.display, roles)?;
        if roles != before.roles {
            let names: Vec<&str> = roles.iter().map(Role::name).collect();
            let act = format!("made {}", names.join(" and "));
            s.store.note(&user.name, &act, &before.name, now())?;
        }
        Ok(after)
    });
    Ok(Json(changed.await?.into()))
}

/// Makes somebody another password and ends their sign-ins.
#[utoipa::path(post, operation_id = "people_reset", path = "/api/people/{id}/password", params(("id" = i32, Path)), responses((status = 200, body = Told), (status = 403, body = Problem), (status = 404, body = Problem), (status = 503, body = Problem)))]
async fn reset(
    Staff(asker): Staff,
    State(state): State<AppState>,
    Path(id): Path<i32>,
) -> Result<Json<Told>, Problem> {
    let place = state.passwords.enter().await?;
    let told = state
        .work(move |s| {
            let user = looked_after(s, id, &asker)?;
            let password = passwords::made();
            s.store.set_password(&user.name, &password)?;
            s.throttle.forget(&user.name);
            s.store
                .note(&asker.name, "made a new password for", &user.name, now())?;
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

/// Somebody has left: they sign in no more, and their work stays.
#[utoipa::path(put, operation_id = "people_retire", path = "/api/people/{id}/left", params(("id" = i32, Path)), responses((status = 204), (status = 403, body = Problem), (status = 404, body = Problem)))]
async fn retire(
    Staff(user): Staff,
    State(state): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    left(&state, user, id, Some(now())).await
}

/// Somebody is back.
#[utoipa::path(delete, operation_id = "people_restore", path = "/api/people/{id}/left", params(("id" = i32, Path)), responses((status = 204), (status = 403, body = Problem), (status = 404, body = Problem)))]
async fn restore(
    Staff(user): Staff,
    State(state): State<AppState>,
    Path(id): Path<i32>,
) -> Result<StatusCode, Problem> {
    left(&state, user, id, None).await
}

async fn left(
    state: &AppState,
    asker: User,
    id: i32,
    at: Option<i64>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| {
            let user = looked_after(s, id, &asker)?;
            s.store.set_retired(&user.name, at)?;
            let act = if at.is_some() {
                "let leave"
            } else {
                "took back"
            };
            Ok(s.store.note(&asker.name, act, &user.name, now())?)
        })
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Changes one's own password; one's other sign-ins end.
#[utoipa::path(put, operation_id = "people_password", path = "/api/me/password", request_body = NewPassword, responses((status = 204), (status = 400, body = Problem), (status = 401, body = Problem), (status = 503, body = Problem)))]
async fn change_own(
    SignedIn(user): SignedIn,
    State(state): State<AppState>,
    peer: Peer,
    headers: HeaderMap,
    jar: CookieJar,
    Body(given): Body<NewPassword>,
) -> Result<(CookieJar, StatusCode), Problem> {
    let (name, from) = (user.name.clone(), peer.address);
    let browser = browser(&headers);
    state.may_try(&name, from)?;
    let place = state.passwords.enter().await?;
    let token = state
        .work(move |s| {
            let from = SignInFrom {
                now: now(),
                lasts_s: Stay::Day.seconds(),
                browser: &browser,
            };
            let right = s.store.sign_in(&user.name, &given.old, &from)?;
            if right.is_none() {
                return Err(Problem::bad("the present password is wrong"));
            }
            s.store.set_password(&user.name, &given.new)?;
            let again = s.store.sign_in(&user.name, &given.new, &from)?;
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
