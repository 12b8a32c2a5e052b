//! A sketch over the API: one's own, from lesson to lesson on a machine, and nobody else's.

use axum::http::StatusCode;
use serde_json::json;

use crate::common::{School, ask};

#[tokio::test]
async fn a_sketch_stays_with_who_made_it() {
    let school = School::new();
    let fault = json!({"place": "W8", "mode": "open"});
    let dalca = school.give_out(fault.clone()).await;
    school.give_out(fault).await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let marks = json!({"marks": [
        {"at": "W8", "text": "measured here"},
        {"at": "S1.50", "to": "K3.86", "text": ""},
    ]});
    let line = "PUT /api/attempts/1/sketch";
    let empty = json!({"marks": []});
    assert_eq!(
        ask(&school, &varga, "GET /api/attempts/1/sketch", None)
            .await
            .1,
        empty
    );
    let (status, why) = ask(&school, &varga, line, Some(marks.clone())).await;
    assert_eq!(status, StatusCode::NO_CONTENT, "{why}");
    // The next lesson on the machine has it too, and so have notebook and one's own work.
    let (_, next) = ask(&school, &varga, "GET /api/attempts/3/sketch", None).await;
    assert_eq!(next["marks"][0], marks["marks"][0]);
    let (_, book) = ask(&school, &varga, "GET /api/notebook", None).await;
    assert_eq!(book[0]["sketch"][1]["to"], "K3.86");
    let (_, work) = ask(&school, &varga, "GET /api/me/work", None).await;
    assert_eq!(work["sketches"][0]["machine"], "Baggage tug, starting");
    // Nobody else has it, whoever they are.
    for (who, of) in [(&oduya, 1), (&dalca, 1)] {
        let status = ask(
            &school,
            who,
            &format!("GET /api/attempts/{of}/sketch"),
            None,
        )
        .await
        .0;
        assert!(
            status == StatusCode::NOT_FOUND || status == StatusCode::FORBIDDEN,
            "{status}"
        );
        let status = ask(&school, who, line, Some(marks.clone())).await.0;
        assert!(
            status == StatusCode::NOT_FOUND || status == StatusCode::FORBIDDEN,
            "{status}"
        );
    }
    let (_, other) = ask(&school, &oduya, "GET /api/attempts/2/sketch", None).await;
    assert_eq!(other, empty);
    // What is none is refused, and what is there stays.
    let long = "x".repeat(61);
    for bad in [
        json!({"marks": [{"at": "", "text": "here"}]}),
        json!({"marks": [{"at": "W8"}]}),
        json!({"marks": [{"at": "W8", "text": long}]}),
        json!({"marks": [{"at": "W8", "text": "two\nlines"}]}),
        json!({"marks": vec![json!({"at": "W8", "text": "x"}); 101]}),
    ] {
        let (status, why) = ask(&school, &varga, line, Some(bad)).await;
        assert_eq!(status, StatusCode::BAD_REQUEST, "{why}");
    }
    assert_eq!(
        ask(&school, &varga, "GET /api/attempts/1/sketch", None)
            .await
            .1["marks"],
        next["marks"]
    );
    let (status, _) = ask(&school, &varga, line, Some(empty)).await;
    assert_eq!(status, StatusCode::NO_CONTENT);
    assert_eq!(
        ask(&school, &varga, "GET /api/notebook", None).await.1,
        json!([])
    );
}
