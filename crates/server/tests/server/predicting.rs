//! Readings that are predicted on paper: made, given, answered, marked, and never told beforehand.

use crate::common::{School, act, ask, reading};
use axum::http::StatusCode;
use serde_json::{Value, json};

/// Makes a lesson of the first readings that are proposed, of a machine with some faults, and gives it out.
async fn made(school: &School, dalca: &str, faults: Value, readings: &[Value]) -> i64 {
    let lesson = json!({"title": "What will it show?", "complaint": "Look at the tug.", "circuit": 1, "faults": faults,
        "predictions": false, "task": {"kind": "predict", "ask": readings}});
    let (status, made) = ask(school, dalca, "POST /api/lessons", Some(lesson)).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let given = school.give(dalca, &made["id"], &[2, 3]).await;
    assert_eq!(given.status, StatusCode::OK, "{}", given.text);
    made["id"].as_i64().unwrap()
}

async fn proposed(school: &School, dalca: &str, faults: &Value) -> Vec<Value> {
    let machine = json!({"faults": faults});
    let line = "POST /api/circuits/1/predictions";
    let (status, found) = ask(school, dalca, line, Some(machine)).await;
    assert_eq!(status, StatusCode::OK, "{found}");
    found["readings"].as_array().unwrap().clone()
}

fn asked(proposed: &[Value]) -> Vec<Value> {
    proposed
        .iter()
        .take(6)
        .map(|r| r["asked"].clone())
        .collect()
}

/// From the proposal to the sheet, with everything refused that would tell or measure something before.
#[tokio::test]
async fn a_class_predicts_and_is_marked() {
    let school = School::new();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let faults = json!([{"place": "W8", "mode": "open"}]);
    let readings = proposed(&school, &dalca, &faults).await;
    let lesson = made(&school, &dalca, faults, &asked(&readings)).await;
    let (_, list) = ask(&school, &dalca, "GET /api/lessons", None).await;
    assert_eq!(list[0]["seeks_fault"], false);
    let line = format!("GET /api/lessons/{lesson}/prospect");
    assert_eq!(
        ask(&school, &dalca, &line, None).await.0,
        StatusCode::NOT_FOUND
    );

    // The students are told the fault, the readings and the reasons to choose from, and nothing of what they come to.
    let (_, view) = ask(&school, &varga, "GET /api/attempts/1", None).await;
    assert_eq!(view["asked"].as_array().unwrap().len(), 6);
    assert!(view["told"].as_str().unwrap().contains("W8"));
    assert_eq!(view["healthy"], json!([]));
    let text = view["asked"].to_string();
    for word in ["shown", "tolerance", "holds"] {
        assert!(!text.contains(word), "{word}: {text}");
    }
    let machine = Some(json!({"faults": []}));
    let line = "POST /api/circuits/1/predictions";
    assert_eq!(
        ask(&school, &varga, line, machine).await.0,
        StatusCode::FORBIDDEN
    );
    let step = |after: usize, action: Value| Some(act(after, &format!("r{after}"), action));
    let own = "POST /api/attempts/1/steps";
    let (status, why) = ask(&school, &varga, own, step(0, reading("K3.86"))).await;
    assert_eq!(status, StatusCode::BAD_REQUEST, "{why}");
    let predict =
        |no: usize, expected: &str| json!({"do": "predict", "no": no, "expected": expected});
    let others = step(0, predict(1, "12"));
    let (status, _) = ask(&school, &oduya, own, others).await;
    assert_eq!(status, StatusCode::NOT_FOUND);
    let (status, why) = ask(&school, &varga, own, step(0, predict(7, "12"))).await;
    assert_eq!(status, StatusCode::BAD_REQUEST, "{why}");

    // The first is known to the digit, with its reason.
    let known = readings[0]["shown"]["text"].clone();
    let reason = view["asked"][0]["choice"].as_array().unwrap().iter();
    let holds = readings[0]["reasons"][0].as_str().unwrap();
    let mut reason = reason.filter(|c| c["text"] == holds);
    let reason = reason.next().unwrap()["reason"].clone();
    let first = json!({"do": "predict", "no": 1, "expected": known, "reason": reason});
    let (status, changed) = ask(&school, &varga, own, step(0, first)).await;
    assert_eq!(status, StatusCode::OK, "{changed}");
    assert_eq!(changed["predicted"][0]["no"], 1);
    let missing = changed["missing"].to_string();
    assert!(
        missing.contains("5 readings are not predicted"),
        "{missing}"
    );
    let sheet = "GET /api/attempts/1/sheet";
    assert_eq!(
        ask(&school, &varga, sheet, None).await.0,
        StatusCode::FORBIDDEN
    );
    let (status, so_far) = ask(&school, &dalca, sheet, None).await;
    assert_eq!(status, StatusCode::OK, "{so_far}");
    let (status, _) = ask(&school, &varga, own, step(1, json!({"do": "hand_in"}))).await;
    assert_eq!(status, StatusCode::OK);
    // Nobody waits for the marks.
    let (status, marked) = ask(&school, &dalca, sheet, None).await;
    assert_eq!(status, StatusCode::OK, "{marked}");
    assert_eq!(marked["lines"].as_array().unwrap().len(), 2);
    assert!(
        (16.0..20.0).contains(&marked["total"].as_f64().unwrap()),
        "{marked}"
    );
    let (status, shown) = ask(&school, &varga, sheet, None).await;
    assert_eq!(
        (status, &shown["total"]),
        (StatusCode::OK, &marked["total"])
    );
    assert_eq!(
        ask(&school, &oduya, sheet, None).await.0,
        StatusCode::NOT_FOUND
    );
    let again = school.ask_once("POST", "/api/attempts/1/sheets", Some(&dalca), None);
    assert_eq!(again.await.status, StatusCode::ACCEPTED);
    let (_, sheets) = ask(&school, &dalca, "GET /api/attempts/1/sheets", None).await;
    assert_eq!(sheets.as_array().unwrap().len(), 2);
}

/// Whatever is wrong with the machine, the students' view of what is asked is the same to the letter but for the fault that
/// they are told.
#[tokio::test]
async fn what_is_asked_tells_nothing_of_the_answers() {
    let mut views = Vec::new();
    let mut readings = Vec::new();
    for place in ["W8", "W11"] {
        let school = School::new();
        let dalca = school.sign_in("dalca", "bench-and-meter").await;
        let varga = school.sign_in("varga", "red-and-black").await;
        let faults = json!([{"place": place, "mode": "open"}]);
        if readings.is_empty() {
            readings = asked(&proposed(&school, &dalca, &faults).await);
        }
        made(&school, &dalca, faults, &readings).await;
        let (_, mut view) = ask(&school, &varga, "GET /api/attempts/1", None).await;
        assert!(view["told"].take().as_str().unwrap().contains(place));
        views.push(view);
    }
    assert_eq!(views[0], views[1]);
}

/// A reading is left out of a lesson, and one that cannot be taken is refused with its place.
#[tokio::test]
async fn what_is_asked_can_be_changed() {
    let school = School::new();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let readings = proposed(&school, &dalca, &json!([])).await;
    let id = made(&school, &dalca, json!([]), &asked(&readings)).await;
    let (_, seen) = ask(&school, &dalca, &format!("GET /api/lessons/{id}"), None).await;
    let mut terms = seen["terms"].clone();
    let ask_for = terms["task"]["ask"].as_array_mut().unwrap();
    ask_for.truncate(2);
    ask_for[1]["red"] = json!("nowhere");
    let change = format!("PUT /api/lessons/{id}");
    let (status, why) = ask(&school, &dalca, &change, Some(terms.clone())).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{why}");
    assert!(why.to_string().contains("task.ask[1]"), "{why}");
    terms["task"]["ask"].as_array_mut().unwrap().truncate(1);
    let (status, changed) = ask(&school, &dalca, &change, Some(terms)).await;
    assert_eq!(status, StatusCode::OK, "{changed}");
    let varga = school.sign_in("varga", "red-and-black").await;
    let (_, view) = ask(&school, &varga, "GET /api/attempts/1", None).await;
    assert_eq!(view["asked"].as_array().unwrap().len(), 1);
    assert_eq!(view["told"], Value::Null);
}
