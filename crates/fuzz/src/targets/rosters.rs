//! Rosters of a student information system: three tables, taken over into a school, or shown what would change.

use std::collections::BTreeMap;

use cimento_store::{Roster, Store};
use fastrand::Rng;
use serde_json::{Value, json};
use tempfile::TempDir;

use super::wire_lists::csv;
use super::{Outcome, Target, demo};
use crate::kept::Watching;
use crate::words::Words;

pub(super) struct Rosters {
    files: BTreeMap<String, String>,
    words: Words,
    store: Store,
    watching: Watching,
    _folder: TempDir,
}

impl Rosters {
    pub(super) fn new() -> Result<Self, String> {
        let said = |e: &dyn std::fmt::Display| e.to_string();
        let folder = tempfile::tempdir().map_err(|e| said(&e))?;
        let database = folder.path().join("school.db");
        let store = Store::open(&database).map_err(|e| said(&e))?;
        let from = demo().join("roster");
        let mut files = BTreeMap::new();
        for entry in std::fs::read_dir(&from).map_err(|e| format!("{}: {e}", from.display()))? {
            let path = entry.map_err(|e| said(&e))?.path();
            let name = path.file_name().unwrap_or_default().to_string_lossy();
            let text = std::fs::read_to_string(&path).map_err(|e| said(&e))?;
            files.insert(name.into_owned(), text);
        }
        let cells = files.values().flat_map(|t| t.split([',', '\n', '\r']));
        let words = Words::of([&cells.map(Value::from).collect::<Value>()]);
        Ok(Self {
            files,
            words,
            store,
            watching: Watching::new(&database)?,
            _folder: folder,
        })
    }
}

impl Target for Rosters {
    fn name(&self) -> &'static str {
        "rosters"
    }

    fn weight(&self) -> u32 {
        10
    }

    fn draw(&mut self, rng: &mut Rng) -> String {
        let mut files = self.files.clone();
        for text in files.values_mut() {
            if rng.u8(..3) == 0 {
                *text = csv(text, &self.words, rng);
            }
        }
        json!({"over": rng.u8(..10) == 0, "files": files}).to_string()
    }

    fn take(&mut self, input: &str) -> Outcome {
        let drawn: Value = serde_json::from_str(input).unwrap_or_default();
        let files = serde_json::from_value(drawn["files"].clone()).unwrap_or_default();
        let before = self.watching.holds();
        let roster = match Roster::read(&files, "2026-11-28") {
            Ok(roster) => roster,
            Err(findings) if findings.is_empty() => {
                return Outcome::Broken("it is refused without a word".to_owned());
            }
            Err(_) => return Outcome::Refused,
        };
        let done = match drawn["over"] == true {
            true => self.store.take_over(&roster, 100),
            false => self.store.would_change(&roster, 100),
        };
        match done {
            Ok(_) => Outcome::Taken,
            Err(_) if self.watching.holds() != before => {
                Outcome::Broken("it is refused, and something of it is kept".to_owned())
            }
            Err(_) => Outcome::Refused,
        }
    }
}
