//! How large what a student sends may be: looked at before anything is done with it.

use serde_json::Value;

use super::actions::Action;

/// Longest text, in characters: a note's, which is the longest.
const TEXT: usize = 2000;

/// What in an action is too large for a circuit of so many places, as a sentence with the bound.
pub(super) fn too_large(action: &Action, places: usize) -> Option<String> {
    let written = serde_json::to_value(action).unwrap_or_default();
    fields(&written, "", places)
}

fn fields(value: &Value, name: &str, places: usize) -> Option<String> {
    match value {
        Value::String(text) => {
            let count = text.chars().count();
            (count > TEXT)
                .then(|| format!("{name}: {count} characters are too many: write at most {TEXT}"))
        }
        Value::Array(all) if all.len() > places => Some(format!(
            "{name}: {} entries are too many: this machine has {places} places",
            all.len()
        )),
        Value::Array(all) => all.iter().find_map(|v| fields(v, name, places)),
        Value::Object(all) => all.iter().find_map(|(name, v)| fields(v, name, places)),
        _ => None,
    }
}
