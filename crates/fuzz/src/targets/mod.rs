//! What takes documents, files and questions in: a file each.

mod actions;
mod bodies;
mod circuits;
mod layouts;
mod lessons;
mod path_lines;
mod rosters;
mod screens;
mod wire_lists;

use std::path::{Path, PathBuf};
use std::rc::Rc;

use fastrand::Rng;
use serde_json::Value;

use crate::arbitrary::Arbitrary;
use crate::damage;
use crate::words::Words;

/// What became of a document.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Outcome {
    Taken,
    Refused,
    /// It was answered in a way in which nothing may be answered, as a sentence.
    Broken(String),
}

/// Takes one kind of document in.
pub trait Target {
    fn name(&self) -> &'static str;

    /// How many of these are put for one of the slowest.
    fn weight(&self) -> u32;

    fn draw(&mut self, rng: &mut Rng) -> String;

    fn take(&mut self, input: &str) -> Outcome;
}

/// Good documents, what the API says of itself, and words out of both.
pub struct Good {
    pub circuits: Vec<Value>,
    pub words: Words,
    pub arbitrary: Arbitrary,
    pub description: Value,
}

/// The folder of the demo's documents.
fn demo() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo")
}

impl Good {
    /// # Errors
    /// What cannot be read, with its name.
    pub fn new() -> Result<Self, String> {
        let circuits = documents(&demo().join("circuits"))?;
        let words = Words::of(&circuits);
        let description: Value =
            serde_json::from_str(&cimento_server::document()).map_err(|e| e.to_string())?;
        Ok(Self {
            arbitrary: Arbitrary::new(&description, words.clone()),
            circuits,
            words,
            description,
        })
    }

    /// A good document in which something is wrong, or one that is drawn.
    fn bad(&self, good: &Value, schema: &str, rng: &mut Rng) -> String {
        match rng.u8(..4) {
            0 => self.arbitrary.named(schema, rng).to_string(),
            1 => damage::bytes(&good.to_string(), rng),
            _ => {
                let mut document = good.clone();
                damage::document(&mut document, &self.words, rng);
                document.to_string()
            }
        }
    }
}

/// The documents of a folder, in the order of their names.
fn documents(folder: &Path) -> Result<Vec<Value>, String> {
    let said = |e: &dyn std::fmt::Display| format!("{}: {e}", folder.display());
    let entries = std::fs::read_dir(folder).map_err(|e| said(&e))?;
    let mut files: Vec<PathBuf> = entries.filter_map(|e| Some(e.ok()?.path())).collect();
    files.retain(|f| f.extension().is_some_and(|e| e == "json"));
    files.sort();
    let read = |file: &PathBuf| {
        let text = std::fs::read_to_string(file).map_err(|e| said(&e))?;
        serde_json::from_str(&text).map_err(|e| said(&e))
    };
    files.iter().map(read).collect()
}

/// All targets.
///
/// # Errors
/// What cannot be prepared.
pub fn all() -> Result<Vec<Box<dyn Target>>, String> {
    let good = Rc::new(Good::new()?);
    let good = || Rc::clone(&good);
    Ok(vec![
        Box::new(circuits::Circuits(good())),
        Box::new(lessons::Lessons::new(good())?),
        Box::new(path_lines::PathLines::new(good())?),
        Box::new(wire_lists::WireLists::new(good())?),
        Box::new(rosters::Rosters::new()?),
        Box::new(layouts::Layouts::new(good())?),
        Box::new(screens::Screens::new(good())?),
        Box::new(actions::Actions::new(good())?),
        Box::new(bodies::Bodies::new(good())?),
    ])
}
