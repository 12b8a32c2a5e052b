//! The binder over the API: its contents are known, its sheets are to whoever looked them up, and nothing of it tells what is
//! another variant's.

use crate::common::{Attempt, School, ask};
use axum::http::StatusCode;
use serde_json::{Value, json};

#[tokio::test]
async fn a_sheet_is_for_whoever_looked_it_up() {
    let school = School::new();
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let text = std::fs::read_to_string("../../demo/circuits/sweeper-lamps.json").unwrap();
    let lamps: Value = serde_json::from_str(&text).unwrap();
    let other = school
        .store()
        .add_circuit(&serde_json::from_value(lamps.clone()).unwrap(), 0);
    let other = other.unwrap();

    let line = "GET /api/circuits/1/binder";
    let (_, choices) = ask(&school, &dalca, line, None).await;
    let variant = choices["variants"][0].as_str().unwrap().to_owned();
    let of = |binder: Value| {
        json!({"title": "Tug", "complaint": "It will not crank.", "circuit": 1,
            "faults": [{"place": "W8", "mode": "open"}], "predictions": false, "binder": binder})
    };
    let line = "POST /api/lessons";
    let no_such = of(json!({"others": [99]}));
    let status = ask(&school, &dalca, line, Some(no_such)).await.0;
    assert_eq!(status, StatusCode::NOT_FOUND);
    let wrong = of(json!({"variant": "G1"}));
    let (status, why) = ask(&school, &dalca, line, Some(wrong)).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(why.to_string().contains("binder.variant"), "{why}");
    let lesson = of(json!({"others": [other], "variant": variant}));
    let (status, made) = ask(&school, &dalca, line, Some(lesson)).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    school.give(&dalca, &made["id"], &[2, 3]).await;

    // The diagram is in the binder, and not on the bench.
    let bench = "GET /api/attempts/1";
    let (_, view) = ask(&school, &varga, bench, None).await;
    assert_eq!(view["papers"]["diagram"], false);
    assert_eq!(view["paths"], json!([]));
    let wires = view["drawing"]["wires"].as_array().unwrap();
    assert!(
        wires.iter().all(|w| w["from"] == "" && w["to"] == ""),
        "where they go is not told"
    );
    assert!(!view.to_string().contains("variant"), "{view}");
    let contents = view["binder"].as_array().unwrap();
    let titled = |title: &str| {
        let found = contents.iter().find(|e| e["title"] == title);
        found.unwrap()["sheet"].as_str().unwrap().to_owned()
    };
    let own = titled("Baggage tug, starting");
    let foreign = titled(lamps["title"].as_str().unwrap());

    // Nothing is there that was not looked up, and what one has looked up is not there for another.
    let mut attempt = Attempt::of(&school, 1);
    let sheet = |of: i32, name: &str| format!("GET /api/attempts/{of}/binder/{name}");
    for name in [own.as_str(), foreign.as_str(), "connectors", "fuses", "key"] {
        let status = ask(&school, &varga, &sheet(1, name), None).await.0;
        assert_eq!(status, StatusCode::NOT_FOUND, "{name}");
    }
    let look_up = |name: &str| json!({"do": "open_sheet", "sheet": name});
    for name in [foreign.as_str(), "connectors"] {
        let (status, said) = attempt.step(&varga, look_up(name)).await;
        assert_eq!(status, StatusCode::OK, "{said}");
    }
    let (_, lamp) = ask(&school, &varga, &sheet(1, &foreign), None).await;
    assert_eq!(lamp["drawing"]["title"], lamps["title"]);
    let (_, tables) = ask(&school, &varga, &sheet(1, "connectors"), None).await;
    assert!(tables["tables"].as_array().unwrap().len() > 1, "{tables}");
    assert!(!tables.to_string().contains("variant"), "{tables}");
    for of in [1, 2] {
        let status = ask(&school, &oduya, &sheet(of, "connectors"), None).await.0;
        assert_eq!(status, StatusCode::NOT_FOUND);
    }
    let (_, view) = ask(&school, &varga, bench, None).await;
    assert_eq!(
        view["papers"]["diagram"], false,
        "that was another circuit's"
    );
    let (_, said) = attempt.step(&varga, look_up(&own)).await;
    assert_eq!(said["minutes"], 3.0);
    let (_, view) = ask(&school, &varga, bench, None).await;
    assert_eq!(view["papers"]["diagram"], true);
    assert!(view["paths"].as_array().is_some_and(|p| !p.is_empty()));

    // What is doubted is noted, and whether rightly is not said.
    let connectors = tables["tables"].as_array().unwrap();
    for table in connectors {
        let at = table["title"].as_str().unwrap().split(',').next().unwrap();
        let doubt = json!({"do": "doubt_sheet", "sheet": "connectors", "at": at});
        let (status, said) = attempt.step(&varga, doubt).await;
        assert_eq!(status, StatusCode::OK, "{said}");
        assert_eq!(said["doubted"][0]["at"], at);
        assert!(!said.to_string().contains("variant"), "{said}");
    }
}
