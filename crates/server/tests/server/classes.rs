//! A school as its people meet it: who opens it, who is what in which class, what is given out on which terms, and what
//! nobody else learns of it.

use crate::common::{Answer, School, act, reading};
use axum::http::StatusCode;
use cimento_server::{AppState, router};
use cimento_store::{NewPerson, Role, Roles, Store};
use serde_json::{Value, json};

const PASSWORD: &str = "red-and-black";
/// Long ago and far ahead, in seconds of the epoch.
const PAST: i64 = 1_000_000;
const FUTURE: i64 = 40_000_000_000;

/// Somebody in the school, signed in.
async fn somebody(school: &School, name: &str, roles: &[Role]) -> (i64, String) {
    let roles: Roles = roles.iter().copied().collect();
    let added = school.store().add_people(&[NewPerson {
        name: name.to_owned(),
        display: name.to_owned(),
        roles,
        password: PASSWORD.to_owned(),
    }]);
    let id = added.unwrap()[0].id;
    (id.into(), school.sign_in(name, PASSWORD).await)
}

/// Asks and gives the status with the answer.
async fn ask(school: &School, who: &str, line: &str, body: Option<Value>) -> Answer {
    let (method, path) = line.split_once(' ').unwrap();
    school.ask(method, path, Some(who), body).await
}

async fn status(school: &School, who: &str, line: &str, body: Option<Value>) -> u16 {
    ask(school, who, line, body).await.status.as_u16()
}

/// A lesson of a wire that is open, and its number.
async fn lesson(school: &School, instructor: &str) -> Value {
    let body = json!({"title": "Tug", "complaint": "It will not crank.", "circuit": 1,
        "faults": [{"place": "W8", "mode": "open"}], "predictions": false});
    let made = ask(school, instructor, "POST /api/lessons", Some(body)).await;
    made.json()["id"].clone()
}

async fn given(school: &School, instructor: &str, terms: Value) -> Value {
    let lesson = lesson(school, instructor).await;
    let body = json!({"class": 1, "lesson": lesson, "terms": terms});
    let given = ask(school, instructor, "POST /api/assignments", Some(body)).await;
    assert_eq!(given.status, StatusCode::OK, "{}", given.text);
    given.json()
}

async fn hand_in(school: &School, student: &str, attempt: &Value) {
    let body = act(0, "end", json!({"do": "hand_in"}));
    let line = format!("POST /api/attempts/{attempt}/steps");
    let done = ask(school, student, &line, Some(body)).await;
    assert_eq!(done.status, StatusCode::OK, "{}", done.text);
}

/// Whoever reads what the server printed opens the school, once.
#[tokio::test]
async fn a_school_is_opened_once_by_whoever_has_its_code() {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(&folder.path().join("school.db")).unwrap();
    let state = AppState::new(store, folder.path().to_owned()).thinking_ahead(false);
    let school = School::around(router(state.to_open("pale-copper-lamp")), folder);
    let seen = school.ask("GET", "/api/school", None, None).await.json();
    assert_eq!(seen, json!({"name": "", "to_open": true}));
    let open = |code: &str, password: &str| {
        let body = json!({"code": code, "school": "Bracken Field", "name": "dalca",
            "display": "R. Dalca", "password": password});
        school.ask("POST", "/api/school", None, Some(body))
    };
    assert_eq!(open("a-guess", "bench-and-meter").await.status, 403);
    let short = open("pale-copper-lamp", "short").await;
    assert_eq!(short.status, StatusCode::BAD_REQUEST);
    assert!(short.text.contains("at least 8"), "{}", short.text);
    let opened = open(" pale-copper-lamp ", "bench-and-meter").await;
    assert_eq!(opened.status, StatusCode::NO_CONTENT, "{}", opened.text);
    assert_eq!(
        open("pale-copper-lamp", "bench-and-meter").await.status,
        403
    );
    let seen = school.ask("GET", "/api/school", None, None).await.json();
    assert_eq!(seen, json!({"name": "Bracken Field", "to_open": false}));
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let me = ask(&school, &dalca, "GET /api/me", None).await.json();
    assert_eq!(me["roles"], json!(["administrator", "instructor"]));
    // One without the other would lock the people out of their own school.
    let only = json!({"display": "R. Dalca", "roles": ["instructor"]});
    let refused = ask(&school, &dalca, "PUT /api/people/1", Some(only)).await;
    assert!(
        refused
            .text
            .contains("make another person administrator first")
    );
    let gone = ask(&school, &dalca, "PUT /api/people/1/left", None).await;
    assert_eq!(gone.status, StatusCode::BAD_REQUEST, "{}", gone.text);
    let named = json!({"name": "Bracken Field Technical College"});
    assert_eq!(
        status(&school, &dalca, "PUT /api/school", Some(named)).await,
        204
    );
}

/// A class is its own instructors' and assistants': an assistant sees and gives no marks, an administrator looks after
/// the people and sees no work, and another class's instructor finds nothing there.
#[tokio::test]
async fn a_class_is_its_own_people_s() {
    let school = School::new();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let (moss_id, moss) = somebody(&school, "moss", &[Role::Assistant]).await;
    let (_, keller) = somebody(&school, "keller", &[Role::Instructor]).await;
    let (_, oakes) = somebody(&school, "oakes", &[Role::Administrator]).await;
    let assistant = json!({"role": "assistant"});
    let line = format!("PUT /api/classes/1/members/{moss_id}");
    assert_eq!(
        status(&school, &keller, &line, Some(assistant.clone())).await,
        404
    );
    assert_eq!(
        status(&school, &moss, &line, Some(assistant.clone())).await,
        404
    );
    assert_eq!(status(&school, &dalca, &line, Some(assistant)).await, 204);
    let instructor = json!({"role": "instructor"});
    let refused = ask(&school, &dalca, &line, Some(instructor)).await;
    assert!(
        refused.text.contains("moss is no instructor of the school"),
        "{}",
        refused.text
    );

    let made = given(&school, &dalca, json!({"sheets": "released"})).await;
    let attempt = &made["attempts"][0];
    let varga = school.sign_in("varga", PASSWORD).await;
    let oduya = school.sign_in("oduya", PASSWORD).await;
    hand_in(&school, &varga, attempt).await;
    let see = format!("GET /api/attempts/{attempt}");
    let sheet = format!("GET /api/attempts/{attempt}/sheet");
    let assignment = format!("/api/assignments/{}", made["id"]);
    let terms = json!({"sheets": "handed_in"});
    let marks = json!({"criterion": "conclusion", "marks": 1.0, "reason": "Said so aloud."});
    let marking = format!("POST /api/attempts/{attempt}/marks");
    let release = format!("PUT {assignment}/release");
    for (who, name, sees, gives) in [
        (&dalca, "its instructor", 200, 200),
        (&moss, "its assistant", 200, 403),
        (&keller, "another class's instructor", 404, 404),
        (&oakes, "an administrator", 404, 403),
        (&oduya, "a classmate", 404, 403),
    ] {
        assert_eq!(status(&school, who, &see, None).await, sees, "{name}");
        assert_eq!(status(&school, who, &sheet, None).await, sees, "{name}");
        let given = status(&school, who, &marking, Some(marks.clone())).await;
        assert_eq!(given, gives, "{name}");
        if gives != 200 {
            let others = if gives == 404 { 404 } else { 403 };
            let line = format!("PUT {assignment}");
            let changed = status(&school, who, &line, Some(terms.clone()));
            assert_eq!(changed.await, others, "{name}");
            assert_eq!(status(&school, who, &release, None).await, others, "{name}");
        }
        let bench = act(1, "other", reading("K3.86"));
        let line = format!("POST /api/attempts/{attempt}/steps");
        let acted = status(&school, who, &line, Some(bench)).await;
        assert!([403, 404].contains(&acted), "{name}: {acted}");
    }
    // Lists hold nothing of other classes either.
    let of = async |who: &str, path: &str| ask(&school, who, path, None).await;
    assert_eq!(of(&keller, "GET /api/classes").await.text, "[]");
    assert_eq!(of(&keller, "GET /api/assignments").await.text, "[]");
    let lessons = of(&keller, "GET /api/lessons").await.json();
    assert_eq!(lessons[0]["attempts"], json!([]), "{lessons}");
    assert_eq!(of(&oakes, "GET /api/assignments").await.text, "[]");
    assert_eq!(of(&oakes, "GET /api/lessons").await.status, 403);
    let classes = of(&oakes, "GET /api/classes").await.json();
    assert_eq!(
        classes[0]["members"].as_array().unwrap().len(),
        4,
        "{classes}"
    );
    assert_eq!(classes[0]["own_role"], Value::Null);
    // Another's students are not looked after, and colleagues by administrators alone.
    for (who, person, expected) in [
        (&keller, 2, 404),
        (&moss, 2, 404),
        (&dalca, 2, 200),
        (&dalca, moss_id, 403),
        (&oakes, moss_id, 200),
    ] {
        let line = format!("POST /api/people/{person}/password");
        assert_eq!(status(&school, who, &line, None).await, expected, "{line}");
    }
    // Who did what to whom is an administrator's to read.
    assert_eq!(of(&dalca, "GET /api/audit").await.status, 403);
    let lines = of(&oakes, "GET /api/audit").await.json();
    assert_eq!(lines[0]["act"], "made a new password for");
    assert_eq!(
        (&lines[0]["actor"], &lines[0]["whom"]),
        (&json!("oakes"), &json!("moss"))
    );
    assert!(
        lines.to_string().contains("made assistant of First year"),
        "{lines}"
    );
}

/// From when until when, how often, and when marks show.
#[tokio::test]
async fn what_is_given_out_holds_to_its_terms() {
    let school = School::new();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", PASSWORD).await;
    let oduya = school.sign_in("oduya", PASSWORD).await;
    let step = act(0, "first", reading("K3.86"));
    let listed = async |who: &str, attempt: &Value| {
        let all = ask(&school, who, "GET /api/attempts", None).await.json();
        let all = all.as_array().unwrap().clone();
        all.into_iter().find(|a| a["id"] == *attempt).unwrap()
    };
    // Not yet, and no longer.
    let early = given(&school, &dalca, json!({"opens_at": FUTURE})).await;
    let attempt = &early["attempts"][0];
    assert_eq!(listed(&varga, attempt).await["opens_at"], FUTURE);
    for line in ["GET /api/attempts/N", "POST /api/attempts/N/steps"] {
        let line = line.replace('N', &attempt.to_string());
        let body = line.starts_with("POST").then(|| step.clone());
        let refused = ask(&school, &varga, &line, body).await;
        assert_eq!(refused.status, StatusCode::FORBIDDEN, "{line}");
        assert!(refused.text.contains("not open yet"), "{}", refused.text);
    }
    let late = given(
        &school,
        &dalca,
        json!({"closes_at": PAST, "sheets": "all_done"}),
    )
    .await;
    let attempt = &late["attempts"][0];
    let line = format!("POST /api/attempts/{attempt}/steps");
    let refused = ask(&school, &varga, &line, Some(step.clone())).await;
    assert!(refused.text.contains("closed: hand in"), "{}", refused.text);
    hand_in(&school, &varga, attempt).await;
    let sheet = |attempt: &Value| format!("GET /api/attempts/{attempt}/sheet");
    assert_eq!(
        status(&school, &varga, &sheet(attempt), None).await,
        200,
        "closed, it shows"
    );

    // A sheet waits for everybody, so that who is done tells nobody the fault, or for the instructor.
    let waits = given(&school, &dalca, json!({})).await;
    let (own, other) = (&waits["attempts"][0], &waits["attempts"][1]);
    hand_in(&school, &varga, own).await;
    for line in [
        sheet(own),
        format!("GET /api/attempts/{own}/debrief"),
        format!("GET /api/attempts/{own}/sheet.csv"),
        format!("GET /api/attempts/{own}/waiting"),
    ] {
        let refused = ask(&school, &varga, &line, None).await;
        assert_eq!(refused.status, StatusCode::FORBIDDEN, "{line}");
        assert!(
            refused.text.contains("when everybody is done"),
            "{}",
            refused.text
        );
    }
    assert_eq!(listed(&varga, own).await["sheet"], false);
    hand_in(&school, &oduya, other).await;
    assert_eq!(status(&school, &varga, &sheet(own), None).await, 200);
    assert_eq!(listed(&varga, own).await["sheet"], true);
    let by_hand = given(&school, &dalca, json!({"sheets": "released"})).await;
    let (own, other) = (&by_hand["attempts"][0], &by_hand["attempts"][1]);
    hand_in(&school, &varga, own).await;
    hand_in(&school, &oduya, other).await;
    assert_eq!(status(&school, &varga, &sheet(own), None).await, 403);
    let release = |how: &str| format!("{how} /api/assignments/{}/release", by_hand["id"]);
    assert_eq!(status(&school, &dalca, &release("PUT"), None).await, 204);
    assert_eq!(status(&school, &varga, &sheet(own), None).await, 200);
    assert_eq!(status(&school, &dalca, &release("DELETE"), None).await, 204);
    assert_eq!(status(&school, &varga, &sheet(own), None).await, 403);

    // Two attempts are two; a third is the instructor's to give.
    let twice = given(&school, &dalca, json!({"attempts": 2})).await;
    let first = &twice["attempts"][0];
    let again = |attempt: &Value| format!("POST /api/attempts/{attempt}/again");
    assert_eq!(
        status(&school, &varga, &again(first), None).await,
        400,
        "it is not handed in"
    );
    hand_in(&school, &varga, first).await;
    assert_eq!(listed(&varga, first).await["again"], true);
    assert_eq!(status(&school, &oduya, &again(first), None).await, 404);
    let second = ask(&school, &varga, &again(first), None).await.json()["id"].clone();
    assert_eq!(listed(&varga, &second).await["no"], 2);
    assert_eq!(listed(&varga, first).await["again"], false);
    hand_in(&school, &varga, &second).await;
    assert_eq!(status(&school, &varga, &again(&second), None).await, 400);
    let line = format!("POST /api/assignments/{}/again", twice["id"]);
    let third = ask(&school, &dalca, &line, Some(json!({"student": 2})))
        .await
        .json();
    assert_eq!(listed(&varga, &third["attempt"]).await["no"], 3);

    // Terms that contradict one another are told.
    let line = format!("PUT /api/assignments/{}", twice["id"]);
    for (terms, told) in [
        (
            json!({"due_at": 200, "closes_at": 100}),
            "to be due before it closes",
        ),
        (
            json!({"attempts": 0}),
            "attempts: expected 1 to 20, found 0",
        ),
        (
            json!({"counts": "worst"}),
            "expected one of last, best, mean, found worst",
        ),
        (json!({"sheets": "never"}), "sheets: expected one of"),
    ] {
        let refused = ask(&school, &dalca, &line, Some(terms)).await;
        assert_eq!(refused.status, StatusCode::BAD_REQUEST);
        assert!(refused.text.contains(told), "{}", refused.text);
    }
}

/// Who joins later is given what the whole class was; what nobody has begun is taken back.
#[tokio::test]
async fn who_joins_is_given_it_and_what_nobody_began_is_taken_back() {
    let school = School::new();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", PASSWORD).await;
    let whole = given(&school, &dalca, json!({})).await;
    let (newcomer, cookie) = somebody(&school, "zielke", &[Role::Student]).await;
    let own = async || {
        ask(&school, &cookie, "GET /api/attempts", None)
            .await
            .json()
    };
    assert_eq!(own().await, json!([]));
    let line = format!("/api/classes/1/members/{newcomer}");
    let student = json!({"role": "student"});
    assert_eq!(
        status(&school, &dalca, &format!("PUT {line}"), Some(student)).await,
        204
    );
    assert_eq!(own().await[0]["title"], "Tug");
    let more = json!({"extra_minutes": 20.0, "excused": true});
    let allow = format!("PUT /api/assignments/{}/students/{newcomer}", whole["id"]);
    assert_eq!(status(&school, &dalca, &allow, Some(more)).await, 204);
    assert_eq!(own().await[0]["excused"], true);
    let take_back = format!("DELETE /api/assignments/{}", whole["id"]);
    let step = act(0, "first", reading("K3.86"));
    let line_of = format!("POST /api/attempts/{}/steps", whole["attempts"][0]);
    assert_eq!(status(&school, &varga, &line_of, Some(step)).await, 200);
    let refused = ask(&school, &dalca, &take_back, None).await;
    assert!(
        refused.text.contains("somebody has begun it"),
        "{}",
        refused.text
    );
    assert_eq!(
        status(&school, &dalca, &format!("DELETE {line}"), None).await,
        204
    );
    assert_eq!(
        own().await,
        json!([]),
        "what was not begun goes with the class"
    );
    let unbegun = given(&school, &dalca, json!({})).await;
    let take_back = format!("DELETE /api/assignments/{}", unbegun["id"]);
    assert_eq!(status(&school, &dalca, &take_back, None).await, 204);
    // A class keeps somebody who teaches it, and nothing is given in one that is over.
    let leave = ask(&school, &dalca, "DELETE /api/classes/1/members/1", None).await;
    assert!(leave.text.contains("keeps an instructor"), "{}", leave.text);
    let over = json!({"name": "First year", "over": true});
    assert_eq!(
        status(&school, &dalca, "PUT /api/classes/1", Some(over)).await,
        204
    );
    let lesson = lesson(&school, &dalca).await;
    let body = json!({"class": 1, "lesson": lesson});
    let refused = ask(&school, &dalca, "POST /api/assignments", Some(body)).await;
    assert!(
        refused.text.contains("First year is over"),
        "{}",
        refused.text
    );
}

/// One sees where one is signed in, and ends it there; others' sign-ins are out of reach.
#[tokio::test]
async fn a_sign_in_can_be_seen_and_ended() {
    let school = School::new();
    let [here, there] = [
        school.sign_in("varga", PASSWORD).await,
        school.sign_in("varga", PASSWORD).await,
    ];
    let other = school.sign_in("oduya", PASSWORD).await;
    let all = ask(&school, &here, "GET /api/me/sign-ins", None)
        .await
        .json();
    let all = all.as_array().unwrap();
    assert_eq!(all.len(), 2);
    let elsewhere = all.iter().find(|s| s["own"] == false).unwrap();
    let end = format!(
        "DELETE /api/me/sign-ins/{}",
        elsewhere["id"].as_str().unwrap()
    );
    assert_eq!(status(&school, &other, &end, None).await, 204);
    assert_eq!(
        status(&school, &there, "GET /api/me", None).await,
        200,
        "not another's to end"
    );
    // What stands for a sign-in is no pattern.
    assert_eq!(
        status(&school, &here, "DELETE /api/me/sign-ins/%25", None).await,
        204
    );
    assert_eq!(status(&school, &here, &end, None).await, 204);
    assert_eq!(status(&school, &there, "GET /api/me", None).await, 401);
    assert_eq!(status(&school, &here, "GET /api/me", None).await, 200);
}
