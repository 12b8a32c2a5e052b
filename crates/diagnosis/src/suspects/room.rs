//! How much memory a reference may take.

use std::sync::atomic::{AtomicUsize, Ordering};

use cimento_bench::BenchError;

/// What the machines that could be may take together, and what the table of what they show may; demo circuits of
/// 76 places take a third of it.
const MOST_BYTES: usize = 256_000_000;

/// Counts what is kept, and ends what would take too much.
#[derive(Default)]
pub(super) struct Room(AtomicUsize);

impl Room {
    /// So many bytes more are kept.
    ///
    /// # Errors
    /// [`BenchError::TooLarge`] when that is too much.
    pub fn take(&self, bytes: usize) -> Result<(), BenchError> {
        let taken = self.0.fetch_add(bytes, Ordering::Relaxed) + bytes;
        match taken <= MOST_BYTES {
            true => Ok(()),
            false => Err(BenchError::TooLarge {
                most_mb: MOST_BYTES / 1_000_000,
            }),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_too_much_is_said_in_a_sentence() {
        let room = Room::default();
        assert_eq!(room.take(MOST_BYTES), Ok(()));
        let told = room.take(1).map_err(|e| e.to_string());
        assert!(
            told.is_err_and(|t| t.contains("too large to reason about") && t.contains("256 MB"))
        );
    }
}
