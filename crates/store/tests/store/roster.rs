//! The school's own records: read as OneRoster 1.1 has them, told before they are taken over, taken over again and
//! again. The files are a small school's that ships with the demo.

use std::collections::{BTreeMap, BTreeSet};
use std::path::Path;

use cimento_store::{Role, Roster, RosterPlan, Store};
use proptest::prelude::*;
use tempfile::TempDir;

const TODAY: &str = "2026-11-28";
const NOW: i64 = 1_800_000_000;

type Files = BTreeMap<String, String>;

fn files() -> Files {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo/roster");
    let all = std::fs::read_dir(folder).unwrap().flatten();
    let text = |e: std::fs::DirEntry| {
        let name = e.file_name().to_string_lossy().into_owned();
        (name, std::fs::read_to_string(e.path()).unwrap())
    };
    all.map(text).collect()
}

fn school() -> (TempDir, Store) {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(&folder.path().join("school.db")).unwrap();
    let roles = [Role::Administrator, Role::Instructor].into_iter();
    store
        .add_people(&[cimento_store::NewPerson {
            name: "dalca".to_owned(),
            display: "R. Dalca".to_owned(),
            roles: roles.collect(),
            password: "bench-and-meter".to_owned(),
        }])
        .unwrap();
    (folder, store)
}

fn take(store: &Store, files: &Files) -> RosterPlan {
    let roster = Roster::read(files, TODAY).unwrap();
    let told = store.would_change(&roster, NOW).unwrap();
    let done = store.take_over(&roster, NOW).unwrap();
    assert_eq!(told, done, "what is told is what happens");
    done
}

fn count(plan: &RosterPlan, what: &str) -> usize {
    plan.changes.iter().filter(|c| c.what == what).count()
}

/// Leaves lines of a file that hold a text out, or puts another in its place.
fn edited(file: &str, from: &str, to: Option<&str>) -> Files {
    let mut files = files();
    let text = files.get_mut(file).unwrap();
    assert!(text.contains(from), "{file} holds {from}");
    *text = match to {
        Some(to) => text.replace(from, to),
        None => {
            let stays = text.lines().filter(|line| !line.contains(from));
            stays.map(|line| format!("{line}\n")).collect()
        }
    };
    files
}

#[test]
fn a_roster_is_told_taken_over_and_taken_over_again() {
    let (_folder, store) = school();
    let roster = Roster::read(&files(), TODAY).unwrap();
    assert_eq!(roster.left_aside, ["B. Abend, guardian"]);
    store.would_change(&roster, NOW).unwrap();
    assert_eq!(
        store.people().unwrap().len(),
        1,
        "a dry run changes nothing"
    );
    let plan = take(&store, &files());
    // 23 students, a colleague and an assistant; the one who was there is known by the name they sign in with.
    assert_eq!(
        (
            count(&plan, "add"),
            count(&plan, "begin"),
            count(&plan, "join")
        ),
        (25, 2, 27)
    );
    assert!(
        plan.changes
            .iter()
            .any(|c| c.about == "R. Dalca is known in the records")
    );
    let people = store.people().unwrap();
    let roles: Vec<_> = people
        .iter()
        .find(|p| p.name == "dalca")
        .unwrap()
        .roles
        .iter()
        .collect();
    assert_eq!(roles, [Role::Administrator, Role::Instructor]);
    // Class of last year is over and does not begin.
    let classes = store.classes(1).unwrap();
    let names: Vec<_> = classes.iter().map(|c| (c.name.as_str(), c.asker)).collect();
    let first = ("Ground equipment, first year", Some(Role::Instructor));
    assert_eq!(names, [("Ground equipment, evenings", None), first]);
    let members = store.members().unwrap();
    let of = |class: i32, role| {
        let those = members
            .iter()
            .filter(|m| m.class == class && m.role == role);
        those.count()
    };
    let sizes: Vec<_> = classes.iter().map(|c| of(c.id, Role::Student)).collect();
    assert_eq!(sizes, [9, 14]);
    // Nobody who came so signs in with a password, least of all with none.
    let from = cimento_store::SignInFrom {
        now: NOW,
        lasts_s: 10,
        browser: "",
    };
    assert_eq!(store.sign_in("corvaan", "", &from).unwrap(), None);
    assert_eq!(
        take(&store, &files()).changes,
        [],
        "the same again changes nothing"
    );

    // Who is gone leaves, and comes back; a name changes; a place in a class too.
    let plan = take(
        &store,
        &edited("users.csv", "Corvaan", None).without_enrollments("s-3"),
    );
    let said: Vec<_> = plan
        .changes
        .iter()
        .map(|c| (c.what, c.about.as_str()))
        .collect();
    assert_eq!(
        said,
        [
            ("leave", "Calla Corvaan"),
            ("go", "Calla Corvaan, Ground equipment, first year")
        ]
    );
    let plan = take(&store, &edited("users.csv", "Corvaan", Some("Corvain")));
    let said: Vec<_> = plan
        .changes
        .iter()
        .map(|c| (c.what, c.about.as_str()))
        .collect();
    assert_eq!(
        said,
        [
            ("change", "Calla Corvaan is now Calla Corvain"),
            ("come back", "Calla Corvaan"),
            (
                "join",
                "Calla Corvain, Ground equipment, first year as student"
            ),
        ]
    );
    let plan = take(
        &store,
        &edited("users.csv", "s-4,,,true", Some("s-4,,,false")),
    );
    assert_eq!(count(&plan, "leave"), 1);
    // Whoever looks after the people is not shut out by a file, and who was added by hand stays.
    store
        .add_user("zielke", "M. Zielke", Role::Student, "red-and-black")
        .unwrap();
    let plan = take(
        &store,
        &edited("users.csv", "dalca", None).without_enrollments("t-1"),
    );
    assert_eq!(count(&plan, "leave"), 0, "{plan:?}");
    let by_hand = store
        .people()
        .unwrap()
        .into_iter()
        .find(|p| p.name == "zielke")
        .unwrap();
    assert_eq!(by_hand.retired_at, None);
}

/// A delta says what changed and nothing of the rest.
#[test]
fn a_delta_takes_nobody_away_who_is_not_in_it() {
    let (_folder, store) = school();
    take(&store, &files());
    let mut delta = files();
    for (file, text) in &mut delta {
        if file == "manifest.csv" {
            *text = text.replace("bulk", "delta");
            continue;
        }
        let head = text.lines().next().unwrap_or_default().to_owned();
        *text = format!("{head}\n");
    }
    assert_eq!(take(&store, &delta).changes, []);
    let users = delta.get_mut("users.csv").unwrap();
    users.push_str("s-5,tobedeleted,2026-11-20,true,org-1,student,estrum,,Elka,Estrum,,,,,,,,\n");
    assert_eq!(count(&take(&store, &delta), "leave"), 1);
}

#[test]
fn every_mistake_is_told_with_its_file_and_line() {
    let told = |files: Files| {
        let found = Roster::read(&files, TODAY).unwrap_err();
        let said = found
            .iter()
            .map(|f| format!("{}:{} {}", f.file, f.line, f.message));
        said.collect::<Vec<_>>()
    };
    assert_eq!(
        told(edited("users.csv", "s-2,", Some("s-1,"))),
        [
            "users.csv:7 s-1 is there twice",
            "enrollments.csv:7 there is no s-2 in users.csv"
        ]
    );
    assert_eq!(
        told(edited("users.csv", "teacher,hollin", Some("wizard,hollin"))),
        ["users.csv:3 role: expected student, teacher, aide or proctor, found wizard"]
    );
    assert_eq!(
        told(edited("classes.csv", "title", Some("name")))
            .first()
            .unwrap(),
        "classes.csv:0 expected a column title"
    );
    assert_eq!(told(Files::new()).len(), 3);
    assert_eq!(
        told(edited(
            "enrollments.csv",
            "class-b,org-1,t-2",
            Some("class-x,org-1,t-2")
        )),
        ["enrollments.csv:4 there is no class-x in classes.csv"]
    );
    let unclosed = "sourcedId,title\na,\"b\nc,d\n";
    let mut files = files();
    files.insert("classes.csv".to_owned(), unclosed.to_owned());
    assert!(!told(files).is_empty());
}

trait Without {
    fn without_enrollments(self, person: &str) -> Self;
}

impl Without for Files {
    fn without_enrollments(mut self, person: &str) -> Self {
        let text = self.get_mut("enrollments.csv").unwrap();
        let of = format!(",{person},");
        let stays = text.lines().filter(|line| !line.contains(&of));
        *text = stays.map(|line| format!("{line}\n")).collect();
        self
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, failure_persistence: None, ..ProptestConfig::default() })]

    /// Whatever part of the people the records hold, once or after another part: who is there is who they hold, and
    /// taking them over again changes nothing.
    #[test]
    fn what_the_records_hold_is_what_is_there(first in proptest::collection::btree_set(1..24_usize, 0..24), then in proptest::collection::btree_set(1..24_usize, 0..24)) {
        let (_folder, store) = school();
        for held in [&first, &then] {
            let mut files = files();
            for n in (1..24).filter(|n| !held.contains(n)) {
                files = files.without_enrollments(&format!("s-{n}"));
                let users = files.get_mut("users.csv").unwrap();
                let of = format!("s-{n},");
                *users = users.lines().filter(|l| !l.starts_with(&of)).map(|l| format!("{l}\n")).collect();
            }
            take(&store, &files);
            prop_assert_eq!(take(&store, &files).changes, vec![]);
            let there: BTreeSet<String> = store.students().unwrap().into_iter().map(|p| p.display).collect();
            prop_assert_eq!(there.len(), held.len());
            let members = store.members().unwrap();
            let learning = members.iter().filter(|m| m.role == Role::Student);
            let learning: BTreeSet<String> = learning.map(|m| m.display.clone()).collect();
            prop_assert_eq!(learning, there);
        }
    }

    /// Damaged files are told, and never end the program.
    #[test]
    fn damaged_files_are_told(file in 0..5_usize, at in 0..2000_usize, with in "[\\x00-\\x7f]{0,4}") {
        let mut files = files();
        let names: Vec<String> = files.keys().cloned().collect();
        let text = files.get_mut(&names[file]).unwrap();
        let at = at.min(text.len());
        text.replace_range(at..(at + 2).min(text.len()), &with);
        if let Ok(roster) = Roster::read(&files, TODAY) {
            let (_folder, store) = school();
            store.take_over(&roster, NOW).unwrap();
        }
    }
}
