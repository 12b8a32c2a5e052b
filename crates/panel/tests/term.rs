//! The term of the demo school is what its bots do: every step answers as it did, and a lesson's sheets come out the same.
//! Where something has changed for good: `cargo run --release -p cimento-panel -- term demo/term.json.gz`.

#![allow(clippy::unwrap_used, clippy::expect_used)]

use cimento_diagnosis::attempt::{Action, Session};
use cimento_diagnosis::lesson::Lesson;
use cimento_diagnosis::marking::{Case, sheet};
use cimento_diagnosis::suspects::Reference;
use cimento_panel::Term;
use flate2::read::GzDecoder;

#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

fn term() -> Term {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/term.json.gz");
    serde_json::from_reader(GzDecoder::new(std::fs::File::open(path).unwrap())).unwrap()
}

#[test]
fn every_step_of_the_term_answers_as_it_did() {
    let term = term();
    assert!(term.students.len() == 12 && term.given.len() == 8);
    assert!(
        term.attempts.iter().any(|w| w.marks.is_none()),
        "some are at work"
    );
    let given = term
        .given
        .iter()
        .map(|g| Lesson::new(g.lesson.clone()).unwrap());
    let lessons: Vec<_> = given.collect();
    for work in &term.attempts {
        let actions: Vec<Action> = work.steps.iter().map(|s| s.action.clone()).collect();
        let session = Session::replay(&lessons[work.given], &actions).unwrap();
        let who = &term.students[work.student];
        assert_eq!(
            session.steps(),
            work.steps,
            "{who}, {}",
            lessons[work.given].title
        );
    }
}

fn marks_of(given: usize) {
    let term = term();
    let lesson = Lesson::new(term.given[given].lesson.clone()).unwrap();
    let reference = Reference::new(&lesson).unwrap();
    for work in term.attempts.iter().filter(|w| w.given == given) {
        let Some(marks) = &work.marks else { continue };
        let now = sheet(&Case::new(&reference, &work.steps).unwrap()).unwrap();
        assert_eq!(now, marks.sheet, "{}", term.students[work.student]);
    }
}

#[test]
fn the_marks_of_its_first_lesson_are_those_of_today() {
    marks_of(0);
}

#[test]
#[ignore = "every lesson of it: left to the long checks"]
fn all_its_marks_are_those_of_today() {
    (0..term().given.len()).for_each(marks_of);
}
