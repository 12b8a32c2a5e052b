//! The answer key as CSV, a row a reading.

use super::KeyRow;
use cimento_model::text::inert;

/// The rows of a key with a head line.
pub fn key_csv(rows: &[KeyRow]) -> String {
    let mut out = csv::Writer::from_writer(Vec::new());
    let head = [
        "state",
        "instrument",
        "red",
        "black",
        "healthy",
        "faulted",
        "unit",
        "tolerance",
        "tells",
        "reason",
    ];
    // Writing to memory does not fail.
    let _ = out.write_record(head);
    for r in rows {
        let _ = out.write_record([
            &inert(&r.state),
            r.function.name(),
            &r.red,
            &r.black,
            &r.healthy.text,
            &r.faulted.text,
            &r.healthy.unit,
            &format!("{:.3}", r.tolerance),
            &r.tells.to_string(),
            &inert(&r.reason),
        ]);
    }
    String::from_utf8(out.into_inner().unwrap_or_default()).unwrap_or_default()
}
