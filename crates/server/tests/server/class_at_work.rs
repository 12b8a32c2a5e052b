//! What a class is asked and what its work tells: votes, insight, where one begins, and marks handed on.

use axum::http::StatusCode;
use serde_json::{Value, json};

use crate::common::{Answer, School, act, reading};
use crate::live::Events;

async fn ask(school: &School, who: &str, line: &str, body: Option<Value>) -> Answer {
    let (method, path) = line.split_once(' ').unwrap();
    school.ask(method, path, Some(who), body).await
}

async fn works(school: &School, who: &str, attempt: i32, steps: Vec<Value>) {
    for (n, step) in steps.into_iter().enumerate() {
        let line = format!("POST /api/attempts/{attempt}/steps");
        let done = ask(school, who, &line, Some(act(n, &n.to_string(), step))).await;
        assert_eq!(done.status, StatusCode::OK, "{}", done.text);
    }
}

fn named(place: &str) -> Value {
    json!({"do": "name_fault", "place": place, "mode": "open"})
}

/// A class of which both have handed in: varga measured and named the right wire, oduya only guessed a wrong one.
async fn done() -> (School, String, [String; 2]) {
    let school = School::new();
    let dalca = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let end = || json!({"do": "hand_in"});
    let right = vec![reading("BAT.+"), reading("K3.86"), named("W8"), end()];
    works(&school, &varga, 1, right).await;
    let suspect = json!({"do": "suspect", "places": ["W12"]});
    works(
        &school,
        &oduya,
        2,
        vec![reading("K3.86"), suspect, named("W12"), end()],
    )
    .await;
    for attempt in [1, 2] {
        let line = format!("GET /api/attempts/{attempt}/sheet");
        let sheet = ask(&school, &dalca, &line, None).await;
        assert_eq!(sheet.status, StatusCode::OK, "{}", sheet.text);
    }
    (school, dalca, [varga, oduya])
}

/// What two attempts have in common, counted by hand; and none of it for a student.
#[tokio::test]
async fn insight_counts_what_misled_and_where_was_measured() {
    let (school, dalca, [varga, _]) = done().await;
    let line = "GET /api/assignments/1/insight";
    let told = ask(&school, &dalca, line, None).await.json();
    assert_eq!(
        (&told["attempts"], &told["handed_in"]),
        (&json!(2), &json!(2))
    );
    assert_eq!(
        told["misled"],
        json!([
            {"what": "W12 named", "attempts": 1, "times": 1},
            {"what": "W12 suspected", "attempts": 1, "times": 1},
        ])
    );
    let at = |point: &str| {
        let all = told["measured"].as_array().unwrap();
        all.iter()
            .find(|m| m["what"] == point)
            .map(|m| (m["attempts"].clone(), m["times"].clone()))
    };
    assert_eq!(at("K3.86"), Some((json!(2), json!(2))));
    assert_eq!(at("BAT.+"), Some((json!(1), json!(1))));
    assert_eq!(at("W8"), None);
    let lines: Vec<&Value> = told["lines"]
        .as_array()
        .unwrap()
        .iter()
        .map(|l| &l["what"])
        .collect();
    assert!(lines.contains(&&json!("Conclusion")), "{lines:?}");
    // Two are too few to blame the lesson.
    assert_eq!(told["doubts"], json!([]));
    let csv = ask(&school, &dalca, "GET /api/assignments/1/insight.csv", None).await;
    assert!(csv.text.contains("misled,W12 named,1,2,1"), "{}", csv.text);
    assert!(csv.text.contains("measured,K3.86,2,2,2"), "{}", csv.text);

    // Of what the lesson practises it has the share of all marks; a skill that this program does not know is left out.
    school
        .sql(r#"UPDATE lessons SET document = json_set(document, '$.skills', json('["halving","current_path","telepathy"]'))"#)
        .unwrap();
    let class = ask(&school, &dalca, "GET /api/classes/1/insight", None)
        .await
        .json();
    let skills = class["skills"].as_array().unwrap();
    let named: Vec<&Value> = skills.iter().map(|s| &s["criterion"]).collect();
    assert_eq!(named, ["current_path", "halving"]);
    assert_eq!(skills[0]["weeks"][0]["sheets"], 2);
    let mut all = 0.0;
    for attempt in [1, 2] {
        let sheet = ask(
            &school,
            &dalca,
            &format!("GET /api/attempts/{attempt}/sheet"),
            None,
        )
        .await;
        all += sheet.json()["total"].as_f64().unwrap() / 200.0;
    }
    let share = skills[0]["weeks"][0]["share"].as_f64().unwrap();
    assert!((share - all).abs() < 1e-6, "{share} {all}");
    let criteria = class["criteria"].as_array().unwrap();
    let conclusion = criteria
        .iter()
        .find(|c| c["criterion"] == "conclusion")
        .unwrap();
    assert_eq!(conclusion["weeks"][0]["sheets"], 2);
    let of = |who: &str| {
        let all = conclusion["students"].as_array().unwrap();
        let own = all.iter().find(|s| s["display"] == who).unwrap();
        own["share"].as_f64().unwrap()
    };
    assert!(of("varga") > of("oduya"), "{conclusion}");
    let mean = 0.5 * (of("varga") + of("oduya"));
    let week = conclusion["weeks"][0]["share"].as_f64().unwrap();
    assert!((mean - week).abs() < 1e-9);
    for path in [
        "/api/assignments/1/insight",
        "/api/assignments/1/insight.csv",
        "/api/classes/1/insight",
    ] {
        let refused = ask(&school, &varga, &format!("GET {path}"), None).await;
        assert_eq!(refused.status, StatusCode::FORBIDDEN, "{path}");
    }
}

/// What was marked stands where a student begins, with what it says to practise; others' does not.
#[tokio::test]
async fn one_begins_with_what_came_of_one_s_work() {
    let (school, dalca, [varga, oduya]) = done().await;
    let line = "GET /api/start/marked";
    let came = ask(&school, &varga, line, None).await.json();
    assert_eq!(came["marked"][0]["attempt"], 1);
    assert_eq!(came["marked"].as_array().unwrap().len(), 1);
    assert!(!came["practise"].as_str().unwrap().is_empty());
    assert_eq!(
        came["lesson"],
        Value::Null,
        "nothing to practise on was given"
    );
    let doc = json!({
        "title": "Learn the tools", "complaint": "", "circuit": 1, "faults": [], "purpose": "tools", "predictions": false
    });
    let lesson = ask(&school, &dalca, "POST /api/lessons", Some(doc))
        .await
        .json()["id"]
        .clone();
    let give = json!({"lesson": lesson, "class": 1});
    let given = ask(&school, &dalca, "POST /api/assignments", Some(give)).await;
    assert_eq!(given.status, StatusCode::OK, "{}", given.text);
    let again = ask(&school, &varga, line, None).await.json();
    assert_eq!(again["lesson"]["title"], "Learn the tools");
    let book = ask(&school, &dalca, "GET /api/classes/1/book", None)
        .await
        .json();
    let rows = book["rows"].as_array().unwrap();
    let own = rows.iter().find(|r| r["display"] == "varga").unwrap();
    assert_eq!(came["marked"][0]["says"], own["cells"][0]["says"]);
    let other = ask(&school, &oduya, line, None).await.json();
    assert_eq!(other["marked"][0]["attempt"], 2);
    // While it is hidden, nothing of it is told.
    let terms = json!({"sheets": "released"});
    let hidden = ask(&school, &dalca, "PUT /api/assignments/1", Some(terms)).await;
    assert_eq!(hidden.status, StatusCode::NO_CONTENT, "{}", hidden.text);
    let came = ask(&school, &varga, line, None).await.json();
    assert_eq!(
        (&came["marked"], &came["practise"]),
        (&json!([]), &json!(""))
    );
    assert_eq!(
        ask(&school, &dalca, line, None).await.status,
        StatusCode::FORBIDDEN
    );
}

/// Who did something dangerous needs help, and who has learnt nothing for minutes; who is done does not.
#[tokio::test]
async fn who_needs_help_is_seen_where_one_begins() {
    let school = School::new();
    let dalca = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    works(&school, &varga, 1, vec![reading("K3.86")]).await;
    let across = json!({"do": "join", "from": "BAT.+", "to": "BAT.-", "fused": false});
    works(&school, &oduya, 2, vec![across]).await;
    // The lesson is thought through by then.
    ask(&school, &dalca, "GET /api/lessons/1/prospect", None).await;
    let line = "GET /api/start/help";
    let help = ask(&school, &dalca, line, None).await.json();
    let all = help.as_array().unwrap();
    assert_eq!(all.len(), 1, "{help}");
    assert_eq!(
        (&all[0]["student"], &all[0]["attempt"]),
        (&json!("oduya"), &json!(2))
    );
    assert!(all[0]["danger"].is_string(), "{help}");
    assert!(
        !help.to_string().contains("W8"),
        "the fault stands nowhere in it"
    );
    assert_eq!(
        ask(&school, &varga, line, None).await.status,
        StatusCode::FORBIDDEN
    );
    let end = ask(
        &school,
        &oduya,
        "POST /api/attempts/2/steps",
        Some(act(1, "end", json!({"do": "hand_in"}))),
    );
    assert_eq!(end.await.status, StatusCode::OK);
    assert_eq!(ask(&school, &dalca, line, None).await.json(), json!([]));
}

/// A class predicts on its own screens: nobody learns the reading or another's answer before it is shown, and the
/// faulted machine is asked about by nobody who still works on it.
#[tokio::test]
async fn a_class_votes_before_the_reading_is_shown() {
    let school = School::new();
    let dalca = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let askable = ask(&school, &dalca, "GET /api/assignments/1/askable", None)
        .await
        .json();
    assert_eq!(askable["faulted"], false);
    assert_eq!(askable["negative"], "BAT.-");
    let vote = "/api/assignments/1/vote";
    let question = |faulted: bool| json!({"state": "start", "function": "dc_volts", "red": "K3.86", "black": "BAT.-", "faulted": faulted});
    let early = ask(
        &school,
        &dalca,
        &format!("POST {vote}"),
        Some(question(true)),
    )
    .await;
    assert_eq!(early.status, StatusCode::BAD_REQUEST);
    assert!(early.text.contains("still at work"), "{}", early.text);
    for bad in [
        json!({"state": "flying", "function": "dc_volts", "red": "K3.86"}),
        json!({"state": "start", "function": "dc_volts", "red": "nowhere"}),
    ] {
        let refused = ask(&school, &dalca, &format!("POST {vote}"), Some(bad)).await;
        assert_eq!(refused.status, StatusCode::BAD_REQUEST, "{}", refused.text);
    }
    let none = ask(
        &school,
        &varga,
        "PUT /api/attempts/1/vote",
        Some(json!({"expected": "12"})),
    )
    .await;
    assert_eq!(none.status, StatusCode::NOT_FOUND);
    let asked = ask(
        &school,
        &dalca,
        &format!("POST {vote}"),
        Some(question(false)),
    )
    .await;
    assert_eq!(asked.status, StatusCode::NO_CONTENT, "{}", asked.text);

    let says = async |who: &str, attempt: i32, expected: &str| {
        let line = format!("PUT /api/attempts/{attempt}/vote");
        ask(&school, who, &line, Some(json!({"expected": expected})))
            .await
            .status
    };
    assert_eq!(says(&varga, 1, "lots").await, StatusCode::BAD_REQUEST);
    assert_eq!(says(&varga, 1, "3 V").await, StatusCode::NO_CONTENT);
    assert_eq!(
        says(&varga, 1, "11,4").await,
        StatusCode::NO_CONTENT,
        "one may think again"
    );
    assert_eq!(says(&oduya, 2, "0").await, StatusCode::NO_CONTENT);
    assert_ne!(
        says(&oduya, 1, "0").await,
        StatusCode::NO_CONTENT,
        "not at another's bench"
    );
    let live = "GET /api/assignments/1/live";
    let before = ask(&school, &dalca, live, None).await.json()["vote"].clone();
    assert_eq!(
        (&before["answered"], &before["shown"]),
        (&json!(2), &Value::Null)
    );
    assert!(
        !before.to_string().contains("true"),
        "nothing says yet who is right: {before}"
    );

    let shown = ask(&school, &dalca, &format!("PUT {vote}/shown"), None).await;
    assert_eq!(shown.status, StatusCode::NO_CONTENT);
    assert_eq!(
        says(&oduya, 2, "11.4").await,
        StatusCode::BAD_REQUEST,
        "too late"
    );
    let after = ask(&school, &dalca, live, None).await.json()["vote"].clone();
    // The healthy tug has 11.44 V at its relay while it cranks (the check value of the papers).
    assert_eq!(after["shown"], "11.44 V");
    let right: Vec<(&Value, &Value)> = after["answers"]
        .as_array()
        .unwrap()
        .iter()
        .map(|a| (&a["says"], &a["right"]))
        .collect();
    assert!(
        right.contains(&(&json!("11.40 V"), &json!(true))),
        "{right:?}"
    );
    assert!(
        right.iter().any(|(_, right)| **right == json!(false)),
        "{right:?}"
    );
    let ended = ask(&school, &dalca, &format!("DELETE {vote}"), None).await;
    assert_eq!(ended.status, StatusCode::NO_CONTENT);
    let gone = ask(&school, &dalca, live, None).await.json()["vote"].clone();
    assert_eq!(gone, Value::Null);
    for line in [
        format!("POST {vote}"),
        format!("PUT {vote}/shown"),
        format!("DELETE {vote}"),
    ] {
        let refused = ask(&school, &varga, &line, Some(question(false))).await;
        assert_eq!(refused.status, StatusCode::FORBIDDEN, "{line}");
    }

    // Once both are done, and not when marks are shown before, the faulted machine may be asked about: nothing reaches its
    // relay.
    works(&school, &varga, 1, vec![json!({"do": "hand_in"})]).await;
    let released = ask(&school, &dalca, "PUT /api/assignments/1/release", None).await;
    assert_eq!(released.status, StatusCode::NO_CONTENT, "{}", released.text);
    let early = ask(
        &school,
        &dalca,
        &format!("POST {vote}"),
        Some(question(true)),
    )
    .await;
    assert_eq!(early.status, StatusCode::BAD_REQUEST);
    works(&school, &oduya, 2, vec![json!({"do": "hand_in"})]).await;
    let late = ask(
        &school,
        &dalca,
        &format!("POST {vote}"),
        Some(question(true)),
    )
    .await;
    assert_eq!(late.status, StatusCode::NO_CONTENT, "{}", late.text);
    assert_eq!(says(&varga, 1, "0").await, StatusCode::NO_CONTENT);
    // Who is given it once more is asked no more, at neither of their benches.
    let line = "POST /api/assignments/1/again";
    let again = ask(&school, &dalca, line, Some(json!({"student": 3}))).await;
    assert_eq!(again.status, StatusCode::OK, "{}", again.text);
    assert_eq!(says(&oduya, 2, "0").await, StatusCode::NOT_FOUND);
    ask(&school, &dalca, &format!("PUT {vote}/shown"), None).await;
    let told = ask(&school, &dalca, live, None).await.json()["vote"]["shown"].clone();
    assert!(told.as_str().unwrap().starts_with("0.0"), "{told}");
    let hears = async |who: &str, attempt: i32| {
        let line = format!("/api/attempts/{attempt}/heard");
        let mut events = Events::of(&school, who, &line).await.unwrap();
        events.next().await.unwrap()["vote"].clone()
    };
    assert_eq!(hears(&varga, 1).await["shown"], told);
    assert_eq!(hears(&oduya, 2).await, Value::Null);
}

/// Categories weigh as their class says, and the results go to a student information system in the form that it reads.
#[tokio::test]
async fn marks_are_weighed_and_handed_on() {
    let (school, dalca, [varga, _]) = done().await;
    let terms = json!({"category": "Bench work"});
    let set = ask(&school, &dalca, "PUT /api/assignments/1", Some(terms)).await;
    assert_eq!(set.status, StatusCode::NO_CONTENT, "{}", set.text);
    let weigh = async |weight: f64| {
        let body = json!({"categories": [{"category": "Bench work", "weight": weight}]});
        ask(&school, &dalca, "PUT /api/classes/1/weights", Some(body)).await
    };
    assert_eq!(weigh(-1.0).await.status, StatusCode::BAD_REQUEST);
    assert_eq!(weigh(2.0).await.status, StatusCode::NO_CONTENT);
    let book = ask(&school, &dalca, "GET /api/classes/1/book", None)
        .await
        .json();
    assert_eq!(
        book["categories"],
        json!([{"category": "Bench work", "weight": 2.0}])
    );
    assert_eq!(
        book["rows"][0]["mean"],
        book["rows"][0]["cells"][0]["final"]
    );
    assert_eq!(weigh(0.0).await.status, StatusCode::NO_CONTENT);
    let book = ask(&school, &dalca, "GET /api/classes/1/book", None)
        .await
        .json();
    assert_eq!(
        book["rows"][0]["mean"],
        Value::Null,
        "what weighs nothing makes no mean"
    );

    let file = async |who: &str, name: &str| {
        ask(
            &school,
            who,
            &format!("GET /api/classes/1/oneroster/{name}"),
            None,
        )
        .await
    };
    let rows = |text: &str| -> Vec<Vec<String>> {
        let mut all = csv::Reader::from_reader(text.as_bytes());
        let rows = all
            .records()
            .map(|r| r.unwrap().iter().map(str::to_owned).collect());
        rows.collect()
    };
    let categories = rows(&file(&dalca, "categories.csv").await.text);
    let items = rows(&file(&dalca, "lineItems.csv").await.text);
    let results = rows(&file(&dalca, "results.csv").await.text);
    assert_eq!(categories[0][3], "Bench work");
    assert_eq!(
        (&items[0][3], &items[0][8]),
        (&"Tug".to_owned(), &categories[0][0])
    );
    assert_eq!(results.len(), 2);
    for result in &results {
        assert_eq!(result[3], items[0][0], "a result is of its line item");
        assert_eq!(result[5], "fully graded");
        assert!(result[6].parse::<f64>().is_ok(), "{result:?}");
        assert_eq!(result[7].len(), "2026-11-29".len(), "{result:?}");
    }
    assert_eq!(
        file(&dalca, "secrets.csv").await.status,
        StatusCode::NOT_FOUND
    );
    assert_eq!(
        file(&varga, "results.csv").await.status,
        StatusCode::FORBIDDEN
    );
}

/// A class is seen as it sits: two who change places, one whose place is taken away, nobody outside the room.
#[tokio::test]
async fn a_class_is_seen_as_it_sits() {
    let school = School::new();
    let dalca = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let sit = async |who: &str, person: i32, column: i32, row: i32| {
        let line = format!("PUT /api/classes/1/seats/{person}");
        let body = json!({"column": column, "row": row});
        ask(&school, who, &line, Some(body)).await.status
    };
    let seats = async || {
        let live = ask(&school, &dalca, "GET /api/assignments/1/live", None)
            .await
            .json();
        let of = |name: &str| {
            let all = live["benches"].as_array().unwrap().clone();
            let own = all.into_iter().find(|b| b["display"] == name).unwrap();
            own["seat"].clone()
        };
        (of("varga"), of("oduya"))
    };
    let at = |column: i32, row: i32| json!({"column": column, "row": row});
    assert_eq!(seats().await, (Value::Null, Value::Null));
    assert_eq!(sit(&dalca, 2, 0, 0).await, StatusCode::NO_CONTENT);
    assert_eq!(sit(&dalca, 3, 3, 1).await, StatusCode::NO_CONTENT);
    assert_eq!(seats().await, (at(0, 0), at(3, 1)));
    // Who is put where another sits changes places with them.
    assert_eq!(sit(&dalca, 2, 3, 1).await, StatusCode::NO_CONTENT);
    assert_eq!(seats().await, (at(3, 1), at(0, 0)));
    for (who, person, column, row, status) in [
        (&dalca, 2, 10, 0, StatusCode::BAD_REQUEST),
        (&dalca, 2, 0, -1, StatusCode::BAD_REQUEST),
        (&dalca, 99, 0, 0, StatusCode::NOT_FOUND),
        (&varga, 2, 1, 1, StatusCode::FORBIDDEN),
    ] {
        assert_eq!(
            sit(who, person, column, row).await,
            status,
            "{person} {column} {row}"
        );
    }
    assert_eq!(seats().await, (at(3, 1), at(0, 0)));
    let up = ask(&school, &dalca, "DELETE /api/classes/1/seats/2", None).await;
    assert_eq!(up.status, StatusCode::NO_CONTENT);
    assert_eq!(seats().await, (Value::Null, at(0, 0)));
    let other = school.store();
    other
        .add_user(
            "keller",
            "keller",
            cimento_store::Role::Instructor,
            "red-and-black",
        )
        .unwrap();
    let keller = school.sign_in("keller", "red-and-black").await;
    assert_eq!(sit(&keller, 2, 1, 1).await, StatusCode::NOT_FOUND);
}
