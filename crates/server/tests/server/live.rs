//! A class seen live, and what its benches hear.

use std::time::Duration;

use crate::common::{Answer, School, act, reading};
use axum::body::{Body, BodyDataStream};
use axum::http::{Request, StatusCode, header};
use cimento_store::Role;
use futures_util::StreamExt;
use serde_json::{Value, json};
use tower::ServiceExt;

async fn ask(school: &School, who: &str, line: &str, body: Option<Value>) -> Answer {
    let (method, path) = line.split_once(' ').unwrap();
    school.ask(method, path, Some(who), body).await
}

/// What a server goes on telling.
pub(crate) struct Events {
    stream: BodyDataStream,
    text: String,
}

impl Events {
    pub(crate) async fn of(school: &School, who: &str, path: &str) -> Result<Self, StatusCode> {
        let request = Request::builder().uri(path).header(header::COOKIE, who);
        let request = request.body(Body::empty()).unwrap();
        let answer = school.app.clone().oneshot(request).await.unwrap();
        match answer.status() {
            StatusCode::OK => Ok(Self {
                stream: answer.into_body().into_data_stream(),
                text: String::new(),
            }),
            other => Err(other),
        }
    }

    /// The next that is told; none within a time that it would have come in.
    pub(crate) async fn next(&mut self) -> Option<Value> {
        loop {
            if let Some((event, rest)) = self.text.split_once("\n\n") {
                let data = event.lines().find_map(|l| l.strip_prefix("data: "));
                let data = data.map(|d| serde_json::from_str(d).unwrap());
                self.text = rest.to_owned();
                if data.is_some() {
                    return data;
                }
                continue;
            }
            let next = tokio::time::timeout(Duration::from_secs(3), self.stream.next());
            let bytes = next.await.ok()??.unwrap();
            self.text.push_str(std::str::from_utf8(&bytes).unwrap());
        }
    }

    /// The next in which something is so.
    async fn until(&mut self, so: impl Fn(&Value) -> bool) -> Value {
        loop {
            let told = self.next().await.expect("something is told");
            if so(&told) {
                return told;
            }
        }
    }
}

fn bench<'v>(view: &'v Value, student: &str) -> &'v Value {
    let benches = view["benches"].as_array().unwrap();
    benches.iter().find(|b| b["display"] == student).unwrap()
}

/// Who teaches sees each step as it is taken, how far it brought its student, and what was dangerous; of the fault
/// there is nothing in it.
#[tokio::test(flavor = "multi_thread")]
async fn a_class_is_seen_as_it_works() {
    let school = School::new();
    let dalca = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let mut events = Events::of(&school, &dalca, "/api/assignments/1/watch")
        .await
        .unwrap();
    let first = events.next().await.unwrap();
    assert_eq!(
        (&first["title"], &first["class"]),
        (&json!("Tug"), &json!("First year"))
    );
    assert_eq!(bench(&first, "varga")["steps"], 0);
    // The lesson is thought through by then.
    let prospect = ask(&school, &dalca, "GET /api/lessons/1/prospect", None).await;
    assert_eq!(prospect.status, StatusCode::OK);
    let steps = "POST /api/attempts/1/steps";
    let set = |control: &str, position: &str| json!({"do": "set_control", "control": control, "position": position});
    let actions = [set("key", "start"), set("clutch", "down"), reading("K3.86")];
    for (n, action) in actions.into_iter().enumerate() {
        let done = ask(&school, &varga, steps, Some(act(n, &n.to_string(), action))).await;
        assert_eq!(done.status, StatusCode::OK, "{}", done.text);
    }
    let now = events.until(|v| bench(v, "varga")["steps"] == 3).await;
    let own = bench(&now, "varga");
    assert!(own["last"].as_str().unwrap().contains("K3.86"), "{own}");
    let (left, of) = (own["left"].as_u64().unwrap(), own["of"].as_u64().unwrap());
    assert!(left < of && left > 0, "{own}");
    assert_eq!(bench(&now, "oduya")["steps"], 0);
    assert!(
        !now.to_string().contains("W8"),
        "the fault stands nowhere in it: {now}"
    );
    // Nothing happens, and nothing is told.
    assert_eq!(events.next().await, None);
    let end = act(3, "end", json!({"do": "hand_in"}));
    ask(&school, &varga, steps, Some(end)).await;
    let now = events
        .until(|v| bench(v, "varga")["handed_in"] == true)
        .await;
    let read = ask(&school, &dalca, "GET /api/assignments/1/live", None)
        .await
        .json();
    assert_eq!(read, now, "one look is the same");
}

/// A class's own people alone see it and speak to it; a bench hears what is said to it and to all.
#[tokio::test(flavor = "multi_thread")]
async fn benches_hear_what_is_said_to_them_and_stand_still() {
    let school = School::new();
    let dalca = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let store = school.store();
    for (name, role) in [("moss", Role::Assistant), ("keller", Role::Instructor)] {
        store.add_user(name, name, role, "red-and-black").unwrap();
    }
    let moss = school.sign_in("moss", "red-and-black").await;
    let keller = school.sign_in("keller", "red-and-black").await;
    let id = store
        .people()
        .unwrap()
        .iter()
        .find(|p| p.name == "moss")
        .unwrap()
        .id;
    store.enrol(1, id, Role::Assistant, 0).unwrap();
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    for (who, path) in [
        (&keller, "/api/assignments/1/watch"),
        (&dalca, "/api/attempts/1/heard"),
        (&oduya, "/api/attempts/1/heard"),
    ] {
        let refused = Events::of(&school, who, path).await.err();
        assert_eq!(refused, Some(StatusCode::NOT_FOUND), "{path}");
    }
    let refused = Events::of(&school, &varga, "/api/assignments/1/watch")
        .await
        .err();
    assert_eq!(refused, Some(StatusCode::FORBIDDEN));
    let mut own = Events::of(&school, &varga, "/api/attempts/1/heard")
        .await
        .unwrap();
    let mut other = Events::of(&school, &oduya, "/api/attempts/2/heard")
        .await
        .unwrap();
    let silent = json!({"paused": false, "words": [], "steps": 0, "partner": null, "asked": null, "vote": null});
    assert_eq!(
        (own.next().await.unwrap(), other.next().await.unwrap()),
        (silent.clone(), silent)
    );
    let say = async |who: &str, body: Value| {
        ask(&school, who, "POST /api/assignments/1/words", Some(body))
            .await
            .status
    };
    assert_eq!(
        say(
            &moss,
            json!({"text": "Look at the ground side.", "student": 2})
        )
        .await,
        204
    );
    assert_eq!(
        say(&dalca, json!({"text": "Five minutes left."})).await,
        204
    );
    assert_eq!(say(&keller, json!({"text": "x"})).await, 404);
    assert_eq!(say(&varga, json!({"text": "x"})).await, 403);
    assert_eq!(say(&dalca, json!({"text": " "})).await, 400);
    let words = |v: &Value| {
        let all = v["words"].as_array().unwrap().iter();
        all.map(|w| {
            format!(
                "{}: {}",
                w["author"].as_str().unwrap(),
                w["said"].as_str().unwrap()
            )
        })
        .collect::<Vec<_>>()
    };
    let heard = own.until(|v| words(v).len() == 2).await;
    assert_eq!(
        words(&heard),
        [
            "moss: Look at the ground side.",
            "R. Dalca: Five minutes left."
        ]
    );
    let heard = other.until(|v| words(v).len() == 1).await;
    assert_eq!(words(&heard), ["R. Dalca: Five minutes left."]);

    // Eyes up: nothing is done meanwhile, and nothing is lost.
    let pause = ask(&school, &moss, "PUT /api/assignments/1/pause", None).await;
    assert_eq!(pause.status, StatusCode::NO_CONTENT);
    own.until(|v| v["paused"] == true).await;
    let steps = "POST /api/attempts/1/steps";
    let refused = ask(&school, &varga, steps, Some(act(0, "a", reading("K3.86")))).await;
    assert_eq!(refused.status, StatusCode::BAD_REQUEST);
    assert!(refused.text.contains("eyes up"), "{}", refused.text);
    ask(&school, &dalca, "DELETE /api/assignments/1/pause", None).await;
    own.until(|v| v["paused"] == false).await;
    let done = ask(&school, &varga, steps, Some(act(0, "a", reading("K3.86")))).await;
    assert_eq!(done.status, StatusCode::OK, "{}", done.text);
    // One person does not listen in more pages than one has.
    let mut held = vec![own];
    let refused = loop {
        match Events::of(&school, &varga, "/api/attempts/1/heard").await {
            Ok(events) => held.push(events),
            Err(status) => break status,
        }
    };
    assert_eq!((held.len(), refused), (8, StatusCode::TOO_MANY_REQUESTS));
    drop(held.pop());
    assert!(
        Events::of(&school, &varga, "/api/attempts/1/heard")
            .await
            .is_ok()
    );
}

/// Time and attempts are the instructor's to give, and are seen at once.
#[tokio::test(flavor = "multi_thread")]
async fn what_one_is_allowed_is_seen_at_once() {
    let school = School::new();
    let dalca = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let mut events = Events::of(&school, &dalca, "/api/assignments/1/watch")
        .await
        .unwrap();
    let first = events.next().await.unwrap();
    assert_eq!(first["teaches"], true);
    let more = json!({"extra_minutes": 15.0, "excused": false});
    let allow = "PUT /api/assignments/1/students/2";
    let allowed = ask(&school, &dalca, allow, Some(more)).await;
    assert_eq!(allowed.status, StatusCode::NO_CONTENT);
    events
        .until(|v| bench(v, "varga")["extra_minutes"] == 15.0)
        .await;
    let again = json!({"student": 2});
    ask(
        &school,
        &dalca,
        "POST /api/assignments/1/again",
        Some(again),
    )
    .await;
    events.until(|v| bench(v, "varga")["no"] == 2).await;
    let much = json!({"extra_minutes": 601.0, "excused": false});
    let refused = ask(&school, &dalca, allow, Some(much)).await;
    assert!(
        refused.text.contains("expected 0 to 600"),
        "{}",
        refused.text
    );
}

/// A word to somebody who is not there is refused, and not an error of the server's.
#[tokio::test]
async fn a_word_to_nobody_is_refused() {
    let school = School::new();
    let dalca = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let word = json!({"student": 999, "text": "Look at the ground."});
    let path = "/api/assignments/1/words";
    let said = school.ask("POST", path, Some(&dalca), Some(word)).await;
    assert_eq!(said.status, StatusCode::NOT_FOUND, "{}", said.text);
    assert!(said.text.contains("not there"), "{}", said.text);
}

/// While all benches stand still nobody's time runs; who ends the work closes its benches, and only who teaches may.
#[tokio::test(flavor = "multi_thread")]
async fn time_stands_still_with_the_benches_and_work_is_ended() {
    let school = School::new();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let lesson = json!({"title": "Tug", "complaint": "It will not crank.", "circuit": 1, "predictions": false,
        "faults": [{"place": "W8", "mode": "open"}], "rules": {"limit_minutes": 10.0}});
    let made = ask(&school, &dalca, "POST /api/lessons", Some(lesson)).await;
    assert_eq!(made.status, StatusCode::OK, "{}", made.text);
    school.give(&dalca, &made.json()["id"], &[2, 3]).await;
    let steps = "POST /api/attempts/1/steps";
    let left = async || {
        let seen = ask(&school, &varga, "GET /api/attempts/1", None).await;
        seen.json()["left_s"].as_i64().unwrap()
    };
    let done = ask(&school, &varga, steps, Some(act(0, "a", reading("K3.86")))).await;
    assert_eq!(done.status, StatusCode::OK, "{}", done.text);
    let before = left().await;
    let pause = |method: &str| format!("{method} /api/assignments/1/pause");
    // Twice is no other than once.
    for _ in 0..2 {
        ask(&school, &dalca, &pause("PUT"), None).await;
        tokio::time::sleep(Duration::from_millis(1600)).await;
    }
    assert!(before - left().await <= 1, "{before} {}", left().await);
    ask(&school, &dalca, &pause("DELETE"), None).await;
    assert!(before - left().await <= 1, "{before} {}", left().await);
    tokio::time::sleep(Duration::from_millis(2100)).await;
    assert!(before - left().await >= 2, "it runs again");

    for (who, status) in [(&varga, 403), (&dalca, 204)] {
        let ended = ask(&school, who, "POST /api/assignments/1/end", None).await;
        assert_eq!(ended.status.as_u16(), status, "{}", ended.text);
    }
    let late = ask(&school, &varga, steps, Some(act(1, "b", reading("BAT.+")))).await;
    assert!(late.text.contains("closed: hand in"), "{}", late.text);
    let end = act(1, "end", json!({"do": "hand_in"}));
    let end = ask(&school, &varga, steps, Some(end)).await;
    assert_eq!(end.status, StatusCode::OK, "{}", end.text);
    let seen = ask(&school, &dalca, "GET /api/assignments/1/live", None).await;
    assert_eq!(seen.json()["closed"], true);
}
