//! Who is asking. Handlers take an [`Instructor`] or a [`Student`], so none can forget to look.

use axum::extract::FromRequestParts;
use axum::http::HeaderMap;
use axum::http::request::Parts;
use axum_extra::extract::cookie::{Cookie, CookieJar, SameSite};
use cimento_store::{Role, User};

use crate::clock::now;
use crate::problem::Problem;
use crate::state::AppState;

const COOKIE: &str = "cimento_session";

/// The cookie that carries a token: out of reach of scripts, sent to this site only.
pub(crate) fn cookie(token: String) -> Cookie<'static> {
    Cookie::build((COOKIE, token))
        .path("/")
        .http_only(true)
        .same_site(SameSite::Strict)
        .max_age(time::Duration::days(14))
        .build()
}

/// The token of a request, if it has one.
pub(crate) fn token(jar: &CookieJar) -> Option<String> {
    jar.get(COOKIE).map(|c| c.value().to_owned())
}

/// Who asks, if anybody is signed in.
pub(crate) async fn find(state: &AppState, headers: &HeaderMap) -> Result<Option<User>, Problem> {
    let Some(token) = token(&CookieJar::from_headers(headers)) else {
        return Ok(None);
    };
    let found = state.work(move |s| Ok(s.store.signed_in(&token, now())?));
    found.await
}

/// Anybody who is signed in.
pub(crate) struct SignedIn(pub User);

/// A signed-in instructor.
pub(crate) struct Instructor(pub User);

/// A signed-in student.
pub(crate) struct Student(pub User);

impl FromRequestParts<AppState> for SignedIn {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, _: &AppState) -> Result<Self, Problem> {
        let found = parts.extensions.get::<User>().cloned();
        found.map(Self).ok_or_else(Problem::signed_out)
    }
}

impl FromRequestParts<AppState> for Instructor {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &AppState) -> Result<Self, Problem> {
        let SignedIn(user) = SignedIn::from_request_parts(parts, state).await?;
        match user.role {
            Role::Instructor => Ok(Self(user)),
            Role::Student => Err(Problem::forbidden("this is for instructors")),
        }
    }
}

impl FromRequestParts<AppState> for Student {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &AppState) -> Result<Self, Problem> {
        let SignedIn(user) = SignedIn::from_request_parts(parts, state).await?;
        match user.role {
            Role::Student => Ok(Self(user)),
            Role::Instructor => Err(Problem::forbidden("this is for students")),
        }
    }
}
