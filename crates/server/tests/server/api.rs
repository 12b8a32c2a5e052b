//! The API as a story.

use std::collections::BTreeSet;

use crate::common::{School, act, reading};
use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use cimento_store::{NewPerson, Role, Whose};
use serde_json::{Value, json};
use tower::ServiceExt;

#[tokio::test]
async fn errors_are_problem_json_with_a_sentence() {
    let school = School::new();
    let out = school.ask("GET", "/api/circuits", None, None).await;
    assert_eq!(
        (out.status, out.kind.as_str()),
        (StatusCode::UNAUTHORIZED, "application/problem+json")
    );
    let wrong = school
        .ask(
            "POST",
            "/api/sign-in",
            None,
            Some(json!({"name": "varga", "password": "x"})),
        )
        .await;
    assert_eq!(wrong.json()["detail"], "name or password is wrong");
    let instructor = school.sign_in("dalca", "bench-and-meter").await;
    let bad = json!({"faults": [{"place": "W8", "mode": "melted"}]});
    let refused = school
        .ask(
            "POST",
            "/api/circuits/1/fault-bench",
            Some(&instructor),
            Some(bad),
        )
        .await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(refused.json()["mistakes"][0]["path"], "faults[0].mode");
    let typo = school
        .ask(
            "POST",
            "/api/circuits/1/fault-bench",
            Some(&instructor),
            Some(json!({"fault": []})),
        )
        .await;
    assert!(
        typo.json()["detail"]
            .as_str()
            .unwrap()
            .contains("unknown field"),
        "{}",
        typo.text
    );
    assert_eq!(
        school
            .ask("GET", "/api/circuits/9", Some(&instructor), None)
            .await
            .status,
        StatusCode::NOT_FOUND
    );
    assert_eq!(
        school
            .ask("GET", "/api/nowhere", Some(&instructor), None)
            .await
            .status,
        StatusCode::NOT_FOUND
    );
    let api = school
        .ask("GET", "/api/openapi.json", None, None)
        .await
        .json();
    assert!(api["paths"]["/api/attempts/{id}/steps"]["post"].is_object());
}

/// Documents that are damaged, foreign or hostile leave everything stored as it was.
#[tokio::test]
async fn what_is_refused_changes_nothing() {
    let school = School::new();
    let instructor = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let before = school
        .ask("GET", "/api/lessons", Some(&instructor), None)
        .await
        .text;
    let good = json!({"title": "T", "complaint": "c", "circuit": 1, "faults": [{"place": "W8", "mode": "open"}], "predictions": true});
    let spoil: [(&str, Value); 8] = [
        ("title", json!("")),
        ("title", json!(7)),
        ("circuit", json!(99)),
        ("faults", json!([])),
        ("faults", json!([{"place": "W8"}])),
        (
            "faults",
            json!([{"place": "W8", "mode": "open", "at": 1e300}]),
        ),
        ("faults", json!([{"place": "S2", "mode": "contact_stuck"}])),
        (
            "faults",
            json!(vec![json!({"place": "W8", "mode": "open"}); 500]),
        ),
    ];
    for (field, value) in spoil {
        let mut body = good.clone();
        body[field] = value;
        let answer = school
            .ask(
                "POST",
                "/api/lessons",
                Some(&instructor),
                Some(body.clone()),
            )
            .await;
        assert!(
            answer.status.is_client_error(),
            "{body}: {} {}",
            answer.status,
            answer.text
        );
        assert!(!answer.json()["detail"].as_str().unwrap().is_empty());
    }
    let whole = good.to_string();
    for cut in (0..whole.len()).step_by(7) {
        let request = Request::post("/api/lessons").header(header::COOKIE, &instructor);
        let body = Body::from(whole.as_bytes()[..cut].to_vec());
        let status = school
            .app
            .clone()
            .oneshot(request.body(body).unwrap())
            .await
            .unwrap()
            .status();
        assert!(status.is_client_error(), "cut at {cut}: {status}");
    }
    assert_eq!(
        school
            .ask("GET", "/api/lessons", Some(&instructor), None)
            .await
            .text,
        before
    );
}

#[tokio::test]
async fn each_role_has_its_own_doors() {
    let school = School::new();
    let instructor = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let student = school.sign_in("varga", "red-and-black").await;
    for (method, path) in [
        ("GET", "/api/circuits"),
        ("GET", "/api/circuits/1"),
        ("POST", "/api/circuits"),
        ("GET", "/api/circuits/1/document"),
        ("PUT", "/api/circuits/1/document"),
        ("PUT", "/api/circuits/1/put-away"),
        ("DELETE", "/api/circuits/1"),
        ("POST", "/api/circuits/1/predictions"),
        ("POST", "/api/circuits/check"),
        ("POST", "/api/circuits/say"),
        ("POST", "/api/circuits/mend"),
        ("GET", "/api/kinds"),
        ("GET", "/api/circuits/1/export/json"),
        ("GET", "/api/lessons"),
        ("GET", "/api/people"),
        ("GET", "/api/classes"),
        ("GET", "/api/assignments"),
        ("GET", "/api/audit"),
        ("POST", "/api/circuits/1/fault-bench"),
        ("POST", "/api/lessons"),
        ("POST", "/api/assignments"),
        ("PUT", "/api/assignments/1/release"),
        ("DELETE", "/api/assignments/1"),
        ("GET", "/api/lessons/1/prospect"),
        ("POST", "/api/lessons/preview"),
        ("GET", "/api/circuits/1/binder"),
        ("POST", "/api/lessons/variants"),
        ("POST", "/api/attempts/1/marks"),
    ] {
        let answer = school
            .ask(method, path, Some(&student), Some(json!({})))
            .await;
        assert_eq!(
            answer.status,
            StatusCode::FORBIDDEN,
            "{method} {path}: {}",
            answer.text
        );
    }
    let steps = school
        .ask(
            "POST",
            "/api/attempts/1/steps",
            Some(&instructor),
            Some(act(0, "a", json!({"do": "hand_in"}))),
        )
        .await;
    assert_eq!(steps.status, StatusCode::FORBIDDEN);
    // Somebody else's attempt is as if it were not there.
    let mine: Vec<i64> = school
        .ask("GET", "/api/attempts", Some(&student), None)
        .await
        .json()
        .as_array()
        .unwrap()
        .iter()
        .map(|a| a["id"].as_i64().unwrap())
        .collect();
    let other = if mine == [1] { 2 } else { 1 };
    for path in [
        format!("/api/attempts/{other}"),
        format!("/api/attempts/{other}/sheet"),
        format!("/api/attempts/{other}/sheet.csv"),
        format!("/api/attempts/{other}/debrief"),
    ] {
        assert_eq!(
            school.ask("GET", &path, Some(&student), None).await.status,
            StatusCode::NOT_FOUND
        );
    }
    let foreign = school
        .ask(
            "POST",
            &format!("/api/attempts/{other}/steps"),
            Some(&student),
            Some(act(0, "a", json!({"do": "hand_in"}))),
        )
        .await;
    assert_eq!(foreign.status, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn the_same_request_is_done_once_and_a_second_tab_does_not_fork() {
    let school = School::new();
    school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let student = school.sign_in("varga", "red-and-black").await;
    let send =
        |body: Value| school.ask("POST", "/api/attempts/1/steps", Some(&student), Some(body));
    let first = send(act(0, "one", json!({"do": "try_complaint"}))).await;
    assert_eq!(first.json()["steps"], 1);
    let again = send(act(0, "one", json!({"do": "try_complaint"}))).await;
    assert_eq!(
        (again.status, again.json()["steps"].as_u64()),
        (StatusCode::OK, Some(1))
    );
    let other_tab = send(act(0, "two", reading("K3.86"))).await;
    assert_eq!(other_tab.status, StatusCode::CONFLICT);
    let bad = send(act(1, "three", reading("K3.99"))).await;
    assert_eq!(
        (bad.status, bad.json()["detail"].as_str()),
        (
            StatusCode::BAD_REQUEST,
            Some("there is no test point K3.99")
        )
    );
    let good = send(act(1, "four", reading("K3.86"))).await.json();
    assert_eq!(
        (
            good["steps"].as_u64(),
            good["ledger"][0]["shown"]["text"].as_str()
        ),
        (Some(2), Some("0.000"))
    );
    assert_eq!(
        send(act(2, "five", json!({"do": "hand_in"}))).await.status,
        StatusCode::OK
    );
    assert_eq!(
        send(act(3, "six", reading("K3.86"))).await.status,
        StatusCode::BAD_REQUEST
    );
}

#[tokio::test]
async fn the_sheet_comes_after_handing_in_and_is_the_same_for_both() {
    let school = School::new();
    let instructor = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let student = school.sign_in("varga", "red-and-black").await;
    let send =
        |body: Value| school.ask("POST", "/api/attempts/1/steps", Some(&student), Some(body));
    send(act(
        0,
        "a",
        json!({"do": "name_fault", "place": "W8", "mode": "open"}),
    ))
    .await;
    for path in ["sheet", "sheet.csv", "debrief"] {
        let path = format!("/api/attempts/1/{path}");
        let early = school.ask("GET", &path, Some(&student), None).await;
        assert_eq!(early.status, StatusCode::FORBIDDEN, "{path}");
    }
    send(act(1, "b", json!({"do": "hand_in"}))).await;
    let theirs = school
        .ask("GET", "/api/attempts/1/sheet", Some(&student), None)
        .await;
    assert_eq!(theirs.status, StatusCode::OK, "{}", theirs.text);
    assert_eq!(
        theirs.json(),
        school
            .ask("GET", "/api/attempts/1/sheet", Some(&instructor), None)
            .await
            .json()
    );
    assert_eq!(theirs.json()["fault"], "W8 open");
}

#[tokio::test]
async fn an_instructor_s_marks_are_kept_and_the_computed_ones_stay() {
    let school = School::new();
    let instructor = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let student = school.sign_in("varga", "red-and-black").await;
    let name = json!({"do": "name_fault", "place": "W8", "mode": "open"});
    for (n, action) in [name, json!({"do": "hand_in"})].into_iter().enumerate() {
        let body = act(n, &n.to_string(), action);
        school
            .ask("POST", "/api/attempts/1/steps", Some(&student), Some(body))
            .await;
    }
    let give = |marks: f64, reason: &str| {
        let body = json!({"criterion": "conclusion", "marks": marks, "reason": reason});
        school.ask(
            "POST",
            "/api/attempts/1/marks",
            Some(&instructor),
            Some(body),
        )
    };
    let refused = give(24.0, "Too much.").await;
    assert_eq!(refused.status, StatusCode::BAD_REQUEST, "{}", refused.text);
    assert!(
        refused.text.contains("expected 0 to 23.5"),
        "{}",
        refused.text
    );
    assert_eq!(
        give(18.0, "Well argued by mouth.").await.status,
        StatusCode::OK
    );
    let sheet = school
        .ask("GET", "/api/attempts/1/sheet", Some(&student), None)
        .await
        .json();
    let line = sheet["lines"]
        .as_array()
        .unwrap()
        .iter()
        .find(|l| l["criterion"] == "conclusion")
        .unwrap();
    assert_eq!(
        (&line["marks"], &line["given"]["marks"]),
        (&json!(17.6), &json!(18.0))
    );
    assert_eq!(
        (&sheet["total"], &sheet["computed"]),
        (&json!(18.0), &json!(17.6))
    );
    let csv = school
        .ask("GET", "/api/attempts/1/sheet.csv", Some(&student), None)
        .await;
    assert!(csv.text.contains("Conclusion,17.6,23.5,18"), "{}", csv.text);
    let told = school
        .ask("GET", "/api/attempts/1/debrief", Some(&student), None)
        .await
        .json();
    assert_eq!(told["steps"].as_array().unwrap().len(), 2);
    let prospect = school
        .ask("GET", "/api/lessons/1/prospect", Some(&instructor), None)
        .await
        .json();
    assert_eq!(prospect["provable"], true, "{prospect}");
}

/// From nothing by saying paths; two who change one circuit do not overwrite each other; what goes out
/// comes in again, and what is damaged is refused whole.
#[tokio::test]
async fn a_circuit_is_said_changed_exported_and_taken_in() {
    let school = School::new();
    let me = school.sign_in("dalca", "bench-and-meter").await;
    let ask = |method: &'static str, path: String, body: Option<Value>| {
        let (school, me) = (&school, &me);
        async move { school.ask(method, &path, Some(me), body).await }
    };
    let before = ask("GET", "/api/circuits".into(), None)
        .await
        .json()
        .as_array()
        .unwrap()
        .len();
    let made = ask(
        "POST",
        "/api/circuits".into(),
        Some(json!({"title": "Horn"})),
    )
    .await;
    let id = made.json()["id"].as_i64().unwrap();
    let own = format!("/api/circuits/{id}/document");
    let begun = ask("GET", own.clone(), None).await.json();
    let mut document = begun["document"].clone();
    let unfinished = ask(
        "POST",
        "/api/circuits/check".into(),
        Some(json!({"document": document})),
    )
    .await
    .json();
    assert!(
        !unfinished["refused"].as_array().unwrap().is_empty(),
        "{unfinished}"
    );
    for line in [
        "BAT(battery).+ > 2.5 RD 0.5 > F1(fuse 15).1-2 > 1 RD 0.8 > S1(horn_button).1-2 > 1 BU 1 > H1(horn).1-2 > 1 BN 0.4 > G1(body)",
        "BAT.- > 16 BK 0.4 > G2(body)",
    ] {
        let said = ask(
            "POST",
            "/api/circuits/say".into(),
            Some(json!({"document": document, "line": line})),
        )
        .await;
        assert_eq!(said.status, StatusCode::OK, "{}", said.text);
        document = said.json();
    }
    let wrong = json!({"document": document, "line": "H1.9 > 1 BN > G1"});
    let wrong = ask("POST", "/api/circuits/say".into(), Some(wrong)).await;
    assert!(
        wrong.text.contains("word 1") && wrong.text.contains("expected 1, 2"),
        "{}",
        wrong.text
    );
    let checked = ask(
        "POST",
        "/api/circuits/check".into(),
        Some(json!({"document": document})),
    )
    .await
    .json();
    assert_eq!(checked["refused"], json!([]), "{checked}");
    assert!(
        checked["healthy"]
            .as_str()
            .unwrap()
            .to_lowercase()
            .contains("horn"),
        "{checked}"
    );
    let put = json!({"document": document, "version": begun["version"]});
    assert_eq!(
        ask("PUT", own.clone(), Some(put.clone())).await.json()["version"],
        2
    );
    let late = ask("PUT", own.clone(), Some(put)).await;
    assert_eq!(late.status, StatusCode::CONFLICT);
    assert!(
        late.text.contains("somebody else has changed"),
        "{}",
        late.text
    );
    let file = ask("GET", format!("/api/circuits/{id}/export/json"), None)
        .await
        .text;
    let again = ask("POST", "/api/circuits".into(), Some(json!({"text": file}))).await;
    assert_eq!(again.status, StatusCode::OK, "{}", again.text);
    let damaged = file.replace("\"H1.1\"", "\"H1.7\"");
    let refused = ask(
        "POST",
        "/api/circuits".into(),
        Some(json!({"text": damaged})),
    )
    .await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("wires[2].to"), "{}", refused.text);
    let list = ask("GET", format!("/api/circuits/{id}/export/csv"), None)
        .await
        .text;
    let copied = ask(
        "POST",
        "/api/circuits".into(),
        Some(json!({"copy_of": id, "wire_list": list})),
    )
    .await;
    assert_eq!(copied.status, StatusCode::OK, "{}", copied.text);
    let foreign = ask(
        "POST",
        "/api/circuits".into(),
        Some(json!({"copy_of": id, "wire_list": "a,b\n1,2"})),
    )
    .await;
    assert!(
        foreign.text.contains("expected the columns id,from"),
        "{}",
        foreign.text
    );
    // One begins from a circuit that works, or from nothing.
    let offered = ask("GET", "/api/circuits/starts".into(), None).await.json();
    let ids: Vec<&str> = offered["circuits"]
        .as_array()
        .unwrap()
        .iter()
        .map(|s| s["id"].as_str().unwrap())
        .collect();
    assert_eq!(ids, ["cranking", "charging", "lamps", "ignition"]);
    for id in ids {
        let begun = ask("POST", "/api/circuits".into(), Some(json!({"start": id}))).await;
        assert_eq!(begun.status, StatusCode::OK, "{id}: {}", begun.text);
        let document = format!("/api/circuits/{}/document", begun.json()["id"]);
        let document = ask("GET", document, None).await;
        assert!(
            !document.json()["document"]["wires"]
                .as_array()
                .unwrap()
                .is_empty()
        );
    }
    let unknown = ask(
        "POST",
        "/api/circuits".into(),
        Some(json!({"start": "nothing"})),
    )
    .await;
    assert_eq!(unknown.status, StatusCode::BAD_REQUEST);
    assert!(
        unknown.text.contains("expected cranking"),
        "{}",
        unknown.text
    );
    assert!(
        ask("GET", format!("/api/circuits/{id}/export/cir"), None)
            .await
            .text
            .ends_with(".end\n")
    );
    let after = ask("GET", "/api/circuits".into(), None)
        .await
        .json()
        .as_array()
        .unwrap()
        .len();
    assert_eq!(after, before + 7, "what was refused left nothing behind");
}

/// With a lamp alone, a few ohms in the coil's ground cannot be told from a few ohms elsewhere; the
/// instructor is warned before the lesson is given out.
#[tokio::test]
async fn an_instructor_is_warned_of_what_a_lesson_cannot_show() {
    let school = School::new();
    let instructor = school.sign_in("dalca", "bench-and-meter").await;
    let preview = |functions: Value| {
        let body = json!({"title": "t", "complaint": "c", "circuit": 1, "predictions": true,
            "faults": [{"place": "W8", "mode": "high_resistance", "ohms": 200}], "functions": functions});
        school.ask(
            "POST",
            "/api/lessons/preview",
            Some(&instructor),
            Some(body),
        )
    };
    let meter = preview(json!(["dc_volts"])).await;
    assert_eq!(meter.status, StatusCode::OK, "{}", meter.text);
    assert_eq!(meter.json()["provable"], true, "{}", meter.text);
    let nothing = preview(json!(["hertz"])).await.json();
    assert_eq!(nothing["provable"], false);
    assert!(
        nothing["warning"]
            .as_str()
            .unwrap()
            .contains("cannot be told from one at"),
        "{nothing}"
    );
}

/// Two faults of one difficulty are dealt so that neighbours differ; one outside the band is not dealt.
#[tokio::test]
async fn a_class_gets_variants_of_one_difficulty() {
    let school = School::new();
    let instructor = school.sign_in("dalca", "bench-and-meter").await;
    let ids = [2, 3];
    let pool = ["W8", "W10", "W13"].map(|w| json!({"place": w, "mode": "open"}));
    let deal = |least: f64, most: f64| {
        let body = json!({
            "lesson": {"title": "Class", "complaint": "It will not crank.", "circuit": 1,
                "faults": pool, "predictions": true},
            "band": {"least_minutes": least, "most_minutes": most}, "class": 1, "students": ids, "seed": 7
        });
        school.ask(
            "POST",
            "/api/lessons/variants",
            Some(&instructor),
            Some(body),
        )
    };
    let refused = deal(0.0, 1.0).await;
    assert_eq!(refused.status, StatusCode::BAD_REQUEST, "{}", refused.text);
    assert!(
        refused
            .text
            .contains("0 of the pool lie between 0 and 1 min"),
        "{}",
        refused.text
    );
    let dealt = deal(0.0, 600.0).await;
    assert_eq!(dealt.status, StatusCode::OK, "{}", dealt.text);
    let dealt = dealt.json();
    let given: usize = dealt
        .as_array()
        .unwrap()
        .iter()
        .map(|v| v["students"].as_array().unwrap().len())
        .sum();
    assert_eq!(given, ids.len());
    assert!(
        dealt
            .as_array()
            .unwrap()
            .iter()
            .all(|v| v["students"].as_array().unwrap().len() <= 1)
    );
    assert!(
        dealt
            .as_array()
            .unwrap()
            .iter()
            .all(|v| v["minutes"].as_f64().unwrap() > 1.0)
    );
    // It is one assignment with one column in the book, and another attempt has a fault that they have not had.
    let given = school
        .ask("GET", "/api/assignments", Some(&instructor), None)
        .await
        .json();
    assert_eq!(given.as_array().unwrap().len(), 1, "{given}");
    assert_eq!(given[0]["dealt"], 3);
    let book = school
        .ask("GET", "/api/classes/1/book", Some(&instructor), None)
        .await
        .json();
    assert_eq!(book["columns"].as_array().unwrap().len(), 1, "{book}");
    for _ in 0..2 {
        let body = json!({"student": 2});
        let path = "/api/assignments/1/again";
        let again = school
            .ask("POST", path, Some(&instructor), Some(body))
            .await;
        assert_eq!(again.status, StatusCode::OK, "{}", again.text);
    }
    let whose = Whose::In {
        assignment: 1,
        asker: 1,
    };
    let rows = school.store().attempts(whose).unwrap();
    let own = rows.iter().filter(|r| r.student_id == 2);
    let own: BTreeSet<i32> = own.map(|r| r.lesson_id).collect();
    assert_eq!(own.len(), 3, "each fault once");
}

/// The oscilloscope on a student's bench: only what the channels are put to, only for its owner; the
/// comparison with a healthy machine is the instructor's.
#[tokio::test]
async fn a_screen_of_the_scope_is_its_student_s_own() {
    let school = School::new();
    let instructor = school.sign_in("dalca", "bench-and-meter").await;
    let text = include_str!("../../../../demo/circuits/fire-pump-ignition.json");
    let made = school
        .ask(
            "POST",
            "/api/circuits",
            Some(&instructor),
            Some(json!({"text": text})),
        )
        .await
        .json();
    let circuit = made["id"].as_i64().unwrap();
    let fault = json!({"place": "A1", "mode": "module_open"});
    let lesson = school
        .ask(
            "POST",
            "/api/lessons",
            Some(&instructor),
            Some(json!({"title": "Pump", "complaint": "It does not start.", "circuit": circuit, "faults": [fault], "predictions": false})),
        )
        .await
        .json();
    school.give(&instructor, &lesson["id"], &[2]).await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let step = async |after: usize, request: &str, action: Value| {
        let body = Some(act(after, request, action));
        school
            .ask("POST", "/api/attempts/1/steps", Some(&varga), body)
            .await
    };
    let pulled = json!({"do": "set_control", "control": "rope", "position": "pulled"});
    assert_eq!(step(0, "a", pulled).await.status, StatusCode::OK);
    let scope = |channels: Value| json!({"do": "capture", "scope": {"channels": channels, "sweep_s": 0.05, "level": -100.0, "falling": true}});
    let wrong = step(1, "b", scope(json!([{"with": "pickup", "lead": "W99"}]))).await;
    assert_eq!(wrong.status, StatusCode::BAD_REQUEST);
    assert!(wrong.text.contains("W99"), "{}", wrong.text);
    let seen = step(1, "c", scope(json!([{"with": "pickup", "lead": "W6"}])))
        .await
        .json();
    let traces = seen["captures"][0]["capture"]["traces"].as_array().unwrap();
    assert_eq!(traces.len(), 1);
    // The transistor never breaks the current: no kilovolts.
    assert!(traces[0]["features"]["least"].as_f64().unwrap() > -2_000.0);
    let mine = school
        .ask("GET", "/api/attempts/1/captures/2", Some(&varga), None)
        .await;
    assert!(
        mine.kind.starts_with("text/csv") && mine.text.lines().count() == 601,
        "{}",
        mine.text
    );
    for (who, path) in [
        (&oduya, "/api/attempts/1/captures/2"),
        (&varga, "/api/attempts/1/captures/1"),
    ] {
        assert_eq!(
            school.ask("GET", path, Some(who), None).await.status,
            StatusCode::NOT_FOUND
        );
    }
    let question = json!({"faults": [fault], "label": "at rest", "scope": {"channels": [{"with": "pickup", "lead": "W6"}], "sweep_s": 0.05, "level": -2000.0, "falling": true}});
    let path = format!("/api/circuits/{circuit}/capture");
    let refused = school
        .ask("POST", &path, Some(&varga), Some(question.clone()))
        .await;
    assert_eq!(refused.status, StatusCode::FORBIDDEN);
    let both = school
        .ask("POST", &path, Some(&instructor), Some(question))
        .await
        .json();
    let least = |which: &str| {
        both[which]["traces"][0]["features"]["least"]
            .as_f64()
            .unwrap()
    };
    assert!(
        least("healthy") < -4_000.0 && least("faulted") > -2_000.0,
        "{both}"
    );
}

/// Hints are the student's own, in practice only, each given once however often it is asked for; nothing of
/// them leaks into other answers, and practice has no mark sheet.
#[tokio::test]
async fn hints_are_given_in_practice_alone_and_once() {
    let school = School::new();
    let instructor = school.sign_in("dalca", "bench-and-meter").await;
    let text = include_str!("../../../../demo/circuits/sweeper-lamps.json");
    let made = school
        .ask(
            "POST",
            "/api/circuits",
            Some(&instructor),
            Some(json!({"text": text})),
        )
        .await
        .json();
    let fault = json!({"place": "W10", "mode": "open"});
    let lesson = async |purpose: &str, faults: Value| {
        let body = json!({"title": purpose, "complaint": "Dark.", "circuit": made["id"], "faults": faults, "purpose": purpose, "predictions": false});
        let made = school
            .ask("POST", "/api/lessons", Some(&instructor), Some(body))
            .await
            .json();
        let given = school.give(&instructor, &made["id"], &[2]).await.json();
        given["attempts"][0].as_i64().unwrap()
    };
    let practice = lesson("practice", json!([fault])).await;
    let marked = lesson("marks", json!([fault])).await;
    let tools = lesson("tools", json!([])).await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let hint = async |who: &str, attempt: i64, after: usize, request: &str| {
        let path = format!("/api/attempts/{attempt}/hints");
        let body = Some(json!({"after": after, "request": request}));
        school.ask("POST", &path, Some(who), body).await
    };
    // Before it is asked for, no answer knows of places that are still possible.
    let path = format!("/api/attempts/{practice}");
    let bench = school.ask("GET", &path, Some(&varga), None).await.json();
    assert_eq!(bench["bench"]["hints"], json!([]));
    let first = hint(&varga, practice, 0, "a").await.json();
    let again = hint(&varga, practice, 0, "a").await.json();
    assert_eq!(first, again);
    assert_eq!(first["steps"], 1);
    let text = first["hints"][0]["text"].as_str().unwrap();
    assert!(
        text.contains("still possible") && !text.contains("W10"),
        "{text}"
    );
    let second = hint(&varga, practice, 1, "b").await.json();
    let text = second["hints"][0]["text"].as_str().unwrap();
    assert!(text.contains("W10"), "{text}");
    assert_eq!(second["minutes"], 3.0);
    // Not on what is marked, not on another's, not made up, not stale.
    for (who, attempt, after, status) in [
        (&varga, marked, 0, StatusCode::BAD_REQUEST),
        (&varga, tools, 0, StatusCode::BAD_REQUEST),
        (&oduya, practice, 2, StatusCode::NOT_FOUND),
        (&varga, practice, 1, StatusCode::CONFLICT),
    ] {
        let refused = hint(who, attempt, after, "c").await;
        assert_eq!(refused.status, status, "{}", refused.text);
        assert!(!refused.text.contains("W10"), "{}", refused.text);
    }
    let made_up = act(
        2,
        "d",
        json!({"do": "hint", "level": 1, "text": "It is S1."}),
    );
    let steps = format!("/api/attempts/{practice}/steps");
    let refused = school
        .ask("POST", &steps, Some(&varga), Some(made_up))
        .await;
    assert_eq!(refused.status, StatusCode::BAD_REQUEST);
    // What is wrong is said at once, to whose practice it is, and on nothing that is marked.
    let corrections = |attempt: i64| format!("/api/attempts/{attempt}/corrections");
    for (who, attempt, status) in [
        (&varga, practice, StatusCode::OK),
        (&oduya, practice, StatusCode::NOT_FOUND),
        (&varga, marked, StatusCode::FORBIDDEN),
        (&varga, tools, StatusCode::FORBIDDEN),
    ] {
        let told = school
            .ask("GET", &corrections(attempt), Some(who), None)
            .await;
        assert_eq!(told.status, status, "{}", told.text);
        assert!(!told.text.contains("W10"), "{}", told.text);
    }
    // Practice is gone through step by step, without marks.
    let done = act(2, "e", json!({"do": "hand_in"}));
    school.ask("POST", &steps, Some(&varga), Some(done)).await;
    let sheet = format!("/api/attempts/{practice}/sheet");
    let refused = school.ask("GET", &sheet, Some(&varga), None).await;
    assert_eq!(refused.status, StatusCode::FORBIDDEN);
    let debrief = format!("/api/attempts/{practice}/debrief");
    let told = school.ask("GET", &debrief, Some(&varga), None).await.json();
    assert_eq!(told["steps"].as_array().unwrap().len(), 3);
    // A healthy machine holds nothing to find, so there is no prospect of it either.
    let prospect = format!("/api/lessons/{}/prospect", 3);
    let refused = school.ask("GET", &prospect, Some(&instructor), None).await;
    assert_eq!(refused.status, StatusCode::NOT_FOUND, "{}", refused.text);
    // What can be tried is told on a bench for the tools alone.
    for (attempt, status) in [
        (tools, StatusCode::OK),
        (marked, StatusCode::NOT_FOUND),
        (practice, StatusCode::NOT_FOUND),
    ] {
        let path = format!("/api/attempts/{attempt}/experiments");
        let found = school.ask("GET", &path, Some(&varga), None).await;
        assert_eq!(found.status, status, "{}", found.text);
    }
}

/// The key of every state as CSV, for instructors; damaged faults are refused with their place.
#[tokio::test]
async fn the_whole_key_comes_as_csv() {
    let school = School::new();
    let instructor = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let path = "/api/circuits/1/key.csv?faults=%5B%7B%22place%22%3A%22W8%22%2C%22mode%22%3A%22open%22%7D%5D";
    let key = school.ask("GET", path, Some(&instructor), None).await;
    assert!(key.kind.starts_with("text/csv"), "{}", key.kind);
    let mut lines = key.text.lines();
    assert!(
        lines
            .next()
            .unwrap()
            .starts_with("state,instrument,red,black")
    );
    let row = lines.find(|l| l.starts_with("start") && l.contains("dc_volts,K3.86,BAT.-"));
    let row = row.unwrap();
    assert!(row.contains("0.000") && row.contains("true"), "{row}");
    let refused = school.ask("GET", path, Some(&varga), None).await;
    assert_eq!(refused.status, StatusCode::FORBIDDEN);
    let wrong = "/api/circuits/1/key.csv?faults=%5B%7B%22place%22%3A%22W99%22%7D%5D";
    let refused = school.ask("GET", wrong, Some(&instructor), None).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
}

/// Whoever was given a drawing gets its diagram, on a sheet of any size; others get none.
#[tokio::test]
async fn a_drawing_that_was_given_out_has_a_diagram() {
    let school = School::new();
    let instructor = school.sign_in("dalca", "bench-and-meter").await;
    let student = school.sign_in("varga", "red-and-black").await;
    let get = async |cookie: Option<&str>, path: &str| school.ask("GET", path, cookie, None).await;
    let unknown = get(Some(&student), "/api/diagrams/8c0ffee?width=905&height=465").await;
    assert_eq!(unknown.status, StatusCode::NOT_FOUND);
    let circuit = get(Some(&instructor), "/api/circuits/1").await.json();
    let shape = circuit["drawing"]["shape"].as_str().unwrap();
    let path = format!("/api/diagrams/{shape}?width=905&height=465");
    assert_eq!(get(None, &path).await.status, StatusCode::UNAUTHORIZED);
    let scene = get(Some(&instructor), &path).await.json();
    for wire in circuit["drawing"]["wires"].as_array().unwrap() {
        let drawn = |w: &Value| w["id"] == wire["id"];
        assert!(
            scene["wires"].as_array().unwrap().iter().any(drawn),
            "{wire}"
        );
    }
    let width = |scene: &Value| scene["width"].as_f64().unwrap();
    let wider = get(
        Some(&instructor),
        &format!("/api/diagrams/{shape}?width=1800&height=465"),
    )
    .await
    .json();
    assert!(width(&wider) > width(&scene));
    // No size is refused, and none is so large that it would cost much.
    let huge = get(
        Some(&instructor),
        &format!("/api/diagrams/{shape}?width=4000000000&height=0"),
    )
    .await;
    assert_eq!(huge.status, StatusCode::OK);
    let odd = get(
        Some(&instructor),
        &format!("/api/diagrams/{shape}?width=wide&height=0"),
    )
    .await;
    assert_eq!(odd.status, StatusCode::BAD_REQUEST);
}

/// A draft is laid out in the order of what it was made from.
#[tokio::test]
async fn a_draft_keeps_the_order_of_its_tracks() {
    let school = School::new();
    let instructor = school.sign_in("dalca", "bench-and-meter").await;
    let ask = async |method: &str, path: &str, body: Option<Value>| {
        school
            .ask(method, path, Some(&instructor), body)
            .await
            .json()
    };
    let circuit = ask("GET", "/api/circuits/1", None).await;
    let shape = circuit["drawing"]["shape"].as_str().unwrap().to_owned();
    let sheet = |shape: &str| format!("/api/diagrams/{shape}?width=905&height=465");
    let scene = ask("GET", &sheet(&shape), None).await;
    let order = |scene: &Value| {
        let texts = scene["texts"].as_array().unwrap().iter();
        let mut numbers: Vec<(i64, String)> = texts
            .filter(|t| t["role"] == "number")
            .map(|t| {
                (
                    (t["x"].as_f64().unwrap() * 10.0) as i64,
                    t["text"].as_str().unwrap().to_owned(),
                )
            })
            .collect();
        numbers.sort();
        numbers.into_iter().map(|(_, id)| id).collect::<Vec<_>>()
    };
    // A wire of another colour: the same tracks in the same order.
    let mut document = ask("GET", "/api/circuits/1/document", None).await["document"].take();
    document["wires"][3]["color"] = json!("PK");
    let draft = ask(
        "POST",
        "/api/circuits/check",
        Some(json!({"document": document, "before": shape})),
    )
    .await;
    let drafted = draft["drawing"]["shape"].as_str().unwrap().to_owned();
    assert_ne!(drafted, shape);
    let followed = ask("GET", &sheet(&drafted), None).await;
    let tracks = |scene: &Value| {
        let mut ids = order(scene);
        ids.dedup();
        ids
    };
    assert_eq!(tracks(&followed), tracks(&scene));
}

/// A lesson's rules reach its students' benches: what is forbidden is refused, the diagram stays away, the
/// papers are there, the clock is the server's. The instructor tries it on an attempt of their own, and on
/// no other.
#[tokio::test]
async fn a_lesson_s_rules_hold_on_the_bench() {
    let mut school = School::new();
    let instructor = school.sign_in("dalca", "bench-and-meter").await;
    let student = school.sign_in("varga", "red-and-black").await;
    let usual = school
        .ask("GET", "/api/lessons/usual", Some(&instructor), None)
        .await
        .json();
    assert_eq!(usual["rules"]["weights"]["clearing"], 20.0);
    let rules = json!({"forbidden": ["taking_apart"], "papers": {"diagram": false, "connectors": true, "healthy": true},
        "method": "loaded_first", "limit_minutes": 30, "weights": {"clearing": 50.0, "conclusion": 50.0}});
    let lesson = json!({"title": "Tug", "complaint": "It cranks slowly.", "circuit": 1, "predictions": false,
        "faults": [{"place": "W8", "mode": "open"}], "rules": rules});
    let words = json!({"circuit": 1, "faults": lesson["faults"], "complaint": lesson["complaint"]});
    let told = school
        .ask("POST", "/api/lessons/words", Some(&instructor), Some(words))
        .await;
    assert!(
        told.json()[0].as_str().unwrap().contains("“slow”"),
        "{}",
        told.text
    );
    let made = school
        .ask(
            "POST",
            "/api/lessons",
            Some(&instructor),
            Some(lesson.clone()),
        )
        .await;
    let id = made.json()["id"].clone();
    school.give(&instructor, &id, &[2]).await;

    let view = school
        .ask("GET", "/api/attempts/1", Some(&student), None)
        .await
        .json();
    assert_eq!(view["left_s"], 1800);
    assert_eq!(view["method"], "voltage under load first");
    assert_eq!(view["paths"], json!([]));
    assert_eq!(view["drawing"]["wires"][0]["from"], "");
    assert!(view["healthy"][0]["readings"].as_array().unwrap().len() > 20);
    let apart = json!({"do": "take_apart", "what": "C12"});
    let refused = school
        .ask(
            "POST",
            "/api/attempts/1/steps",
            Some(&student),
            Some(act(0, "a", apart)),
        )
        .await;
    assert_eq!(refused.status, StatusCode::BAD_REQUEST);
    assert!(
        refused.text.contains("does not allow taking things apart"),
        "{}",
        refused.text
    );

    // Time passes as it does at the school, from start to start of the server, and not by a clock that can be set.
    let begun = act(0, "b", reading("BAT.+"));
    let steps = "/api/attempts/1/steps";
    let begun = school.ask("POST", steps, Some(&student), Some(begun)).await;
    assert_eq!(begun.status, StatusCode::OK, "{}", begun.text);
    for (passed_s, left_s) in [(1200, 600), (5000, 0)] {
        let passes = format!(
            "UPDATE school SET passed_s = {passed_s} + (SELECT began_passed_s FROM attempts WHERE id = 1)"
        );
        school.store().keep_passed_s(1).unwrap();
        school.sql(&passes).unwrap();
        school.restart();
        let view = school
            .ask("GET", "/api/attempts/1", Some(&student), None)
            .await
            .json();
        let left = view["left_s"].as_i64().unwrap();
        assert!((left_s - 5..=left_s).contains(&left), "{left} s are left");
    }
    let late = act(1, "c", reading("BAT.+"));
    let late = school.ask("POST", steps, Some(&student), Some(late)).await;
    assert!(
        late.text.contains("the time of this lesson is over"),
        "{}",
        late.text
    );

    // The instructor's own attempt is worked like a student's; a student's is only looked at.
    let own = school
        .ask(
            "POST",
            &format!("/api/lessons/{id}/try"),
            Some(&instructor),
            None,
        )
        .await
        .json();
    let path = format!("/api/attempts/{}/steps", own["id"]);
    let tried = school
        .ask(
            "POST",
            &path,
            Some(&instructor),
            Some(act(0, "b", reading("K3.86"))),
        )
        .await;
    assert_eq!(tried.status, StatusCode::OK, "{}", tried.text);
    let theirs = school
        .ask(
            "POST",
            "/api/attempts/1/steps",
            Some(&instructor),
            Some(act(0, "c", reading("K3.86"))),
        )
        .await;
    assert_eq!(theirs.status, StatusCode::FORBIDDEN);
    let end = school
        .ask(
            "POST",
            &path,
            Some(&instructor),
            Some(act(1, "d", json!({"do": "hand_in"}))),
        )
        .await;
    assert_eq!(end.status, StatusCode::OK);
    let sheet = school
        .ask(
            "GET",
            &format!("/api/attempts/{}/sheet", own["id"]),
            Some(&instructor),
            None,
        )
        .await
        .json();
    let criteria: Vec<&str> = sheet["lines"]
        .as_array()
        .unwrap()
        .iter()
        .map(|l| l["criterion"].as_str().unwrap())
        .collect();
    assert_eq!(criteria, ["clearing", "conclusion"]);

    let wrong = json!({"title": "Tug", "complaint": "", "circuit": 1, "predictions": false,
        "faults": [{"place": "W8", "mode": "open"}], "rules": {"limit_minutes": 0}});
    let refused = school
        .ask("POST", "/api/lessons", Some(&instructor), Some(wrong))
        .await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        refused.text.contains("expected 1 to 600 minutes"),
        "{}",
        refused.text
    );
}

/// What a circuit's paper is printed from, a wire list in the place of the wires, and the versions that
/// were kept: for instructors, with what is wrong refused by row and column.
#[tokio::test]
async fn key_check_sheet_wire_list_and_versions() {
    let school = School::new();
    let me = school.sign_in("dalca", "bench-and-meter").await;
    let get = async |path: &str| school.ask("GET", path, Some(&me), None).await;
    let faults = "%5B%7B%22place%22%3A%22W8%22%2C%22mode%22%3A%22open%22%7D%5D";
    let key = get(&format!("/api/circuits/1/key?faults={faults}"))
        .await
        .json();
    assert_eq!(key["faults"], json!(["W8 open"]));
    assert!(key["symptom"].as_str().unwrap().starts_with("No crank"));
    let rows = key["rows"].as_array().unwrap();
    let coil = rows.iter().find(|r| {
        r["red"] == "K3.86" && r["black"] == "BAT.-" && r["state"] == "start · clutch down"
    });
    let coil = coil.unwrap();
    assert_eq!(
        (&coil["healthy"]["text"], &coil["faulted"]["text"]),
        (&json!("11.44"), &json!("0.000"))
    );
    let wrong = get(
        "/api/circuits/1/key?faults=%5B%7B%22place%22%3A%22W99%22%2C%22mode%22%3A%22open%22%7D%5D",
    )
    .await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        wrong.text.contains("there is no place W99"),
        "{}",
        wrong.text
    );

    let sheet = get("/api/circuits/1/harness").await.json();
    let run = sheet
        .as_array()
        .unwrap()
        .iter()
        .find(|r| r["through"] == json!(["W8"]));
    let run = run.unwrap();
    assert_eq!(
        (&run["from"], &run["to"]),
        (&json!("C12.4f"), &json!("C14.1m"))
    );

    let document = get("/api/circuits/1/document").await.json()["document"].clone();
    let head = "id,from,to,area_mm2,length_m,color,harness\n";
    let listed = async |row: &str| {
        let body = json!({"document": document, "wire_list": format!("{head}{row}")});
        school
            .ask("POST", "/api/circuits/wires", Some(&me), Some(body))
            .await
    };
    let taken = listed("W1,BAT.+,F1.1,10,0.3,RD,main\n").await.json();
    assert_eq!(taken["wires"].as_array().unwrap().len(), 1);
    assert_eq!(taken["parts"], document["parts"], "only the wires change");
    let refused = listed("W1,BAT.+,F1.1,ten,0.3,RD,main\n").await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        refused.text.contains("area_mm2") && refused.text.contains("ten"),
        "{}",
        refused.text
    );

    // The circuit was made long ago, so the first change keeps what was there, and the next does not.
    assert_eq!(get("/api/circuits/1/versions").await.json(), json!([]));
    for (title, version) in [("Renamed", 1), ("Renamed again", 2)] {
        let mut changed = document.clone();
        changed["title"] = json!(title);
        let body = json!({"document": changed, "version": version});
        let put = school
            .ask("PUT", "/api/circuits/1/document", Some(&me), Some(body))
            .await;
        assert_eq!(put.status, StatusCode::OK, "{}", put.text);
    }
    assert_eq!(
        get("/api/circuits/1/versions").await.json(),
        json!([{"version": 1, "changed_at": 0}])
    );
    assert_eq!(get("/api/circuits/1/versions/1").await.json(), document);
    assert_eq!(
        get("/api/circuits/1/versions/2").await.status,
        StatusCode::NOT_FOUND
    );

    // A lesson is about the version it names: the kept one, or the one in hand.
    for (version, title) in [
        (json!(1), &document["title"]),
        (json!(3), &json!("Renamed again")),
        (Value::Null, &json!("Renamed again")),
    ] {
        let lesson = json!({"title": "T", "complaint": "c", "circuit": 1, "version": version, "faults": [{"place": "W8", "mode": "open"}], "predictions": true});
        let made = school
            .ask("POST", "/api/lessons", Some(&me), Some(lesson))
            .await;
        assert_eq!(made.status, StatusCode::OK, "{}", made.text);
        let given = school.give(&me, &made.json()["id"], &[2]).await.json();
        let attempt = format!("/api/attempts/{}", given["attempts"][0]);
        let student = school.sign_in("varga", "red-and-black").await;
        let seen = school.ask("GET", &attempt, Some(&student), None).await;
        assert_eq!(&seen.json()["drawing"]["title"], title, "{}", seen.text);
    }
    let gone = json!({"title": "T", "complaint": "c", "circuit": 1, "version": 2, "faults": [{"place": "W8", "mode": "open"}], "predictions": true});
    let refused = school
        .ask("POST", "/api/lessons", Some(&me), Some(gone))
        .await;
    assert_eq!(refused.status, StatusCode::NOT_FOUND, "{}", refused.text);
}

/// A class that signs in at once is let in one after the other: late, but nobody is refused.
#[tokio::test(flavor = "multi_thread")]
async fn a_class_signs_in_at_once() {
    let school = School::new();
    let person = |n| NewPerson {
        name: format!("student{n}"),
        display: format!("Student {n}"),
        roles: Role::Student.into(),
        password: "red-and-black".to_owned(),
    };
    let class: Vec<NewPerson> = (0..30).map(person).collect();
    school.store().add_people(&class).unwrap();
    let sign_in = |who: &NewPerson| {
        let body = json!({"name": who.name, "password": who.password});
        school.ask("POST", "/api/sign-in", None, Some(body))
    };
    let all = futures_util::future::join_all(class.iter().map(sign_in)).await;
    for answer in all {
        assert_eq!(answer.status, StatusCode::OK, "{}", answer.text);
    }
}

/// An answer to a step holds what it changed: it does not grow with what was done before, and fits into four
/// kilobytes as it is sent.
#[tokio::test]
async fn an_answer_does_not_grow_with_the_steps() {
    let school = School::new();
    school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let student = school.sign_in("varga", "red-and-black").await;
    let mut sizes = Vec::new();
    for n in 0..40 {
        let body = act(n, &n.to_string(), reading("K3.86"));
        let path = "/api/attempts/1/steps";
        let done = school.ask("POST", path, Some(&student), Some(body)).await;
        assert_eq!(done.status, StatusCode::OK, "{}", done.text);
        sizes.push(done.text.len());
    }
    // The number of steps and the minutes have a digit more.
    let grown = sizes[39] - sizes[9];
    assert!(
        grown < 10,
        "{} bytes at first, then {}",
        sizes[9],
        sizes[39]
    );
    assert!(sizes[39] < 4000, "{} bytes", sizes[39]);
}

/// What a student sends is bounded, field by field and as a whole, before anything is computed.
#[tokio::test]
async fn what_is_sent_is_bounded() {
    let school = School::new();
    school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let student = school.sign_in("varga", "red-and-black").await;
    let act = |no: u32, action: Value| {
        let body = json!({"after": 0, "request": format!("k{no}"), "action": action});
        let (school, student) = (&school, &student);
        async move {
            school
                .ask("POST", "/api/attempts/1/steps", Some(student), Some(body))
                .await
        }
    };
    let many = vec!["W8"; 3000];
    for (no, kind) in [(1, "clear"), (2, "suspect")] {
        let refused = act(no, json!({"do": kind, "places": many})).await;
        assert_eq!(refused.status, StatusCode::BAD_REQUEST, "{}", refused.text);
        assert!(
            refused.text.contains("places: 3000 entries are too many"),
            "{}",
            refused.text
        );
    }
    let long = "x".repeat(2500);
    let reading = json!({"do": "take_reading", "function": "dc_volts", "red": "BAT.+", "black": "BAT.-", "expected": long, "touch": "pin"});
    let refused = act(3, reading).await;
    assert!(
        refused
            .text
            .contains("expected: 2500 characters are too many"),
        "{}",
        refused.text
    );
    let huge = act(4, json!({"do": "note", "text": "x".repeat(100_000)})).await;
    assert_eq!(huge.status, StatusCode::PAYLOAD_TOO_LARGE, "{}", huge.text);
    assert!(huge.text.contains("64 kB"), "{}", huge.text);
    // Nothing of it was kept.
    let attempt = school
        .ask("GET", "/api/attempts/1", Some(&student), None)
        .await
        .json();
    assert!(
        attempt["view"]["cleared"]
            .as_array()
            .is_none_or(Vec::is_empty),
        "{attempt}"
    );
    let after = act(5, json!({"do": "try_complaint"})).await;
    assert_eq!(after.json()["steps"], 1, "{}", after.text);
}

/// A page on another port is the same site to a cookie: it can neither write nor frame.
#[tokio::test]
async fn another_page_can_not_write() {
    use axum::body::Body;
    use axum::http::Request;
    use tower::ServiceExt;
    let school = School::new();
    school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let student = school.sign_in("varga", "red-and-black").await;
    let body = json!({"after": 0, "request": "k", "action": {"do": "try_complaint"}}).to_string();
    for (name, value) in [
        ("origin", "http://school:9000"),
        ("sec-fetch-site", "same-site"),
        ("sec-fetch-site", "cross-site"),
    ] {
        let request = Request::post("/api/attempts/1/steps")
            .header("host", "school:8420")
            .header("cookie", &student)
            .header("content-type", "application/json")
            .header(name, value)
            .body(Body::from(body.clone()));
        let answer = school.app.clone().oneshot(request.unwrap()).await.unwrap();
        assert_eq!(answer.status(), StatusCode::FORBIDDEN, "{name}: {value}");
    }
    let plain = Request::post("/api/attempts/1/steps")
        .header("host", "school:8420")
        .header("cookie", &student)
        .header("content-length", body.len())
        .header("content-type", "text/plain")
        .body(Body::from(body.clone()));
    let answer = school.app.clone().oneshot(plain.unwrap()).await.unwrap();
    assert_eq!(answer.status(), StatusCode::FORBIDDEN);
    let own = Request::post("/api/attempts/1/steps")
        .header("host", "school:8420")
        .header("cookie", &student)
        .header("content-type", "application/json")
        .header("origin", "http://school:8420")
        .header("sec-fetch-site", "same-origin")
        .body(Body::from(body));
    let answer = school.app.clone().oneshot(own.unwrap()).await.unwrap();
    assert_eq!(answer.status(), StatusCode::OK);
    let head = |name: &str| answer.headers()[name].to_str().unwrap().to_owned();
    assert!(head("content-security-policy").contains("frame-ancestors 'none'"));
    assert_eq!(head("cache-control"), "no-store");
    assert_eq!(head("referrer-policy"), "no-referrer");
}

#[tokio::test]
async fn students_come_get_passwords_and_leave() {
    let school = School::new();
    let instructor = school.sign_in("dalca", "bench-and-meter").await;
    let student = school.sign_in("varga", "red-and-black").await;
    let ask = |method: &'static str, path: &'static str, cookie: &str, body: Option<Value>| {
        let (school, cookie) = (&school, cookie.to_owned());
        async move { school.ask(method, path, Some(&cookie), body).await }
    };
    let new = json!({"class": 1, "people": [{"display": "A. Moreno"}, {"display": "B. Varga"}, {"display": "C. Okoro", "name": "Casey"}]});
    assert_eq!(
        ask("POST", "/api/people", &student, Some(new.clone()))
            .await
            .status,
        StatusCode::FORBIDDEN
    );
    assert_eq!(
        ask("GET", "/api/people", &student, None).await.status,
        StatusCode::FORBIDDEN
    );
    let told = ask("POST", "/api/people", &instructor, Some(new)).await;
    assert_eq!(told.status, StatusCode::OK, "{}", told.text);
    let told = told.json();
    let names: Vec<_> = told
        .as_array()
        .unwrap()
        .iter()
        .map(|t| t["name"].as_str().unwrap())
        .collect();
    assert_eq!(names, ["moreno", "varga2", "casey"]);
    let moreno = told[0]["password"].as_str().unwrap();
    school.sign_in("Moreno", moreno).await;
    // All of them or none: the second name is taken.
    let half = json!({"class": 1, "people": [{"display": "D. New"}, {"display": "E. Other", "name": "casey"}]});
    let refused = ask("POST", "/api/people", &instructor, Some(half)).await;
    assert_eq!(refused.status, StatusCode::BAD_REQUEST);
    assert!(
        refused.text.contains("the name casey is taken"),
        "{}",
        refused.text
    );
    let nameless = json!({"class": 1, "people": [{"display": "  "}]});
    let refused = ask("POST", "/api/people", &instructor, Some(nameless)).await;
    assert!(
        refused.text.contains("needs a name to sign in with"),
        "{}",
        refused.text
    );
    let people = ask("GET", "/api/people", &instructor, None).await.json();
    assert_eq!(people.as_array().unwrap().len(), 6, "{people}");
    let id = |name: &str| {
        let all = people.as_array().unwrap();
        all.iter().find(|p| p["name"] == name).unwrap()["id"]
            .as_i64()
            .unwrap()
    };
    // Another password ends what was signed in with the one before.
    let path = format!("/api/people/{}/password", id("varga"));
    let reset = school.ask("POST", &path, Some(&instructor), None).await;
    assert_eq!(reset.status, StatusCode::OK, "{}", reset.text);
    assert_eq!(
        ask("GET", "/api/me", &student, None).await.status,
        StatusCode::UNAUTHORIZED
    );
    let password = reset.json()["password"].as_str().unwrap().to_owned();
    let student = school.sign_in("varga", &password).await;
    // One's own.
    let change = |old: &str, new: &str| json!({"old": old, "new": new});
    let wrong = ask(
        "PUT",
        "/api/me/password",
        &student,
        Some(change("guess-guess", "black-and-red")),
    )
    .await;
    assert!(
        wrong.text.contains("the present password is wrong"),
        "{}",
        wrong.text
    );
    let short = ask(
        "PUT",
        "/api/me/password",
        &student,
        Some(change(&password, "short")),
    )
    .await;
    assert!(
        short.text.contains("at least 8 characters"),
        "{}",
        short.text
    );
    let done = ask(
        "PUT",
        "/api/me/password",
        &student,
        Some(change(&password, "black-and-red")),
    )
    .await;
    assert_eq!(done.status, StatusCode::NO_CONTENT, "{}", done.text);
    let fresh = done.cookie.unwrap().split(';').next().unwrap().to_owned();
    assert_eq!(
        ask("GET", "/api/me", &fresh, None).await.status,
        StatusCode::OK
    );
    assert_eq!(
        ask("GET", "/api/me", &student, None).await.status,
        StatusCode::UNAUTHORIZED
    );
    // Who has left signs in no more and is given nothing; who is back goes on.
    let left = format!("/api/people/{}/left", id("varga"));
    assert_eq!(
        school
            .ask("PUT", &left, Some(&instructor), None)
            .await
            .status,
        StatusCode::NO_CONTENT
    );
    assert_eq!(
        ask("GET", "/api/me", &fresh, None).await.status,
        StatusCode::UNAUTHORIZED
    );
    let classes = ask("GET", "/api/classes", &instructor, None).await.json();
    let members = classes[0]["members"].as_array().unwrap();
    let varga = members.iter().find(|m| m["display"] == "varga").unwrap();
    assert_eq!(varga["left"], true, "{varga}");
    assert_eq!(
        school
            .ask("DELETE", &left, Some(&instructor), None)
            .await
            .status,
        StatusCode::NO_CONTENT
    );
    school.sign_in("varga", "black-and-red").await;
    // Instructors change nothing of one another.
    let own = format!("/api/people/{}/password", id("dalca"));
    assert_eq!(
        school
            .ask("POST", &own, Some(&instructor), None)
            .await
            .status,
        StatusCode::FORBIDDEN
    );
    assert_eq!(
        school
            .ask("POST", "/api/people/99/password", Some(&instructor), None)
            .await
            .status,
        StatusCode::NOT_FOUND
    );
}

/// Everybody has a first minute of their own, again once they have begun it; nobody is given it, and no list shows it.
#[tokio::test]
async fn everybody_has_a_first_minute_of_their_own() {
    let school = School::new();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let begin = async |who: &str| {
        let begun = school
            .ask("POST", "/api/first-minute", Some(who), None)
            .await;
        assert_eq!(begun.status, StatusCode::OK, "{}", begun.text);
        begun.json()["attempt"].as_i64().unwrap()
    };
    let own = begin(&varga).await;
    assert_eq!(begin(&varga).await, own, "not begun yet");
    assert_ne!(begin(&dalca).await, own);
    let path = format!("/api/attempts/{own}");
    let seen = school.ask("GET", &path, Some(&varga), None).await.json();
    assert_eq!(seen["first_minute"], true);
    let points = seen["drawing"]["points"].as_array().unwrap();
    assert!(
        points.iter().any(|p| p["id"] == "H1.1"),
        "what the page asks for"
    );
    assert_eq!(seen["bench"]["controls"][0]["name"], "work lamp");
    let others = school.ask("GET", &path, Some(&dalca), None).await;
    assert_eq!(others.status, StatusCode::NOT_FOUND);
    let on = json!({"do": "set_control", "control": "work lamp", "position": seen["bench"]["controls"][0]["positions"][1]});
    let steps = format!("{path}/steps");
    let done = school
        .ask("POST", &steps, Some(&varga), Some(act(0, "on", on)))
        .await;
    assert_eq!(done.status, StatusCode::OK, "{}", done.text);
    assert_ne!(begin(&varga).await, own);
    let listed = school.ask("GET", "/api/attempts", Some(&varga), None).await;
    assert_eq!(listed.json(), json!([]));
}

/// A circuit is put away and deleted; the lesson that was made of it is given out as before.
#[tokio::test]
async fn a_lesson_outlives_its_circuit() {
    let school = School::new();
    let me = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let ask = |method: &'static str, path: &'static str, body: Option<Value>| {
        let (school, me) = (&school, &me);
        async move { school.ask(method, path, Some(me), body).await }
    };
    let early = ask("DELETE", "/api/circuits/1", None).await;
    assert_eq!(early.status, StatusCode::BAD_REQUEST);
    assert!(early.text.contains("put it away first"), "{}", early.text);
    let away = Some(json!({"put_away": true}));
    let filed = ask("PUT", "/api/circuits/1/put-away", away.clone()).await;
    assert_eq!(filed.status, StatusCode::NO_CONTENT, "{}", filed.text);
    let list = ask("GET", "/api/circuits", None).await.json();
    let mine = list.as_array().unwrap().iter().find(|c| c["id"] == 1);
    assert_eq!(mine.unwrap()["put_away"], true);
    let gone = ask("DELETE", "/api/circuits/1", None).await;
    assert_eq!(gone.status, StatusCode::NO_CONTENT, "{}", gone.text);
    for (method, path, body) in [
        ("GET", "/api/circuits/1", None),
        ("DELETE", "/api/circuits/1", None),
        ("PUT", "/api/circuits/1/put-away", away),
    ] {
        let answer = ask(method, path, body).await;
        assert_eq!(answer.status, StatusCode::NOT_FOUND, "{method} {path}");
    }
    assert_eq!(
        ask("GET", "/api/lessons/1", None).await.status,
        StatusCode::OK
    );
    let tried = ask("POST", "/api/lessons/1/try", None).await;
    assert_eq!(tried.status, StatusCode::OK, "{}", tried.text);
}
