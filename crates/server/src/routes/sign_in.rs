//! Signing in and out.

use std::time::{Duration, Instant};

use super::MOST_OF_A_STUDENT;
use axum::Json;
use axum::extract::{DefaultBodyLimit, State};
use axum::http::{HeaderMap, StatusCode, header};
use axum_extra::extract::CookieJar;
use cimento_store::{Role, SignIn, SignInFrom, User};
use serde::{Deserialize, Serialize};
use tokio::time::sleep_until;
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::{Body, Path};
use crate::clock::now;
use crate::peer::Peer;
use crate::problem::Problem;
use crate::session::{SignedIn, Stay, cookie, token};
use crate::state::AppState;

/// After which a wrong password is answered where many fail: longer than looking at one takes.
const LATE: Duration = Duration::from_secs(1);

/// Of what a browser says of itself so many characters are kept.
const LONGEST_BROWSER: usize = 60;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(sign_in))
        .routes(routes!(sign_out))
        .routes(routes!(me))
        .routes(routes!(sign_ins))
        .routes(routes!(end_sign_in))
        .layer(DefaultBodyLimit::max(MOST_OF_A_STUDENT))
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Credentials {
    name: String,
    password: String,
    /// On a computer of one's own: for a fortnight, and not only until the browser is closed.
    #[serde(default)]
    stay: bool,
}

impl Credentials {
    fn stay(&self) -> Stay {
        if self.stay {
            Stay::Fortnight
        } else {
            Stay::Day
        }
    }
}

/// A person, as the school knows them.
#[derive(Serialize, ToSchema)]
pub(super) struct Me {
    pub id: i32,
    name: String,
    pub display: String,
    /// administrator, instructor, assistant, student: one or more.
    roles: Vec<&'static str>,
}

impl From<User> for Me {
    fn from(user: User) -> Self {
        Self {
            id: user.id,
            roles: user.roles.iter().map(Role::name).collect(),
            name: user.name,
            display: user.display,
        }
    }
}

/// Sign in with name and password.
#[utoipa::path(post, operation_id = "people_sign_in", path = "/api/sign-in", request_body = Credentials, responses((status = 200, body = Me), (status = 401, body = Problem), (status = 503, body = Problem)))]
async fn sign_in(
    State(state): State<AppState>,
    peer: Peer,
    headers: HeaderMap,
    jar: CookieJar,
    Body(given): Body<Credentials>,
) -> Result<(CookieJar, Json<Me>), Problem> {
    let stay = given.stay();
    let (token, user) = let_in(&state, peer, browser(&headers), given).await?;
    Ok((jar.add(cookie(token, peer, stay)), Json(user.into())))
}

/// Looks at a name and a password. What is wrong takes as long whichever it is; where much fails, longer.
async fn let_in(
    state: &AppState,
    peer: Peer,
    browser: String,
    given: Credentials,
) -> Result<(String, User), Problem> {
    let began = Instant::now();
    let (throttle, from) = (&state.throttle, peer.address);
    let name = given.name.clone();
    state.may_try(&name, from)?;
    let strained = throttle.strained(from, began);
    // What is answered late anyway need not be looked at for a name that nobody has.
    let nobody = strained && {
        let name = name.clone();
        !state.work(move |s| Ok(s.store.knows(&name)?)).await?
    };
    let found = match nobody {
        true => None,
        false => {
            let place = state.passwords.enter().await?;
            let lasts_s = given.stay().seconds();
            let looked = move |s: &AppState| {
                let from = SignInFrom {
                    now: now(),
                    lasts_s,
                    browser: &browser,
                };
                Ok(s.store.sign_in(&given.name, &given.password, &from)?)
            };
            let found = state.work(looked).await?;
            drop(place);
            found
        }
    };
    let Some(found) = found else {
        throttle.failed(from, Instant::now());
        if strained {
            sleep_until((began + LATE).into()).await;
        }
        return Err(Problem::wrong_password());
    };
    throttle.right(&name, from);
    Ok(found)
}

/// What a browser says of the machine that it runs on: the first remark of its name (RFC 9110, 10.1.5).
pub(super) fn browser(headers: &HeaderMap) -> String {
    let said = headers.get(header::USER_AGENT);
    let said = said.and_then(|v| v.to_str().ok()).unwrap_or_default();
    let remark = said
        .split_once('(')
        .and_then(|(_, rest)| rest.split_once(')'));
    let remark = remark.map_or(said, |(remark, _)| remark);
    remark.chars().take(LONGEST_BROWSER).collect()
}

/// Where one is signed in.
#[derive(Serialize, ToSchema)]
struct SignInView {
    id: String,
    began_at: i64,
    expires_at: i64,
    /// What the browser said of the machine that it runs on.
    browser: String,
    /// It is the one that asks.
    own: bool,
}

/// Where one is signed in, the latest first.
#[utoipa::path(get, operation_id = "people_sign_ins", path = "/api/me/sign-ins", responses((status = 200, body = Vec<SignInView>), (status = 401, body = Problem)))]
async fn sign_ins(
    SignedIn(user): SignedIn,
    State(state): State<AppState>,
    peer: Peer,
    jar: CookieJar,
) -> Result<Json<Vec<SignInView>>, Problem> {
    let token = token(&jar, peer).unwrap_or_default();
    let found = state.work(move |s| Ok(s.store.sign_ins(user.id, &token, now())?));
    let view = |one: SignIn| SignInView {
        id: one.id,
        began_at: one.began_at,
        expires_at: one.expires_at,
        browser: one.browser,
        own: one.own,
    };
    Ok(Json(found.await?.into_iter().map(view).collect()))
}

/// End one of one's sign-ins.
#[utoipa::path(delete, operation_id = "people_end_sign_in", path = "/api/me/sign-ins/{id}", params(("id" = String, Path)), responses((status = 204), (status = 401, body = Problem)))]
async fn end_sign_in(
    SignedIn(user): SignedIn,
    State(state): State<AppState>,
    Path(id): Path<String>,
) -> Result<StatusCode, Problem> {
    state
        .work(move |s| Ok(s.store.end_sign_in(user.id, &id)?))
        .await?;
    Ok(StatusCode::NO_CONTENT)
}

/// End the sign-in.
#[utoipa::path(post, operation_id = "people_sign_out", path = "/api/sign-out", responses((status = 204)))]
async fn sign_out(
    State(state): State<AppState>,
    peer: Peer,
    jar: CookieJar,
) -> Result<(CookieJar, StatusCode), Problem> {
    if let Some(token) = token(&jar, peer) {
        let ended = token.clone();
        let stored = state.work(move |s| Ok(s.store.sign_out(&token)?)).await;
        // Who leaves is out, also where that cannot be stored: on a full disk, from a file that is gone.
        if let Err(problem) = stored {
            tracing::error!(
                "a sign-in was ended and is still on record: {}",
                problem.detail
            );
            state.end(ended);
        }
    }
    Ok((
        jar.remove(cookie(String::new(), peer, Stay::Day)),
        StatusCode::NO_CONTENT,
    ))
}

/// Who is signed in.
#[utoipa::path(get, operation_id = "people_me", path = "/api/me", responses((status = 200, body = Me), (status = 401, body = Problem)))]
async fn me(SignedIn(user): SignedIn) -> Json<Me> {
    Json(user.into())
}
