//! Databases that earlier programs kept: each is upgraded, everything in it goes on, and no mark changes by itself.
//! `scripts/keep-schema` keeps another at each release.

use std::collections::BTreeMap;
use std::io::Read;
use std::path::{Path, PathBuf};

use cimento_diagnosis::attempt::Session;
use cimento_diagnosis::lesson::Lesson;
use cimento_server::{AppState, router};
use cimento_store::Store;
use flate2::read::GzDecoder;
use serde::Deserialize;

use crate::common::School;

/// What the program of that time said of an attempt.
#[derive(Deserialize)]
struct Said {
    steps: usize,
    /// The mark that it gave, where it gave one.
    total: Option<f64>,
}

/// Marks were first kept, and not worked out at each look, with this schema.
const KEEPS_MARKS: &str = "0006";

fn kept() -> Vec<PathBuf> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/kept");
    let entries = std::fs::read_dir(folder).unwrap();
    let mut files: Vec<PathBuf> = entries.map(|e| e.unwrap().path()).collect();
    files.retain(|f| f.extension().is_some_and(|e| e == "gz"));
    files.sort();
    files
}

/// The same file as it was, in a folder of its own, and what was said of its attempts.
fn unpacked(file: &Path) -> (tempfile::TempDir, PathBuf, BTreeMap<i32, Said>) {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("school.db");
    let mut bytes = Vec::new();
    let packed = std::fs::File::open(file).unwrap();
    GzDecoder::new(packed).read_to_end(&mut bytes).unwrap();
    std::fs::write(&path, bytes).unwrap();
    let said = file.with_extension("").with_extension("json");
    let said = std::fs::read_to_string(said).unwrap();
    (folder, path, serde_json::from_str(&said).unwrap())
}

#[tokio::test]
async fn every_attempt_of_every_schema_replays_and_keeps_its_marks() {
    let files = kept();
    assert!(files.len() >= 2, "{files:?}");
    for file in files {
        let schema = file.file_name().unwrap().to_string_lossy().into_owned();
        let (folder, path, said) = unpacked(&file);
        let store = Store::open(&path).unwrap();
        assert!(!said.is_empty(), "{schema}");
        for (id, said) in &said {
            let standing = store.standing(*id, "", 1).unwrap();
            let row = &standing.attempt;
            assert_eq!(
                (row.steps, row.handed_in),
                (said.steps, true),
                "{schema}: attempt {id}"
            );
            let lesson = Lesson::new(store.lesson(row.lesson_id).unwrap().document);
            let lesson = lesson.unwrap_or_else(|e| panic!("{schema}: attempt {id}: {e}"));
            let steps = store.steps(*id).unwrap();
            let session = Session::resume(&lesson, &steps);
            let session = session.unwrap_or_else(|e| panic!("{schema}: attempt {id}: {e}"));
            let shown = |steps: &[cimento_diagnosis::attempt::Step]| {
                steps
                    .iter()
                    .map(|s| (s.action.clone(), s.said()))
                    .collect::<Vec<_>>()
            };
            assert_eq!(
                shown(session.steps()),
                shown(&steps),
                "{schema}: attempt {id}"
            );
        }
        let app = router(AppState::new(store, folder.path().to_owned()).thinking_ahead(false));
        let school = School::around(app, folder);
        let dalca = school.sign_in("dalca", "bench-and-meter").await;
        for (id, said) in said {
            let Some(total) = said.total.filter(|_| schema.as_str() >= KEEPS_MARKS) else {
                continue;
            };
            let path = format!("/api/attempts/{id}/sheet");
            let sheet = school.ask_once("GET", &path, Some(&dalca), None).await;
            assert_eq!(
                sheet.json()["total"],
                total,
                "{schema}: attempt {id}: {}",
                sheet.status
            );
        }
    }
}

/// A program is not released before its schema is kept.
#[test]
fn the_last_schema_is_kept_or_comes_after_the_last_that_is() {
    let migrations = Path::new(env!("CARGO_MANIFEST_DIR")).join("../store/migrations");
    let names = std::fs::read_dir(migrations).unwrap();
    let names = names.map(|e| e.unwrap().file_name().to_string_lossy()[..4].to_owned());
    let last = names.max().unwrap();
    let kept = kept();
    let kept = kept.last().unwrap().file_name().unwrap().to_string_lossy()[..4].to_owned();
    assert!(
        last >= kept,
        "{kept} is kept, and the last schema is {last}"
    );
    let behind = last.parse::<u32>().unwrap() - kept.parse::<u32>().unwrap();
    assert!(
        behind <= 3,
        "{behind} schemas since one was kept: scripts/keep-schema"
    );
}
