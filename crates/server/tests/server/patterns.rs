//! Pictures of screens to choose among, over the API: of one's own bench, and the same whatever is wrong.

use crate::common::{Attempt, School, ask};
use axum::http::StatusCode;
use serde_json::{Value, json};

async fn given(school: &School, dalca: &str, fault: &str, predictions: bool, student: i32) {
    let lesson = json!({"title": "Screens", "complaint": "It does not fire.", "circuit": 1,
        "faults": [{"place": fault, "mode": "open"}], "predictions": predictions});
    let (status, made) = ask(school, dalca, "POST /api/lessons", Some(lesson)).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let given = school.give(dalca, &made["id"], &[student]).await;
    assert_eq!(given.status, StatusCode::OK, "{}", given.text);
}

#[tokio::test]
async fn pictures_tell_nothing_of_the_fault() {
    let school = School::with_circuit("baggage-tug-ignition");
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    given(&school, &dalca, "W14", true, 2).await;
    given(&school, &dalca, "W15", true, 3).await;
    given(&school, &dalca, "W14", false, 2).await;
    let channel = json!({"with": "leads", "red": "T1.1", "black": "BAT.-"});
    let scope = Some(json!({"channels": [channel], "sweep_s": 0.05}));
    let mut pictures: Vec<Value> = Vec::new();
    for (id, who) in [(1, &varga), (2, &oduya)] {
        let start = json!({"do": "set_control", "control": "key", "position": "start"});
        let (status, why) = Attempt::of(&school, id).step(who, start).await;
        assert_eq!(status, StatusCode::OK, "{why}");
        let line = format!("POST /api/attempts/{id}/patterns");
        let (status, found) = ask(&school, who, &line, scope.clone()).await;
        assert_eq!(status, StatusCode::OK, "{found}");
        assert!(found[0]["patterns"].as_array().unwrap().len() > 1);
        pictures.push(found);
    }
    assert_eq!(pictures[0], pictures[1]);
    // Nobody looks at another's bench, nothing is drawn where nothing is predicted, and what is no screen has no pictures.
    let line = "POST /api/attempts/1/patterns";
    let (status, _) = ask(&school, &oduya, line, scope.clone()).await;
    assert_eq!(status, StatusCode::NOT_FOUND);
    let (status, _) = ask(&school, &dalca, line, scope.clone()).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
    let (status, why) = ask(&school, &varga, "POST /api/attempts/3/patterns", scope).await;
    assert_eq!(status, StatusCode::BAD_REQUEST, "{why}");
    let none = Some(json!({"channels": [], "sweep_s": 0.05}));
    assert_eq!(
        ask(&school, &varga, line, none).await,
        (StatusCode::OK, json!([]))
    );
    let (status, _) = ask(&school, &varga, line, Some(json!({"sweep": 1}))).await;
    assert!(status.is_client_error());
}
