//! Guessing passwords. A name takes a few wrong ones and then one in a while. An address is a whole school's: however
//! many fail there, whoever knows their password is let in at once; what fails is answered late, and a name that
//! nobody has costs no core.

use std::net::{IpAddr, Ipv6Addr};
use std::num::NonZeroUsize;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

use lru::LruCache;

/// Names, and addresses, remembered.
const REMEMBERED: NonZeroUsize = NonZeroUsize::new(10_000).unwrap();
/// Wrong passwords of a name from one address before it has to wait, and from wherever.
const FREE: u32 = 5;
const FREE_ANYWHERE: u32 = 50;
/// Longest wait.
const LONGEST: Duration = Duration::from_secs(30);
/// What was long ago counts no more.
const FORGOTTEN: Duration = Duration::from_secs(900);
/// Failures of an address before its failures are answered late, and how many a second are forgiven.
const MANY: f64 = 30.0;
const FORGIVEN_PER_S: f64 = 0.5;

/// A name, with where from or from wherever.
type Key = (String, Option<IpAddr>);

/// What was tried of late; cheap to clone.
#[derive(Clone)]
pub(crate) struct Throttle {
    names: Arc<Mutex<LruCache<Key, Tried>>>,
    addresses: Arc<Mutex<LruCache<IpAddr, (f64, Instant)>>>,
}

#[derive(Clone, Copy)]
struct Tried {
    wrong: u32,
    last: Instant,
}

impl Tried {
    /// When the next may be tried.
    fn next(&self, free: u32) -> Option<Instant> {
        let over = self.wrong.checked_sub(free)?;
        let wait = Duration::from_secs(1 << over.min(5));
        Some(self.last + wait.min(LONGEST))
    }
}

/// The network that one household or school has.
fn network(address: IpAddr) -> IpAddr {
    match address.to_canonical() {
        IpAddr::V6(six) => {
            let [a, b, c, d, ..] = six.segments();
            Ipv6Addr::new(a, b, c, d, 0, 0, 0, 0).into()
        }
        four => four,
    }
}

impl Throttle {
    pub(crate) fn new() -> Self {
        Self {
            names: Arc::new(Mutex::new(LruCache::new(REMEMBERED))),
            addresses: Arc::new(Mutex::new(LruCache::new(REMEMBERED))),
        }
    }

    /// Lets a password be tried, and counts it as wrong until [`Throttle::right`] is told; or says how long to wait.
    /// A name that nobody has is treated alike.
    pub(crate) fn tries(&self, name: &str, from: IpAddr, now: Instant) -> Result<(), Duration> {
        let mut names = self.names.lock().unwrap_or_else(PoisonError::into_inner);
        let keys = keys(name, from);
        let mut tried = keys.clone().map(|(key, free)| {
            let known = names.get(&key).copied();
            let known = known.filter(|t| now.saturating_duration_since(t.last) < FORGOTTEN);
            let known = known.unwrap_or(Tried {
                wrong: 0,
                last: now,
            });
            (known, free)
        });
        let waits = tried.iter().filter_map(|(t, free)| t.next(*free)).max();
        if let Some(until) = waits.filter(|until| *until > now) {
            return Err(until - now);
        }
        for ((key, _), (t, _)) in keys.into_iter().zip(&mut tried) {
            t.wrong = t.wrong.saturating_add(1);
            t.last = now;
            names.put(key, *t);
        }
        Ok(())
    }

    /// A password was right.
    pub(crate) fn right(&self, name: &str, from: IpAddr) {
        let mut names = self.names.lock().unwrap_or_else(PoisonError::into_inner);
        for (key, _) in keys(name, from) {
            names.pop(&key);
        }
    }

    /// A name has another password: what was tried with the old one is forgotten.
    pub(crate) fn forget(&self, name: &str) {
        let mut names = self.names.lock().unwrap_or_else(PoisonError::into_inner);
        let of_name = names.iter().filter(|((n, _), _)| n == name);
        let keys: Vec<_> = of_name.map(|(key, _)| key.clone()).collect();
        for key in keys {
            names.pop(&key);
        }
    }

    /// A password was wrong.
    pub(crate) fn failed(&self, from: IpAddr, now: Instant) {
        let mut addresses = self
            .addresses
            .lock()
            .unwrap_or_else(PoisonError::into_inner);
        let count = left(addresses.get(&network(from)), now) + 1.0;
        addresses.put(network(from), (count, now));
    }

    /// So much fails from there that what fails is to be answered late.
    pub(crate) fn strained(&self, from: IpAddr, now: Instant) -> bool {
        let mut addresses = self
            .addresses
            .lock()
            .unwrap_or_else(PoisonError::into_inner);
        left(addresses.get(&network(from)), now) >= MANY
    }
}

fn left(known: Option<&(f64, Instant)>, now: Instant) -> f64 {
    known.map_or(0.0, |(count, at)| {
        let rested = now.saturating_duration_since(*at).as_secs_f64();
        (count - rested * FORGIVEN_PER_S).max(0.0)
    })
}

/// What a try counts for, each with how many are free.
fn keys(name: &str, from: IpAddr) -> [(Key, u32); 2] {
    let name = name.trim().to_lowercase();
    [
        ((name.clone(), Some(network(from))), FREE),
        ((name, None), FREE_ANYWHERE),
    ]
}

#[cfg(test)]
mod tests {
    use super::*;

    const HERE: IpAddr = IpAddr::V4(std::net::Ipv4Addr::new(192, 0, 2, 7));
    const THERE: IpAddr = IpAddr::V4(std::net::Ipv4Addr::new(192, 0, 2, 8));

    #[test]
    fn a_name_waits_longer_with_every_wrong_password() {
        let throttle = Throttle::new();
        let mut now = Instant::now();
        for _ in 0..FREE {
            assert_eq!(throttle.tries("Varga", HERE, now), Ok(()));
        }
        for wait_s in [1, 2, 4, 8, 16, 30, 30] {
            let wait = Duration::from_secs(wait_s);
            assert_eq!(throttle.tries(" varga", HERE, now), Err(wait));
            // Asking too soon costs nothing, and others are not held up.
            assert_eq!(throttle.tries("varga", HERE, now), Err(wait));
            assert_eq!(throttle.tries(&format!("other{wait_s}"), HERE, now), Ok(()));
            now += wait;
            assert_eq!(throttle.tries("varga", HERE, now), Ok(()));
        }
        // Whoever guesses elsewhere does not lock its owner out here.
        assert_eq!(throttle.tries("varga", THERE, now), Ok(()));
        assert!(throttle.tries("varga", HERE, now).is_err());
        throttle.forget("varga");
        assert_eq!(throttle.tries("varga", HERE, now), Ok(()));
    }

    #[test]
    fn guessing_from_many_addresses_is_held_up_too() {
        let throttle = Throttle::new();
        let now = Instant::now();
        let from = |n: u16| IpAddr::V6(Ipv6Addr::new(0x2001, 0xdb8, n, 0, 0, 0, 0, 1));
        let let_in = (0..200).filter(|n| throttle.tries("varga", from(*n), now).is_ok());
        assert_eq!(let_in.count(), FREE_ANYWHERE as usize);
        assert_eq!(throttle.tries("varga", HERE, now + FORGOTTEN), Ok(()));
    }

    #[test]
    fn an_address_is_strained_by_failures_only_and_recovers() {
        let throttle = Throttle::new();
        let now = Instant::now();
        for _ in 0..30 {
            assert!(!throttle.strained(HERE, now));
            throttle.failed(HERE, now);
        }
        assert!(throttle.strained(HERE, now));
        assert!(!throttle.strained(THERE, now));
        assert!(!throttle.strained(HERE, now + Duration::from_secs(2)));
    }
}
