//! What an attempt still lacks before it is handed in, from the student's own record alone.

use super::actions::{Action, Judge};
use super::session::Session;
use super::step::{Answer, Step};
use crate::lesson::Purpose;

/// A sentence for each thing.
pub(super) fn missing(session: &Session) -> Vec<String> {
    let steps = session.steps();
    if session.lesson.purpose == Purpose::Tools || session.is_handed_in() {
        return Vec::new();
    }
    if !session.lesson.task.is_diagnosis() {
        return [
            not_predicted(session),
            not_entered(session),
            not_wired(session),
        ]
        .concat();
    }
    let after =
        |no: usize, is: &dyn Fn(&Answer) -> bool| steps.iter().any(|s| s.no > no && is(&s.answer));
    let tries = |answer: &Answer| matches!(answer, Answer::Complaint { .. });
    let reads =
        |answer: &Answer| matches!(answer, Answer::Reading { .. } | Answer::Captured { .. });
    let mut out = Vec::new();
    let check_up = session.lesson.job.is_check_up();
    if !after(0, &tries) {
        let what = if check_up { "machine" } else { "complaint" };
        out.push(format!("The {what} was not tried."));
    }
    let judged = |no: usize| {
        let mut verdicts = steps.iter().filter(|s| !s.by_partner);
        verdicts.any(|s| matches!(s.action, Action::Judge(Judge { step, .. }) if step == no))
    };
    let open = steps
        .iter()
        .filter(|s| reads(&s.answer) && !judged(s.no))
        .count();
    match open {
        0 => {}
        1 => out.push("One reading is not judged.".to_owned()),
        n => out.push(format!("{n} readings are not judged.")),
    }
    // The last word counts: a fault, or that there is none.
    let concluded = steps.iter().rev().find_map(|s| match s.action {
        Action::NameFault(_) => Some(true),
        Action::FindNoFault(_) => Some(false),
        _ => None,
    });
    match concluded {
        None if session.lesson.job.may_be_sound() => {
            out.push("No fault is named, and it was not said that there is none.".to_owned());
        }
        None => out.push("No fault is named.".to_owned()),
        Some(false) => return out,
        Some(true) => {}
    }
    let repair = steps
        .iter()
        .rev()
        .find(|s| matches!(s.action, Action::Repair(_)));
    match repair.map(|s| s.no) {
        None => out.push("Nothing was repaired.".to_owned()),
        Some(no) => {
            if !check_up && !after(no, &tries) {
                out.push("The complaint was not tried again after the repair.".to_owned());
            }
            if !after(no, &reads) {
                out.push("No reading was taken again after the repair.".to_owned());
            }
            let seen_again = |answer: &Answer| matches!(answer, Answer::SeenAgain { .. });
            if session.lesson.craft.is_some() && !after(no, &seen_again) {
                out.push(
                    "Whether the repair lasts is not known: give the machine back.".to_owned(),
                );
            }
        }
    }
    out
}

/// Rows of the test sheet in which nothing is entered.
fn not_entered(session: &Session) -> Vec<String> {
    let rows = session
        .lesson
        .test_sheet
        .as_ref()
        .map_or(0, |s| s.rows.len());
    many(
        rows - session.record().entered.len(),
        "row of the sheet is not entered",
        "rows of the sheet are not entered",
    )
    .into_iter()
    .collect()
}

/// Nothing has been wired yet.
fn not_wired(session: &Session) -> Vec<String> {
    let wired = |s: &Step| s.action.kind().wires();
    let open = session.lesson.build.is_some() && !session.steps().iter().any(wired);
    open.then(|| "Nothing has been wired.".to_owned())
        .into_iter()
        .collect()
}

fn many(n: usize, one: &str, more: &str) -> Option<String> {
    match n {
        0 => None,
        1 => Some(format!("One {one}.")),
        n => Some(format!("{n} {more}.")),
    }
}

/// Readings that are asked for and have no prediction, and predictions without a reason.
fn not_predicted(session: &Session) -> Vec<String> {
    let written = &session.record().predicted;
    let asked = &session.lesson.predicted;
    let open = asked.len() - written.len();
    let without = written
        .iter()
        .filter(|w| w.reason.is_none() && !asked[w.no - 1].choice.is_empty())
        .count();
    [
        many(
            open,
            "reading is not predicted",
            "readings are not predicted",
        ),
        many(
            without,
            "prediction has no reason",
            "predictions have no reason",
        ),
    ]
    .into_iter()
    .flatten()
    .collect()
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use std::sync::Arc;

    use cimento_model::faults::read_short_form;
    use cimento_parts::read_circuit;
    use serde_json::json;

    use super::*;
    use crate::lesson::{Lesson, LessonDoc};

    fn lesson() -> Arc<Lesson> {
        let path = concat!(
            env!("CARGO_MANIFEST_DIR"),
            "/../../demo/circuits/sweeper-lamps.json"
        );
        let circuit = read_circuit(&std::fs::read_to_string(path).unwrap()).unwrap();
        let fault = read_short_form("W15:open").unwrap();
        Lesson::new(LessonDoc::of("Lamps", circuit.doc.clone(), vec![fault])).unwrap()
    }

    /// One thing after the other is done, and goes from the list.
    #[test]
    fn what_is_done_is_missing_no_more() {
        let mut session = Session::start(&lesson());
        let act = |session: &mut Session, doc: serde_json::Value| {
            let action: Action = serde_json::from_value(doc).unwrap();
            session.act(action).unwrap();
            missing(session)
        };
        let words = [
            "complaint was not tried.",
            "No fault",
            "Nothing was repaired",
        ];
        let said = missing(&session);
        assert!(
            said.iter().zip(words).all(|(s, w)| s.contains(w)),
            "{said:?}"
        );
        assert_eq!(act(&mut session, json!({"do": "try_complaint"})).len(), 2);
        let read =
            json!({"do": "take_reading", "function": "dc_volts", "red": "G2", "black": "BAT.-"});
        assert_eq!(
            act(&mut session, read.clone())[0],
            "One reading is not judged."
        );
        assert_eq!(
            act(&mut session, read.clone())[0],
            "2 readings are not judged."
        );
        act(
            &mut session,
            json!({"do": "judge", "step": 2, "verdict": "normal"}),
        );
        let said = act(
            &mut session,
            json!({"do": "judge", "step": 3, "verdict": "normal"}),
        );
        assert_eq!(said, ["No fault is named.", "Nothing was repaired."]);
        let name = json!({"do": "name_fault", "place": "W15", "mode": "open"});
        assert_eq!(act(&mut session, name), ["Nothing was repaired."]);
        let repair = json!({"do": "repair", "place": "W15", "how": "join"});
        assert_eq!(act(&mut session, repair).len(), 2);
        assert_eq!(act(&mut session, json!({"do": "try_complaint"})).len(), 1);
        let said = act(&mut session, read);
        assert_eq!(said, ["One reading is not judged."]);
        assert!(act(&mut session, json!({"do": "hand_in"})).is_empty());
    }
}
