//! What a student can never receive.

use crate::common::{School, act, reading};
use axum::http::StatusCode;
use cimento_parts::read_circuit;
use serde_json::{Value, json};

/// All numbers of a document that are not part of the drawing.
fn numbers(value: &Value, out: &mut Vec<f64>) {
    match value {
        Value::Number(n) => out.extend(n.as_f64()),
        Value::Array(list) => list.iter().for_each(|v| numbers(v, out)),
        Value::Object(map) => map.values().for_each(|v| numbers(v, out)),
        _ => {}
    }
}

/// Two lessons on the same circuit whose faults have the same symptom: until something is measured
/// that tells them apart, every answer a student can get must be the same to the letter, error texts
/// included. So nothing of the fault can be in it.
#[tokio::test]
async fn nothing_a_student_receives_depends_on_the_fault_before_it_is_measured() {
    let mut told: Vec<Vec<String>> = Vec::new();
    for place in ["W8", "W11"] {
        let school = School::new();
        school
            .give_out(json!({"place": place, "mode": "open"}))
            .await;
        let student = school.sign_in("varga", "red-and-black").await;
        let mut answers = Vec::new();
        let mut get = async |method: &str, path: &str, body: Option<Value>| {
            let answer = school.ask(method, path, Some(&student), body).await;
            answers.push(format!("{} {}", answer.status, answer.text));
            answer
        };
        get("GET", "/api/attempts", None).await;
        get("GET", "/api/attempts/1", None).await;
        get("GET", "/api/attempts/1/sheet", None).await;
        get(
            "POST",
            "/api/attempts/1/steps",
            Some(act(0, "a", json!({"do": "try_complaint"}))),
        )
        .await;
        // What reads the same with either fault: the feed, up to the key switch's start contact.
        get(
            "POST",
            "/api/attempts/1/steps",
            Some(act(1, "b", reading("S1.50"))),
        )
        .await;
        get(
            "POST",
            "/api/attempts/1/steps",
            Some(act(
                2,
                "c",
                json!({"do": "judge", "step": 2, "verdict": "normal"}),
            )),
        )
        .await;
        get(
            "POST",
            "/api/attempts/1/steps",
            Some(act(
                3,
                "d",
                json!({"do": "name_fault", "place": "W8", "mode": "melted"}),
            )),
        )
        .await;
        get(
            "POST",
            "/api/attempts/1/steps",
            Some(act(
                3,
                "e",
                json!({"do": "name_fault", "place": "W9", "mode": "open"}),
            )),
        )
        .await;
        get(
            "POST",
            "/api/attempts/1/steps",
            Some(act(
                4,
                "f",
                json!({"do": "repair", "place": "W9", "how": "join"}),
            )),
        )
        .await;
        get("GET", "/api/attempts/1", None).await;
        told.push(answers);
    }
    // The time a lesson was given is the one thing that may differ.
    let plain = |s: &String| {
        let cut = s
            .find("\"given_at\":")
            .map(|at| (at, s[at..].find(',').map_or(s.len(), |e| at + e)));
        cut.map_or(s.clone(), |(a, b)| format!("{}{}", &s[..a], &s[b..]))
    };
    for (a, b) in told[0].iter().zip(&told[1]) {
        assert_eq!(plain(a), plain(b));
    }
    assert!(told[0][2].contains("hand the attempt in first"));
}

/// Voltages of points that were not measured are in no answer.
#[tokio::test]
async fn no_unmeasured_voltage_is_in_what_a_student_receives() {
    let school = School::new();
    // A fault that gives points voltages of their own, unlike any round number.
    school
        .give_out(json!({"place": "C12.4", "mode": "high_resistance", "ohms": 61.0}))
        .await;
    let student = school.sign_in("varga", "red-and-black").await;
    school
        .ask(
            "POST",
            "/api/attempts/1/steps",
            Some(&student),
            Some(act(0, "a", json!({"do": "try_complaint"}))),
        )
        .await;
    let view = school
        .ask("GET", "/api/attempts/1", Some(&student), None)
        .await
        .json();
    let circuit = read_circuit(include_str!(
        "../../../../demo/circuits/baggage-tug-starting.json"
    ))
    .unwrap();
    let fault = cimento_model::faults::read_short_form("C12.4:high_resistance=61").unwrap();
    let fault = cimento_model::faults::Fault::read(&circuit, &fault, "").unwrap();
    let mut bench = cimento_bench::Bench::new(&circuit, &[fault]).unwrap();
    cimento_bench::complaint(&mut bench).unwrap();
    let point = &bench.settled().points[0];
    let mut seen = Vec::new();
    numbers(&view, &mut seen);
    for test_point in &circuit.test_points {
        let volts = point.op.voltage(point.wiring.node(test_point.node));
        if volts > 0.05 {
            let leak = seen.iter().find(|n| (*n - volts).abs() < 0.004);
            assert!(
                leak.is_none(),
                "{} at {volts} V is in the answer",
                test_point.id
            );
        }
    }
    let text = view.to_string();
    for word in [
        "\"faults\"",
        "candidate",
        "healthy_v",
        "faulted",
        "tolerance",
        "ambiguity",
        "61",
    ] {
        assert!(!text.contains(word), "“{word}” is in the answer");
    }
}

/// What comes and goes is tried under its condition, and the trial does not tell the place.
#[tokio::test]
async fn a_fault_that_shows_when_moved_does_not_tell_its_place() {
    let school = School::new();
    school
        .give_out(json!({"place": "W8", "mode": "open", "when": "moved"}))
        .await;
    let student = school.sign_in("varga", "red-and-black").await;
    let seen = school
        .ask("GET", "/api/attempts/1", Some(&student), None)
        .await
        .json();
    assert!(
        seen["complaint"].as_str().unwrap().contains("No crank"),
        "{}",
        seen["complaint"]
    );
    for part in ["complaint", "words", "title"] {
        assert!(!seen[part].to_string().contains("W8"), "{}", seen[part]);
    }
    assert!(
        !seen["bench"].to_string().contains("W8"),
        "{}",
        seen["bench"]
    );
}

/// What is done on the bench while the API is crawled: one of every kind that does not measure where the
/// two faults differ.
fn everything() -> Vec<Value> {
    vec![
        json!({"do": "try_complaint"}),
        json!({"do": "set_control", "control": "key", "position": "start"}),
        json!({"do": "take_apart", "what": "F2"}),
        json!({"do": "put_back", "what": "F2"}),
        json!({"do": "join", "from": "BAT.+", "to": "S1.30", "fused": true}),
        json!({"do": "unjoin", "from": "BAT.+", "to": "S1.30"}),
        json!({"do": "support", "plus": "BAT.+", "minus": "BAT.-"}),
        json!({"do": "unsupport"}),
        json!({"do": "wiggle", "what": "W7"}),
        json!({"do": "rest"}),
        json!({"do": "wait", "minutes": 5.0}),
        json!({"do": "warm_up"}),
        json!({"do": "cool_down"}),
        json!({"do": "wet"}),
        json!({"do": "dry"}),
        json!({"do": "inspect", "place": "G4"}),
        json!({"do": "fit_known_good", "part": "K3"}),
        json!({"do": "fit_own", "part": "K3"}),
        json!({"do": "zero_leads"}),
        json!({"do": "renew_meter_fuse"}),
        reading("S1.50"),
        json!({"do": "judge", "step": 21, "verdict": "normal"}),
        json!({"do": "clear", "places": ["S1"]}),
        json!({"do": "suspect", "places": ["W9"]}),
        json!({"do": "note", "step": 21, "text": "The key switch passes it on."}),
        json!({"do": "capture", "scope": {"channels": [{"with": "leads", "red": "S1.50", "black": "BAT.-"}], "sweep_s": 0.1}}),
        json!({"do": "take_reading", "function": "dc_volts", "red": "C12.4m", "black": "BAT.-", "touch": "pierce"}),
        json!({"do": "seal", "wire": "W7"}),
        json!({"do": "clear_codes", "module": "K3"}),
        json!({"do": "swap", "a": "K3", "b": "F2"}),
        json!({"do": "name_fault", "place": "W9", "mode": "open"}),
        json!({"do": "repair", "place": "W9", "how": "join"}),
        json!({"do": "hint", "level": 1, "text": "W8"}),
        json!({"do": "melt"}),
    ]
}

/// Every address of the API, asked with a student's session in the middle of an attempt: with its own
/// attempt, with the other student's, and with bodies that are wrong. Two faults with one symptom must
/// give the same answers to the letter, so that none can hold anything of the fault; and nothing of the
/// other student's may come at all. A new address is asked as soon as it is described.
#[tokio::test]
async fn a_crawl_of_the_whole_api_learns_nothing_of_the_fault() {
    let mut told: Vec<Vec<(String, String)>> = Vec::new();
    for place in ["W8", "W11"] {
        let school = School::new();
        let fault = json!({"place": place, "mode": "open"});
        school.give_out(fault).await;
        let student = school.sign_in("varga", "red-and-black").await;
        let mut answers = Vec::new();
        let mut done = 0;
        for (n, action) in everything().into_iter().enumerate() {
            let body = act(done, &format!("step {n}"), action.clone());
            let path = "/api/attempts/1/steps";
            let answer = school.ask("POST", path, Some(&student), Some(body)).await;
            done += usize::from(answer.status == StatusCode::OK);
            answers.push((action.to_string(), answer.text));
        }
        assert!(done >= 28, "most of what was done can be done: {done}");
        let described = school.ask("GET", "/api/openapi.json", None, None).await;
        let described = described.json();
        let mut asked = 0;
        for (template, methods) in described["paths"].as_object().unwrap() {
            for method in methods.as_object().unwrap().keys() {
                // What goes on telling is looked at where it is told.
                if template == "/api/sign-out" || template.ends_with("/heard") {
                    continue;
                }
                for own in ["1", "2"] {
                    let path = filled(template, own);
                    let body =
                        (method != "get").then(|| json!({"after": done, "request": "again"}));
                    let method = method.to_uppercase();
                    let answer = school.ask(&method, &path, Some(&student), body).await;
                    if own == "2" && template.starts_with("/api/attempts/{id}") {
                        let refused = [
                            StatusCode::NOT_FOUND,
                            StatusCode::FORBIDDEN,
                            StatusCode::BAD_REQUEST,
                            StatusCode::UNPROCESSABLE_ENTITY,
                        ];
                        assert!(
                            refused.contains(&answer.status),
                            "{method} {path}: {}",
                            answer.text
                        );
                    }
                    answers.push((
                        format!("{method} {path}"),
                        format!("{} {}", answer.status, answer.text),
                    ));
                    asked += 1;
                }
            }
        }
        assert!(asked > 60, "the whole API was asked: {asked}");
        told.push(answers);
    }
    for ((what, a), (_, b)) in told[0].iter().zip(&told[1]) {
        assert_eq!(timeless(a), timeless(b), "{what}");
    }
}

/// Whether something says of two names that they belong together: in one text, or side by side.
fn pairs_up(value: &Value, ends: [&str; 2]) -> bool {
    let whole = |text: &str, name: &str| {
        let mut words = text.split(|c: char| !(c.is_alphanumeric() || "._+-".contains(c)));
        words.any(|word| word.trim_end_matches('.') == name)
    };
    let both = |texts: &[&str]| ends.iter().all(|end| texts.iter().any(|t| whole(t, end)));
    match value {
        Value::String(text) => both(&[text]),
        // A list of everything there is says nothing of any two.
        Value::Array(all) if all.iter().all(Value::is_string) && all.len() <= 4 => {
            both(&all.iter().filter_map(Value::as_str).collect::<Vec<_>>())
        }
        Value::Array(all) => all.iter().any(|v| pairs_up(v, ends)),
        Value::Object(members) => {
            both(
                &members
                    .values()
                    .filter_map(Value::as_str)
                    .collect::<Vec<_>>(),
            ) || members.values().any(|v| pairs_up(v, ends))
        }
        _ => false,
    }
}

/// A lesson without papers: wherever a student asks, nothing says what a wire goes to, what a healthy machine reads, or
/// which cavity lies where.
#[tokio::test]
async fn papers_that_are_withheld_are_nowhere() {
    let school = School::new();
    let instructor = school.sign_in("dalca", "bench-and-meter").await;
    let rules = json!({"papers": {"diagram": false, "connectors": false, "healthy": false}});
    let lesson = json!({"title": "Tug", "complaint": "It will not crank.", "circuit": 1, "predictions": false,
        "faults": [{"place": "W8", "mode": "open"}], "rules": rules});
    let made = school
        .ask("POST", "/api/lessons", Some(&instructor), Some(lesson))
        .await;
    let id = made.json()["id"].clone();
    school.give(&instructor, &id, &[2]).await;
    let student = school.sign_in("varga", "red-and-black").await;
    let mut done = 0;
    let mut answers: Vec<(String, String)> = Vec::new();
    for (n, action) in everything().into_iter().enumerate() {
        let body = act(done, &format!("step {n}"), action.clone());
        let path = "/api/attempts/1/steps";
        let answer = school.ask("POST", path, Some(&student), Some(body)).await;
        done += usize::from(answer.status == StatusCode::OK);
        // What one joins oneself, one knows to be joined.
        if !action["do"].as_str().is_some_and(|w| w.ends_with("join")) {
            answers.push((action.to_string(), answer.text));
        }
    }
    assert!(done >= 28, "most of what was done can be done: {done}");
    let described = school.ask("GET", "/api/openapi.json", None, None).await;
    for (template, methods) in described.json()["paths"].as_object().unwrap() {
        if methods.get("get").is_some() && !template.ends_with("/heard") {
            let path = filled(template, "1");
            let answer = school.ask("GET", &path, Some(&student), None).await;
            answers.push((path, answer.text));
        }
    }
    let text = include_str!("../../../../demo/circuits/baggage-tug-starting.json");
    let circuit: Value = serde_json::from_str(text).unwrap();
    let end = |wire: &Value, end: &str| wire[end].as_str().unwrap().to_owned();
    for wire in circuit["wires"].as_array().unwrap() {
        let ends = [end(wire, "from"), end(wire, "to")];
        for (what, text) in &answers {
            let Ok(answer) = serde_json::from_str::<Value>(text) else {
                continue;
            };
            let told = pairs_up(&answer, [&ends[0], &ends[1]]);
            assert!(!told, "{what} says what {} goes to: {ends:?}", wire["id"]);
        }
    }
    let view = school
        .ask("GET", "/api/attempts/1", Some(&student), None)
        .await
        .json();
    assert_eq!(view["healthy"], json!([]));
    assert_eq!(view["paths"], json!([]));
    // The same question to a lesson with its papers finds every wire: what looks can see.
    let given = school
        .ask("GET", "/api/circuits/1", Some(&instructor), None)
        .await
        .json();
    let seen = circuit["wires"].as_array().unwrap().iter();
    let seen = seen.filter(|w| pairs_up(&given, [&end(w, "from"), &end(w, "to")]));
    assert_eq!(seen.count(), circuit["wires"].as_array().unwrap().len());
}

/// An address with its gaps filled.
fn filled(template: &str, id: &str) -> String {
    let part = |part: &str| match part {
        "{id}" => id.to_owned(),
        _ if part.starts_with('{') => "1".to_owned(),
        _ => part.to_owned(),
    };
    template.split('/').map(part).collect::<Vec<_>>().join("/")
}

/// An answer without the times of day and the number of a sign-in, which are what may differ.
pub fn timeless(text: &str) -> String {
    let mut out = String::new();
    let mut rest = match text.contains("\"browser\"") {
        true => text.trim_start_matches(|c| c != ','),
        false => text,
    };
    while let Some(at) = rest.find("_at\":") {
        out.push_str(&rest[..at]);
        rest = rest[at + 5..].trim_start_matches(|c: char| c.is_ascii_digit());
    }
    out + rest
}
