//! Who is asking.

use axum::extract::{FromRequestParts, Request, State};
use axum::http::request::Parts;
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use axum_extra::extract::cookie::{Cookie, CookieJar, SameSite};
use cimento_store::{Role, User};

use crate::clock::now;
use crate::peer::Peer;
use crate::problem::Problem;
use crate::state::AppState;

/// The cookie's name; by HTTPS one that a browser takes from this very host alone (RFC 6265bis, 4.1.3.2).
fn name(peer: Peer) -> &'static str {
    match peer.secure {
        true => "__Host-cimento",
        false => "cimento_session",
    }
}

/// How long somebody stays signed in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Stay {
    /// Until the browser is closed, and no longer than a day at a school.
    Day,
    /// On a computer of one's own.
    Fortnight,
}

impl Stay {
    /// Longest, in seconds.
    pub(crate) fn seconds(self) -> i64 {
        match self {
            Self::Day => 12 * 3600,
            Self::Fortnight => 14 * 24 * 3600,
        }
    }
}

/// The cookie that carries a token: out of reach of scripts, sent to this site only.
pub(crate) fn cookie(token: String, peer: Peer, stay: Stay) -> Cookie<'static> {
    let cookie = Cookie::build((name(peer), token))
        .path("/")
        .http_only(true)
        .secure(peer.secure)
        .same_site(SameSite::Strict);
    match stay {
        Stay::Day => cookie.build(),
        Stay::Fortnight => {
            let longest = time::Duration::seconds(stay.seconds());
            cookie.max_age(longest).build()
        }
    }
}

/// The token of a request, if it has one.
pub(crate) fn token(jar: &CookieJar, peer: Peer) -> Option<String> {
    jar.get(name(peer)).map(|c| c.value().to_owned())
}

/// The token that a request came with.
fn token_of(request: &Request) -> Option<String> {
    let peer = request.extensions().get().copied().unwrap_or_default();
    token(&CookieJar::from_headers(request.headers()), peer)
}

/// Whose token it is, if anybody's.
async fn find(state: &AppState, token: Option<String>) -> Result<Option<User>, Problem> {
    let Some(token) = token.filter(|token| !state.has_ended(token)) else {
        return Ok(None);
    };
    let found = state.work(move |s| Ok(s.store.signed_in(&token, now())?));
    found.await
}

/// Finds who asks, once for whatever looks later, and holds them to their share.
pub(crate) async fn asking(
    State(state): State<AppState>,
    mut request: Request,
    next: Next,
) -> Response {
    let user = match find(&state, token_of(&request)).await {
        Ok(Some(user)) => user,
        Ok(None) => return next.run(request).await,
        Err(problem) => return problem.into_response(),
    };
    let person = user.id;
    request.extensions_mut().insert(user);
    let answer = state.fair.answer(person, next.run(request));
    answer.await.unwrap_or_else(Problem::into_response)
}

/// Anybody who is signed in.
pub(crate) struct SignedIn(pub User);

impl FromRequestParts<AppState> for SignedIn {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, _: &AppState) -> Result<Self, Problem> {
        let found = parts.extensions.get::<User>().cloned();
        found.map(Self).ok_or_else(Problem::signed_out)
    }
}

/// Somebody signed in who is one of some things: handlers take one, so that none can forget to look.
macro_rules! who_is {
    ($(#[$about:meta])* $name:ident: $($role:ident),+; $refused:literal) => {
        $(#[$about])*
        pub(crate) struct $name(pub User);

        impl FromRequestParts<AppState> for $name {
            type Rejection = Problem;

            async fn from_request_parts(parts: &mut Parts, state: &AppState) -> Result<Self, Problem> {
                let SignedIn(user) = SignedIn::from_request_parts(parts, state).await?;
                match [$(Role::$role),+].into_iter().any(|role| user.roles.has(role)) {
                    true => Ok(Self(user)),
                    false => Err(Problem::forbidden($refused)),
                }
            }
        }
    };
}

who_is! {
    /// Who looks after the school and its people.
    Administrator: Administrator; "this is for administrators"
}
who_is! {
    /// Who makes lessons and teaches classes.
    Instructor: Instructor; "this is for instructors"
}
who_is! {
    /// Who teaches, helps, or looks after the people: of which classes, is looked at where it matters.
    Staff: Administrator, Instructor, Assistant; "this is for instructors"
}
who_is! {
    Student: Student; "this is for students"
}
