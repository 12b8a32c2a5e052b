//! Questions to every route of the API, by somebody of every role and by nobody, with bodies drawn from what the API
//! says of itself. None is answered with an error of the server's, and what is refused changes nothing.

use std::rc::Rc;

use axum::Router;
use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use cimento_parts::{STARTS, Start};
use cimento_server::{AppState, Rate, router};
use cimento_store::{Role, Store};
use fastrand::Rng;
use http_body_util::BodyExt;
use serde_json::{Value, json};
use tempfile::TempDir;
use tokio::runtime::{Builder, Runtime};
use tower::ServiceExt;

use super::{Good, Outcome, Target};
use crate::damage;
use crate::kept::Watching;

const PASSWORD: &str = "bench-and-meter";
const PEOPLE: [(&str, Role); 4] = [
    ("admin", Role::Administrator),
    ("dalca", Role::Instructor),
    ("keller", Role::Assistant),
    ("varga", Role::Student),
];
/// After so many questions the school is another: what was taken fills it.
const LONGEST: usize = 1500;
/// These work for as long as the machine takes, are for who teaches, and say how far they are; and those that go on
/// telling do not end.
const LONG: &[&str] = &[
    "/watch",
    "/heard",
    "/waiting",
    "/proposals",
    "/proof",
    "/prospect",
    "/variants",
    "/preview",
    "/import",
    "/openapi.json",
];

/// A route and the schemas of its body, if it has one.
struct Route {
    method: String,
    template: String,
    body: Option<Value>,
}

/// A school that is asked, in a folder of its own.
struct School {
    app: Router,
    cookies: Vec<Option<String>>,
    watching: Watching,
    asked: usize,
    _folder: TempDir,
}

pub(super) struct Bodies {
    good: Rc<Good>,
    routes: Vec<Route>,
    runtime: Runtime,
    school: School,
}

impl Bodies {
    pub(super) fn new(good: Rc<Good>) -> Result<Self, String> {
        // Its clock jumps over what is waited for, so that answers that are held back do not hold it up.
        let runtime = Builder::new_current_thread()
            .enable_time()
            .start_paused(true)
            .build()
            .map_err(|e| e.to_string())?;
        let school = runtime.block_on(School::open())?;
        let mut routes = Vec::new();
        for (template, methods) in good.description["paths"].as_object().into_iter().flatten() {
            if LONG.iter().any(|end| template.ends_with(end)) {
                continue;
            }
            for (method, said) in methods.as_object().into_iter().flatten() {
                let body = &said["requestBody"]["content"]["application/json"]["schema"];
                routes.push(Route {
                    method: method.to_uppercase(),
                    template: template.clone(),
                    body: (!body.is_null()).then(|| body.clone()),
                });
            }
        }
        Ok(Self {
            good,
            routes,
            runtime,
            school,
        })
    }
}

impl School {
    async fn open() -> Result<Self, String> {
        let said = |e: &dyn std::fmt::Display| e.to_string();
        let folder = tempfile::tempdir().map_err(|e| said(&e))?;
        let database = folder.path().join("school.db");
        let store = Store::open(&database).map_err(|e| said(&e))?;
        let document = STARTS.first().and_then(Start::document);
        let document = document.ok_or("there is nothing to start from")?;
        store.add_circuit(&document, 0).map_err(|e| said(&e))?;
        let class = store.add_class("First year", None, 0);
        let class = class.map_err(|e| said(&e))?;
        for (name, role) in PEOPLE {
            let added = store.add_user(name, name, role, PASSWORD);
            let user = added.map_err(|e| said(&e))?;
            if role != Role::Administrator {
                let enrolled = store.enrol(class, user.id, role, 0);
                enrolled.map_err(|e| said(&e))?;
            }
        }
        let often = Rate {
            burst: 1e12,
            per_s: 1e12,
        };
        let state = AppState::new(store, folder.path().to_owned()).with_rate(often);
        let app = router(state.thinking_ahead(false));
        let mut school = Self {
            app,
            cookies: vec![None],
            watching: Watching::new(&database)?,
            asked: 0,
            _folder: folder,
        };
        for (name, _) in PEOPLE {
            let body = json!({"name": name, "password": PASSWORD}).to_string();
            let (status, cookie, text) = school.ask(0, "POST", "/api/sign-in", Some(&body)).await;
            if cookie.is_none() {
                return Err(format!("{name} is not let in: {status} {text}"));
            }
            school.cookies.push(cookie);
        }
        // Something to work at, and to look at.
        let place = json!({"place": "W2", "mode": "open"});
        let lesson = json!({"title": "One", "complaint": "It does not go.", "circuit": 1, "faults": [place], "purpose": "practice", "predictions": false});
        let give = json!({"class": 1, "lesson": 1});
        for (path, body) in [("/api/lessons", lesson), ("/api/assignments", give)] {
            let (status, _, text) = school.ask(2, "POST", path, Some(&body.to_string())).await;
            if !status.is_success() {
                return Err(format!("{path}: {status} {text}"));
            }
        }
        Ok(school)
    }

    /// Asks as one of those who have signed in, and says what it was answered: status, cookie and text.
    async fn ask(
        &self,
        who: usize,
        method: &str,
        path: &str,
        body: Option<&str>,
    ) -> (StatusCode, Option<String>, String) {
        let mut request = Request::builder().method(method).uri(path);
        if let Some(Some(cookie)) = self.cookies.get(who) {
            request = request.header(header::COOKIE, cookie);
        }
        if body.is_some() {
            request = request.header(header::CONTENT_TYPE, "application/json");
        }
        let body = body.map_or_else(Body::empty, |b| Body::from(b.to_owned()));
        let Ok(request) = request.body(body) else {
            return (StatusCode::BAD_REQUEST, None, "no such address".to_owned());
        };
        let answer = match self.app.clone().oneshot(request).await {
            Ok(answer) => answer,
            Err(never) => match never {},
        };
        let status = answer.status();
        let cookie = answer.headers().get(header::SET_COOKIE);
        let cookie = cookie.and_then(|c| c.to_str().ok()?.split(';').next());
        let cookie = cookie.map(str::to_owned);
        let bytes = answer.into_body().collect().await;
        let bytes = bytes.map(|b| b.to_bytes()).unwrap_or_default();
        (status, cookie, String::from_utf8_lossy(&bytes).into_owned())
    }
}

impl Target for Bodies {
    fn name(&self) -> &'static str {
        "bodies"
    }

    fn weight(&self) -> u32 {
        4
    }

    fn draw(&mut self, rng: &mut Rng) -> String {
        if self.school.asked >= LONGEST
            && let Ok(school) = self.runtime.block_on(School::open())
        {
            self.school = school;
        }
        self.school.asked += 1;
        let route = &self.routes[rng.usize(..self.routes.len())];
        let part = |part: &str| match part.starts_with('{') {
            true if rng.u8(..8) == 0 => {
                const ODD: [&str; 6] = ["0", "-1", "99999999999999", "x", "%00", "1%2f1"];
                ODD[rng.usize(..ODD.len())].to_owned()
            }
            true => rng.u8(1..4).to_string(),
            false => part.to_owned(),
        };
        let path: Vec<String> = route.template.clone().split('/').map(part).collect();
        let body = route.body.as_ref().map(|schema| {
            let body = self.good.arbitrary.of(schema, rng, 0).to_string();
            match rng.u8(..10) {
                0 => damage::bytes(&body, rng),
                _ => body,
            }
        });
        let who = rng.usize(..self.school.cookies.len());
        json!([who, route.method, path.join("/"), body]).to_string()
    }

    fn take(&mut self, input: &str) -> Outcome {
        let drawn: Value = serde_json::from_str(input).unwrap_or_default();
        let who = drawn[0].as_u64().unwrap_or(0) as usize;
        let text = |n: usize| drawn[n].as_str().unwrap_or_default();
        let before = self.school.watching.holds();
        let asked = self.school.ask(who, text(1), text(2), drawn[3].as_str());
        let (status, _, said) = self.runtime.block_on(asked);
        if status.is_server_error() && status != StatusCode::SERVICE_UNAVAILABLE {
            return Outcome::Broken(format!("{status} {said}"));
        }
        if status.is_success() || status.is_redirection() {
            // Who has signed out, or is no more, comes in again with the next school.
            return Outcome::Taken;
        }
        // Whoever is refused is told why, in the one form that the page reads.
        let problem: Value = serde_json::from_str(&said).unwrap_or_default();
        if problem["detail"].as_str().is_none_or(str::is_empty) {
            return Outcome::Broken(format!("refused without a sentence: {status} {said}"));
        }
        match self.school.watching.holds() == before {
            true => Outcome::Refused,
            false => Outcome::Broken(format!("refused, and something is kept: {status} {said}")),
        }
    }
}
