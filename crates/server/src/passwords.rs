//! Passwords that are made for somebody and told once.

use rand::Rng;

/// Letters and digits that are not taken for one another when they are read out.
const CLEAR: &[u8] = b"abcdefghkmnpqrstuvwxyz23456789";
const GROUPS: usize = 3;
const GROUP: usize = 4;

/// Letters of a class's code: with the throttle, hundreds of years of guessing.
const CODE: usize = 6;

/// A class's code.
pub(crate) fn code() -> String {
    let mut rng = rand::rng();
    let one = |_| char::from(CLEAR[rng.random_range(0..CLEAR.len())]);
    (0..CODE).map(one).collect()
}

/// A password of some sixty bits.
pub(crate) fn made() -> String {
    let mut rng = rand::rng();
    let mut group = || -> String {
        let one = |_| char::from(CLEAR[rng.random_range(0..CLEAR.len())]);
        (0..GROUP).map(one).collect()
    };
    let groups: Vec<String> = (0..GROUPS).map(|_| group()).collect();
    groups.join("-")
}
