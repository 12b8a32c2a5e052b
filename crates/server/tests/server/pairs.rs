//! Two students at one bench: both see it, each expects and judges for themselves, and each has marks of their own.

use crate::common::{Answer, School, act, reading};
use crate::live::Events;
use axum::http::StatusCode;
use serde_json::{Value, json};

async fn ask(school: &School, who: &str, line: &str, body: Option<Value>) -> Answer {
    let (method, path) = line.split_once(' ').unwrap();
    school.ask(method, path, Some(who), body).await
}

/// A lesson given to both students at one bench: attempt 1 is the one's, 2 the other's.
async fn paired(lesson: Value, attempts: i32) -> (School, String, [String; 2]) {
    let school = School::new();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let mut whole = json!({"title": "Tug", "complaint": "It will not crank.", "circuit": 1, "predictions": true,
        "faults": [{"place": "W8", "mode": "open"}]});
    for (field, value) in lesson.as_object().unwrap() {
        whole[field] = value.clone();
    }
    let made = ask(&school, &dalca, "POST /api/lessons", Some(whole)).await;
    assert_eq!(made.status, StatusCode::OK, "{}", made.text);
    let given = json!({"class": 1, "lesson": made.json()["id"], "students": [2, 3], "pairs": [[2, 3]],
        "terms": {"sheets": "handed_in", "attempts": attempts}});
    let given = ask(&school, &dalca, "POST /api/assignments", Some(given)).await;
    assert_eq!(given.status, StatusCode::OK, "{}", given.text);
    let both = [
        school.sign_in("varga", "red-and-black").await,
        school.sign_in("oduya", "red-and-black").await,
    ];
    (school, dalca, both)
}

fn expecting(red: &str, expected: &str) -> Value {
    let mut action = reading(red);
    action["expected"] = json!(expected);
    action
}

fn answer(after: usize, request: &str, expected: &str) -> Option<Value> {
    Some(json!({"after": after, "request": request, "expects": {"expected": expected}}))
}

async fn ledger(school: &School, who: &str, attempt: i32) -> Value {
    let seen = ask(school, who, &format!("GET /api/attempts/{attempt}"), None).await;
    assert_eq!(seen.status, StatusCode::OK, "{}", seen.text);
    seen.json()["bench"]["ledger"].clone()
}

/// A reading is taken once both have written what they expect, and neither learns before what the other wrote, nor how
/// they judged it before they have judged it themselves.
#[tokio::test(flavor = "multi_thread")]
async fn neither_of_two_rides_along() {
    let (school, dalca, [varga, oduya]) = paired(json!({}), 1).await;
    let (own, theirs) = ("POST /api/attempts/1/steps", "POST /api/attempts/2/steps");
    let key = json!({"do": "set_control", "control": "key", "position": "start"});
    let done = ask(&school, &varga, own, Some(act(0, "key", key.clone()))).await;
    assert_eq!(done.status, StatusCode::OK, "{}", done.text);
    // The other stands at the same machine, and knows who turned the key.
    let seen = ask(&school, &oduya, "GET /api/attempts/2", None)
        .await
        .json();
    assert_eq!(seen["bench"]["steps"], 1);
    assert_eq!(seen["partner"], "varga");

    let mut events = Events::of(&school, &oduya, "/api/attempts/2/heard")
        .await
        .unwrap();
    assert_eq!(events.next().await.unwrap()["asked"], Value::Null);
    let asked = ask(
        &school,
        &varga,
        own,
        Some(act(1, "ask", expecting("K3.86", "11.9"))),
    )
    .await;
    assert_eq!(asked.status, StatusCode::OK, "{}", asked.text);
    assert_eq!(asked.json()["steps"], 1, "nothing is measured yet");
    let again = ask(
        &school,
        &varga,
        own,
        Some(act(1, "ask", expecting("K3.86", "11.9"))),
    )
    .await;
    assert_eq!(again.status, StatusCode::OK, "the same may be sent twice");
    let told = events.next().await.unwrap();
    assert_eq!(told["asked"]["own"], false);
    assert_eq!(told["asked"]["action"]["red"], "K3.86");
    let seen = ask(&school, &oduya, "GET /api/attempts/2", None).await;
    for text in [told.to_string(), seen.text] {
        assert!(!text.contains("11.9"), "{text}");
    }

    for (who, line, body, why) in [
        (&varga, own, act(1, "a", key.clone()), "take it back"),
        (
            &oduya,
            theirs,
            act(1, "b", key.clone()),
            "say first what you expect",
        ),
        (
            &oduya,
            theirs,
            act(1, "c", expecting("K3.87", "0")),
            "say first",
        ),
    ] {
        let refused = ask(&school, who, line, Some(body)).await;
        assert_eq!(refused.status, StatusCode::BAD_REQUEST, "{}", refused.text);
        assert!(refused.text.contains(why), "{}", refused.text);
    }
    // Nobody says what somebody else expects, and who asks does not answer.
    let mut forged = expecting("K3.86", "12");
    forged["partner"] = json!({"expected": "12"});
    let forged = ask(&school, &varga, own, Some(act(1, "f", forged))).await;
    assert_eq!(forged.status, StatusCode::BAD_REQUEST);
    let oneself = ask(
        &school,
        &varga,
        "POST /api/attempts/1/asked",
        answer(1, "o", "12"),
    )
    .await;
    assert_eq!(oneself.status, StatusCode::CONFLICT, "{}", oneself.text);
    let stranger = ask(
        &school,
        &varga,
        "POST /api/attempts/2/asked",
        answer(1, "s", "12"),
    )
    .await;
    assert_eq!(stranger.status, StatusCode::NOT_FOUND, "{}", stranger.text);

    let answers = "POST /api/attempts/2/asked";
    let empty = ask(&school, &oduya, answers, answer(1, "e", "")).await;
    assert_eq!(empty.status, StatusCode::BAD_REQUEST, "{}", empty.text);
    for _ in 0..2 {
        let taken = ask(&school, &oduya, answers, answer(1, "taken", "12.6")).await;
        assert_eq!(taken.status, StatusCode::OK, "{}", taken.text);
        assert_eq!(taken.json()["steps"], 2, "the same is done once");
    }
    let line = ledger(&school, &oduya, 2).await[0].clone();
    assert_eq!(
        (&line["expected"], &line["by_partner"]),
        (&json!("12.6"), &json!(true))
    );
    assert_eq!(line["partner"], json!({"expected": "11.9"}));
    let line = ledger(&school, &varga, 1).await[0].clone();
    assert_eq!(
        (&line["expected"], &line["by_partner"]),
        (&json!("11.9"), &Value::Null)
    );
    assert_eq!(line["partner"], json!({"expected": "12.6"}));

    let judge = |verdict: &str| json!({"do": "judge", "step": 2, "verdict": verdict});
    let judged = ask(&school, &varga, own, Some(act(2, "v", judge("normal")))).await;
    assert_eq!(judged.status, StatusCode::OK, "{}", judged.text);
    let line = ledger(&school, &oduya, 2).await[0].clone();
    assert_eq!(
        (&line["verdict"], &line["partner"]["verdict"]),
        (&Value::Null, &Value::Null)
    );
    let judged = ask(&school, &oduya, theirs, Some(act(3, "w", judge("too_low")))).await;
    assert_eq!(judged.status, StatusCode::OK, "{}", judged.text);
    let changed = judged.json()["ledger"][0].clone();
    assert_eq!(
        (&changed["verdict"], &changed["partner"]["verdict"]),
        (&json!("too_low"), &json!("normal"))
    );
    let line = ledger(&school, &varga, 1).await[0].clone();
    assert_eq!(
        (&line["verdict"], &line["partner"]["verdict"]),
        (&json!("normal"), &json!("too_low"))
    );

    // What is taken back is asked no more.
    let asked = ask(
        &school,
        &oduya,
        theirs,
        Some(act(4, "ask2", expecting("BAT.+", "12.6"))),
    )
    .await;
    assert_eq!(asked.status, StatusCode::OK, "{}", asked.text);
    let back = ask(&school, &varga, "DELETE /api/attempts/1/asked", None).await;
    assert_eq!(back.status, StatusCode::NO_CONTENT);
    let end = act(4, "end", json!({"do": "hand_in"}));
    let end = ask(&school, &oduya, theirs, Some(end)).await;
    assert_eq!(end.status, StatusCode::OK, "{}", end.text);

    // Marks: each their own of what they expected and how they judged, and the same of everything else.
    let mut sheets = Vec::new();
    for (attempt, who) in [(1, &varga), (2, &oduya)] {
        let sheet = ask(
            &school,
            &dalca,
            &format!("GET /api/attempts/{attempt}/sheet"),
            None,
        )
        .await;
        assert_eq!(sheet.status, StatusCode::OK, "{}", sheet.text);
        let seen = ask(
            &school,
            who,
            &format!("GET /api/attempts/{attempt}/sheet"),
            None,
        )
        .await;
        assert_eq!(seen.status, StatusCode::OK, "{}", seen.text);
        let other = ask(
            &school,
            who,
            &format!("GET /api/attempts/{}/sheet", 3 - attempt),
            None,
        )
        .await;
        assert_eq!(other.status, StatusCode::NOT_FOUND);
        sheets.push(sheet.json());
    }
    let lines = sheets[0]["lines"].as_array().unwrap();
    for (n, line) in lines.iter().enumerate() {
        let other = &sheets[1]["lines"][n];
        let own = ["prediction", "verdicts"].contains(&line["criterion"].as_str().unwrap());
        assert_eq!(line == other, !own, "{line}\n{other}");
    }
}

/// Where nothing is to be predicted, what one does is done at once, and both may do something in turn.
#[tokio::test]
async fn without_predictions_two_work_at_once() {
    let (school, _, [varga, oduya]) = paired(json!({"predictions": false}), 1).await;
    for step in 0..6 {
        let (who, line) = match step % 2 {
            0 => (&varga, "POST /api/attempts/1/steps"),
            _ => (&oduya, "POST /api/attempts/2/steps"),
        };
        let body = act(step, &format!("r{step}"), reading("K3.86"));
        let done = ask(&school, who, line, Some(body)).await;
        assert_eq!(done.status, StatusCode::OK, "{}", done.text);
        assert_eq!(done.json()["steps"], step + 1);
    }
    // Both at once: one is first, and the other is told to look again.
    let one = act(6, "x", reading("BAT.+"));
    let other = act(6, "y", reading("BAT.+"));
    let (one, other) = tokio::join!(
        ask(&school, &varga, "POST /api/attempts/1/steps", Some(one)),
        ask(&school, &oduya, "POST /api/attempts/2/steps", Some(other)),
    );
    let mut came = [one.status.as_u16(), other.status.as_u16()];
    came.sort_unstable();
    assert_eq!(came, [200, 409], "{} {}", one.text, other.text);
    for (who, attempt) in [(&varga, 1), (&oduya, 2)] {
        let lines = ledger(&school, who, attempt).await;
        let by = |n: usize| lines[n]["by_partner"] == true;
        assert_eq!(lines.as_array().unwrap().len(), 7);
        assert_eq!([by(0), by(1)], [attempt == 2, attempt == 1]);
    }
}

/// A pair has its further attempts as a pair; an instructor lets each go on alone; and what is erased of the one leaves
/// the other's record whole.
#[tokio::test]
async fn two_begin_again_together_and_part() {
    let (school, dalca, [varga, oduya]) = paired(json!({}), 2).await;
    // One who asks does not keep the other from handing in.
    let open = act(0, "open", expecting("K3.86", "12"));
    ask(&school, &oduya, "POST /api/attempts/2/steps", Some(open)).await;
    let end = act(0, "end", json!({"do": "hand_in"}));
    let end = ask(&school, &varga, "POST /api/attempts/1/steps", Some(end)).await;
    assert_eq!(end.status, StatusCode::OK, "{}", end.text);
    let asked = school.store().asked([1, 2]).unwrap();
    assert_eq!(asked, None, "nothing is asked of what is handed in");
    let begun = ask(&school, &oduya, "POST /api/attempts/2/again", None).await;
    assert_eq!(begun.status, StatusCode::OK, "{}", begun.text);
    let id = begun.json()["id"].as_i64().unwrap();
    let once = ask(&school, &varga, "POST /api/attempts/1/again", None).await;
    assert_eq!(once.status, StatusCode::BAD_REQUEST, "{}", once.text);
    let own = ask(&school, &varga, "GET /api/attempts", None).await.json();
    let new = own
        .as_array()
        .unwrap()
        .iter()
        .find(|a| a["no"] == 2)
        .unwrap();
    assert_eq!(new["partner"], "oduya");
    let (first, second) = (new["id"].as_i64().unwrap(), id);

    let steps = |id: i64| format!("POST /api/attempts/{id}/steps");
    let asked = ask(
        &school,
        &varga,
        &steps(first),
        Some(act(0, "a", expecting("K3.86", "12"))),
    )
    .await;
    assert_eq!(asked.json()["steps"], 0, "{}", asked.text);
    for (who, status) in [(&varga, 403), (&dalca, 204), (&dalca, 404)] {
        let parted = ask(
            &school,
            who,
            &format!("DELETE /api/attempts/{second}/partner"),
            None,
        )
        .await;
        assert_eq!(parted.status.as_u16(), status, "{}", parted.text);
    }
    let alone = ask(
        &school,
        &varga,
        &steps(first),
        Some(act(0, "b", expecting("K3.86", "12"))),
    )
    .await;
    assert_eq!(alone.json()["steps"], 1, "{}", alone.text);
    let other = ask(
        &school,
        &oduya,
        &format!("GET /api/attempts/{second}"),
        None,
    )
    .await
    .json();
    assert_eq!(
        (&other["bench"]["steps"], &other["partner"]),
        (&json!(0), &Value::Null)
    );

    school.store().erase_person(2, false).unwrap();
    let left = ask(&school, &oduya, "GET /api/attempts/2", None)
        .await
        .json();
    assert_eq!(
        (&left["bench"]["steps"], &left["partner"]),
        (&json!(1), &Value::Null)
    );
}

/// Pairs are of two different students who are given the lesson, each in one pair.
#[tokio::test]
async fn who_is_in_no_pair_works_alone() {
    let school = School::new();
    let dalca = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    for pairs in [
        json!([[2, 2]]),
        json!([[2, 3], [3, 2]]),
        json!([[2, 1]]),
        json!([[2, 99]]),
    ] {
        let body =
            json!({"class": 1, "lesson": 1, "students": [2, 3], "pairs": pairs, "terms": {}});
        let refused = ask(&school, &dalca, "POST /api/assignments", Some(body)).await;
        assert_eq!(
            refused.status,
            StatusCode::NOT_FOUND,
            "{pairs}: {}",
            refused.text
        );
    }
    let kept = ask(&school, &dalca, "GET /api/assignments", None)
        .await
        .json();
    assert_eq!(kept.as_array().unwrap().len(), 1, "nothing is half given");
    // No more when faults are dealt: no lesson stays behind.
    let faults = ["W8", "W10"].map(|w| json!({"place": w, "mode": "open"}));
    let lesson = json!({"title": "Class", "complaint": "It will not crank.", "circuit": 1, "faults": faults, "predictions": true});
    let band = json!({"least_minutes": 0, "most_minutes": 600});
    let body = json!({"lesson": lesson, "band": band, "class": 1, "students": [2, 3], "pairs": [[2, 99]], "seed": 7});
    let refused = ask(&school, &dalca, "POST /api/lessons/variants", Some(body)).await;
    assert_eq!(refused.status, StatusCode::NOT_FOUND, "{}", refused.text);
    let lessons = ask(&school, &dalca, "GET /api/lessons", None).await.json();
    assert_eq!(lessons.as_array().unwrap().len(), 1, "{lessons}");
}

/// A group is kept under its name, replaced by one of that name, and forgotten; it holds students of its class alone.
#[tokio::test]
async fn students_are_grouped_by_who_teaches_them() {
    let school = School::new();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let keep = async |who: &str, name: &str, students: Value| {
        let body = json!({"name": name, "students": students});
        ask(&school, who, "POST /api/classes/1/groups", Some(body))
            .await
            .status
            .as_u16()
    };
    assert_eq!(keep(&varga, "A", json!([2])).await, 403);
    assert_eq!(keep(&dalca, "A", json!([2, 3])).await, 200);
    assert_eq!(keep(&dalca, "A", json!([3])).await, 200);
    assert_eq!(keep(&dalca, "B", json!([2])).await, 200);
    assert_eq!(keep(&dalca, "C", json!([])).await, 400);
    assert_eq!(keep(&dalca, "two\nlines", json!([2])).await, 400);
    assert_eq!(keep(&dalca, "  ", json!([2])).await, 400);
    assert_eq!(keep(&dalca, "C", json!([1])).await, 404);
    let groups = async || {
        ask(&school, &dalca, "GET /api/classes/1/groups", None)
            .await
            .json()
    };
    let all = groups().await;
    let named: Vec<(&Value, &Value)> = all
        .as_array()
        .unwrap()
        .iter()
        .map(|g| (&g["name"], &g["students"]))
        .collect();
    assert_eq!(
        named,
        [(&json!("A"), &json!([3])), (&json!("B"), &json!([2]))]
    );
    // Who leaves the class is in none of its groups.
    school.store().leave(1, 3).unwrap();
    assert_eq!(groups().await[0]["students"], json!([]));
    let forget = format!("DELETE /api/classes/1/groups/{}", all[1]["id"]);
    for status in [204, 404] {
        assert_eq!(
            ask(&school, &dalca, &forget, None).await.status.as_u16(),
            status
        );
    }
    let others = ask(&school, &varga, "GET /api/classes/1/groups", None).await;
    assert_eq!(others.status, StatusCode::FORBIDDEN);
}
