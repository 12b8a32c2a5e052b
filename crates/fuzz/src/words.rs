//! Words that mean something somewhere: names of parts, terminals, places and fields out of good documents, so that what
//! is drawn goes further than its first mistake.

use std::collections::BTreeSet;

use fastrand::Rng;
use serde_json::Value;

/// Texts that have broken programs: controls, what spreadsheets and shells run, markup, other directions and sizes.
const ODD: &[&str] = &[
    "",
    " ",
    "\0",
    "a\nb",
    "\u{1b}[2J",
    "=1+1",
    "@SUM(A1)",
    "\n.control\nshell touch x\n.endc",
    "<script>alert(1)</script>",
    "\"><img src=x>",
    "../../etc/passwd",
    "'; DROP TABLE steps; --",
    "\u{202e}abc",
    "\u{feff}x",
    "é\u{301}",
    "𝔘𝔫",
    "null",
    "-0",
    "1e999",
    "12,4",
    "W8;W9",
    "BAT.+",
    "BAT.",
    ".+",
    "X1.1m",
    "C12.99f",
];

/// Words to choose from.
#[derive(Debug, Clone, Default)]
pub struct Words(Vec<String>);

impl Words {
    /// All names and texts of some documents.
    pub fn of<'a>(documents: impl IntoIterator<Item = &'a Value>) -> Self {
        let mut all = BTreeSet::new();
        for document in documents {
            gather(document, &mut all);
        }
        Self(all.into_iter().collect())
    }

    /// One of them, and now and then one that is odd or long.
    pub fn one(&self, rng: &mut Rng) -> String {
        match rng.u8(..20) {
            0 => "x".repeat(rng.usize(..100_000)),
            1..=4 => ODD[rng.usize(..ODD.len())].to_owned(),
            _ if self.0.is_empty() => "x".to_owned(),
            _ => self.0[rng.usize(..self.0.len())].clone(),
        }
    }
}

fn gather(value: &Value, all: &mut BTreeSet<String>) {
    match value {
        Value::String(text) => {
            all.insert(text.clone());
        }
        Value::Array(list) => list.iter().for_each(|v| gather(v, all)),
        Value::Object(members) => {
            for (name, member) in members {
                all.insert(name.clone());
                gather(member, all);
            }
        }
        _ => {}
    }
}
