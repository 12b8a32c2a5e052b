//! A school with one circuit, and asking its API.

use axum::Router;
use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use cimento_model::circuit::CircuitDoc;
use std::sync::LazyLock;

use cimento_server::{AppState, Rate, References, router};
use cimento_store::{Role, Store};
use http_body_util::BodyExt;
use serde_json::{Value, json};
use tower::ServiceExt;

const DATABASE: &str = "school.db";

pub struct School {
    pub app: Router,
    folder: tempfile::TempDir,
}

pub struct Answer {
    pub status: StatusCode,
    pub kind: String,
    pub cookie: Option<String>,
    pub text: String,
}

impl Answer {
    pub fn json(&self) -> Value {
        serde_json::from_str(&self.text).unwrap_or_else(|e| panic!("{e}: {}", self.text))
    }
}

/// Schools of most tests have the same few lessons.
static REFERENCES: LazyLock<References> = LazyLock::new(References::default);

/// As fast as tests ask.
const FREELY: Rate = Rate {
    burst: 1e9,
    per_s: 1e9,
};

impl School {
    pub fn new() -> Self {
        Self::with_rate(FREELY)
    }

    /// A school that knows nothing of what others have worked out.
    pub fn alone() -> Self {
        Self::of("baggage-tug-starting", FREELY, &References::default())
    }

    /// A school where one person may ask so often; otherwise tests ask as fast as they can.
    pub fn with_rate(rate: Rate) -> Self {
        Self::of("baggage-tug-starting", rate, &REFERENCES)
    }

    /// A school with another circuit of the demo's.
    pub fn with_circuit(circuit: &str) -> Self {
        Self::of(circuit, FREELY, &REFERENCES)
    }

    fn of(circuit: &str, rate: Rate, references: &References) -> Self {
        let folder = tempfile::tempdir().unwrap();
        let store = Store::open(&folder.path().join(DATABASE)).unwrap();
        store
            .add_user("dalca", "R. Dalca", Role::Instructor, "bench-and-meter")
            .unwrap();
        let class = store.add_class("First year", Some(1), 0).unwrap();
        for name in ["varga", "oduya"] {
            let student = store
                .add_user(name, name, Role::Student, "red-and-black")
                .unwrap();
            store.enrol(class, student.id, Role::Student, 0).unwrap();
        }
        let file = format!("../../demo/circuits/{circuit}.json");
        let text = std::fs::read_to_string(file).unwrap();
        let doc: CircuitDoc = serde_json::from_str(&text).unwrap();
        store.add_circuit(&doc, 0).unwrap();
        let state = AppState::new(store, folder.path().to_owned()).with_rate(rate);
        // Most tests never ask what a lesson is held against; those that do wait for it.
        let state = state.thinking_ahead(false).sharing(references);
        let app = router(state);
        Self { app, folder }
    }

    /// Another school, of a folder of its own.
    pub fn around(app: Router, folder: tempfile::TempDir) -> Self {
        Self { app, folder }
    }

    /// The school's database, opened beside the server.
    pub fn store(&self) -> Store {
        Store::open(&self.folder.path().join(DATABASE)).unwrap()
    }

    /// The files that the school is in.
    pub fn files(&self) -> Vec<std::path::PathBuf> {
        let entries = std::fs::read_dir(self.folder.path()).unwrap();
        entries.map(|e| e.unwrap().path()).collect()
    }

    /// Does something to the database itself, as one would who has the file.
    pub fn sql(&self, statement: &str) -> diesel::QueryResult<usize> {
        use diesel::{Connection, RunQueryDsl, SqliteConnection};
        let path = self.folder.path().join(DATABASE);
        let mut db = SqliteConnection::establish(&path.to_string_lossy()).unwrap();
        diesel::sql_query(statement).execute(&mut db)
    }

    /// The server is stopped and another one started on the same database.
    pub fn restart(&mut self) {
        let state = AppState::new(self.store(), self.folder.path().to_owned());
        self.app = router(state.thinking_ahead(false));
    }

    /// Asks, and while the answer is being worked out asks again.
    pub async fn ask(
        &self,
        method: &str,
        path: &str,
        cookie: Option<&str>,
        body: Option<Value>,
    ) -> Answer {
        loop {
            let answer = self.ask_once(method, path, cookie, body.clone()).await;
            if answer.status != StatusCode::ACCEPTED {
                return answer;
            }
            tokio::time::sleep(std::time::Duration::from_millis(20)).await;
        }
    }

    /// Asks, and takes what comes.
    pub async fn ask_once(
        &self,
        method: &str,
        path: &str,
        cookie: Option<&str>,
        body: Option<Value>,
    ) -> Answer {
        let mut request = Request::builder().method(method).uri(path);
        if let Some(cookie) = cookie {
            request = request.header(header::COOKIE, cookie);
        }
        if body.is_some() {
            request = request.header(header::CONTENT_TYPE, "application/json");
        }
        let body = body.map_or(Body::empty(), |b| Body::from(b.to_string()));
        let response = self
            .app
            .clone()
            .oneshot(request.body(body).unwrap())
            .await
            .unwrap();
        let head = |name| {
            response
                .headers()
                .get(name)
                .map(|v| v.to_str().unwrap().to_owned())
        };
        let (kind, cookie) = (
            head(header::CONTENT_TYPE).unwrap_or_default(),
            head(header::SET_COOKIE),
        );
        let status = response.status();
        let bytes = response.into_body().collect().await.unwrap().to_bytes();
        Answer {
            status,
            kind,
            cookie,
            text: String::from_utf8_lossy(&bytes).into_owned(),
        }
    }

    pub async fn sign_in(&self, name: &str, password: &str) -> String {
        let answer = self
            .ask(
                "POST",
                "/api/sign-in",
                None,
                Some(json!({"name": name, "password": password})),
            )
            .await;
        assert_eq!(answer.status, StatusCode::OK, "{}", answer.text);
        let cookie = answer.cookie.unwrap();
        assert!(
            cookie.contains("HttpOnly") && cookie.contains("SameSite=Strict"),
            "{cookie}"
        );
        cookie.split(';').next().unwrap().to_owned()
    }

    /// Somebody who looks after the people comes, and signs in.
    pub async fn administrator(&self) -> String {
        self.store()
            .add_user("admin", "A. Dmin", Role::Administrator, "bench-and-meter")
            .unwrap();
        self.sign_in("admin", "bench-and-meter").await
    }

    /// An instructor saves a fault as a lesson and gives it to both students: attempts 1 and 2.
    pub async fn give_out(&self, fault: Value) -> String {
        let instructor = self.sign_in("dalca", "bench-and-meter").await;
        let lesson = json!({"title": "Tug", "complaint": "It will not crank.", "circuit": 1, "faults": [fault], "predictions": false});
        let made = self
            .ask("POST", "/api/lessons", Some(&instructor), Some(lesson))
            .await;
        assert_eq!(made.status, StatusCode::OK, "{}", made.text);
        let id = made.json()["id"].clone();
        let given = self.give(&instructor, &id, &[2, 3]).await;
        assert_eq!(given.status, StatusCode::OK, "{}", given.text);
        instructor
    }
}

impl School {
    /// An instructor gives a lesson to students of the first class, who see their sheets once they hand in.
    pub async fn give(&self, instructor: &str, lesson: &Value, students: &[i32]) -> Answer {
        let body = json!({"class": 1, "lesson": lesson, "students": students, "terms": {"sheets": "handed_in"}});
        self.ask("POST", "/api/assignments", Some(instructor), Some(body))
            .await
    }
}

pub fn act(after: usize, request: &str, action: Value) -> Value {
    json!({"after": after, "request": request, "action": action})
}

pub fn reading(red: &str) -> Value {
    json!({"do": "take_reading", "function": "dc_volts", "red": red, "black": "BAT.-"})
}

/// What is answered to a line such as "GET /api/circuits", its body as JSON.
pub async fn ask(
    school: &School,
    who: &str,
    line: &str,
    body: Option<Value>,
) -> (StatusCode, Value) {
    let (method, path) = line.split_once(' ').unwrap();
    let answer = school.ask(method, path, Some(who), body).await;
    let value = serde_json::from_str(&answer.text).unwrap_or(Value::String(answer.text));
    (answer.status, value)
}

/// An attempt, worked step by step.
pub struct Attempt<'s> {
    school: &'s School,
    line: String,
    after: usize,
}

impl<'s> Attempt<'s> {
    pub fn of(school: &'s School, id: i32) -> Self {
        Self {
            school,
            line: format!("POST /api/attempts/{id}/steps"),
            after: 0,
        }
    }

    /// Does an action; a refusal leaves the attempt where it was.
    pub async fn step(&mut self, who: &str, action: Value) -> (StatusCode, Value) {
        let body = act(self.after, &format!("r{}", self.after), action);
        let answer = ask(self.school, who, &self.line, Some(body)).await;
        if answer.0 == StatusCode::OK {
            self.after = usize::try_from(answer.1["steps"].as_u64().unwrap()).unwrap();
        }
        answer
    }
}
