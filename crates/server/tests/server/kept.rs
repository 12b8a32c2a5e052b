//! What outlives a request, a restart and an upgrade: benches, steps and marks.

use crate::common::{School, act, reading};
use std::time::Duration;

use axum::http::StatusCode;
use cimento_store::NewSheet;
use serde_json::{Value, json};

/// An attempt at W8 open that was handed in after some steps.
async fn handed_in(school: &School) -> (String, String) {
    let instructor = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let student = school.sign_in("varga", "red-and-black").await;
    let name = json!({"do": "name_fault", "place": "W8", "mode": "open"});
    let steps = [reading("K3.86"), name, json!({"do": "hand_in"})];
    for (n, action) in steps.into_iter().enumerate() {
        let body = act(n, &n.to_string(), action);
        let done = school
            .ask("POST", "/api/attempts/1/steps", Some(&student), Some(body))
            .await;
        assert_eq!(done.status, StatusCode::OK, "{}", done.text);
    }
    (instructor, student)
}

/// The fault in the words of the sheet that stands.
async fn fault(school: &School, who: &str) -> String {
    let sheet = school
        .ask("GET", "/api/attempts/1/sheet", Some(who), None)
        .await;
    assert_eq!(sheet.status, StatusCode::OK, "{}", sheet.text);
    sheet.json()["fault"].as_str().unwrap().to_owned()
}

/// The class works on after the server was started anew, on a bench that stands as it stood.
#[tokio::test]
async fn a_restart_in_the_middle_of_an_attempt_loses_nothing() {
    let mut school = School::alone();
    let fault = json!({"place": "W8", "mode": "high_resistance", "severity": {"value": 61}});
    school.give_out(fault).await;
    let student = school.sign_in("varga", "red-and-black").await;
    let other = school.sign_in("oduya", "red-and-black").await;
    let key = json!({"do": "set_control", "control": "key", "position": "start"});
    let clutch = json!({"do": "set_control", "control": "clutch", "position": "down"});
    let steps = [key, clutch, reading("C14.1m"), reading("K3.86")];
    for (n, action) in steps.into_iter().enumerate() {
        // The first works without a break; the second after a restart at every step, and sends everything
        // twice, as one does whose answer was lost.
        let mut answers = Vec::new();
        for (who, attempt) in [(&student, 1), (&other, 2), (&other, 2)] {
            let body = act(n, &format!("{n}"), action.clone());
            let path = format!("/api/attempts/{attempt}/steps");
            let done = school.ask("POST", &path, Some(who), Some(body)).await;
            assert_eq!(done.status, StatusCode::OK, "{}", done.text);
            let done = done.json();
            assert_eq!(done["steps"], n + 1);
            let lines = done["ledger"].as_array().unwrap().len();
            assert_eq!(lines, usize::from(n >= 2), "the new reading alone");
            answers.push(done);
            if attempt == 2 {
                school.restart();
            }
        }
        assert_eq!(answers[0], answers[1]);
        assert_eq!(answers[1], answers[2]);
    }
    let views = [(&student, 1), (&other, 2)];
    let mut ledgers = Vec::new();
    for (who, attempt) in views {
        let path = format!("/api/attempts/{attempt}");
        let view = school.ask("GET", &path, Some(who), None).await.json();
        ledgers.push(view["bench"]["ledger"].clone());
    }
    assert_eq!(ledgers[0].as_array().unwrap().len(), 2);
    assert_eq!(ledgers[0], ledgers[1]);
}

/// A bench whose journal went on elsewhere is not gone on with: the journal is the truth.
#[tokio::test]
async fn a_bench_follows_its_journal() {
    let mut school = School::alone();
    school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let student = school.sign_in("varga", "red-and-black").await;
    let first = school.app.clone();
    let send = |n: usize| act(n, &n.to_string(), reading("K3.86"));
    let path = "/api/attempts/1/steps";
    let who = Some(student.as_str());
    school.ask("POST", path, who, Some(send(0))).await;
    // Another server on the same database takes the second step.
    school.restart();
    school.ask("POST", path, who, Some(send(1))).await;
    school.app = first;
    let third = school.ask("POST", path, who, Some(send(2))).await;
    assert_eq!(third.status, StatusCode::OK, "{}", third.text);
    assert_eq!(third.json()["steps"], 3);
}

/// Marks are read once they have been given: no engine changes them by itself. Marking again lies beside
/// them until it is told to stand, and both are kept; what an instructor gave outlives it.
#[tokio::test]
async fn marks_stay_until_somebody_lets_others_stand() {
    let mut school = School::alone();
    let (instructor, student) = handed_in(&school).await;
    assert_eq!(fault(&school, &student).await, "W8 open");
    // As an older engine had marked it, in other words.
    let store = school.store();
    let mut older: Value = serde_json::from_str(&store.sheets(1).unwrap()[0].sheet).unwrap();
    let debrief = store.sheets(1).unwrap()[0].debrief.clone();
    older["fault"] = json!("W8 broken");
    let older = NewSheet {
        computed: 0.0,
        engine: "older",
        made_at: 1,
        sheet: &older.to_string(),
        debrief: &debrief,
    };
    store.keep_sheet(1, &older).unwrap();
    let id = store.sheets(1).unwrap()[1].id;
    store.let_stand(1, id).unwrap();
    school.restart();
    assert_eq!(fault(&school, &student).await, "W8 broken");
    let asks = |method, path| school.ask_once(method, path, Some(&instructor), None);
    let again = asks("POST", "/api/attempts/1/sheets").await;
    assert_eq!(again.status, StatusCode::ACCEPTED, "{}", again.text);
    let told = asks("GET", "/api/attempts/1/waiting").await;
    assert!(told.text.contains(r#""state":"done""#), "{}", told.text);
    let sheets = asks("GET", "/api/attempts/1/sheets").await.json();
    let stands = |n: usize| sheets[n]["stands"].as_bool().unwrap();
    assert_eq!([0, 1, 2].map(stands), [false, true, false], "{sheets}");
    assert_eq!(sheets[1]["engine"], "older");
    assert_eq!(fault(&school, &student).await, "W8 broken");
    // An instructor's own mark, before the new sheet is let stand.
    let own = json!({"criterion": "conclusion", "marks": 3.0, "reason": "By mouth."});
    let path = "/api/attempts/1/marks";
    let marks = school.ask("POST", path, Some(&instructor), Some(own)).await;
    assert_eq!(marks.status, StatusCode::OK, "{}", marks.text);
    let path = format!("/api/attempts/1/sheets/{}/stands", sheets[2]["id"]);
    let stood = school.ask("PUT", &path, Some(&instructor), None).await;
    assert_eq!(stood.status, StatusCode::NO_CONTENT, "{}", stood.text);
    let sheet = school
        .ask("GET", "/api/attempts/1/sheet", Some(&student), None)
        .await
        .json();
    assert_eq!(sheet["fault"], "W8 open");
    let lines = sheet["lines"].as_array().unwrap();
    let line = lines.iter().find(|l| l["criterion"] == "conclusion");
    assert_eq!(line.unwrap()["given"]["marks"], 3.0);
    // Not a student's to ask for, nor another attempt's to stand.
    let refused = school
        .ask_once("POST", "/api/attempts/1/sheets", Some(&student), None)
        .await;
    assert_eq!(refused.status, StatusCode::FORBIDDEN);
    let refused = school
        .ask(
            "PUT",
            "/api/attempts/2/sheets/1/stands",
            Some(&instructor),
            None,
        )
        .await;
    assert_eq!(refused.status, StatusCode::NOT_FOUND);
    assert_eq!(store.standing_sheet(1).unwrap().unwrap().id, 3);
}

/// What a lesson is in for is worked out once, and read after a restart.
#[tokio::test]
async fn a_prospect_is_kept() {
    let mut school = School::alone();
    let instructor = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let path = "/api/lessons/1/prospect";
    let first = school.ask("GET", path, Some(&instructor), None).await;
    assert_eq!(first.status, StatusCode::OK, "{}", first.text);
    school.restart();
    let read = school.ask_once("GET", path, Some(&instructor), None).await;
    assert_eq!(read.status, StatusCode::OK, "at once: {}", read.text);
    assert_eq!(first.json(), read.json());
}

/// How long a machine takes to reason about is nothing that a student sees before the end.
#[tokio::test]
async fn a_student_does_not_watch_the_reasoning_before_the_end() {
    let school = School::alone();
    school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let student = school.sign_in("varga", "red-and-black").await;
    let path = "/api/attempts/1/waiting";
    let refused = school.ask("GET", path, Some(&student), None).await;
    assert_eq!(refused.status, StatusCode::FORBIDDEN, "{}", refused.text);
}

/// An instructor stops what takes too long: nothing comes of it, what stands goes on standing, and asked for
/// again it is made. A student stops nothing.
#[tokio::test]
async fn marking_again_can_be_stopped() {
    let mut school = School::alone();
    let (instructor, student) = handed_in(&school).await;
    assert_eq!(fault(&school, &student).await, "W8 open");
    // Without the reference at hand it takes its time.
    school.restart();
    let asks = |method, path| school.ask_once(method, path, Some(&instructor), None);
    let (sheets, waiting) = ("/api/attempts/1/sheets", "/api/attempts/1/waiting");
    let refused = school
        .ask_once("DELETE", waiting, Some(&student), None)
        .await;
    assert_eq!(refused.status, StatusCode::FORBIDDEN, "{}", refused.text);
    let again = asks("POST", sheets).await;
    assert_eq!(again.status, StatusCode::ACCEPTED, "{}", again.text);
    // Whoever comes after it was stopped finds nothing to wait for: this one is there by then.
    let stop = async {
        tokio::time::sleep(Duration::from_millis(100)).await;
        asks("DELETE", waiting).await
    };
    let (told, stopped) = tokio::join!(asks("GET", waiting), stop);
    assert_eq!(stopped.status, StatusCode::NO_CONTENT, "{}", stopped.text);
    assert!(
        told.text.contains(r#""state":"failed""#)
            && told.text.contains("stopped before it was done"),
        "{}",
        told.text
    );
    assert_eq!(
        asks("GET", sheets).await.json().as_array().unwrap().len(),
        1
    );
    let again = asks("POST", sheets).await;
    assert_eq!(again.status, StatusCode::ACCEPTED, "{}", again.text);
    let told = asks("GET", waiting).await;
    assert!(told.text.contains(r#""state":"done""#), "{}", told.text);
    assert_eq!(
        asks("GET", sheets).await.json().as_array().unwrap().len(),
        2
    );
}
