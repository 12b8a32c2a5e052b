//! Courses: made, put in order, taken by a class, and what students see of them.

use crate::common::{Answer, School, act};
use axum::http::StatusCode;
use cimento_store::Role;
use serde_json::{Value, json};

async fn ask(school: &School, who: &str, line: &str, body: Option<Value>) -> Answer {
    let (method, path) = line.split_once(' ').unwrap();
    school.ask(method, path, Some(who), body).await
}

async fn done(school: &School, who: &str, line: &str, body: Value) {
    let answer = ask(school, who, line, Some(body)).await;
    assert!(answer.status.is_success(), "{line}: {}", answer.text);
}

/// Makes lessons of the tug, and a course of them; who teaches, the course, the lessons.
async fn course_of(school: &School, faults: &[&str]) -> (String, i64, Vec<i64>) {
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let mut lessons = Vec::new();
    for place in faults {
        let lesson = json!({"title": format!("Tug {place}"), "complaint": "It will not crank.", "circuit": 1,
            "faults": [{"place": place, "mode": "open"}], "predictions": false});
        let made = ask(school, &dalca, "POST /api/lessons", Some(lesson)).await;
        lessons.push(made.json()["id"].as_i64().unwrap());
    }
    let made = json!({"title": " A year ", "about": "Starting."});
    let made = ask(school, &dalca, "POST /api/courses", Some(made)).await;
    let course = made.json()["id"].as_i64().unwrap();
    let places: Vec<Value> = lessons
        .iter()
        .map(|l| json!({"lesson": l, "chapter": "Starting"}))
        .collect();
    let whole = json!({"title": "A year", "about": "", "put_away": false, "lessons": places});
    done(school, &dalca, &format!("PUT /api/courses/{course}"), whole).await;
    (dalca, course, lessons)
}

/// What can be changed of a lesson.
async fn terms_of(school: &School, who: &str, lesson: i64) -> Value {
    let view = ask(school, who, &format!("GET /api/lessons/{lesson}"), None).await;
    view.json()["terms"].clone()
}

fn titles(course: &Value) -> Vec<&str> {
    let lessons = course["lessons"].as_array().unwrap();
    lessons
        .iter()
        .map(|l| l["title"].as_str().unwrap())
        .collect()
}

#[tokio::test]
async fn a_course_is_made_put_in_order_and_taken_by_a_class() {
    let school = School::new();
    let (dalca, course, lessons) = course_of(&school, &["W8", "W16"]).await;
    let one = format!("GET /api/courses/{course}");
    let change = format!("PUT /api/courses/{course}");
    let seen = ask(&school, &dalca, &one, None).await.json();
    assert_eq!(titles(&seen), ["Tug W8", "Tug W16"]);
    assert_eq!(seen["title"], "A year");
    // The other way round; a lesson that was changed meanwhile is there at its latest version.
    let mut terms = terms_of(&school, &dalca, lessons[0]).await;
    terms["title"] = json!("Tug, second edition");
    terms["skills"] = json!(["drain"]);
    done(
        &school,
        &dalca,
        &format!("PUT /api/lessons/{}", lessons[0]),
        terms,
    )
    .await;
    let place = |lesson: i64| json!({"lesson": lesson, "chapter": "Last"});
    let whole = |places: Vec<Value>| json!({"title": "A year", "about": "x", "put_away": false, "lessons": places});
    let turned = whole(vec![place(lessons[1]), place(lessons[0])]);
    done(&school, &dalca, &change, turned).await;
    let seen = ask(&school, &dalca, &one, None).await.json();
    assert_eq!(titles(&seen), ["Tug W16", "Tug, second edition"]);
    assert_eq!(seen["lessons"][1]["chapter"], "Last");
    // What stands on something that nothing before it practises is told.
    let early = &seen["lessons"][1]["too_early"][0];
    assert!(early.as_str().unwrap().contains("“drain” needs"), "{early}");
    // A lesson comes once, and a course has a name.
    let twice = whole(vec![place(lessons[1]), place(lessons[1])]);
    let refused = ask(&school, &dalca, &change, Some(twice)).await;
    assert_eq!(refused.status, StatusCode::BAD_REQUEST, "{}", refused.text);
    assert!(
        refused.text.contains("each of them once"),
        "{}",
        refused.text
    );
    let nameless = ask(
        &school,
        &dalca,
        "POST /api/courses",
        Some(json!({"title": " "})),
    )
    .await;
    assert_eq!(
        nameless.status,
        StatusCode::BAD_REQUEST,
        "{}",
        nameless.text
    );
    assert_eq!(
        titles(&ask(&school, &dalca, &one, None).await.json()).len(),
        2
    );

    done(
        &school,
        &dalca,
        "PUT /api/classes/1/course",
        json!({"course": course}),
    )
    .await;
    let give = json!({"class": 1, "lesson": seen["lessons"][0]["lesson"]});
    done(&school, &dalca, "POST /api/assignments", give).await;
    let seen = ask(&school, &dalca, &one, None).await.json();
    let class = &seen["classes"][0];
    assert_eq!(class["done"][0]["handed_in"], 0, "{class}");
    assert_eq!(class["done"][0]["given"], 2, "{class}");
    let listed = ask(&school, &dalca, "GET /api/courses", None).await.json();
    assert_eq!(listed[0]["lessons"], 2);
    assert_eq!(listed[0]["classes"].as_array().unwrap().len(), 1);
    let classes = ask(&school, &dalca, "GET /api/classes", None).await.json();
    assert_eq!(classes[0]["course"], course);
    // None that there is not, and none of somebody else's class.
    let none = ask(
        &school,
        &dalca,
        "PUT /api/classes/1/course",
        Some(json!({"course": 99})),
    )
    .await;
    assert_eq!(none.status, StatusCode::NOT_FOUND);
    school
        .store()
        .add_user("hollin", "P. Hollin", Role::Instructor, "red-and-black")
        .unwrap();
    let hollin = school.sign_in("hollin", "red-and-black").await;
    let other = ask(
        &school,
        &hollin,
        "PUT /api/classes/1/course",
        Some(json!({"course": null})),
    )
    .await;
    assert_eq!(other.status, StatusCode::NOT_FOUND, "{}", other.text);
    done(
        &school,
        &dalca,
        "PUT /api/classes/1/course",
        json!({"course": null}),
    )
    .await;
    let classes = ask(&school, &dalca, "GET /api/classes", None).await.json();
    assert_eq!(classes[0]["course"], Value::Null);
}

/// Skills tell what a fault is about: nobody who is still at work sees them, nor a course at all.
#[tokio::test]
async fn students_see_what_a_lesson_practised_with_its_sheet_and_what_comes_next() {
    let school = School::new();
    let (dalca, course, lessons) = course_of(&school, &["W8", "W16"]).await;
    let mut terms = terms_of(&school, &dalca, lessons[0]).await;
    terms["skills"] = json!(["halving"]);
    terms["intro"] = json!({"goal": "Find where a path ends.", "know": "Measure in the middle.",
        "picture": {"title": "A break shows as a step", "set": {"switch": "on"},
            "paths": ["BAT(battery).+ > 2.5 RD > F1(fuse 10).1-2 > W3: 1.5 RD > S1(switch).1-2 > 1.5 WH > H1(lamp).1-2 > 1.5 BN > G1(frame)/G2(frame) > 10 BK > BAT.-"],
            "faults": [{"place": "W3", "mode": "open", "at": 0.5}]}});
    let changed = ask(
        &school,
        &dalca,
        &format!("PUT /api/lessons/{}", lessons[0]),
        Some(terms.clone()),
    )
    .await;
    assert_eq!(changed.status, StatusCode::OK, "{}", changed.text);
    let first = changed.json()["id"].clone();
    // A picture that is none says where.
    terms["intro"]["picture"]["paths"][0] = json!("BAT(battery).+ > > ZZ");
    let wrong = ask(
        &school,
        &dalca,
        &format!("PUT /api/lessons/{first}"),
        Some(terms),
    )
    .await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        wrong.text.contains("intro.picture.paths[0]"),
        "{}",
        wrong.text
    );

    done(
        &school,
        &dalca,
        "PUT /api/classes/1/course",
        json!({"course": course}),
    )
    .await;
    for lesson in [&first, &json!(lessons[1])] {
        let give = json!({"class": 1, "lesson": lesson, "terms": {"sheets": "handed_in"}});
        done(&school, &dalca, "POST /api/assignments", give).await;
    }
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let own = ask(&school, &varga, "GET /api/attempts", None).await.json();
    let of = |title: &str| {
        let mut all = own.as_array().unwrap().iter();
        all.find(|a| a["title"] == title).unwrap()["id"].clone()
    };
    let (begun, next) = (of("Tug W8"), of("Tug W16"));
    let view = ask(&school, &varga, &format!("GET /api/attempts/{begun}"), None).await;
    assert_eq!(view.json()["intro"]["goal"], "Find where a path ends.");
    let stairs = &view.json()["intro"]["picture"]["staircase"]["stairs"];
    assert!(stairs.as_array().unwrap().len() > 5, "{stairs}");
    assert!(!view.text.contains("halving"), "a skill shows at the bench");
    let practised = format!("GET /api/attempts/{begun}/practised");
    assert_eq!(
        ask(&school, &varga, &practised, None).await.status,
        StatusCode::FORBIDDEN
    );
    for (path, who) in [
        ("GET /api/courses".to_owned(), &varga),
        (format!("GET /api/courses/{course}"), &varga),
        (format!("POST /api/courses/{course}/proof"), &varga),
        ("GET /api/skills".to_owned(), &varga),
    ] {
        assert_eq!(
            ask(&school, who, &path, None).await.status,
            StatusCode::FORBIDDEN,
            "{path}"
        );
    }
    let hand_in = act(0, "a", json!({"do": "hand_in"}));
    done(
        &school,
        &varga,
        &format!("POST /api/attempts/{begun}/steps"),
        hand_in,
    )
    .await;
    let told = ask(&school, &varga, &practised, None).await;
    assert_eq!(told.status, StatusCode::OK, "{}", told.text);
    let told = told.json();
    assert_eq!(told["skills"][0]["name"], "halving a path");
    assert_eq!(told["next"]["attempt"], next);
    // Of somebody else's attempt there is nothing to see.
    assert_eq!(
        ask(&school, &oduya, &practised, None).await.status,
        StatusCode::NOT_FOUND
    );
}

/// A course goes from one school to another with its lessons: all of it, or nothing.
#[tokio::test]
async fn a_course_is_exported_and_imported() {
    let school = School::new();
    let (dalca, course, _) = course_of(&school, &["W8", "W16"]).await;
    let document = format!("GET /api/courses/{course}/document");
    let whole = ask(&school, &dalca, &document, None).await;
    assert_eq!(whole.status, StatusCode::OK);
    let whole = whole.json();
    assert_eq!(whole["format"], "cimento/course");
    let other = School::new();
    let there = other.sign_in("dalca", "bench-and-meter").await;
    let import = "POST /api/courses/import";
    // Named by file, or with something that is no lesson, nothing comes in.
    let mut by_file = whole.clone();
    by_file["lessons"][1]["lesson"] = json!("05-will-not-crank.json");
    let refused = ask(&other, &there, import, Some(by_file)).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        refused.text.contains("lessons[1].lesson"),
        "{}",
        refused.text
    );
    let mut broken = whole.clone();
    broken["lessons"][1]["lesson"]["faults"] = json!([{"place": "W999", "mode": "open"}]);
    let refused = ask(&other, &there, import, Some(broken)).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        refused.text.contains("lessons[1].lesson.faults[0]"),
        "{}",
        refused.text
    );
    let lessons = ask(&other, &there, "GET /api/lessons", None).await.json();
    assert_eq!(lessons, json!([]));
    let made = ask(&other, &there, import, Some(whole)).await;
    assert_eq!(made.status, StatusCode::OK, "{}", made.text);
    let one = format!("GET /api/courses/{}", made.json()["id"]);
    let seen = ask(&other, &there, &one, None).await.json();
    assert_eq!(titles(&seen), ["Tug W8", "Tug W16"]);
    let lessons = ask(&other, &there, "GET /api/lessons", None).await.json();
    assert_eq!(lessons[0]["folder"], "Starting");
    // What ships with the program comes as files, and is written in one for a school.
    let demo = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/course/course.json");
    let out = std::process::Command::new(env!("CARGO_BIN_EXE_cimento"))
        .args(["course", demo, "--whole"])
        .output()
        .unwrap();
    let written: Value = serde_json::from_slice(&out.stdout).unwrap();
    let lessons = written["lessons"].as_array().unwrap();
    let listed: Value = serde_json::from_str(&std::fs::read_to_string(demo).unwrap()).unwrap();
    assert_eq!(lessons.len(), listed["lessons"].as_array().unwrap().len());
    assert!(lessons.iter().all(|l| l["lesson"]["circuit"].is_object()));
    let size = serde_json::to_string(&written).unwrap().len();
    assert!(size < 1_000_000, "{size} bytes are taken in at once");
}
