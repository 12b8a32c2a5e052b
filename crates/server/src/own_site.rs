//! What changes anything comes from the page itself. A page on another port of the same host is the same site to a
//! cookie, and could otherwise write with it.

use axum::extract::Request;
use axum::http::{HeaderMap, Method, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};

use crate::problem::Problem;

/// Lets reads through, and of the rest what comes from the page or from no page at all.
pub(crate) async fn own_site(request: Request, next: Next) -> Response {
    if matches!(*request.method(), Method::GET | Method::HEAD) {
        return next.run(request).await;
    }
    match flaw(request.headers()) {
        Some(why) => Problem::forbidden(why).into_response(),
        None => next.run(request).await,
    }
}

fn flaw(headers: &HeaderMap) -> Option<&'static str> {
    let text = |name: &str| headers.get(name).and_then(|v| v.to_str().ok());
    // A browser says where a request comes from; what is no browser does not.
    let site = text("sec-fetch-site");
    if site.is_some_and(|s| s != "same-origin" && s != "none") {
        return Some("this came from another page: do it in Cimento's own");
    }
    let host = text(header::HOST.as_str()).unwrap_or_default();
    let origin = text(header::ORIGIN.as_str());
    let own = |origin: &str| {
        origin
            .split_once("://")
            .is_some_and(|(_, from)| from == host)
    };
    if origin.is_some_and(|origin| !own(origin)) {
        return Some("this came from another page: do it in Cimento's own");
    }
    let has_body = text(header::CONTENT_LENGTH.as_str()).is_some_and(|n| n != "0")
        || headers.contains_key(header::TRANSFER_ENCODING);
    let is_json = text(header::CONTENT_TYPE.as_str())
        .is_some_and(|kind| kind.split(';').next().map(str::trim) == Some("application/json"));
    (has_body && !is_json).then_some("expected a body of the type application/json")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_the_page_itself_writes() {
        let said = |pairs: &[(&'static str, &'static str)]| {
            let mut headers = HeaderMap::new();
            for (name, value) in pairs {
                headers.insert(*name, axum::http::HeaderValue::from_static(value));
            }
            flaw(&headers).is_none()
        };
        let host = ("host", "127.0.0.1:8420");
        assert!(said(&[host]));
        assert!(said(&[
            host,
            ("origin", "http://127.0.0.1:8420"),
            ("sec-fetch-site", "same-origin")
        ]));
        // The same host and another port is the same site, and another origin.
        assert!(!said(&[host, ("origin", "http://127.0.0.1:9000")]));
        assert!(!said(&[host, ("sec-fetch-site", "same-site")]));
        assert!(!said(&[host, ("origin", "null")]));
        let json = ("content-type", "application/json; charset=utf-8");
        assert!(said(&[host, ("content-length", "12"), json]));
        assert!(!said(&[
            host,
            ("content-length", "12"),
            ("content-type", "text/plain")
        ]));
        assert!(!said(&[host, ("content-length", "12")]));
    }
}
