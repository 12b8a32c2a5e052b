//! What is wrong with a document, and where.

/// What in a document could not be read.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[error("line {line}: {message}")]
pub struct Unreadable {
    pub line: usize,
    pub message: String,
}
