//! A lesson in which it counts how the repair is made, over the API.

use crate::common::{Attempt, School, ask};
use axum::http::StatusCode;
use serde_json::{Value, json};

/// Two lessons that differ in their fault alone, each given to one student.
async fn given_out(school: &School, dalca: &str) {
    let (_, usual) = ask(school, dalca, "GET /api/lessons/usual", None).await;
    let mut rules = usual["rules"].clone();
    rules["craft"] = json!({"around": ["wet", "moves"]});
    rules["prices"] = usual["prices"].clone();
    for (wire, student) in [("W15", 2), ("W12", 3)] {
        let lesson = json!({"title": "A repair", "complaint": "A lamp is dark.", "circuit": 1,
            "faults": [{"place": wire, "mode": "open"}], "predictions": false, "rules": rules});
        let (status, made) = ask(school, dalca, "POST /api/lessons", Some(lesson)).await;
        assert_eq!(status, StatusCode::OK, "{made}");
        let given = school.give(dalca, &made["id"], &[student]).await;
        assert_eq!(given.status, StatusCode::OK, "{}", given.text);
    }
}

fn repair(place: &str, method: &str, view: &Value) -> Value {
    let places = view["places"].as_array().unwrap();
    let at = places.iter().find(|p| p["id"] == place).unwrap();
    let repairs = at["repairs"].as_array().unwrap();
    let join = repairs.iter().find(|r| r["how"] == "join").unwrap();
    let mut chosen = json!({"method": method, "sleeve": "lined", "route": "clear"});
    for question in join["craft"].as_array().unwrap() {
        let word = question["word"].as_str().unwrap();
        if chosen.get(word).is_none() {
            chosen[word] = question["options"][0]["word"].clone();
        }
    }
    json!({"do": "repair", "place": place, "how": "join", "craft": chosen})
}

/// What is to be chosen tells nothing of the fault, nor of what lasts; a poor repair comes back, and the sheet says what
/// each choice was worth and what it cost.
#[tokio::test]
async fn a_poor_repair_comes_back_and_is_marked() {
    let school = School::with_circuit("sweeper-lamps");
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    given_out(&school, &dalca).await;
    let (_, view) = ask(&school, &varga, "GET /api/attempts/1", None).await;
    let (_, other) = ask(&school, &oduya, "GET /api/attempts/2", None).await;
    assert_eq!(view["places"], other["places"]);
    assert_eq!(view["craft"], "it gets wet, it shakes");
    let text = view["places"].to_string();
    assert!(
        !text.contains("lasts") && text.contains("weatherproof"),
        "{text}"
    );

    let mut bench = Attempt::of(&school, 1);
    let (status, why) = bench.step(&varga, json!({"do": "second_visit"})).await;
    assert_eq!(status, StatusCode::BAD_REQUEST, "{why}");
    let plain = json!({"do": "repair", "place": "W15", "how": "join"});
    let (status, why) = bench.step(&varga, plain).await;
    assert_eq!(status, StatusCode::BAD_REQUEST);
    assert!(
        why["detail"]
            .as_str()
            .unwrap()
            .contains("method is missing"),
        "{why}"
    );
    let name = json!({"do": "name_fault", "place": "W15", "mode": "open"});
    bench.step(&varga, name).await;
    let (status, done) = bench.step(&varga, repair("W15", "twist", &view)).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert!(
        done["repairs"].to_string().contains("twisting and tape"),
        "{done}"
    );
    let (status, back) = bench.step(&varga, json!({"do": "second_visit"})).await;
    assert_eq!(status, StatusCode::OK, "{back}");
    assert_eq!(back["seen_again"]["came_back"], true);
    let said = back["seen_again"]["text"].as_str().unwrap();
    assert!(
        said.contains("When it shakes") && !said.contains("W15"),
        "{said}"
    );
    // It is the attempt's own machine: the other's is as it was, and a page that is opened anew sees the same.
    let (_, again) = ask(&school, &varga, "GET /api/attempts/1", None).await;
    assert_eq!(again["bench"]["seen_again"], back["seen_again"]);
    let (_, other) = ask(&school, &oduya, "GET /api/attempts/2", None).await;
    assert_eq!(other["bench"]["seen_again"], Value::Null);
    bench.step(&varga, repair("W15", "sealed", &view)).await;
    let (_, back) = bench.step(&varga, json!({"do": "second_visit"})).await;
    assert_eq!(back["seen_again"]["came_back"], false, "{back}");
    let (status, _) = bench.step(&varga, json!({"do": "hand_in"})).await;
    assert_eq!(status, StatusCode::OK);

    let (status, sheet) = ask(&school, &dalca, "GET /api/attempts/1/sheet", None).await;
    assert_eq!(status, StatusCode::OK);
    let lines = sheet["lines"].as_array().unwrap();
    let craft = lines.iter().find(|l| l["criterion"] == "craft").unwrap();
    let method = &craft["details"][0];
    assert_eq!(method["earned"], 0.5, "{craft}");
    assert!(
        method["text"].as_str().unwrap().contains("works loose"),
        "{craft}"
    );
    let total = |of: &str| sheet["cost"][of]["total"].as_f64().unwrap();
    assert!(
        total("taken") > total("best") && total("best") > 0.0,
        "{}",
        sheet["cost"]
    );
    assert_eq!(sheet["cost"]["taken"]["parts"].as_array().unwrap().len(), 2);
}

#[tokio::test]
async fn what_is_asked_of_a_repair_can_be_changed() {
    let school = School::with_circuit("sweeper-lamps");
    let dalca = school.sign_in("dalca", "bench-and-meter").await;
    given_out(&school, &dalca).await;
    let line = "GET /api/lessons/1";
    let (_, lesson) = ask(&school, &dalca, line, None).await;
    let mut terms = lesson["terms"].clone();
    assert_eq!(terms["rules"]["craft"]["around"], json!(["wet", "moves"]));
    terms["rules"]["craft"] = json!({"around": ["wet", "wet"]});
    let (status, why) = ask(&school, &dalca, "PUT /api/lessons/1", Some(terms.clone())).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{why}");
    terms["rules"]["craft"] = Value::Null;
    terms["rules"]["prices"]["parts"] = json!({"wheel": 3.0});
    let (status, why) = ask(&school, &dalca, "PUT /api/lessons/1", Some(terms.clone())).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(why.to_string().contains("prices.parts.wheel"), "{why}");
    terms["rules"]["prices"] = Value::Null;
    let (status, why) = ask(&school, &dalca, "PUT /api/lessons/1", Some(terms)).await;
    assert!(status.is_success(), "{why}");
    // It is another version of it.
    let line = format!("GET /api/lessons/{}", why["id"]);
    let (_, lesson) = ask(&school, &dalca, &line, None).await;
    assert_eq!(lesson["terms"]["rules"]["craft"], Value::Null);
}
