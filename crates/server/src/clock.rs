//! The clock; nothing below the server has one.

/// Seconds since 1970.
pub(crate) fn now() -> i64 {
    let since = std::time::SystemTime::now().duration_since(std::time::UNIX_EPOCH);
    since.map_or(0, |d| i64::try_from(d.as_secs()).unwrap_or(i64::MAX))
}

/// The day, in universal time, as ISO 8601 writes it.
pub(crate) fn today() -> String {
    date(now())
}

/// The day of a time, the same way.
pub(crate) fn date(at: i64) -> String {
    let day = time::OffsetDateTime::from_unix_timestamp(at);
    day.map_or_else(|_| String::new(), |at| at.date().to_string())
}
