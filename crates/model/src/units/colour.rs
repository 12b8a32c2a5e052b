//! Wire colours after IEC 60757, base and tracer: `RD`, `VT/WH`.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use thiserror::Error;

const CODES: [&str; 14] = [
    "BK", "BN", "RD", "OG", "YE", "GN", "BU", "VT", "GY", "WH", "PK", "GD", "TQ", "SR",
];

/// A wire's colour: base, and tracer if it has one.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(try_from = "String", into = "String")]
#[schemars(with = "String")]
pub struct Colour {
    /// Positions in the list of codes.
    base: usize,
    tracer: Option<usize>,
}

/// A colour that IEC 60757 does not know.
#[derive(Debug, Error, PartialEq, Eq)]
#[error("“{0}” is no colour: expected IEC 60757 codes such as RD or VT/WH ({list})", list = CODES.join(", "))]
pub struct ColourError(String);

impl TryFrom<String> for Colour {
    type Error = ColourError;

    fn try_from(text: String) -> Result<Self, ColourError> {
        let code = |s: &str| CODES.into_iter().position(|c| c == s);
        let (base, tracer) = match text.split_once('/') {
            Some((base, tracer)) => (code(base), Some(code(tracer))),
            None => (code(&text), None),
        };
        match (base, tracer) {
            (Some(base), None) => Ok(Self { base, tracer: None }),
            (Some(base), Some(Some(tracer))) => Ok(Self {
                base,
                tracer: Some(tracer),
            }),
            _ => Err(ColourError(text)),
        }
    }
}

impl From<Colour> for String {
    fn from(c: Colour) -> Self {
        match c.tracer {
            Some(tracer) => format!("{}/{}", CODES[c.base], CODES[tracer]),
            None => CODES[c.base].to_owned(),
        }
    }
}
