//! A machine that is wired over the API: given out, wired, measured, marked, and never told how it was thought of.

use crate::common::{Attempt, School, ask};
use axum::http::StatusCode;
use serde_json::{Value, json};

/// The marker lamp of the sweeper is wired: the diagram is of what was wired, and the answer's wires go out nowhere.
#[tokio::test]
async fn a_lamp_is_wired_tried_and_marked() {
    let school = School::with_circuit("sweeper-lamps");
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let (_, circuit) = ask(&school, &dalca, "GET /api/circuits/1", None).await;
    let open = ["W2", "W4", "W9", "W11", "W14"];
    let wires = circuit["drawing"]["wires"].as_array().unwrap();
    let ids = wires.iter().map(|w| w["id"].clone());
    let given: Vec<Value> = ids
        .filter(|id| !open.contains(&id.as_str().unwrap()))
        .collect();
    let task = json!({"kind": "build", "given": given});
    let lesson = json!({"title": "A marker lamp", "complaint": "Fit the marker lamp.", "circuit": 1, "faults": [],
        "predictions": false, "task": task});
    let (status, made) = ask(&school, &dalca, "POST /api/lessons", Some(lesson)).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let given = school.give(&dalca, &made["id"], &[2, 3]).await;
    assert_eq!(given.status, StatusCode::OK, "{}", given.text);

    let line = "GET /api/attempts/1";
    let (_, view) = ask(&school, &varga, line, None).await;
    assert_eq!(view["build"]["list"], json!([]));
    let text = view.to_string();
    for id in open {
        assert!(!text.contains(&format!("\"{id}\"")), "{id}: {text}");
    }
    assert!(
        view["build"]["ends"]
            .as_array()
            .unwrap()
            .contains(&json!("F2.1"))
    );
    assert_eq!(view["places"], json!([]));

    let mut bench = Attempt::of(&school, 1);
    let say = |line: &str| json!({"do": "say_path", "line": line});
    assert_eq!(
        bench
            .step(&oduya, say("BAT.+ > 1 RD 1 > F2.1 > 1 RD 1 > S2.1"))
            .await
            .0,
        StatusCode::NOT_FOUND
    );
    let (status, why) = bench.step(&varga, say("BAT.+ > 1.5 RD 0.5 > F9.1")).await;
    assert_eq!(status, StatusCode::BAD_REQUEST, "{why}");
    for line in [
        "BAT.+ > 1.5 RD 0.5 > F2.1",
        "F2.2 > 1 RD/GY 1.5 > S2.1",
        "S2.2 > 1 GY 2.8 > C5.2",
        "C5.2f > 1 GY 0.3 > H2.1",
    ] {
        let (status, answer) = bench.step(&varga, say(line)).await;
        assert_eq!(status, StatusCode::OK, "{line}: {answer}");
    }
    let (_, view) = ask(&school, &varga, line, None).await;
    let drawn = view["drawing"]["wires"].as_array().unwrap().len();
    assert_eq!(drawn, view["bench"]["wires"].as_array().unwrap().len());
    // It is not lit yet: its ground is missing. That is seen, and mended.
    let light = json!({"do": "set_control", "control": "markers", "position": "on"});
    let (_, dark) = bench.step(&varga, light.clone()).await;
    assert!(
        dark["notices"].to_string().contains("marker lamp dark"),
        "{}",
        dark["notices"]
    );
    let ground = json!({"do": "wire", "wire": {"id": "W50", "from": "H2.2", "to": "SP1", "area_mm2": 1.0, "length_m": 0.3, "color": "BN"}});
    let (status, answer) = bench.step(&varga, ground).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    let (_, lit) = bench.step(&varga, light).await;
    assert!(
        lit["notices"].to_string().contains("marker lamp bright"),
        "{}",
        lit["notices"]
    );
    assert_eq!(
        bench.step(&varga, json!({"do": "hand_in"})).await.0,
        StatusCode::OK
    );
    let (status, sheet) = ask(&school, &dalca, "GET /api/attempts/1/sheet", None).await;
    assert_eq!(
        (status, &sheet["total"]),
        (StatusCode::OK, &json!(100.0)),
        "{sheet}"
    );
    let (_, list) = ask(&school, &dalca, "GET /api/lessons", None).await;
    assert!(list[0]["asks"].as_str().unwrap().contains("wired"));
}
