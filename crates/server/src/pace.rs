//! Answers to a student's actions leave at whole steps of time, so that how long a machine takes to
//! work out does not tell how it is.

use std::future::Future;
use std::time::Duration;

use tokio::time::{Instant, sleep_until};

/// Fine enough not to be felt, and coarser than the difference between two faults.
const STEP: Duration = Duration::from_millis(10);

/// Does some work and waits for the next whole step after it.
pub(crate) async fn paced<T>(work: impl Future<Output = T>) -> T {
    let start = Instant::now();
    let done = work.await;
    let steps = start.elapsed().as_micros() / STEP.as_micros() + 1;
    sleep_until(start + STEP * u32::try_from(steps).unwrap_or(u32::MAX)).await;
    done
}

#[cfg(test)]
mod tests {
    use tokio::time::sleep;

    use super::*;

    /// What takes 3, 9 or 11 ms is answered after 10, 10 or 20 ms.
    #[tokio::test(start_paused = true)]
    async fn answers_leave_at_whole_steps() {
        for (takes_us, leaves_ms) in [(3_000, 10), (9_000, 10), (11_000, 20)] {
            let start = Instant::now();
            let answer = paced(async {
                sleep(Duration::from_micros(takes_us)).await;
                "done"
            });
            assert_eq!(answer.await, "done");
            assert_eq!(start.elapsed(), Duration::from_millis(leaves_ms));
        }
    }
}
