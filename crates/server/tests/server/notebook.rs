//! The notebook over the API: one's own notes, the last word on each reading, and nobody else's.

use crate::common::{Attempt, School, ask, reading};
use serde_json::{Value, json};

#[tokio::test]
async fn a_notebook_is_its_student_s_own() {
    let school = School::new();
    let dalca = school
        .give_out(json!({"place": "W8", "mode": "open"}))
        .await;
    let varga = school.sign_in("varga", "red-and-black").await;
    let oduya = school.sign_in("oduya", "red-and-black").await;
    let line = "GET /api/notebook";
    assert_eq!(ask(&school, &varga, line, None).await.1, json!([]));
    let mut bench = Attempt::of(&school, 1);
    let note = |step: Value, text: &str| json!({"do": "note", "step": step, "text": text});
    for action in [
        reading("K3.86"),
        note(json!(1), "low"),
        note(Value::Null, "Clutch first."),
        note(json!(1), "dead, so it is before K3"),
    ] {
        let (status, why) = bench.step(&varga, action).await;
        assert!(status.is_success(), "{why}");
    }
    let (_, book) = ask(&school, &varga, line, None).await;
    assert_eq!(book.as_array().unwrap().len(), 1);
    assert_eq!(book[0]["machine"], "Baggage tug, starting");
    let notes = book[0]["benches"][0]["notes"].as_array().unwrap();
    let texts: Vec<&Value> = notes.iter().map(|n| &n["text"]).collect();
    assert_eq!(texts, ["Clutch first.", "dead, so it is before K3"]);
    assert_eq!(notes[0]["about"], "");
    assert!(
        notes[1]["about"].as_str().unwrap().contains("K3.86"),
        "{book}"
    );
    for other in [&oduya, &dalca] {
        assert_eq!(ask(&school, other, line, None).await.1, json!([]));
    }
}
