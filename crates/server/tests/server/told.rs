//! What the customer and the book say, over the API: to whoever asks, and not before.

use crate::common::{Attempt, School, ask};
use axum::http::StatusCode;
use serde_json::{Value, json};

#[tokio::test]
async fn what_is_told_is_told_to_whoever_asks() {
    let school = School::with_circuit("sweeper-lamps");
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let told = json!({"earlier": [{"when": "in March", "what": "Bulb renewed.", "misleads": true}],
        "answers": [{"question": "water", "says": "Since the rain.", "misleads": true}]});
    let lesson = json!({"title": "A lamp", "complaint": "A lamp is dark.", "circuit": 1,
        "faults": [{"place": "W15", "mode": "open"}], "predictions": false, "told": told});
    let (status, made) = ask(&school, &dalca, "POST /api/lessons", Some(lesson)).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    school.give(&dalca, &made["id"], &[2, 3]).await;

    let words = ["Bulb renewed", "Since the rain", "misleads"];
    let silent = |view: &Value, words: &[&str]| {
        let text = view.to_string();
        assert!(words.iter().all(|w| !text.contains(w)), "{text}");
    };
    let (_, view) = ask(&school, &varga, "GET /api/attempts/1", None).await;
    silent(&view, &words);
    assert_eq!(view["questions"][0]["text"], "When did it begin?");
    let mut bench = Attempt::of(&school, 1);
    let question = json!({"do": "ask_customer", "question": "water"});
    assert_eq!(
        bench.step(&oduya, question.clone()).await.0,
        StatusCode::NOT_FOUND
    );
    let (status, said) = bench.step(&varga, question.clone()).await;
    assert_eq!(status, StatusCode::OK, "{said}");
    assert_eq!(said["told"][0]["text"], "Since the rain.");
    silent(&said, &["Bulb renewed", "misleads"]);
    let (status, why) = bench.step(&varga, question).await;
    assert_eq!(status, StatusCode::BAD_REQUEST, "{why}");
    let (_, read) = bench.step(&varga, json!({"do": "read_history"})).await;
    assert_eq!(read["told"][0]["text"], "in March: Bulb renewed.");
    assert_eq!(read["minutes"], 2.0);
    // It stays with who asked, and there it is found again.
    let (_, view) = ask(&school, &varga, "GET /api/attempts/1", None).await;
    assert_eq!(view["bench"]["told"].as_array().unwrap().len(), 2);
    silent(&view, &["misleads"]);
    let (_, other) = ask(&school, &oduya, "GET /api/attempts/2", None).await;
    silent(&other, &words);

    // It is its instructor's to change.
    let (_, mut lesson) = ask(&school, &dalca, "GET /api/lessons/1", None).await;
    let mut terms = lesson["terms"].take();
    assert_eq!(terms["told"], told);
    terms["told"]["answers"][0]["says"] = json!(" ");
    let line = "PUT /api/lessons/1";
    let (status, why) = ask(&school, &dalca, line, Some(terms.clone())).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(why.to_string().contains("told.answers[0].says"), "{why}");
    terms["told"] = json!({});
    assert!(ask(&school, &dalca, line, Some(terms)).await.0.is_success());
}
