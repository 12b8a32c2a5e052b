//! Answers that are kept as files.

use axum::http::HeaderName;
use axum::http::header::{CONTENT_DISPOSITION, CONTENT_TYPE};

use crate::problem::Problem;

pub(super) const CSV: &str = "text/csv; charset=utf-8";
pub(super) const JSON: &str = "application/json";

/// A text that a browser keeps under a name.
pub(super) type File = ([(HeaderName, String); 2], String);

/// A text of some kind as a file.
pub(super) fn file(name: &str, kind: &str, text: String) -> File {
    let disposition = format!("attachment; filename=\"{name}\"");
    (
        [
            (CONTENT_TYPE, kind.to_owned()),
            (CONTENT_DISPOSITION, disposition),
        ],
        text,
    )
}

/// A table as CSV.
pub(super) fn csv(
    write: impl FnOnce(&mut csv::Writer<Vec<u8>>) -> csv::Result<()>,
) -> Result<String, Problem> {
    let mut out = csv::Writer::from_writer(Vec::new());
    let written = write(&mut out).map_err(|e| e.to_string());
    let bytes = written.and_then(|()| out.into_inner().map_err(|e| e.to_string()));
    let text = bytes.and_then(|bytes| String::from_utf8(bytes).map_err(|e| e.to_string()));
    text.map_err(|e| {
        tracing::error!("a table could not be written: {e}");
        Problem::internal()
    })
}
