//! Lessons that are changed, copied, filed and put away.

use crate::common::{Answer, School, act, reading};
use axum::http::StatusCode;
use cimento_store::Role;
use serde_json::{Value, json};

async fn ask(school: &School, who: &str, line: &str, body: Option<Value>) -> Answer {
    let (method, path) = line.split_once(' ').unwrap();
    school.ask(method, path, Some(who), body).await
}

/// Who has begun keeps the lesson that they began with; everybody else, and who comes later, has the new one.
#[tokio::test]
async fn a_changed_lesson_leaves_work_that_was_begun_alone() {
    let school = School::new();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let lesson = json!({"title": "Tug", "complaint": "It will not crank.", "circuit": 1,
        "faults": [{"place": "W8", "mode": "open"}], "predictions": false});
    let made = ask(&school, &dalca, "POST /api/lessons", Some(lesson)).await;
    let first = made.json()["id"].clone();
    let give = json!({"class": 1, "lesson": first});
    ask(&school, &dalca, "POST /api/assignments", Some(give)).await;
    let step = act(0, "a", reading("K3.86"));
    let begun = ask(&school, &varga, "POST /api/attempts/1/steps", Some(step)).await;
    assert_eq!(begun.status, StatusCode::OK, "{}", begun.text);

    let seen = ask(&school, &dalca, &format!("GET /api/lessons/{first}"), None)
        .await
        .json();
    let mut terms = seen["terms"].clone();
    assert_eq!(
        (&seen["version"], &terms["complaint"]),
        (&json!(1), &json!("It will not crank."))
    );
    terms["complaint"] = json!("Nothing happens at the key.");
    terms["rules"]["limit_minutes"] = json!(45.0);
    let change = format!("PUT /api/lessons/{first}");
    let changed = ask(&school, &dalca, &change, Some(terms.clone())).await;
    assert_eq!(changed.status, StatusCode::OK, "{}", changed.text);
    let second = changed.json()["id"].clone();
    assert_ne!(first, second);
    let words = async |who: &str, attempt: i64| {
        let view = ask(&school, who, &format!("GET /api/attempts/{attempt}"), None).await;
        view.json()["words"].clone()
    };
    assert_eq!(words(&varga, 1).await, "It will not crank.");
    assert_eq!(words(&oduya, 2).await, "Nothing happens at the key.");
    // The bench of the one who began goes on where it stood.
    let step = act(1, "b", reading("K3.86"));
    let on = ask(&school, &varga, "POST /api/attempts/1/steps", Some(step)).await;
    assert_eq!(on.status, StatusCode::OK, "{}", on.text);
    let listed = ask(&school, &dalca, "GET /api/lessons", None).await.json();
    assert_eq!(listed.as_array().unwrap().len(), 1, "{listed}");
    let line = &listed[0];
    assert_eq!(
        (&line["id"], &line["version"], &line["on_earlier"]),
        (&second, &json!(2), &json!(1))
    );
    assert_eq!(line["attempts"].as_array().unwrap().len(), 2);
    // Who comes later is given what it is now.
    let store = school.store();
    let late = store
        .add_user("zielke", "M. Zielke", Role::Student, "red-and-black")
        .unwrap();
    store.enrol(1, late.id, Role::Student, 0).unwrap();
    let zielke = school.sign_in("zielke", "red-and-black").await;
    let own = ask(&school, &zielke, "GET /api/attempts", None)
        .await
        .json();
    assert_eq!(
        words(&zielke, own[0]["id"].as_i64().unwrap()).await,
        "Nothing happens at the key."
    );

    // A page that still has the first version is told; what is no lesson changes nothing.
    let stale = ask(&school, &dalca, &change, Some(terms.clone())).await;
    assert_eq!(stale.status, StatusCode::CONFLICT, "{}", stale.text);
    assert!(stale.text.contains("at version 2"), "{}", stale.text);
    terms["title"] = json!(" ");
    let refused = ask(
        &school,
        &dalca,
        &format!("PUT /api/lessons/{second}"),
        Some(terms),
    )
    .await;
    assert_eq!(
        refused.status,
        StatusCode::UNPROCESSABLE_ENTITY,
        "{}",
        refused.text
    );
    assert_eq!(
        ask(&school, &varga, &change, Some(json!({}))).await.status,
        StatusCode::FORBIDDEN
    );
}

#[tokio::test]
async fn lessons_are_copied_filed_and_put_away() {
    let school = School::new();
    let dalca = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let copied = ask(&school, &dalca, "POST /api/lessons/1/copy", None)
        .await
        .json();
    let filed = json!({"folder": " Starting ", "put_away": true});
    let file = ask(&school, &dalca, "PUT /api/lessons/1/folder", Some(filed)).await;
    assert_eq!(file.status, StatusCode::NO_CONTENT, "{}", file.text);
    let listed = ask(&school, &dalca, "GET /api/lessons", None).await.json();
    let lines = listed.as_array().unwrap();
    let of = |id: &Value| lines.iter().find(|l| l["id"] == *id).unwrap();
    let (copy, first) = (of(&copied["id"]), of(&json!(1)));
    assert_eq!(
        (&copy["title"], &copy["attempts"]),
        (&json!("Tug, copy"), &json!([]))
    );
    assert_eq!(
        (&first["folder"], &first["put_away"]),
        (&json!("Starting"), &json!(true))
    );
    assert_eq!(copy["put_away"], false);
    // Who has it keeps it.
    let varga = school.sign_in("varga", "red-and-black").await;
    let own = ask(&school, &varga, "GET /api/attempts/1", None).await;
    assert_eq!(own.status, StatusCode::OK);
    let long = json!({"folder": "x".repeat(61), "put_away": false});
    let refused = ask(&school, &dalca, "PUT /api/lessons/1/folder", Some(long)).await;
    assert!(
        refused.text.contains("at most 60 characters"),
        "{}",
        refused.text
    );
    let nothing = ask(&school, &dalca, "POST /api/lessons/9/copy", None).await;
    assert_eq!(nothing.status, StatusCode::NOT_FOUND);
}

/// Rules under a name are everybody's to take, and one's own to change and forget; what is none is refused.
#[tokio::test]
async fn rules_are_kept_under_a_name_and_taken_for_another_lesson() {
    let school = School::new();
    let store = school.store();
    let role = cimento_store::Role::Instructor;
    store
        .add_user("keller", "P. Keller", role, "bench-and-meter")
        .unwrap();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let keller = school.sign_in("keller", "bench-and-meter").await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let usual = ask(&school, &dalca, "GET /api/lessons/usual", None).await;
    let mut rules = usual.json()["rules"].clone();
    rules["limit_minutes"] = json!(30.0);
    let reused = json!({"predictions": true, "functions": ["dc_volts", "ohms"], "rules": rules});
    let set = |name: &str| json!({"name": name, "reused": reused});
    let keep = "POST /api/rule-sets";
    let made = ask(&school, &dalca, keep, Some(set("First year"))).await;
    assert_eq!(made.status, StatusCode::OK, "{}", made.text);
    let id = made.json()["id"].clone();
    // Again under the same name: one's own are replaced, another's are not.
    let again = ask(&school, &dalca, keep, Some(set("First year"))).await;
    assert_eq!(again.json()["id"], id);
    let others = ask(&school, &keller, keep, Some(set("First year"))).await;
    assert_eq!(others.status, StatusCode::BAD_REQUEST, "{}", others.text);
    assert!(others.text.contains("is taken"), "{}", others.text);
    let listed = ask(&school, &keller, "GET /api/rule-sets", None)
        .await
        .json();
    assert_eq!(listed[0]["own"], json!(false));
    assert_eq!(listed[0]["author"], json!("R. Dalca"));
    assert_eq!(listed[0]["reused"], reused);
    // What was taken makes a lesson.
    let lesson = json!({"title": "Tug", "complaint": "It will not crank.", "circuit": 1,
        "faults": [{"place": "W8", "mode": "open"}], "predictions": true,
        "functions": listed[0]["reused"]["functions"], "rules": listed[0]["reused"]["rules"]});
    let made = ask(&school, &keller, "POST /api/lessons", Some(lesson)).await;
    assert_eq!(made.status, StatusCode::OK, "{}", made.text);
    for (who, what, body, status) in [
        (
            &varga,
            "GET /api/rule-sets".to_owned(),
            None,
            StatusCode::FORBIDDEN,
        ),
        (
            &keller,
            keep.to_owned(),
            Some(set(" ")),
            StatusCode::BAD_REQUEST,
        ),
        (
            &keller,
            keep.to_owned(),
            Some(set(&"x".repeat(61))),
            StatusCode::BAD_REQUEST,
        ),
        (
            &keller,
            keep.to_owned(),
            Some(
                json!({"name": "None", "reused": {"predictions": true, "functions": [], "rules": rules}}),
            ),
            StatusCode::BAD_REQUEST,
        ),
        (
            &keller,
            format!("DELETE /api/rule-sets/{id}"),
            None,
            StatusCode::NOT_FOUND,
        ),
        (
            &dalca,
            format!("DELETE /api/rule-sets/{id}"),
            None,
            StatusCode::NO_CONTENT,
        ),
        (
            &dalca,
            format!("DELETE /api/rule-sets/{id}"),
            None,
            StatusCode::NOT_FOUND,
        ),
    ] {
        let answer = ask(&school, who, &what, body).await;
        assert_eq!(answer.status, status, "{what}: {}", answer.text);
    }
    let listed = ask(&school, &keller, "GET /api/rule-sets", None).await;
    assert_eq!(listed.json(), json!([]));
}
