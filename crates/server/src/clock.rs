//! The clock; nothing below the server has one. And the time that passes, which is another thing: a clock can be set.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

use cimento_store::{Store, StoreError};

/// How often the time that has passed is put on record while somebody works by it: an end without warning gives as much
/// at most.
pub(crate) const RECORDED: Duration = Duration::from_secs(5);

/// Seconds that have passed at the school while its server ran, counted by a clock that nobody can set and kept from one
/// start to the next; cheap to clone. Work with a time limit is timed by it.
#[derive(Clone)]
pub(crate) struct Passing {
    before_s: i64,
    since: Instant,
    /// Somebody looked at it since it was last put on record.
    asked: Arc<AtomicBool>,
}

impl Passing {
    /// From here on, after so many seconds.
    pub(crate) fn after(before_s: i64) -> Self {
        Self {
            before_s,
            since: Instant::now(),
            asked: Arc::default(),
        }
    }

    pub(crate) fn seconds(&self) -> i64 {
        self.asked.store(true, Ordering::Relaxed);
        self.now_s()
    }

    fn now_s(&self) -> i64 {
        let here = i64::try_from(self.since.elapsed().as_secs()).unwrap_or(i64::MAX);
        self.before_s.saturating_add(here)
    }

    /// Puts it on record, if somebody looked at it.
    pub(crate) fn keep(&self, store: &Store) -> Result<(), StoreError> {
        match self.asked.swap(false, Ordering::Relaxed) {
            true => store.keep_passed_s(self.now_s()),
            false => Ok(()),
        }
    }
}

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

#[cfg(test)]
mod tests {
    use super::*;

    /// What passed goes on after a restart; while the server stood still, and while nobody worked by it, nothing passed
    /// that had to be kept.
    #[test]
    fn time_that_passed_is_kept_from_one_start_to_the_next() {
        let folder = tempfile::tempdir().unwrap_or_else(|e| panic!("{e}"));
        let file = folder.path().join("school.db");
        let store = Store::open(&file).unwrap_or_else(|e| panic!("{e}"));
        let kept = || store.passed_s().unwrap_or(-1);
        assert_eq!(kept(), 0);
        let passing = Passing::after(kept());
        let later = Passing {
            since: Instant::now()
                .checked_sub(Duration::from_secs(90))
                .unwrap_or(passing.since),
            ..passing
        };
        later.keep(&store).unwrap_or_else(|e| panic!("{e}"));
        assert_eq!(kept(), 0, "nobody asked");
        assert!((90..=91).contains(&later.seconds()));
        later.keep(&store).unwrap_or_else(|e| panic!("{e}"));
        assert!((90..=91).contains(&kept()));
        let again = Passing::after(kept());
        assert!((90..=91).contains(&again.seconds()));
        // Another server that began earlier takes nothing back.
        Passing::after(10).seconds();
        store.keep_passed_s(10).unwrap_or_else(|e| panic!("{e}"));
        assert!(kept() >= 90);
    }
}
