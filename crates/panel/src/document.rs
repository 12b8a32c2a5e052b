//! An attempt as a document: whose it is, why the panel would mark it so, the bands, and what was done.
//!
//! ```text
//! who: the terse expert
//! lesson: tug-no-crank
//! why: Reads where it tells most, and names the wire with the readings that prove it.
//! total: 85 to 100
//! clearing: 15 to 20
//! better than: the padder, the box-ticker
//! ---
//! try
//! …
//! ```

use std::path::{Path, PathBuf};

use cimento_diagnosis::attempt::Action;

use crate::script::read_script;
use crate::unreadable::Unreadable;

/// What the panel would give, least and most: for a criterion by its name, or for the `total`.
#[derive(Debug, Clone, PartialEq)]
pub struct Band {
    pub of: String,
    pub least: f64,
    pub most: f64,
}

/// An attempt that the panel has looked at.
#[derive(Debug, Clone, PartialEq)]
pub struct Attempt {
    pub who: String,
    pub lesson: String,
    /// Why the panel would mark it so.
    pub why: String,
    pub bands: Vec<Band>,
    /// Those at the same lesson whose work is worse.
    pub better_than: Vec<String>,
    pub actions: Vec<Action>,
}

impl Attempt {
    /// Reads a document.
    ///
    /// # Errors
    /// [`Unreadable`] with the line and what was expected there.
    pub fn read(text: &str) -> Result<Self, Unreadable> {
        let mut out = Self {
            who: String::new(),
            lesson: String::new(),
            why: String::new(),
            bands: Vec::new(),
            better_than: Vec::new(),
            actions: Vec::new(),
        };
        let mut read = 0;
        for (n, line) in text.lines().enumerate() {
            read += line.len() + 1;
            if line == "---" {
                out.actions = read_script(&text[read.min(text.len())..], n + 2)?;
                return Ok(out);
            }
            let bad = |message: &str| Unreadable {
                line: n + 1,
                message: message.to_owned(),
            };
            let (head, rest) = line
                .split_once(": ")
                .ok_or_else(|| bad("expected “name: text”, or --- before what was done"))?;
            match head {
                "who" => rest.clone_into(&mut out.who),
                "lesson" => rest.clone_into(&mut out.lesson),
                "why" => rest.clone_into(&mut out.why),
                "better than" => {
                    out.better_than = rest.split(", ").map(str::to_owned).collect();
                }
                of => {
                    let ends = rest.split_once(" to ");
                    let ends = ends.and_then(|(a, b)| Some((a.parse().ok()?, b.parse().ok()?)));
                    let (least, most) = ends.ok_or_else(|| bad("expected “10 to 20”"))?;
                    let of = of.to_owned();
                    out.bands.push(Band { of, least, most });
                }
            }
        }
        Err(Unreadable {
            line: text.lines().count(),
            message: "expected --- and what was done".to_owned(),
        })
    }
}

/// Every attempt of the panel at a lesson, by the name of its file.
///
/// # Errors
/// A sentence with the file that could not be read.
pub fn attempts(lesson: &str) -> Result<Vec<Attempt>, String> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR"))
        .join("attempts")
        .join(lesson);
    let Ok(entries) = std::fs::read_dir(&folder) else {
        return Ok(Vec::new());
    };
    let mut files: Vec<PathBuf> = entries.filter_map(|e| Some(e.ok()?.path())).collect();
    files.sort();
    let read = |path: &PathBuf| {
        let text = std::fs::read_to_string(path).map_err(|e| e.to_string());
        let attempt = text.and_then(|t| Attempt::read(&t).map_err(|e| e.to_string()));
        attempt.map_err(|e| format!("{}: {e}", path.display()))
    };
    files.iter().map(read).collect()
}
