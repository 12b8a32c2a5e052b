//! What is wrong with a document, and where.

use std::fmt;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

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
}

impl Problem {
    pub fn refused(path: impl Into<String>, message: impl Into<String>) -> Self {
        Self {
            severity: Severity::Refused,
            path: path.into(),
            message: message.into(),
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
