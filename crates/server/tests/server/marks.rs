//! Marks after they are computed: an instructor's own for several at once, second looks, and the school's scale.

use crate::common::{Answer, School, act};
use axum::http::StatusCode;
use cimento_store::{NewPerson, Role, Roles};
use serde_json::{Value, json};

/// A school where both students have handed in at once, and are marked.
async fn marked() -> (School, String, [String; 2]) {
    let school = School::new();
    let dalca = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let mut students = Vec::new();
    for (attempt, name) in [(1, "varga"), (2, "oduya")] {
        let student = school.sign_in(name, "red-and-black").await;
        let path = format!("/api/attempts/{attempt}/steps");
        let end = act(0, "end", json!({"do": "hand_in"}));
        school.ask("POST", &path, Some(&student), Some(end)).await;
        let path = format!("/api/attempts/{attempt}/sheet");
        let sheet = school.ask("GET", &path, Some(&dalca), None).await;
        assert_eq!(sheet.status, StatusCode::OK, "{}", sheet.text);
        students.push(student);
    }
    let students = students.try_into().unwrap();
    (school, dalca, students)
}

async fn ask(school: &School, who: &str, line: &str, body: Option<Value>) -> Answer {
    let (method, path) = line.split_once(' ').unwrap();
    school.ask(method, path, Some(who), body).await
}

async fn total(school: &School, who: &str, attempt: i32) -> f64 {
    let sheet = ask(
        school,
        who,
        &format!("GET /api/attempts/{attempt}/sheet"),
        None,
    )
    .await;
    sheet.json()["total"].as_f64().unwrap()
}

/// A second look is asked for once, by whose sheet it is; answered once, by who gives its marks; and both stay.
#[tokio::test]
async fn a_second_look_is_asked_for_once_and_answered_once() {
    let (school, dalca, [varga, oduya]) = marked().await;
    let looks = "POST /api/attempts/1/second-looks";
    let body = |line: &str, text: &str| Some(json!({"criterion": line, "asked": text}));
    let why = "I saw that it did not crank before I began.";
    for (who, line, text, status) in [
        (&oduya, "approach", why, StatusCode::NOT_FOUND),
        (&dalca, "approach", why, StatusCode::FORBIDDEN),
        (&varga, "approach", "  ", StatusCode::BAD_REQUEST),
        (
            &varga,
            "approach",
            "\u{202e}\u{7}",
            StatusCode::UNPROCESSABLE_ENTITY,
        ),
        (&varga, "looks", why, StatusCode::BAD_REQUEST),
        (&varga, "approach", why, StatusCode::NO_CONTENT),
        (&varga, "approach", why, StatusCode::BAD_REQUEST),
        (&varga, "repair", "I had no time.", StatusCode::NO_CONTENT),
    ] {
        let asked = ask(&school, who, looks, body(line, text)).await;
        assert_eq!(asked.status, status, "{line} {text}: {}", asked.text);
    }
    let open = ask(&school, &dalca, "GET /api/second-looks", None)
        .await
        .json();
    assert_eq!(open.as_array().unwrap().len(), 2, "{open}");
    assert_eq!(
        (&open[0]["student"], &open[0]["asked"]),
        (&json!("varga"), &json!(why))
    );
    // Nobody but its student and its instructors reads what was asked.
    let others = ask(&school, &oduya, "GET /api/attempts/1/second-looks", None).await;
    assert_eq!(others.status, StatusCode::NOT_FOUND);
    let students = ask(&school, &varga, "GET /api/second-looks", None).await;
    assert_eq!(students.status, StatusCode::FORBIDDEN);

    let before = total(&school, &varga, 1).await;
    let answer = |line: &str| format!("PUT /api/attempts/1/second-looks/{line}");
    let changed = json!({"text": "True, I was there.", "marks": 3.0});
    for (who, line, body, status) in [
        (&varga, "approach", changed.clone(), StatusCode::FORBIDDEN),
        (
            &dalca,
            "approach",
            json!({"text": "", "marks": 3.0}),
            StatusCode::BAD_REQUEST,
        ),
        (
            &dalca,
            "approach",
            json!({"text": "a", "marks": 30.0}),
            StatusCode::BAD_REQUEST,
        ),
        (
            &dalca,
            "clearing",
            json!({"text": "a"}),
            StatusCode::CONFLICT,
        ),
        (&dalca, "approach", changed.clone(), StatusCode::NO_CONTENT),
        (&dalca, "approach", changed.clone(), StatusCode::CONFLICT),
        (
            &dalca,
            "repair",
            json!({"text": "No more had it."}),
            StatusCode::NO_CONTENT,
        ),
    ] {
        let done = ask(&school, who, &answer(line), Some(body)).await;
        assert_eq!(done.status, status, "{line}: {}", done.text);
    }
    let after = total(&school, &varga, 1).await;
    assert!(
        (after - before - 3.0).abs() < 1e-9,
        "{before} became {after}"
    );
    let told = ask(&school, &varga, "GET /api/attempts/1/second-looks", None)
        .await
        .json();
    assert_eq!(
        (&told[0]["answer"]["changed"], &told[1]["answer"]["changed"]),
        (&json!(true), &json!(false))
    );
    assert_eq!(told[0]["answer"]["by"], "R. Dalca");
    let open = ask(&school, &dalca, "GET /api/second-looks", None)
        .await
        .json();
    assert_eq!(open, json!([]));
}

/// The same for several: for all of them or for none, and for nobody of another class.
#[tokio::test]
async fn marks_are_given_to_several_or_to_none() {
    let (school, dalca, [varga, oduya]) = marked().await;
    let before = [
        total(&school, &varga, 1).await,
        total(&school, &oduya, 2).await,
    ];
    let many = |attempts: Value, marks: f64, reason: &str| {
        Some(json!({"attempts": attempts,
            "given": {"criterion": "approach", "marks": marks, "reason": reason}}))
    };
    for (attempts, marks, reason, status) in [
        (json!([]), 3.0, "Shown.", StatusCode::BAD_REQUEST),
        (json!([1, 2]), 9.0, "Shown.", StatusCode::BAD_REQUEST),
        (json!([1, 2]), 3.0, "", StatusCode::BAD_REQUEST),
        (json!([1, 99]), 3.0, "Shown.", StatusCode::NOT_FOUND),
    ] {
        let refused = ask(
            &school,
            &dalca,
            "POST /api/marks",
            many(attempts, marks, reason),
        )
        .await;
        assert_eq!(refused.status, status, "{}", refused.text);
    }
    let student = ask(
        &school,
        &varga,
        "POST /api/marks",
        many(json!([1]), 3.0, "Mine."),
    )
    .await;
    assert_eq!(student.status, StatusCode::FORBIDDEN);
    let store = school.store();
    store
        .add_people(&[NewPerson {
            name: "other".to_owned(),
            display: "O. Ther".to_owned(),
            roles: Roles::from(Role::Instructor),
            password: "bench-and-meter".to_owned(),
        }])
        .unwrap();
    let other = school.sign_in("other", "bench-and-meter").await;
    let foreign = ask(
        &school,
        &other,
        "POST /api/marks",
        many(json!([1]), 3.0, "Hm."),
    )
    .await;
    assert_eq!(foreign.status, StatusCode::NOT_FOUND, "{}", foreign.text);
    assert_eq!(
        before,
        [
            total(&school, &varga, 1).await,
            total(&school, &oduya, 2).await
        ]
    );

    let given = ask(
        &school,
        &dalca,
        "POST /api/marks",
        many(json!([1, 2]), 3.0, "Shown."),
    )
    .await;
    assert_eq!(given.status, StatusCode::NO_CONTENT, "{}", given.text);
    let after = [
        total(&school, &varga, 1).await,
        total(&school, &oduya, 2).await,
    ];
    assert_eq!(after, before.map(|b| b + 3.0));
}

/// A scale changes how marks are said, on sheets, in books and their files, and no mark.
#[tokio::test]
async fn a_school_says_marks_its_own_way() {
    let (school, dalca, [varga, _]) = marked().await;
    let admin = school.administrator().await;
    let says = async |who: &str| {
        let sheet = ask(&school, who, "GET /api/attempts/1/sheet", None)
            .await
            .json();
        (
            sheet["total"].as_f64().unwrap(),
            sheet["says"].as_str().unwrap().to_owned(),
        )
    };
    let (marks, said) = says(&varga).await;
    assert_eq!(
        said,
        format!("{marks:.1}"),
        "points in tenths before anybody chose"
    );
    let scale = json!({"rounding": "whole", "grades": [{"name": "pass", "from": 70}, {"name": "not yet", "from": 0}]});
    let line = "PUT /api/school/scale";
    for (who, body, status) in [
        (&dalca, scale.clone(), StatusCode::FORBIDDEN),
        (&varga, scale.clone(), StatusCode::FORBIDDEN),
        (
            &admin,
            json!({"rounding": "whole", "grades": [{"name": "pass", "from": 70}]}),
            StatusCode::BAD_REQUEST,
        ),
        (
            &admin,
            json!({"rounding": "tens", "grades": []}),
            StatusCode::UNPROCESSABLE_ENTITY,
        ),
        (&admin, scale.clone(), StatusCode::NO_CONTENT),
    ] {
        let done = ask(&school, who, line, Some(body)).await;
        assert_eq!(done.status, status, "{}", done.text);
    }
    let (same, said) = says(&varga).await;
    assert_eq!((same, said), (marks, format!("{marks:.0} · not yet")));
    let book = ask(&school, &dalca, "GET /api/classes/1/book", None)
        .await
        .json();
    assert_eq!(
        book["rows"][1]["cells"][0]["says"],
        format!("{marks:.0} · not yet"),
        "{book}"
    );
    let csv = ask(&school, &dalca, "GET /api/attempts/1/sheet.csv", None).await;
    assert!(csv.text.contains("not yet"), "{}", csv.text);
    let audit = ask(&school, &admin, "GET /api/audit", None).await;
    assert!(
        audit.text.contains("set the scale of marks to"),
        "{}",
        audit.text
    );
}

/// What was handed in by mistake goes on where it stood: for who teaches, not for its student; its sheet stands no more.
#[tokio::test]
async fn what_was_handed_in_too_soon_is_taken_up_again() {
    let school = School::new();
    let dalca = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let send = async |who: &str, path: &str, body: Value| {
        school.ask("POST", path, Some(who), Some(body)).await
    };
    let steps = "/api/attempts/1/steps";
    let up = "/api/attempts/1/take-up";
    let early = send(&dalca, up, json!({})).await;
    assert_eq!(early.status, StatusCode::BAD_REQUEST, "{}", early.text);
    let hand_in = json!({"do": "hand_in"});
    assert_eq!(
        send(&varga, steps, act(0, "a", hand_in.clone()))
            .await
            .status,
        StatusCode::OK
    );
    let by_the_student = send(&varga, steps, act(1, "b", json!({"do": "take_up"}))).await;
    assert_eq!(by_the_student.status, StatusCode::FORBIDDEN);
    assert_eq!(
        send(&varga, up, json!({})).await.status,
        StatusCode::FORBIDDEN
    );
    let sheet = school
        .ask("GET", "/api/attempts/1/sheet", Some(&dalca), None)
        .await;
    assert_eq!(sheet.status, StatusCode::OK, "{}", sheet.text);
    let taken = send(&dalca, up, json!({})).await;
    assert_eq!(taken.status, StatusCode::NO_CONTENT, "{}", taken.text);
    // It goes on, and what is done then counts with what was done before.
    let on = send(&varga, steps, act(2, "c", json!({"do": "try_complaint"}))).await;
    assert_eq!(on.status, StatusCode::OK, "{}", on.text);
    assert_eq!(on.json()["handed_in"], false);
    assert_eq!(
        send(&varga, steps, act(3, "d", hand_in)).await.status,
        StatusCode::OK
    );
    let sheet = school
        .ask("GET", "/api/attempts/1/sheet", Some(&dalca), None)
        .await
        .json();
    let approach = &sheet["lines"][0];
    assert!(approach["marks"].as_f64().unwrap() > 0.0, "{approach}");
    let kept = school
        .ask("GET", "/api/attempts/1/sheets", Some(&dalca), None)
        .await
        .json();
    let stands: Vec<&Value> = kept
        .as_array()
        .unwrap()
        .iter()
        .map(|s| &s["stands"])
        .collect();
    assert_eq!(stands, [&json!(false), &json!(true)], "{kept}");
}
