//! Test sheets over the API: proposed, given out, filled in, marked, and never told beforehand.

use crate::common::{Attempt, School, act, ask};
use axum::http::StatusCode;
use serde_json::{Value, json};

/// The sheets of a kind that are proposed of a machine with some faults.
async fn proposed(school: &School, dalca: &str, kind: &str, faults: &Value) -> Vec<Value> {
    let machine = json!({"faults": faults});
    let line = "POST /api/circuits/1/test-sheets";
    let (status, found) = ask(school, dalca, line, Some(machine)).await;
    assert_eq!(status, StatusCode::OK, "{found}");
    found[kind].as_array().unwrap().clone()
}

/// Makes a lesson of a sheet and gives it to two students.
async fn made(school: &School, dalca: &str, task: &Value, faults: Value) -> i64 {
    let lesson = json!({"title": "A sheet", "complaint": "Fill it in.", "circuit": 1, "faults": faults,
        "predictions": false, "task": task});
    let (status, made) = ask(school, dalca, "POST /api/lessons", Some(lesson)).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let given = school.give(dalca, &made["id"], &[2, 3]).await;
    assert_eq!(given.status, StatusCode::OK, "{}", given.text);
    made["id"].as_i64().unwrap()
}

fn volts(points: &Value) -> Value {
    json!({"do": "take_reading", "function": "dc_volts", "red": points[0], "black": points[1]})
}

/// From the proposal to the marks: what a row is nobody is told before, and what is said counts only with its reading.
#[tokio::test]
async fn a_survey_is_given_out_worked_and_marked() {
    let school = School::new();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let faults = json!([{"place": "BAT", "mode": "corroded_post", "ohms": 0.03}]);
    let none = proposed(&school, &dalca, "surveys", &faults).await;
    assert!(
        none.is_empty(),
        "a post is no place with two ends: {none:?}"
    );
    let faults = json!([]);
    let surveys = proposed(&school, &dalca, "surveys", &faults).await;
    let cranking = surveys
        .iter()
        .find(|s| s["title"].as_str().unwrap().starts_with("start"));
    let lesson = made(&school, &dalca, &cranking.unwrap()["task"], faults).await;
    let (_, list) = ask(&school, &dalca, "GET /api/lessons", None).await;
    assert_eq!(list[0]["seeks_fault"], false);
    assert!(
        list[0]["asks"]
            .as_str()
            .unwrap()
            .contains("keep, clean, renew")
    );

    let (_, view) = ask(&school, &varga, "GET /api/attempts/1", None).await;
    let rows = view["sheet"]["rows"].as_array().unwrap();
    assert!(rows.len() >= 4, "{view}");
    let told: Vec<&String> = rows[0].as_object().unwrap().keys().collect();
    assert_eq!(told, ["no", "title", "about", "points", "expects"]);
    let machine = Some(json!({"faults": []}));
    let line = "POST /api/circuits/1/test-sheets";
    assert_eq!(
        ask(&school, &varga, line, machine).await.0,
        StatusCode::FORBIDDEN
    );

    let mut bench = Attempt::of(&school, 1);
    let name = json!({"do": "name_fault", "place": "W8", "mode": "open"});
    let (status, why) = bench.step(&varga, name).await;
    assert_eq!(status, StatusCode::BAD_REQUEST);
    assert!(
        why["detail"]
            .as_str()
            .unwrap()
            .contains("enter on the sheet"),
        "{why}"
    );
    let keep = |row: usize| json!({"do": "enter", "row": row, "is": "keep"});
    assert_eq!(bench.step(&oduya, keep(1)).await.0, StatusCode::NOT_FOUND);
    let (_, why) = bench
        .step(&varga, json!({"do": "enter", "row": 1, "is": "sell"}))
        .await;
    assert!(
        why["detail"].as_str().unwrap().contains("choose one of"),
        "{why}"
    );
    // Cranking, one row is measured and kept, another kept without a reading.
    for (control, at) in [("clutch", "down"), ("key", "start")] {
        let set = json!({"do": "set_control", "control": control, "position": at});
        assert_eq!(bench.step(&varga, set).await.0, StatusCode::OK);
    }
    let (status, read) = bench.step(&varga, volts(&rows[0]["points"])).await;
    assert_eq!(status, StatusCode::OK, "{read}");
    bench.step(&varga, keep(1)).await;
    let (_, entered) = bench.step(&varga, keep(2)).await;
    assert_eq!(entered["entered"].as_array().unwrap().len(), 2);
    assert_eq!(
        bench.step(&varga, json!({"do": "hand_in"})).await.0,
        StatusCode::OK
    );
    let (status, sheet) = ask(&school, &dalca, "GET /api/attempts/1/sheet", None).await;
    assert_eq!(status, StatusCode::OK);
    let each = 100.0 / rows.len() as f64;
    assert!(
        (sheet["total"].as_f64().unwrap() - each).abs() < 0.11,
        "{sheet}"
    );
    let said = sheet["lines"][1]["details"][1]["text"].as_str().unwrap();
    assert!(said.contains("without a reading"), "{said}");
    // A hint there is none, also for practice.
    let (_, mut terms) = ask(&school, &dalca, &format!("GET /api/lessons/{lesson}"), None).await;
    let terms = terms["terms"].take();
    let practice = json!({"purpose": "practice"});
    let mut practised = terms;
    practised["purpose"] = practice["purpose"].clone();
    let (status, why) = ask(
        &school,
        &dalca,
        &format!("PUT /api/lessons/{lesson}"),
        Some(practised),
    )
    .await;
    assert_eq!(status, StatusCode::OK, "{why}");
    let hint = Some(json!({"after": 0, "request": "h"}));
    let (status, _) = ask(&school, &oduya, "POST /api/attempts/2/hints", hint).await;
    assert_eq!(status, StatusCode::BAD_REQUEST);
}

/// Whatever is wrong, the students' view of a sheet is the same to the letter; and of leads without a name no word of what
/// lies behind them goes out before they are handed in.
#[tokio::test]
async fn a_sheet_tells_nothing_of_what_its_rows_are() {
    let mut views = Vec::new();
    let mut task = Value::Null;
    for fault in ["W16", "W28", ""] {
        let school = School::with_circuit("ground-power-unit-throttle");
        let dalca = school.sign_in("dalca", "bench-and-meter").await;
        let varga = school.sign_in("varga", "red-and-black").await;
        let faults = match fault {
            "" => json!([]),
            place => json!([{"place": place, "mode": "open"}]),
        };
        let checks = proposed(&school, &dalca, "checks", &faults).await;
        let all = checks
            .iter()
            .find(|s| s["title"].as_str().unwrap().starts_with("all"));
        if task == Value::Null {
            task = all.unwrap()["task"].clone();
        }
        assert_eq!(all.unwrap()["task"], task);
        made(&school, &dalca, &task, faults).await;
        let (_, view) = ask(&school, &varga, "GET /api/attempts/1", None).await;
        // What the customer saw of it is told on the order, and nowhere on the sheet.
        views.push(view["sheet"].clone());
    }
    assert_eq!(views[0], views[1]);
    assert_eq!(views[0], views[2]);

    let school = School::with_circuit("twin-fire-pump-ignition");
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let plugs = proposed(&school, &dalca, "identify", &json!([])).await;
    let stator = plugs.iter().find(|s| s["task"]["half"] == "m").unwrap();
    made(&school, &dalca, &stator["task"], json!([])).await;
    let mut seen = Vec::new();
    let (_, view) = ask(&school, &varga, "GET /api/attempts/1", None).await;
    assert_eq!(view["sheet"]["leads"].as_array().unwrap().len(), 7);
    seen.push(view);
    let ohms = |red: &str| json!({"do": "take_reading", "function": "ohms", "red": red, "black": "metal:engine"});
    let line = "POST /api/attempts/1/steps";
    for (n, red) in ["a", "X2.1m", "b"].into_iter().enumerate() {
        let done = n - usize::from(n > 1);
        let (_, answer) = ask(
            &school,
            &varga,
            line,
            Some(act(done, &format!("r{n}"), ohms(red))),
        )
        .await;
        let told = answer.to_string().replace("there is no lead X2.1m", "");
        seen.push(Value::String(told));
    }
    for text in seen.iter().map(Value::to_string) {
        for word in ["X2.", "W1", "L1.", "L3", "\"class\"", "SP1", "G4"] {
            assert!(!text.contains(word), "{word}: {text}");
        }
    }
}
