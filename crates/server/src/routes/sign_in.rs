//! Signing in and out.

use super::MOST_OF_A_STUDENT;
use axum::Json;
use axum::extract::DefaultBodyLimit;
use axum::extract::State;
use axum::http::StatusCode;
use axum_extra::extract::CookieJar;
use cimento_store::User;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::Body;
use crate::clock::now;
use crate::problem::Problem;
use crate::session::{SignedIn, cookie, token};
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(sign_in))
        .routes(routes!(sign_out))
        .routes(routes!(me))
        .layer(DefaultBodyLimit::max(MOST_OF_A_STUDENT))
}

#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Credentials {
    name: String,
    password: String,
}

/// A person, as the school knows them.
#[derive(Serialize, ToSchema)]
pub(super) struct Me {
    id: i32,
    name: String,
    display: String,
    #[schema(example = "instructor")]
    role: &'static str,
}

impl From<User> for Me {
    fn from(user: User) -> Self {
        Self {
            id: user.id,
            role: user.role.name(),
            name: user.name,
            display: user.display,
        }
    }
}

/// Sign in with name and password.
#[utoipa::path(post, operation_id = "people_sign_in", path = "/api/sign-in", request_body = Credentials, responses((status = 200, body = Me), (status = 401, body = Problem), (status = 503, body = Problem)))]
async fn sign_in(
    State(state): State<AppState>,
    jar: CookieJar,
    Body(given): Body<Credentials>,
) -> Result<(CookieJar, Json<Me>), Problem> {
    let place = state.passwords.enter().await?;
    let found = state
        .work(move |s| Ok(s.store.sign_in(&given.name, &given.password, now())?))
        .await?;
    drop(place);
    let (token, user) = found.ok_or_else(Problem::wrong_password)?;
    Ok((jar.add(cookie(token)), Json(user.into())))
}

/// End the sign-in.
#[utoipa::path(post, operation_id = "people_sign_out", path = "/api/sign-out", responses((status = 204)))]
async fn sign_out(
    State(state): State<AppState>,
    jar: CookieJar,
) -> Result<(CookieJar, StatusCode), Problem> {
    if let Some(token) = token(&jar) {
        state.work(move |s| Ok(s.store.sign_out(&token)?)).await?;
    }
    Ok((jar.remove(cookie(String::new())), StatusCode::NO_CONTENT))
}

/// Who is signed in.
#[utoipa::path(get, operation_id = "people_me", path = "/api/me", responses((status = 200, body = Me), (status = 401, body = Problem)))]
async fn me(SignedIn(user): SignedIn) -> Json<Me> {
    Json(user.into())
}
