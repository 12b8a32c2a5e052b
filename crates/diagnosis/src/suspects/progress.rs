//! How far a long computation has come, and whether anybody still wants it.

use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::{Mutex, OnceLock, PoisonError};
use std::time::{Duration, Instant};

use cimento_bench::BenchError;

/// What is being done of a computation, and since when.
#[derive(Debug, Clone, Copy)]
struct Now {
    about: &'static str,
    of: usize,
    began: Instant,
}

/// How far a computation has come: looked at by whoever waits, moved by whoever computes.
#[derive(Default)]
pub struct Progress {
    /// What is done between two steps.
    between: OnceLock<Box<dyn Fn() + Send + Sync>>,
    now: Mutex<Option<Now>>,
    done: AtomicUsize,
    unwanted: AtomicBool,
}

impl Progress {
    fn now(&self) -> Option<Now> {
        *self.now.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// A stage of so many steps begins. Stages take shares of the whole that differ ten times from circuit to
    /// circuit, so each is counted by itself.
    pub fn begin(&self, about: &'static str, of: usize) {
        self.done.store(0, Ordering::Relaxed);
        let mut now = self.now.lock().unwrap_or_else(PoisonError::into_inner);
        let began = Instant::now();
        *now = Some(Now { about, of, began });
    }

    /// Has something done between any two steps: what cannot wait for the end of it.
    pub fn between_steps(&self, what: impl Fn() + Send + Sync + 'static) {
        let _ = self.between.set(Box::new(what));
    }

    /// A step is done.
    ///
    /// # Errors
    /// [`BenchError::GivenUp`] when nobody wants the rest.
    pub fn step(&self) -> Result<(), BenchError> {
        self.done.fetch_add(1, Ordering::Relaxed);
        if let Some(between) = self.between.get() {
            between();
        }
        match self.unwanted.load(Ordering::Relaxed) {
            true => Err(BenchError::GivenUp),
            false => Ok(()),
        }
    }

    /// Nobody wants it any more.
    pub fn give_up(&self) {
        self.unwanted.store(true, Ordering::Relaxed);
    }

    /// What is being done; empty before it begins.
    pub fn about(&self) -> &'static str {
        self.now().map_or("", |now| now.about)
    }

    /// The share of the present stage that is done, from 0 to 1.
    pub fn share(&self) -> f64 {
        let done = self.done.load(Ordering::Relaxed) as f64;
        self.now()
            .map_or(0.0, |now| (done / now.of.max(1) as f64).min(1.0))
    }

    /// About how long the rest of the present stage takes, going on as until now; none before there is anything
    /// to go by.
    pub fn left(&self) -> Option<Duration> {
        let (spent, share) = (self.now()?.began.elapsed(), self.share());
        (share > 0.02).then(|| spent.mul_f64((1.0 - share) / share))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_share_is_of_the_present_stage() {
        let progress = Progress::default();
        assert!(progress.share() == 0.0 && progress.left().is_none());
        progress.begin("halving", 4);
        assert!(progress.step().is_ok());
        assert_eq!((progress.share(), progress.about()), (0.25, "halving"));
        assert!(progress.left().is_some());
        progress.begin("counting", 2);
        assert_eq!((progress.share(), progress.about()), (0.0, "counting"));
        assert!(progress.left().is_none());
        progress.give_up();
        assert_eq!(progress.step(), Err(BenchError::GivenUp));
    }
}
