//! What became of one document: whether it was taken, how long it took and how much memory, and what broke.

use std::panic::{AssertUnwindSafe, catch_unwind};
use std::time::Instant;

use fastrand::Rng;
use peak_alloc::PeakAlloc;

use crate::targets::{Outcome, Target};

/// Longer ones are not put, in bytes: the server takes a megabyte, and refuses two as it would more.
const LONGEST_INPUT: usize = 2_000_000;
/// Most memory that one may take, in megabytes.
pub const MOST_MB: f64 = 200.0;

/// What came of many.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Tally {
    pub taken: usize,
    pub refused: usize,
    pub longest_s: f64,
    pub most_mb: f64,
}

impl Tally {
    pub fn add(&mut self, other: Self) {
        self.taken += other.taken;
        self.refused += other.refused;
        self.longest_s = self.longest_s.max(other.longest_s);
        self.most_mb = self.most_mb.max(other.most_mb);
    }

    pub fn all(self) -> usize {
        self.taken + self.refused
    }
}

/// Puts the `nth` document drawn from a seed to a target.
///
/// `longest_s` is how long one may take.
///
/// # Errors
/// What broke, as a sentence with the document's number.
pub fn put(
    target: &mut dyn Target,
    heap: &PeakAlloc,
    (seed, nth): (u64, u64),
    tally: &mut Tally,
    longest_s: f64,
) -> Result<(), String> {
    let mut rng = Rng::with_seed(seed ^ nth.wrapping_mul(0x9e37_79b9_7f4a_7c15));
    let mut input = target.draw(&mut rng);
    while input.len() > LONGEST_INPUT {
        input = target.draw(&mut rng);
    }
    let name = target.name();
    let broken = |what: String| {
        let shown: String = input.chars().take(2000).collect();
        Err(format!("{name} {nth}: {what}\n{shown}\n"))
    };
    heap.reset_peak_usage();
    let held_mb = f64::from(heap.current_usage_as_mb());
    let began = Instant::now();
    let came = catch_unwind(AssertUnwindSafe(|| target.take(&input)));
    let took_s = began.elapsed().as_secs_f64();
    let mb = f64::from(heap.peak_usage_as_mb()) - held_mb;
    match came {
        Err(_) => return broken("it panicked".to_owned()),
        Ok(Outcome::Broken(what)) => return broken(what),
        Ok(Outcome::Taken) => tally.taken += 1,
        Ok(Outcome::Refused) => tally.refused += 1,
    }
    tally.longest_s = tally.longest_s.max(took_s);
    tally.most_mb = tally.most_mb.max(mb);
    if took_s > longest_s {
        return broken(format!("it took {took_s:.2} s"));
    }
    if mb > MOST_MB {
        return broken(format!("it took {mb:.0} MB"));
    }
    Ok(())
}
