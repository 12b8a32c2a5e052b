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

/// The present moment as the name of a file has it, to a thousandth of a second, so that names are in order of time.
pub(crate) fn stamp() -> String {
    let at = time::OffsetDateTime::now_utc();
    let (hour, minute, second, ms) = at.time().as_hms_milli();
    format!("{}T{hour:02}{minute:02}{second:02}.{ms:03}Z", at.date())
}

/// The day of a time, the same way.
pub(crate) fn date(at: i64) -> String {
    let day = time::OffsetDateTime::from_unix_timestamp(at);
    day.map_or_else(|_| String::new(), |at| at.date().to_string())
}
