//! A class code and PINs: what opens with them and what does not, and the book of marks.

use crate::common::{Answer, School, act};
use axum::http::StatusCode;
use cimento_store::{BookOf, NewSheet, Role};
use serde_json::{Value, json};

async fn by_code(school: &School, code: &str) -> Answer {
    let body = json!({"code": code});
    school
        .ask("POST", "/api/class-code", None, Some(body))
        .await
}

async fn by_pin(school: &School, code: &str, person: i64, pin: &str) -> Answer {
    let body = json!({"code": code, "person": person, "pin": pin});
    let path = "/api/class-code/sign-in";
    school.ask("POST", path, None, Some(body)).await
}

fn cookie(answer: &Answer) -> String {
    assert_eq!(answer.status, StatusCode::OK, "{}", answer.text);
    let cookie = answer.cookie.as_deref().unwrap();
    cookie.split(';').next().unwrap().to_owned()
}

#[tokio::test]
async fn a_class_signs_in_by_its_code_and_pins() {
    let school = School::new();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let code = school
        .ask("PUT", "/api/classes/1/code", Some(&dalca), None)
        .await;
    let code = code.json()["code"].as_str().unwrap().to_owned();
    assert_eq!(code.len(), 6);
    // Somebody who learns here and teaches there is let in by a password alone.
    let both = [Role::Student, Role::Instructor].into_iter().collect();
    let store = school.store();
    let keller = store.add_people(&[cimento_store::NewPerson {
        name: "keller".to_owned(),
        display: "P. Keller".to_owned(),
        roles: both,
        password: "red-and-black".to_owned(),
    }]);
    let keller = keller.unwrap()[0].id;
    store.enrol(1, keller, Role::Student, 0).unwrap();

    let class = by_code(&school, &format!(" {} ", code.to_uppercase()))
        .await
        .json();
    assert_eq!(class["name"], "First year");
    assert_eq!(
        class["students"],
        json!([
            {"id": 3, "display": "oduya", "has_pin": false},
            {"id": 2, "display": "varga", "has_pin": false},
        ])
    );
    for bad in ["12", "123456789", "12a4", ""] {
        let refused = by_pin(&school, &code, 2, bad).await;
        assert_eq!(refused.status, StatusCode::BAD_REQUEST, "{bad}");
        assert!(refused.text.contains("4 to 8 digits"), "{}", refused.text);
    }
    // The first PIN becomes theirs; another's opens nothing.
    let varga = cookie(&by_pin(&school, &code, 2, "2468").await);
    let me = school
        .ask("GET", "/api/me", Some(&varga), None)
        .await
        .json();
    assert_eq!(me["display"], "varga");
    assert_eq!(
        by_pin(&school, &code, 2, "2469").await.status,
        StatusCode::UNAUTHORIZED
    );
    cookie(&by_pin(&school, &code, 2, "2468").await);
    for stranger in [1, i64::from(keller), 99] {
        let refused = by_pin(&school, &code, stranger, "2468").await;
        assert_eq!(refused.status, StatusCode::UNAUTHORIZED, "{stranger}");
    }
    assert_eq!(
        by_pin(&school, "aaaaaa", 3, "1357").await.status,
        StatusCode::UNAUTHORIZED
    );
    // An instructor of the class lets them set another, and nobody else does.
    let oduya = cookie(&by_pin(&school, &code, 3, "1357").await);
    let forget = "/api/people/2/pin";
    let refused = school.ask("DELETE", forget, Some(&oduya), None).await;
    assert_eq!(refused.status, StatusCode::FORBIDDEN);
    let done = school.ask("DELETE", forget, Some(&dalca), None).await;
    assert_eq!(done.status, StatusCode::NO_CONTENT);
    cookie(&by_pin(&school, &code, 2, "9753").await);
    // Guessing is held up: a PIN is short.
    let mut statuses = Vec::new();
    for n in 0..7 {
        let guess = format!("{:04}", 1000 + n);
        statuses.push(by_pin(&school, &code, 3, &guess).await.status.as_u16());
    }
    assert_eq!(statuses, [401, 401, 401, 401, 401, 429, 429]);
    for _ in 0..5 {
        assert_eq!(
            by_code(&school, "aaaaaa").await.status,
            StatusCode::UNAUTHORIZED
        );
    }
    assert_eq!(
        by_code(&school, "aaaaaa").await.status,
        StatusCode::TOO_MANY_REQUESTS
    );
    // Taken away, it opens nothing more.
    let gone = school
        .ask("DELETE", "/api/classes/1/code", Some(&dalca), None)
        .await;
    assert_eq!(gone.status, StatusCode::NO_CONTENT);
    assert_eq!(
        by_pin(&school, &code, 2, "9753").await.status,
        StatusCode::UNAUTHORIZED
    );
}

/// Four students' worth of states in two columns, with marks put there by hand.
#[tokio::test]
async fn the_book_has_what_each_has_of_what_was_given() {
    let school = School::new();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let ask = async |who: &str, line: &str, body: Option<Value>| {
        let (method, path) = line.split_once(' ').unwrap();
        school.ask(method, path, Some(who), body).await
    };
    let lesson = json!({"title": "=Tug", "complaint": "c", "circuit": 1,
        "faults": [{"place": "W8", "mode": "open"}], "predictions": false});
    let lesson = ask(&dalca, "POST /api/lessons", Some(lesson)).await.json()["id"].clone();
    let give = async |terms: Value| {
        let body = json!({"class": 1, "lesson": lesson, "terms": terms});
        ask(&dalca, "POST /api/assignments", Some(body))
            .await
            .json()
    };
    let twice = give(json!({"attempts": 2, "counts": "mean"})).await;
    let overdue = give(json!({"due_at": 1000})).await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let hand_in = async |attempt: &Value| {
        let body = act(0, "end", json!({"do": "hand_in"}));
        let line = format!("POST /api/attempts/{attempt}/steps");
        let done = ask(&varga, &line, Some(body)).await;
        assert_eq!(done.status, StatusCode::OK, "{}", done.text);
    };
    let first = &twice["attempts"][0];
    hand_in(first).await;
    let again = format!("POST /api/attempts/{first}/again");
    let second = ask(&varga, &again, None).await.json()["id"].clone();
    hand_in(&second).await;
    // Marked by the program: one who hands in at once has next to nothing.
    for attempt in [first, &second] {
        let sheet = ask(&dalca, &format!("GET /api/attempts/{attempt}/sheet"), None).await;
        assert_eq!(sheet.status, StatusCode::OK, "{}", sheet.text);
    }
    let marks = json!({"criterion": "conclusion", "marks": 8.0, "reason": "Said so aloud."});
    ask(
        &dalca,
        &format!("POST /api/attempts/{second}/marks"),
        Some(marks),
    )
    .await;
    let excuse = format!("PUT /api/assignments/{}/students/3", twice["id"]);
    ask(
        &dalca,
        &excuse,
        Some(json!({"extra_minutes": 0.0, "excused": true})),
    )
    .await;

    let book = ask(&dalca, "GET /api/classes/1/book", None).await.json();
    let titles: Vec<&str> = book["columns"]
        .as_array()
        .unwrap()
        .iter()
        .map(|c| c["title"].as_str().unwrap())
        .collect();
    assert_eq!(titles, ["=Tug", "=Tug"]);
    let row = |name: &str| {
        let rows = book["rows"].as_array().unwrap();
        rows.iter().find(|r| r["display"] == name).unwrap().clone()
    };
    let cell = &row("varga")["cells"][0];
    assert_eq!(
        (cell["state"].as_str(), cell["attempts"].as_u64()),
        (Some("marked"), Some(2))
    );
    let computed = cell["computed"].as_f64().unwrap();
    assert!(cell["given"].as_bool().unwrap());
    // The mean of what was computed and of that with eight marks more, to a tenth.
    let expected = (10.0 * (computed + 4.0)).round() / 10.0;
    assert!(
        (cell["final"].as_f64().unwrap() - expected).abs() < 1e-9,
        "{cell}"
    );
    assert_eq!(row("varga")["cells"][1]["state"], "missing");
    assert_eq!(row("oduya")["cells"][0]["state"], "excused");
    assert_eq!(row("oduya")["cells"][1]["state"], "missing");
    assert_eq!(book["columns"][0]["count"], 1);
    assert_eq!(
        book["columns"][0]["mean"],
        Value::Null,
        "one is not a class"
    );
    hand_in(&overdue["attempts"][0]).await;
    let line = format!("GET /api/attempts/{}/sheet", overdue["attempts"][0]);
    ask(&dalca, &line, None).await;
    let book = ask(&dalca, "GET /api/classes/1/book", None).await.json();
    let late = &book["rows"][1]["cells"][1];
    assert_eq!(
        (&late["late"], &late["state"]),
        (&json!(true), &json!("marked")),
        "{book}"
    );
    // A spreadsheet takes no title for a formula.
    let csv = ask(&dalca, "GET /api/classes/1/book.csv", None).await;
    assert!(csv.kind.starts_with("text/csv"));
    assert_eq!(csv.text.lines().count(), 5, "{}", csv.text);
    assert!(csv.text.contains("varga,'=Tug,marked"), "{}", csv.text);
    for who in [&varga] {
        let refused = ask(who, "GET /api/classes/1/book", None).await;
        assert_eq!(refused.status, StatusCode::FORBIDDEN);
    }
}

/// The bar of a page of marks: see `cimento-load book`. Here, that what is read is what was kept.
#[tokio::test]
async fn a_kept_total_is_the_sheet_s() {
    let school = School::new();
    school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let sheet = NewSheet {
        engine: "hand",
        made_at: 5,
        sheet: "{}",
        debrief: "{}",
        computed: 61.5,
    };
    school.store().keep_sheet(1, &sheet).unwrap();
    let book = school.store().book(BookOf::Class(1)).unwrap();
    assert_eq!((book[0].attempt, book[0].computed), (1, Some(61.5)));
    assert_eq!((book[1].attempt, book[1].computed), (2, None));
}
