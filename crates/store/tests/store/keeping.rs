//! The database's file: held by who works on it, looked at, put back, upgraded with a copy, and never taken back in time.

use std::path::{Path, PathBuf};

use cimento_store::{Hold, Role, Store, StoreError, check, hold, restore};
use diesel::Connection;
use diesel::connection::SimpleConnection;
use diesel::migration::MigrationSource;
use diesel::sqlite::{Sqlite, SqliteConnection};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();

fn school(path: &Path, who: &str) {
    let store = Store::open(path).unwrap();
    store
        .add_user(who, who, Role::Instructor, "red-and-black")
        .unwrap();
}

fn people(path: &Path) -> Vec<String> {
    let store = Store::open(path).unwrap();
    store
        .people()
        .unwrap()
        .into_iter()
        .map(|p| p.name)
        .collect()
}

fn copies(folder: &Path) -> Vec<PathBuf> {
    let all = std::fs::read_dir(folder)
        .unwrap()
        .map(|e| e.unwrap().path());
    let mut kept: Vec<PathBuf> = all
        .filter(|p| {
            p.to_string_lossy().contains(".before-") && !p.to_string_lossy().ends_with("-wal")
        })
        .collect();
    kept.sort();
    kept
}

/// A copy takes the place of what is there, which is kept; nothing of the old file's log gets into the new one.
#[test]
fn a_copy_is_put_in_the_place_of_the_database() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("school.db");
    school(&path, "dalca");
    let copy = folder.path().join("copy.db");
    Store::open(&path).unwrap().backup(&copy).unwrap();
    school(&path, "keller");
    assert_eq!(people(&path), ["dalca", "keller"]);
    let kept = restore(&copy, &path, "20261129").unwrap().unwrap();
    assert_eq!(people(&path), ["dalca"]);
    assert_eq!(
        people(&kept),
        ["dalca", "keller"],
        "nothing of what was there is lost"
    );
    // To a place where nothing was.
    let new = folder.path().join("new.db");
    assert_eq!(restore(&copy, &new, "20261129").unwrap(), None);
    assert_eq!(people(&new), ["dalca"]);
}

/// While a server works on the file nobody replaces it; a second server may stand beside the first.
#[test]
fn who_works_on_it_holds_it() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("school.db");
    school(&path, "dalca");
    let copy = folder.path().join("copy.db");
    Store::open(&path).unwrap().backup(&copy).unwrap();
    let first = hold(&path, Hold::Shared).unwrap();
    let second = hold(&path, Hold::Shared).unwrap();
    school(&path, "keller");
    let refused = restore(&copy, &path, "now").unwrap_err();
    assert!(matches!(refused, StoreError::InUse(_)), "{refused}");
    assert_eq!(people(&path), ["dalca", "keller"]);
    drop((first, second));
    restore(&copy, &path, "now").unwrap();
    assert_eq!(people(&path), ["dalca"]);
}

/// What is no whole database is not put in the place of one.
#[test]
fn a_damaged_copy_changes_nothing() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("school.db");
    school(&path, "dalca");
    let whole = folder.path().join("whole.db");
    Store::open(&path).unwrap().backup(&whole).unwrap();
    let bytes = std::fs::read(&whole).unwrap();
    let mut holed = bytes.clone();
    holed[4096..20_000].fill(0xA5);
    let other = folder.path().join("other.db");
    let mut db = SqliteConnection::establish(other.to_str().unwrap()).unwrap();
    db.batch_execute("CREATE TABLE birds (name TEXT)").unwrap();
    drop(db);
    for (name, bytes) in [
        ("empty", Vec::new()),
        ("text", b"not a database at all, but some words".to_vec()),
        ("half", bytes[..bytes.len() / 2].to_vec()),
        ("holed", holed),
        ("other", std::fs::read(&other).unwrap()),
    ] {
        let bad = folder.path().join(format!("{name}.db"));
        std::fs::write(&bad, bytes).unwrap();
        let why = restore(&bad, &path, "now").unwrap_err();
        assert!(matches!(why, StoreError::Damaged(_)), "{name}: {why}");
        assert_eq!(people(&path), ["dalca"], "{name}");
    }
    let none = restore(&folder.path().join("nowhere.db"), &path, "now").unwrap_err();
    assert!(none.to_string().contains("there is no such file"), "{none}");
    assert!(check(&path).is_ok());
    assert!(copies(folder.path()).is_empty(), "nothing was moved aside");
}

/// An upgrade begins with a copy of what was; a file that a newer program made is left alone.
#[test]
fn an_upgrade_keeps_what_was_and_a_downgrade_is_refused() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("school.db");
    let mut db = SqliteConnection::establish(path.to_str().unwrap()).unwrap();
    let all = MigrationSource::<Sqlite>::migrations(&MIGRATIONS)
        .unwrap()
        .len();
    for _ in 0..all - 1 {
        db.run_next_migration(MIGRATIONS).unwrap();
    }
    drop(db);
    assert!(copies(folder.path()).is_empty());
    Store::open(&path).unwrap();
    let kept = copies(folder.path());
    assert_eq!(kept.len(), 1, "{kept:?}");
    assert!(check(&kept[0]).is_ok());
    // Once it is upgraded, opening it copies nothing.
    Store::open(&path).unwrap();
    assert_eq!(copies(folder.path()), kept);

    let mut db = SqliteConnection::establish(path.to_str().unwrap()).unwrap();
    db.batch_execute("INSERT INTO __diesel_schema_migrations (version) VALUES ('9999')")
        .unwrap();
    drop(db);
    let Err(refused) = Store::open(&path) else {
        panic!("a newer file was opened");
    };
    assert!(refused.to_string().contains("newer program"), "{refused}");
    assert_eq!(copies(folder.path()), kept);
}

/// A file that is moved or deleted under a program is missed at once, and what was stored is put beside its place.
#[test]
fn of_a_file_that_is_gone_everything_is_rescued_and_nothing_more_is_taken() {
    for moved in [false, true] {
        let folder = tempfile::tempdir().unwrap();
        // Whatever a folder may be called.
        let named = folder.path().join("100 % of it? #1");
        std::fs::create_dir(&named).unwrap();
        let path = named.join("school.db");
        school(&path, "dalca");
        let store = Store::open(&path).unwrap();
        store
            .add_user("keller", "P. Keller", Role::Instructor, "bench-and-meter")
            .unwrap();
        match moved {
            true => std::fs::rename(&path, folder.path().join("elsewhere.db")).unwrap(),
            false => std::fs::remove_file(&path).unwrap(),
        }
        // Many look at once, more than at first: nobody makes an empty file in its place, whose log would be taken for
        // that of the file that is gone.
        std::thread::scope(|all| {
            for _ in 0..16 {
                all.spawn(|| (0..20).for_each(|_| assert!(store.members().is_ok())));
            }
        });
        assert!(!path.exists());
        for _ in 0..2 {
            let why = store
                .add_user("late", "L. Ate", Role::Student, "bench-and-meter")
                .unwrap_err();
            assert!(matches!(why, StoreError::Gone { .. }), "{why}");
            assert!(why.to_string().contains("school.db.rescued"), "{why}");
        }
        let rescued = named.join("school.db.rescued");
        assert!(check(&rescued).is_ok());
        assert_eq!(cimento_store::rescued(&path), Some(rescued.clone()));
        drop(store);
        assert!(
            restore(&rescued, &path, "now").unwrap().is_none(),
            "nothing was there"
        );
        assert_eq!(people(&path), ["dalca", "keller"]);
        assert_eq!(cimento_store::rescued(&path), None);
        // It happens again, and what was rescued first is still there.
        let store = Store::open(&path).unwrap();
        std::fs::remove_file(&path).unwrap();
        let late = store.add_user("late", "L. Ate", Role::Student, "bench-and-meter");
        assert!(
            late.unwrap_err()
                .to_string()
                .contains("school.db.rescued-2")
        );
        assert!(check(&rescued).is_ok());
    }
}

/// A copy that was begun when the power went has no name that anybody would take for one.
#[test]
fn a_copy_has_its_name_when_it_is_whole() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("school.db");
    school(&path, "dalca");
    let copy = folder.path().join("copy.db");
    let begun = folder.path().join("copy.db.part");
    std::fs::write(&begun, "what was begun").unwrap();
    let store = Store::open(&path).unwrap();
    store.backup(&copy).unwrap();
    assert!(check(&copy).is_ok() && !begun.exists());
    // One that cannot be written leaves nothing.
    let nowhere = folder.path().join("no").join("copy.db");
    assert!(store.backup(&nowhere).is_err());
    assert!(!folder.path().join("no").exists());
}

/// A file that somebody holds is not a damaged one.
#[test]
fn a_locked_database_is_in_use_and_not_damaged() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("school.db");
    school(&path, "dalca");
    let mut db = SqliteConnection::establish(path.to_str().unwrap()).unwrap();
    db.batch_execute(
        "PRAGMA journal_mode = DELETE; PRAGMA locking_mode = EXCLUSIVE; BEGIN EXCLUSIVE;",
    )
    .unwrap();
    let why = check(&path).unwrap_err();
    assert!(matches!(why, StoreError::InUse(_)), "{why}");
    drop(db);
    assert!(check(&path).is_ok());
}
