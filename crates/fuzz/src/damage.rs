//! Good documents with something wrong in them: by their members, and by their bytes.

use fastrand::Rng;
use serde_json::{Value, json};

use crate::arbitrary::{integer, number};
use crate::words::Words;

/// Changes a document in a few places.
pub fn document(value: &mut Value, words: &Words, rng: &mut Rng) {
    for _ in 0..=rng.usize(..3) {
        let mut paths = Vec::new();
        let mut path = Vec::new();
        pointers(value, &mut path, &mut paths);
        let at = paths[rng.usize(..paths.len())].clone();
        let other = paths[rng.usize(..paths.len())].clone();
        let other = walked(value, &other).map(|v| v.clone());
        if let Some(here) = walked(value, &at) {
            change(here, other, words, rng);
        }
    }
}

/// One step into a document.
#[derive(Debug, Clone)]
enum Step {
    Member(String),
    Item(usize),
}

fn pointers(value: &Value, path: &mut Vec<Step>, out: &mut Vec<Vec<Step>>) {
    out.push(path.clone());
    match value {
        Value::Object(members) => {
            for (name, member) in members {
                path.push(Step::Member(name.clone()));
                pointers(member, path, out);
                path.pop();
            }
        }
        Value::Array(items) => {
            for (n, item) in items.iter().enumerate() {
                path.push(Step::Item(n));
                pointers(item, path, out);
                path.pop();
            }
        }
        _ => {}
    }
}

fn walked<'v>(value: &'v mut Value, path: &[Step]) -> Option<&'v mut Value> {
    path.iter().try_fold(value, |at, step| match step {
        Step::Member(name) => at.get_mut(name),
        Step::Item(n) => at.get_mut(n),
    })
}

/// Makes something else of a value.
fn change(here: &mut Value, other: Option<Value>, words: &Words, rng: &mut Rng) {
    match rng.u8(..12) {
        0 => *here = Value::Null,
        1 => *here = number(rng),
        2 => *here = integer(rng),
        3 | 4 => *here = words.one(rng).into(),
        // Something from elsewhere in the document.
        5 | 6 => *here = other.unwrap_or(Value::Null),
        7 => {
            let inner = here.take();
            *here = (0..rng.usize(1..400)).fold(inner, |inner, _| json!({"not": inner}));
        }
        8 => *here = json!([here.take()]),
        _ => match here {
            Value::Object(members) if !members.is_empty() => {
                let names: Vec<String> = members.keys().cloned().collect();
                let name = &names[rng.usize(..names.len())];
                let member = members.shift_remove(name);
                if rng.bool() {
                    members.insert(words.one(rng), member.unwrap_or_default());
                }
            }
            Value::Array(items) if !items.is_empty() => {
                let n = rng.usize(..items.len());
                match rng.bool() {
                    true => drop(items.remove(n)),
                    false => items.push(items[n].clone()),
                }
            }
            Value::Number(n) => *here = json!(-n.as_f64().unwrap_or(0.0)),
            Value::String(text) => {
                let cut = text.char_indices().nth(1).map_or(0, |(at, _)| at);
                text.truncate(cut);
            }
            other => *other = words.one(rng).into(),
        },
    }
}

/// Changes the bytes of a text; what comes of it is read as UTF-8 as well as may be, as the server reads it.
pub fn bytes(text: &str, rng: &mut Rng) -> String {
    let mut bytes = text.as_bytes().to_vec();
    for _ in 0..=rng.usize(..4) {
        if bytes.is_empty() {
            break;
        }
        let at = rng.usize(..bytes.len());
        let end = (at + rng.usize(..40)).min(bytes.len());
        match rng.u8(..6) {
            0 => bytes[at] = rng.u8(..),
            1 => drop(bytes.drain(at..end)),
            2 => {
                let copied = bytes[at..end].to_vec();
                bytes.splice(at..at, copied);
            }
            3 => bytes.truncate(at),
            4 => {
                const SIGNS: &[u8] = b"{}[]\",:;\n\r\t=-+\\/.0'\x00\xff";
                bytes.insert(at, SIGNS[rng.usize(..SIGNS.len())]);
            }
            _ => bytes.swap(at, end.saturating_sub(1)),
        }
    }
    String::from_utf8_lossy(&bytes).into_owned()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_part_of_a_document_can_come_to_harm() {
        let good = json!({"a": [1, {"b": "text"}], "c": true});
        let words = Words::of([&good]);
        let mut rng = Rng::with_seed(1);
        let mut seen = std::collections::BTreeSet::new();
        for _ in 0..500 {
            let mut bad = good.clone();
            document(&mut bad, &words, &mut rng);
            seen.insert(bad.to_string().chars().take(200).collect::<String>());
        }
        assert!(seen.len() > 200, "{} different ones", seen.len());
        let text = good.to_string();
        let changed = (0..200).filter(|_| bytes(&text, &mut rng) != text);
        assert!(changed.count() > 150);
    }
}
