//! The best that can be measured while some suspects live, remembered: every attempt at a lesson goes through the same
//! first steps, and each is gone through again with every step that follows.

use std::collections::{BTreeSet, HashMap};
use std::sync::{Mutex, PoisonError};

use super::table::Choice;

/// So many are remembered for a table at most: a bit for each root, so some hundred bytes each.
const MOST: usize = 4096;
const BITS: usize = u64::BITS as usize;

/// The roots that live, a bit for each, and the state that the machine stands in.
type Key = (Vec<u64>, Option<usize>);

fn bits(alive: &BTreeSet<usize>) -> Vec<u64> {
    let mut out = vec![0; alive.last().map_or(0, |last| last / BITS + 1)];
    for root in alive {
        out[root / BITS] |= 1 << (root % BITS);
    }
    out
}

#[derive(Default)]
pub(super) struct Remembered(Mutex<HashMap<Key, Option<Choice>>>);

impl Remembered {
    /// What is remembered, or else what is worked out now.
    pub(super) fn or<E>(
        &self,
        alive: &BTreeSet<usize>,
        now: Option<usize>,
        work_out: impl FnOnce() -> Result<Option<Choice>, E>,
    ) -> Result<Option<Choice>, E> {
        let key = (bits(alive), now);
        let known = || self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(choice) = known().get(&key) {
            return Ok(*choice);
        }
        // Nobody waits meanwhile: two who ask at once both work it out.
        let choice = work_out()?;
        let mut all = known();
        if all.len() >= MOST {
            all.clear();
        }
        all.insert(key, choice);
        Ok(choice)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn it_is_worked_out_once_for_the_same_suspects_and_state() {
        let remembered = Remembered::default();
        let alive = |roots: &[usize]| roots.iter().copied().collect::<BTreeSet<usize>>();
        let mut worked_out = 0;
        let mut ask = |roots: &[usize], now, bits| {
            remembered.or(&alive(roots), now, || {
                worked_out += 1;
                let choice = Choice {
                    measurement: 3,
                    bits,
                    minutes: 1.0,
                };
                Ok::<_, ()>(Some(choice))
            })
        };
        let bits = |choice: Result<Option<Choice>, ()>| choice.ok().flatten().map(|c| c.bits);
        assert_eq!(bits(ask(&[1, 2], Some(0), 0.5)), Some(0.5));
        assert_eq!(bits(ask(&[2, 1], Some(0), 0.7)), Some(0.5));
        assert_eq!(bits(ask(&[1, 2], Some(1), 0.8)), Some(0.8));
        assert_eq!(bits(ask(&[1], Some(0), 0.9)), Some(0.9));
        assert_eq!(bits(ask(&[1, 66], Some(0), 0.4)), Some(0.4));
        assert_eq!(bits(ask(&[1, 130], Some(0), 0.3)), Some(0.3));
        let failed = remembered.or(&alive(&[7]), None, || Err(()));
        assert!(failed.is_err());
        assert_eq!(worked_out, 5);
    }
}
