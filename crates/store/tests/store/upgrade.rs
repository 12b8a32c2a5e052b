//! A school that was kept by an earlier program goes on: its people, their attempts and marks.

use cimento_store::{Role, SheetsShow, SignInFrom, Store, Whose};
use diesel::connection::SimpleConnection;
use diesel::sqlite::SqliteConnection;
use diesel::{Connection, QueryableByName, RunQueryDsl, sql_query};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();
/// Up to there nobody was in a class, and what was given out had no terms.
const BEFORE_CLASSES: usize = 7;

/// Two instructors, two students and one who has left; a lesson that two have, one of them handed in, and a trial of
/// the lesson by an instructor.
const SCHOOL: &str = r#"
INSERT INTO users (id, name, display, role, password_hash, retired_at) VALUES
    (1, 'dalca', 'R. Dalca', 'instructor', '', NULL), (2, 'keller', 'P. Keller', 'instructor', '', NULL),
    (3, 'varga', 'I. Varga', 'student', '', NULL), (4, 'oduya', 'T. Oduya', 'student', '', NULL),
    (5, 'zielke', 'M. Zielke', 'student', '', 170);
INSERT INTO sign_ins (token_hash, user_id, expires_at) VALUES ('aa', 3, 9000000000);
INSERT INTO lessons (id, title, document, author_id, created_at) VALUES (1, 'Tug', '{}', 1, 100);
INSERT INTO attempts (id, lesson_id, student_id, given_at) VALUES (1, 1, 3, 110), (2, 1, 4, 120), (3, 1, 2, 130);
INSERT INTO steps (attempt_id, no, request, action, answer, minutes, at) VALUES
    (1, 1, 'a', '{"do":"hand_in"}', '{"answer":"done"}', 0, 140),
    (3, 1, 'b', '{"do":"try_complaint"}', '{}', 1, 150);
INSERT INTO given_marks (attempt_id, criterion, marks, reason, author_id, at) VALUES (1, 'proof', 5, 'Heard.', 1, 160);
INSERT INTO sheets (attempt_id, engine, made_at, sheet, debrief, stands) VALUES (1, '1', 150, '{}', '{}', 1);
"#;

#[derive(QueryableByName)]
struct Count {
    #[diesel(sql_type = diesel::sql_types::BigInt)]
    n: i64,
}

#[test]
fn a_school_from_before_there_were_classes_goes_on() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("school.db");
    let mut db = SqliteConnection::establish(path.to_str().unwrap()).unwrap();
    for _ in 0..BEFORE_CLASSES {
        db.run_next_migration(MIGRATIONS).unwrap();
    }
    db.batch_execute(SCHOOL).unwrap();
    drop(db);

    let store = Store::open(&path).unwrap();
    let people = store.people().unwrap();
    let roles = |name: &str| {
        let found = people.iter().find(|p| p.name == name).unwrap();
        found.roles.iter().collect::<Vec<_>>()
    };
    assert_eq!(people.len(), 5);
    // Somebody looks after the people from now on: who was there first.
    assert_eq!(roles("dalca"), [Role::Administrator, Role::Instructor]);
    assert_eq!(roles("keller"), [Role::Instructor]);
    assert_eq!(roles("zielke"), [Role::Student]);
    let classes = store.classes(2).unwrap();
    assert_eq!(classes.len(), 1);
    assert_eq!(classes[0].asker, Some(Role::Instructor));
    assert_eq!(store.members().unwrap().len(), 5);

    // What was given stays as it was: one attempt each, and the sheet shows when it is handed in.
    let assignments = store.assignments(1).unwrap();
    assert_eq!(assignments.len(), 1);
    let given = &assignments[0];
    assert_eq!((given.given, given.handed_in, given.made_at), (2, 1, 110));
    assert_eq!(given.terms.sheets, SheetsShow::HandedIn);
    assert!(!given.whole_class);
    let own = store.attempts(Whose::Of(3)).unwrap();
    assert_eq!(
        (own.len(), own[0].id, own[0].handed_in, own[0].no),
        (1, 1, true, 1)
    );
    assert_eq!(own[0].given.as_ref().unwrap().assignment, given.id);
    // The trial of an instructor is theirs, and nothing that was given.
    let seen = store.attempts(Whose::SeenBy(2)).unwrap();
    let ids: Vec<_> = seen.iter().map(|a| (a.id, a.given.is_some())).collect();
    assert_eq!(ids, [(3, false), (2, true), (1, true)]);
    let seen = store.attempts(Whose::SeenBy(1)).unwrap();
    assert_eq!(seen.len(), 2, "another's trial is not seen");
    assert_eq!(store.given_marks(1).unwrap().len(), 1);
    assert!(store.standing_sheet(1).unwrap().is_some());
    assert_eq!(store.school().unwrap().as_deref(), Some("School"));

    // Steps are still append-only, and everything refers to what is there.
    let mut db = SqliteConnection::establish(path.to_str().unwrap()).unwrap();
    assert!(db.batch_execute("DELETE FROM steps").is_err());
    let broken = "SELECT count(*) AS n FROM pragma_foreign_key_check";
    let broken: Count = sql_query(broken).get_result(&mut db).unwrap();
    assert_eq!(broken.n, 0);
    let from = SignInFrom {
        now: 200,
        lasts_s: 100,
        browser: "",
    };
    assert_eq!(
        store.sign_in("zielke", "red-and-black", &from).unwrap(),
        None
    );
    // Opened again, nothing is done twice.
    drop(store);
    assert_eq!(Store::open(&path).unwrap().assignments(1).unwrap().len(), 1);
}
