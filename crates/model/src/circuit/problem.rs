//! What is wrong with a document, and where.

use std::collections::HashSet;
use std::fmt;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::document::CircuitDoc;
use super::mend::{Mend, Offer};

/// How much a problem matters.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Severity {
    /// The document cannot be used.
    Refused,
    /// It can be used, but an instructor should look.
    Warning,
}

/// One thing wrong in a document.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Problem {
    pub severity: Severity,
    /// Where, as a path into the document: `wires[3].from`.
    pub path: String,
    /// What is wrong and what was expected, in one sentence.
    pub message: String,
    /// Changes that would take it away, the likeliest first.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub mends: Vec<Offer>,
}

impl Problem {
    pub fn refused(path: impl Into<String>, message: impl Into<String>) -> Self {
        Self {
            severity: Severity::Refused,
            path: path.into(),
            message: message.into(),
            mends: Vec::new(),
        }
    }

    /// The same with changes that would take it away, in a document.
    #[must_use]
    pub fn mended_by(self, doc: &CircuitDoc, mends: impl IntoIterator<Item = Mend>) -> Self {
        let offer = |mend| Offer::of(doc, mend);
        Self {
            mends: mends.into_iter().map(offer).collect(),
            ..self
        }
    }

    pub fn warning(path: impl Into<String>, message: impl Into<String>) -> Self {
        Self {
            severity: Severity::Warning,
            ..Self::refused(path, message)
        }
    }
}

impl fmt::Display for Problem {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        if self.path.is_empty() {
            write!(f, "{}", self.message)
        } else {
            write!(f, "{}: {}", self.path, self.message)
        }
    }
}

/// A refused document: everything found wrong with it.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{}", .0.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n"))]
pub struct Refused(pub Vec<Problem>);

/// Reads a JSON document, with the path of the first mistake.
///
/// # Errors
/// [`Refused`] names the place and what was expected there.
pub fn read_json<T: serde::de::DeserializeOwned>(text: &str) -> Result<T, Refused> {
    // Some programs begin a file with a mark of how it is encoded.
    let text = text.trim_start_matches('\u{feff}');
    at_path::<Sound>(text)?;
    at_path(text)
}

fn at_path<T: serde::de::DeserializeOwned>(text: &str) -> Result<T, Refused> {
    let mut reader = serde_json::Deserializer::from_str(text);
    let value = serde_path_to_error::deserialize(&mut reader).map_err(|e| {
        let path = match e.path().to_string() {
            path if path == "." => String::new(),
            path => path,
        };
        Refused(vec![Problem::refused(path, e.inner().to_string())])
    })?;
    reader.end().map_err(|e| {
        Refused(vec![Problem::refused(
            "",
            format!("after the document: {e}"),
        )])
    })?;
    Ok(value)
}

/// Any JSON in which no member stands twice, for the last would win without a word, and no text holds a control
/// character but a tabulator and a new line. serde_json itself bounds how deep it goes.
struct Sound;

impl<'de> Deserialize<'de> for Sound {
    fn deserialize<D: serde::Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        from.deserialize_any(SoundVisitor)
    }
}

struct SoundVisitor;

fn sound_text<E: serde::de::Error>(text: &str) -> Result<Sound, E> {
    match text
        .chars()
        .find(|c| c.is_control() && !"\t\r\n".contains(*c))
    {
        Some(c) => Err(E::custom(format!(
            "the control character U+{:04X} is in a text",
            u32::from(c)
        ))),
        None => Ok(Sound),
    }
}

impl<'de> serde::de::Visitor<'de> for SoundVisitor {
    type Value = Sound;

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("JSON")
    }

    fn visit_bool<E>(self, _: bool) -> Result<Sound, E> {
        Ok(Sound)
    }

    fn visit_i64<E>(self, _: i64) -> Result<Sound, E> {
        Ok(Sound)
    }

    fn visit_u64<E>(self, _: u64) -> Result<Sound, E> {
        Ok(Sound)
    }

    fn visit_f64<E>(self, _: f64) -> Result<Sound, E> {
        Ok(Sound)
    }

    fn visit_unit<E>(self) -> Result<Sound, E> {
        Ok(Sound)
    }

    fn visit_str<E: serde::de::Error>(self, text: &str) -> Result<Sound, E> {
        sound_text(text)
    }

    fn visit_seq<A: serde::de::SeqAccess<'de>>(self, mut all: A) -> Result<Sound, A::Error> {
        while all.next_element::<Sound>()?.is_some() {}
        Ok(Sound)
    }

    fn visit_map<A: serde::de::MapAccess<'de>>(self, mut all: A) -> Result<Sound, A::Error> {
        let mut seen = HashSet::new();
        while let Some(name) = all.next_key::<String>()? {
            sound_text::<A::Error>(&name)?;
            all.next_value::<Sound>()?;
            if let Some(name) = seen.replace(name) {
                let text = format!("“{name}” stands here twice: expected each name once");
                return Err(serde::de::Error::custom(text));
            }
        }
        Ok(Sound)
    }
}
