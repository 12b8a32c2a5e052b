//! Gates: so many go on at once, so many wait, and whoever comes then is told when to come again.

use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};

use tokio::sync::{OwnedSemaphorePermit, Semaphore};

use crate::problem::Problem;

/// A gate; cheap to clone.
#[derive(Clone)]
pub(crate) struct Gate {
    places: Arc<Semaphore>,
    waiting: Arc<AtomicUsize>,
    most_waiting: usize,
}

/// One who waits, until it is let in or gives up.
struct Waits<'g>(&'g AtomicUsize);

impl Drop for Waits<'_> {
    fn drop(&mut self) {
        self.0.fetch_sub(1, Ordering::Relaxed);
    }
}

impl Gate {
    /// A gate for so many at once, with room for so many to wait.
    pub(crate) fn new(places: usize, most_waiting: usize) -> Self {
        Self {
            places: Arc::new(Semaphore::new(places)),
            waiting: Arc::default(),
            most_waiting,
        }
    }

    /// Waits for a place; it is given up when what is returned is dropped.
    ///
    /// # Errors
    /// A [`Problem`] that says when to come again where too many wait already.
    pub(crate) async fn enter(&self) -> Result<OwnedSemaphorePermit, Problem> {
        let before = self.waiting.fetch_add(1, Ordering::Relaxed);
        let waits = Waits(&self.waiting);
        if before >= self.most_waiting {
            return Err(Problem::busy());
        }
        let place = Arc::clone(&self.places).acquire_owned().await;
        drop(waits);
        place.map_err(|_| Problem::internal())
    }
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use super::*;

    #[tokio::test]
    async fn so_many_go_on_and_so_many_wait() {
        let gate = Gate::new(1, 1);
        let inside = gate.enter().await.unwrap();
        let next = tokio::spawn({
            let gate = gate.clone();
            async move { gate.enter().await.map(|_| ()) }
        });
        while gate.waiting.load(Ordering::Relaxed) == 0 {
            tokio::task::yield_now().await;
        }
        let refused = gate.enter().await.unwrap_err();
        assert_eq!((refused.status, refused.retry_s), (503, Some(2)));
        drop(inside);
        assert!(next.await.unwrap().is_ok());
        assert!(gate.enter().await.is_ok());
    }

    /// One who goes away while waiting takes no room.
    #[tokio::test]
    async fn one_who_gives_up_waiting_leaves_its_room() {
        let gate = Gate::new(1, 1);
        let inside = gate.enter().await.unwrap();
        let left = tokio::time::timeout(std::time::Duration::from_millis(5), gate.enter());
        assert!(left.await.is_err());
        assert_eq!(gate.waiting.load(Ordering::Relaxed), 0);
        drop(inside);
    }
}
