//! A school's life over a real database: people sign in, steps are stored once and for ever.

use cimento_diagnosis::attempt::actions::{HandIn, TryComplaint};
use std::path::Path;

use cimento_diagnosis::attempt::{Action, Session};
use cimento_diagnosis::lesson::{Lesson, LessonDoc};
use cimento_model::circuit::read_json;
use cimento_store::{NewStep, Role, SignInFrom, Store, StoreError, Terms, To, Whose};

const NOW: i64 = 1_800_000_000;
const FROM: SignInFrom<'_> = SignInFrom {
    now: NOW,
    lasts_s: 100,
    browser: "X11; Linux",
};

fn lesson() -> LessonDoc {
    let demo = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo");
    let read = |file: &str| std::fs::read_to_string(demo.join(file)).unwrap();
    let mut doc: serde_json::Value =
        serde_json::from_str(&read("lessons/tug-will-not-crank.json")).unwrap();
    doc["circuit"] = serde_json::from_str(&read("circuits/baggage-tug-starting.json")).unwrap();
    read_json(&doc.to_string()).unwrap()
}

#[test]
fn people_sign_in_with_the_right_password_only() {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(&folder.path().join("school.db")).unwrap();
    store
        .add_user("varga", "I. Varga", Role::Student, "red-and-black")
        .unwrap();
    assert!(matches!(
        store.add_user("varga", "Other", Role::Student, "red-and-black"),
        Err(StoreError::NameTaken(_))
    ));
    assert!(matches!(
        store.add_user("short", "S", Role::Student, "1234"),
        Err(StoreError::WeakPassword(8))
    ));
    assert!(
        store
            .sign_in("varga", "black-and-red", &FROM)
            .unwrap()
            .is_none()
    );
    assert!(
        store
            .sign_in("nobody", "red-and-black", &FROM)
            .unwrap()
            .is_none()
    );
    let (token, user) = store
        .sign_in("varga", "red-and-black", &FROM)
        .unwrap()
        .unwrap();
    assert_eq!(store.signed_in(&token, NOW + 60).unwrap(), Some(user));
    assert_eq!(
        store.signed_in(&token, NOW + 15 * 24 * 3600).unwrap(),
        None,
        "a sign-in ends"
    );
    assert_eq!(store.signed_in("forged", NOW).unwrap(), None);
    store.sign_out(&token).unwrap();
    assert_eq!(store.signed_in(&token, NOW).unwrap(), None);
    // Neither the password nor the token stands in the file.
    let bytes = std::fs::read(folder.path().join("school.db")).unwrap();
    let text = String::from_utf8_lossy(&bytes);
    assert!(!text.contains("red-and-black") && !text.contains(&token));
}

#[test]
fn steps_come_in_order_once_and_stay() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("school.db");
    let store = Store::open(&path).unwrap();
    let author = store
        .add_user("dalca", "R. Dalca", Role::Instructor, "bench-and-meter")
        .unwrap();
    let student = store
        .add_user("varga", "I. Varga", Role::Student, "red-and-black")
        .unwrap();
    let doc = lesson();
    let id = store.add_lesson(&doc, author.id, NOW).unwrap();
    let class = store.add_class("First year", Some(author.id), NOW).unwrap();
    store.enrol(class, student.id, Role::Student, NOW).unwrap();
    let assigned = store.assign(class, id, To::Class, &Terms::default(), NOW);
    assigned.unwrap();
    // Taken in twice, they are given it once.
    store.enrol(class, student.id, Role::Student, NOW).unwrap();
    let attempts = store.attempts(Whose::Of(student.id)).unwrap();
    assert_eq!(attempts.len(), 1);
    let attempt = attempts[0].id;

    let lesson = Lesson::new(doc).unwrap();
    let mut session = Session::start(&lesson);
    session.act(Action::TryComplaint(TryComplaint {})).unwrap();
    session.act(Action::HandIn(HandIn {})).unwrap();
    let steps = session.steps();
    let new = |n: usize, request: &'static str| NewStep {
        step: &steps[n],
        request,
        at: NOW,
        began_passed_s: Some(7),
    };
    assert!(matches!(
        store.add_step(attempt, &new(1, "b")),
        Err(StoreError::MovedOn {
            have: 0,
            expected: 1
        })
    ));
    store.add_step(attempt, &new(0, "a")).unwrap();
    assert!(matches!(
        store.add_step(attempt, &new(0, "c")),
        Err(StoreError::MovedOn { .. })
    ));
    assert_eq!(
        store.standing(attempt, "a", student.id).unwrap().done,
        Some(1)
    );
    store.add_step(attempt, &new(1, "b")).unwrap();
    // Another process opens the same file and finds what was acknowledged.
    let again = Store::open(&path).unwrap();
    assert_eq!(again.steps(attempt).unwrap(), steps);
    let standing = again.standing(attempt, "", author.id).unwrap();
    assert!(standing.attempt.handed_in);
}

#[test]
fn a_file_that_is_no_database_is_refused_in_a_sentence() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("notes.db");
    std::fs::write(
        &path,
        "these are my notes, not a database, and they are long enough to look like one",
    )
    .unwrap();
    let error = Store::open(&path).err().expect("it is refused").to_string();
    assert!(error.contains("cannot be opened"), "{error}");
    assert!(
        std::fs::read_to_string(&path)
            .unwrap()
            .starts_with("these are my notes"),
        "and left as it was"
    );
}

/// What is typed in one go is one version; what stood before a pause is kept, and two do not overwrite
/// each other.
#[test]
fn a_circuit_is_kept_as_it_was() {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(&folder.path().join("school.db")).unwrap();
    let mut doc = lesson().circuit;
    let id = store.add_circuit(&doc, NOW).unwrap();
    let mut change = |title: &str, version: i32, at: i64| {
        title.clone_into(&mut doc.title);
        store.change_circuit(id, &doc, version, NOW + at)
    };
    assert_eq!(change("Typed at once", 1, 20).unwrap(), 2);
    assert!(store.kept_versions(id).unwrap().is_empty());
    assert_eq!(change("After lunch", 2, 3600).unwrap(), 3);
    assert_eq!(change("Still", 3, 3620).unwrap(), 4);
    assert_eq!(store.kept_versions(id).unwrap(), [(2, NOW + 20)]);
    assert_eq!(store.kept_version(id, 2).unwrap().title, "Typed at once");
    assert!(matches!(
        store.kept_version(id, 3),
        Err(StoreError::NotFound { .. })
    ));
    assert!(matches!(
        change("Old page", 2, 9000),
        Err(StoreError::ChangedElsewhere {
            have: 4,
            version: 2
        })
    ));
}

/// What is put away can be taken back; only what was put away can be deleted; a number is never given again.
#[test]
fn a_circuit_is_put_away_and_deleted() {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(&folder.path().join("school.db")).unwrap();
    let doc = lesson().circuit;
    let id = store.add_circuit(&doc, NOW).unwrap();
    store.change_circuit(id, &doc, 1, NOW + 9000).unwrap();
    assert_eq!(store.kept_versions(id).unwrap().len(), 1);
    assert!(matches!(
        store.delete_circuit(id),
        Err(StoreError::NotPutAway)
    ));
    store.file_circuit(id, Some(NOW)).unwrap();
    assert_eq!(store.circuits().unwrap()[0].retired_at, Some(NOW));
    store.file_circuit(id, None).unwrap();
    assert_eq!(store.circuits().unwrap()[0].retired_at, None);
    store.file_circuit(id, Some(NOW)).unwrap();
    store.delete_circuit(id).unwrap();
    assert!(store.circuits().unwrap().is_empty());
    assert!(store.kept_versions(id).unwrap().is_empty());
    let none = |r| matches!(r, Err(StoreError::NotFound { .. }));
    assert!(none(store.delete_circuit(id)));
    assert!(none(store.file_circuit(id, None)));
    assert!(none(store.change_circuit(id, &doc, 2, NOW).map(drop)));
    assert_ne!(store.add_circuit(&doc, NOW).unwrap(), id);
}
