//! Doing many things of one kind on all cores.

use std::sync::atomic::{AtomicUsize, Ordering};
use std::thread::{available_parallelism, scope};

/// Does something with each number below a count, on all cores, and gives the results in order. Each thread
/// has a helper of its own, made when it begins.
///
/// # Errors
/// The error of the least number among those that failed before the others were left.
pub(super) fn each<H, T: Send, E: Send>(
    count: usize,
    helper: impl Fn() -> H + Sync,
    make: impl Fn(&mut H, usize) -> Result<T, E> + Sync,
) -> Result<Vec<T>, E> {
    let cores = available_parallelism().map_or(1, usize::from);
    let next = AtomicUsize::new(0);
    let work = || {
        let mut helper = helper();
        let mut done = Vec::new();
        loop {
            let n = next.fetch_add(1, Ordering::Relaxed);
            if n >= count {
                return done;
            }
            let made = make(&mut helper, n);
            if made.is_err() {
                // Nobody needs the rest.
                next.store(count, Ordering::Relaxed);
            }
            done.push((n, made));
        }
    };
    let mut all = scope(|s| {
        let others: Vec<_> = (1..cores.min(count)).map(|_| s.spawn(work)).collect();
        let mut all = work();
        for other in others {
            match other.join() {
                Ok(done) => all.extend(done),
                Err(panic) => std::panic::resume_unwind(panic),
            }
        }
        all
    });
    all.sort_by_key(|(n, _)| *n);
    all.into_iter().map(|(_, made)| made).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn results_come_in_order_and_the_first_error_counts() {
        let doubled = each(100, || 2, |two, n| Ok::<_, ()>(n * *two));
        assert_eq!(doubled, Ok((0..100).map(|n| 2 * n).collect()));
        let failed = each(100, || (), |(), n| if n == 7 { Err(n) } else { Ok(n) });
        assert_eq!(failed, Err(7));
        assert_eq!(each(0, || (), |(), n| Ok::<_, ()>(n)), Ok(Vec::new()));
    }
}
