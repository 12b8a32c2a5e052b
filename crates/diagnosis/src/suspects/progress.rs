//! How far a long computation has come, and whether anybody still wants it.

use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::{Mutex, OnceLock, PoisonError};
use std::time::{Duration, Instant};

use cimento_bench::BenchError;

/// A part of a computation.
#[derive(Debug, Clone, Copy)]
pub struct Stage {
    /// "trying what could be wrong".
    pub about: &'static str,
    /// The share of the whole at which it begins, and at which it ends.
    pub from: f64,
    pub to: f64,
}

#[derive(Debug, Clone, Copy)]
struct Now {
    stage: Stage,
    of: usize,
}

/// How far a computation has come: looked at by whoever waits, moved by whoever computes.
#[derive(Default)]
pub struct Progress {
    /// What is done between two steps.
    between: OnceLock<Box<dyn Fn() + Send + Sync>>,
    now: Mutex<Option<Now>>,
    first: Mutex<Option<Instant>>,
    done: AtomicUsize,
    unwanted: AtomicBool,
}

impl Progress {
    fn now(&self) -> Option<Now> {
        *self.now.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// A stage of so many steps begins.
    pub fn begin(&self, stage: Stage, of: usize) {
        let began = Instant::now();
        let mut first = self.first.lock().unwrap_or_else(PoisonError::into_inner);
        first.get_or_insert(began);
        self.done.store(0, Ordering::Relaxed);
        let mut now = self.now.lock().unwrap_or_else(PoisonError::into_inner);
        *now = Some(Now { stage, of });
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
        self.now().map_or("", |now| now.stage.about)
    }

    /// The share that is done, from 0 to 1.
    pub fn share(&self) -> f64 {
        let Some(Now { stage, of, .. }) = self.now() else {
            return 0.0;
        };
        let done = self.done.load(Ordering::Relaxed) as f64 / of.max(1) as f64;
        stage.from + (stage.to - stage.from) * done.min(1.0)
    }

    /// About how long the rest takes, going on as until now; none before there is anything to go by.
    pub fn left(&self) -> Option<Duration> {
        let first = *self.first.lock().unwrap_or_else(PoisonError::into_inner);
        let (spent, share) = (first?.elapsed(), self.share());
        (share > 0.02).then(|| spent.mul_f64((1.0 - share) / share))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_share_is_of_the_whole() {
        let progress = Progress::default();
        assert!(progress.share() == 0.0 && progress.left().is_none());
        let stage = |from, to| Stage {
            about: "halving",
            from,
            to,
        };
        progress.begin(stage(0.0, 0.5), 4);
        assert!(progress.step().is_ok());
        assert_eq!(progress.share(), 0.125);
        progress.begin(stage(0.5, 1.0), 2);
        assert!(progress.step().is_ok());
        assert_eq!((progress.share(), progress.about()), (0.75, "halving"));
        progress.give_up();
        assert_eq!(progress.step(), Err(BenchError::GivenUp));
    }
}
