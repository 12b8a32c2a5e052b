//! What is somebody's own: it can be taken along, and erased so that nothing of it is left.

use axum::http::StatusCode;
use cimento_store::{BookOf, Retention};
use serde_json::{Value, json};

use crate::common::{Answer, School, act, reading};

const NOTE: &str = "Überlegung <b>Zyx</b> & more";

async fn ask(school: &School, who: &str, line: &str, body: Option<Value>) -> Answer {
    let (method, path) = line.split_once(' ').unwrap();
    school.ask(method, path, Some(who), body).await
}

/// A school with an administrator, where varga has handed in one attempt and oduya has begun another.
async fn at_work() -> (School, String, String) {
    let school = School::new();
    let dalca = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let admin = school.administrator().await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let note = json!({"do": "note", "text": NOTE});
    let steps = [reading("K3.86"), note, json!({"do": "hand_in"})];
    for (n, step) in steps.into_iter().enumerate() {
        let body = act(n, &n.to_string(), step);
        let done = ask(&school, &varga, "POST /api/attempts/1/steps", Some(body)).await;
        assert_eq!(done.status, StatusCode::OK, "{}", done.text);
    }
    let body = act(0, "0", reading("K3.86"));
    ask(&school, &oduya, "POST /api/attempts/2/steps", Some(body)).await;
    let sheet = ask(&school, &dalca, "GET /api/attempts/1/sheet", None).await;
    assert_eq!(sheet.status, StatusCode::OK, "{}", sheet.text);
    (school, dalca, admin)
}

/// Everything of one's own and nothing else: no fault before the sheet shows, nobody else's work.
#[tokio::test]
async fn all_of_one_s_work_can_be_taken_along() {
    let (school, dalca, admin) = at_work().await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let own = ask(&school, &varga, "GET /api/me/work", None).await.json();
    let attempt = &own["attempts"][0];
    assert_eq!(own["attempts"].as_array().unwrap().len(), 1);
    assert_eq!(attempt["steps"].as_array().unwrap().len(), 3);
    assert_eq!(attempt["sheet"]["fault"], "W8 open");
    let page = ask(&school, &varga, "GET /api/me/work.html", None).await;
    assert!(page.kind.starts_with("text/html"));
    assert!(
        page.text
            .contains("Überlegung &lt;b&gt;Zyx&lt;/b&gt; &amp; more"),
        "{}",
        page.text
    );
    assert!(!page.text.contains("<b>Zyx"), "{}", page.text);
    // Who is still at work gets their readings, and nothing of the fault.
    let other = ask(&school, &oduya, "GET /api/me/work", None).await;
    assert_eq!(other.json()["attempts"][0]["sheet"], Value::Null);
    assert!(
        !other.text.contains("W8") && !other.text.contains("Zyx"),
        "{}",
        other.text
    );
    for (who, status) in [
        (&varga, StatusCode::FORBIDDEN),
        (&dalca, StatusCode::FORBIDDEN),
        (&admin, StatusCode::OK),
    ] {
        for line in ["GET /api/people/2/work", "GET /api/people/2/work.html"] {
            assert_eq!(ask(&school, who, line, None).await.status, status, "{line}");
        }
    }
    let audit = ask(&school, &admin, "GET /api/audit", None).await;
    assert!(
        audit.text.contains("took the work along of"),
        "{}",
        audit.text
    );
}

/// Nothing of somebody erased is left in any file of the school; others' work and the steps' guard stand.
#[tokio::test]
async fn who_is_erased_is_gone_for_good() {
    let (school, dalca, admin) = at_work().await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let store = school.store();
    store
        .set_retention(Retention {
            months: None,
            keeps_figures: true,
        })
        .unwrap();
    let marks = store.book(BookOf::Class(1)).unwrap()[0].computed.unwrap();
    for (who, line, status) in [
        (&varga, "DELETE /api/people/2", StatusCode::FORBIDDEN),
        (&dalca, "DELETE /api/people/2", StatusCode::FORBIDDEN),
        (&admin, "DELETE /api/people/1", StatusCode::BAD_REQUEST),
        (&admin, "DELETE /api/people/99", StatusCode::NOT_FOUND),
        (&admin, "DELETE /api/people/2", StatusCode::OK),
        (&admin, "DELETE /api/people/2", StatusCode::NOT_FOUND),
    ] {
        let done = ask(&school, who, line, None).await;
        assert_eq!(done.status, status, "{line}: {}", done.text);
    }
    let gone = ask(&school, &varga, "GET /api/me", None).await;
    assert_eq!(gone.status, StatusCode::UNAUTHORIZED);
    assert_eq!(
        ask(&school, &dalca, "GET /api/attempts/1/sheet", None)
            .await
            .status,
        StatusCode::NOT_FOUND
    );
    let audit = ask(&school, &admin, "GET /api/audit", None).await;
    assert!(!audit.text.contains("varga"), "{}", audit.text);
    for file in school.files() {
        let bytes = std::fs::read(&file).unwrap();
        for word in ["Zyx", "varga"] {
            let found = bytes.windows(word.len()).any(|w| w == word.as_bytes());
            assert!(!found, "{word} is left in {}", file.display());
        }
    }
    // Their marks stand without a name; the other's steps are there, and still cannot be deleted.
    let figures = store.figures(1).unwrap();
    assert_eq!(figures, [(1, marks)]);
    let book = ask(&school, &dalca, "GET /api/classes/1/book", None)
        .await
        .json();
    assert_eq!(
        (
            &book["columns"][0]["count"],
            book["rows"].as_array().unwrap().len()
        ),
        (&json!(1), 1)
    );
    assert_eq!(store.steps(2).unwrap().len(), 1);
    assert!(school.sql("DELETE FROM steps").is_err());
    // A number that comes again is another attempt.
    let again = school.give(&dalca, &json!(1), &[3]).await;
    assert_eq!(again.status, StatusCode::OK, "{}", again.text);
}

/// What an instructor gave counts among the figures; what is younger stays.
#[tokio::test]
async fn work_goes_when_it_was_kept_for_its_time() {
    let (school, dalca, admin) = at_work().await;
    let given = json!({"criterion": "approach", "marks": 5.0, "reason": "Shown."});
    ask(&school, &dalca, "POST /api/attempts/1/marks", Some(given)).await;
    let sheet = ask(&school, &dalca, "GET /api/attempts/1/sheet", None)
        .await
        .json();
    let body = |months: Value| Some(json!({"months": months, "keeps_figures": true}));
    for (who, months, status) in [
        (&dalca, json!(12), StatusCode::FORBIDDEN),
        (&admin, json!(0), StatusCode::BAD_REQUEST),
        (&admin, json!(12), StatusCode::NO_CONTENT),
    ] {
        let done = ask(&school, who, "PUT /api/school/retention", body(months)).await;
        assert_eq!(done.status, status, "{}", done.text);
    }
    let now = ask(&school, &admin, "GET /api/school/retention", None)
        .await
        .json();
    assert_eq!(now, json!({"months": 12, "keeps_figures": true}));
    let store = school.store();
    assert_eq!(store.erase_older(1_000_000, true).unwrap(), 0);
    assert_eq!(store.erase_older(i64::MAX, true).unwrap(), 2);
    let figures = store.figures(1).unwrap();
    assert_eq!(figures.len(), 1);
    assert!(
        (figures[0].1 - sheet["total"].as_f64().unwrap()).abs() < 0.051,
        "{figures:?}"
    );
    assert_eq!(store.people().unwrap().len(), 4, "people stay");
}

/// Two records of one student: the work of both is the other's, in order.
#[tokio::test]
async fn a_double_becomes_one() {
    let (school, dalca, admin) = at_work().await;
    let merge = |into: i32| Some(json!({"into": into}));
    for (who, line, into, status) in [
        (&dalca, "POST /api/people/2/merge", 3, StatusCode::FORBIDDEN),
        (
            &admin,
            "POST /api/people/2/merge",
            1,
            StatusCode::BAD_REQUEST,
        ),
        (
            &admin,
            "POST /api/people/2/merge",
            2,
            StatusCode::BAD_REQUEST,
        ),
        (
            &admin,
            "POST /api/people/2/merge",
            3,
            StatusCode::NO_CONTENT,
        ),
    ] {
        let done = ask(&school, who, line, merge(into)).await;
        assert_eq!(done.status, status, "{into}: {}", done.text);
    }
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let all = ask(&school, &oduya, "GET /api/attempts", None).await.json();
    assert_eq!(all.as_array().unwrap().len(), 2, "{all}");
    let entries = school.store().book(BookOf::Class(1)).unwrap();
    let mut numbers: Vec<i32> = entries.iter().map(|e| e.no).collect();
    numbers.sort_unstable();
    assert_eq!(numbers, [1, 2]);
    assert!(entries.iter().all(|e| e.student == 3));
    let first = school
        .ask(
            "POST",
            "/api/sign-in",
            None,
            Some(json!({"name": "varga", "password": "red-and-black"})),
        )
        .await;
    assert_eq!(first.status, StatusCode::UNAUTHORIZED);
}

/// A link sets a password once, for as long as it is the last one made.
#[tokio::test]
async fn a_link_sets_a_password_once() {
    let (school, dalca, admin) = at_work().await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let line = "POST /api/people/2/reset-link";
    assert_eq!(
        ask(&school, &varga, line, None).await.status,
        StatusCode::FORBIDDEN
    );
    let others = ask(&school, &dalca, "POST /api/people/4/reset-link", None).await;
    assert_ne!(
        others.status,
        StatusCode::OK,
        "an administrator's is no instructor's to make"
    );
    let token = async |who: &str| {
        let path = ask(&school, who, line, None).await.json()["path"]
            .as_str()
            .unwrap()
            .to_owned();
        path.split_once('#').unwrap().1.to_owned()
    };
    let (first, last) = (token(&dalca).await, token(&admin).await);
    let set = async |token: &str, password: &str| {
        let body = json!({"token": token, "password": password});
        school
            .ask("POST", "/api/new-password", None, Some(body))
            .await
    };
    for (token, password, status) in [
        ("", "blue-and-green", StatusCode::BAD_REQUEST),
        (first.as_str(), "blue-and-green", StatusCode::BAD_REQUEST),
        (&last, "short", StatusCode::BAD_REQUEST),
        (&last, "blue-and-green", StatusCode::OK),
        (&last, "green-and-blue", StatusCode::BAD_REQUEST),
    ] {
        let done = set(token, password).await;
        assert_eq!(done.status, status, "{}", done.text);
    }
    let signed_out = ask(&school, &varga, "GET /api/me", None).await;
    assert_eq!(signed_out.status, StatusCode::UNAUTHORIZED);
    school.sign_in("varga", "blue-and-green").await;
}
