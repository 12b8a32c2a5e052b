//! One against all: a person has few things done at once and asks so often in a minute, whatever they run, so that
//! everybody else's answers come as quickly as before.

use std::num::NonZeroUsize;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Instant;

use lru::LruCache;
use tokio::sync::{OwnedSemaphorePermit, Semaphore};

use crate::gate::Gate;
use crate::problem::Problem;

/// Things done at once for one person: a page that opens asks for some together.
const AT_ONCE: usize = 2;
/// And how many of theirs may wait for that.
const WAITING: usize = 32;
/// Pages of one person that are told of what happens.
const LISTENING: usize = 8;
/// People remembered; who comes back after so many others begins anew.
const PEOPLE: NonZeroUsize = NonZeroUsize::new(4096).unwrap();

/// How often one person may ask.
#[derive(Debug, Clone, Copy)]
pub struct Rate {
    /// At once, after a rest.
    pub burst: f64,
    /// For long.
    pub per_s: f64,
}

impl Default for Rate {
    /// A page that is opened asks some ten times; a hand that is quick does something twice a second.
    fn default() -> Self {
        Self {
            burst: 200.0,
            per_s: 20.0,
        }
    }
}

/// Everybody's shares; cheap to clone.
#[derive(Clone)]
pub(crate) struct Fair {
    shares: Arc<Mutex<LruCache<i32, Arc<Share>>>>,
    rate: Rate,
}

/// What one person may take.
struct Share {
    gate: Gate,
    /// Places for what goes on telling.
    listening: Arc<Semaphore>,
    /// What is left of the burst, and since when.
    left: Mutex<(f64, Instant)>,
}

tokio::task_local! {
    /// The share of whoever asks what is being answered.
    static ASKING: Arc<Share>;
}

impl Fair {
    pub(crate) fn new(rate: Rate) -> Self {
        Self {
            shares: Arc::new(Mutex::new(LruCache::new(PEOPLE))),
            rate,
        }
    }

    /// Counts a question of a person and answers it among what is theirs.
    ///
    /// # Errors
    /// A [`Problem`] that says when to ask again where they ask too often.
    pub(crate) async fn answer<T>(
        &self,
        person: i32,
        answer: impl Future<Output = T>,
    ) -> Result<T, Problem> {
        let share = self.of(person);
        let counted = self.count(&share, Instant::now());
        counted.map_err(Problem::too_often)?;
        Ok(ASKING.scope(share, answer).await)
    }

    /// A place among what goes on telling one person what happens.
    ///
    /// # Errors
    /// A [`Problem`] where they listen in too many pages already.
    pub(crate) fn listens(&self, person: i32) -> Result<OwnedSemaphorePermit, Problem> {
        let places = Arc::clone(&self.of(person).listening);
        places
            .try_acquire_owned()
            .map_err(|_| Problem::too_often(5.0))
    }

    fn of(&self, person: i32) -> Arc<Share> {
        let mut shares = self.shares.lock().unwrap_or_else(PoisonError::into_inner);
        let begin = || {
            Arc::new(Share {
                gate: Gate::new(AT_ONCE, WAITING),
                listening: Arc::new(Semaphore::new(LISTENING)),
                left: Mutex::new((self.rate.burst, Instant::now())),
            })
        };
        Arc::clone(shares.get_or_insert(person, begin))
    }

    /// Counts a question, or says after how many seconds the next may come.
    fn count(&self, share: &Share, now: Instant) -> Result<(), f64> {
        let mut held = share.left.lock().unwrap_or_else(PoisonError::into_inner);
        let (left, since) = *held;
        let rested = now.saturating_duration_since(since).as_secs_f64();
        let left = (left + rested * self.rate.per_s).min(self.rate.burst);
        let enough = left >= 1.0;
        *held = (if enough { left - 1.0 } else { left }, now);
        match enough {
            true => Ok(()),
            false => Err((1.0 - left) / self.rate.per_s),
        }
    }
}

/// A place among what is done for whoever asks; none where nobody does.
///
/// # Errors
/// A [`Problem`] that says when to come again where too much of theirs waits already.
pub(crate) async fn own_place() -> Result<Option<OwnedSemaphorePermit>, Problem> {
    match ASKING.try_with(Arc::clone) {
        Ok(share) => match share.gate.enter().await {
            Ok(place) => Ok(Some(place)),
            Err(_) => Err(Problem::too_often(1.0)),
        },
        Err(_) => Ok(None),
    }
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use std::time::Duration;

    use super::*;

    /// After a burst of three, two a second: by hand.
    #[test]
    fn a_burst_and_then_so_many_a_second() {
        let fair = Fair::new(Rate {
            burst: 3.0,
            per_s: 2.0,
        });
        let (share, other) = (fair.of(1), fair.of(2));
        let start = Instant::now() + Duration::from_secs(1);
        for _ in 0..3 {
            assert!(fair.count(&share, start).is_ok());
        }
        assert_eq!(fair.count(&share, start), Err(0.5));
        // Who is refused loses nothing by it, and others nothing by them.
        let quarter = start + Duration::from_millis(250);
        assert_eq!(fair.count(&share, quarter), Err(0.25));
        assert!(fair.count(&other, quarter).is_ok());
        let half = start + Duration::from_millis(500);
        assert!(fair.count(&share, half).is_ok());
        assert!(fair.count(&share, half).is_err());
    }

    #[tokio::test]
    async fn few_things_at_once_for_one() {
        let fair = Fair::new(Rate::default());
        let own = ASKING.scope(fair.of(1), async {
            let held = [own_place().await.unwrap(), own_place().await.unwrap()];
            assert!(held.iter().all(Option::is_some));
            let third = tokio::time::timeout(Duration::from_millis(5), own_place());
            assert!(third.await.is_err());
            // Another is let in meanwhile.
            let other = ASKING.scope(fair.of(2), own_place());
            assert!(other.await.unwrap().is_some());
        });
        own.await;
        assert!(own_place().await.unwrap().is_none());
    }
}
