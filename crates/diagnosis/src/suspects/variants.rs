//! Fair variants: faults of a pool dealt to a class, so that neighbours differ and nobody gets one
//! outside a band of difficulty.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Difficulty that variants may have, in minutes of the reference plan, ends included.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Band {
    pub least_minutes: f64,
    pub most_minutes: f64,
}

/// Within so much of the least, minutes count as alike.
const ALIKE: f64 = 1.2;

impl Band {
    /// The band in which plans are within 20 % of each other and most of a pool lie, the shorter of two such.
    pub fn fair(minutes: &[f64]) -> Self {
        let band = |least: f64| Self {
            least_minutes: least,
            most_minutes: ALIKE * least,
        };
        let inside = |of: &Self| minutes.iter().filter(|m| of.holds(**m)).count();
        let mut least = minutes.to_vec();
        least.sort_by(f64::total_cmp);
        let bands = least.into_iter().map(band).rev();
        bands.max_by_key(inside).unwrap_or(band(0.0))
    }

    /// Whether a fault of some difficulty may be dealt.
    pub fn holds(self, minutes: f64) -> bool {
        (self.least_minutes..=self.most_minutes).contains(&minutes)
    }
}

/// Why a pool cannot be dealt.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum DealError {
    #[error("expected the band to begin below its end")]
    EmptyBand,
    #[error(
        "{inside} of the pool lie between {least} and {most} min, and neighbours need at least 2: widen the band or add faults"
    )]
    TooFew {
        inside: usize,
        least: f64,
        most: f64,
    },
}

/// For each seat in order, which fault of the pool it gets. `minutes` are the difficulties of the
/// pool; `beside` has for each seat those before it that are next to it. Of what no neighbour has,
/// a seat gets what was dealt least often; where neighbours have all of it, what the fewest have.
/// The same seed deals the same.
///
/// # Errors
/// [`DealError`] when fewer than two faults lie inside the band.
pub fn deal(
    minutes: &[f64],
    band: Band,
    beside: &[Vec<usize>],
    seed: u64,
) -> Result<Vec<usize>, DealError> {
    if band.least_minutes.is_nan() || band.least_minutes > band.most_minutes {
        return Err(DealError::EmptyBand);
    }
    let mut inside: Vec<usize> = (0..minutes.len())
        .filter(|n| band.holds(minutes[*n]))
        .collect();
    if inside.len() < 2 {
        return Err(DealError::TooFew {
            inside: inside.len(),
            least: band.least_minutes,
            most: band.most_minutes,
        });
    }
    let mut chance = fastrand::Rng::with_seed(seed);
    let mut out: Vec<usize> = Vec::with_capacity(beside.len());
    for near in beside {
        chance.shuffle(&mut inside);
        let with = |fault: usize| near.iter().filter(|seat| out[**seat] == fault).count();
        let dealt = |fault: usize| out.iter().filter(|f| **f == fault).count();
        let next = inside.iter().copied().min_by_key(|f| (with(*f), dealt(*f)));
        out.extend(next);
    }
    Ok(out)
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]

    use super::*;

    /// Seats in one row.
    fn row(seats: usize) -> Vec<Vec<usize>> {
        (0..seats)
            .map(|n| n.checked_sub(1).into_iter().collect())
            .collect()
    }

    /// A room of four columns: beside and in front sits nobody with the same, with two faults and with three.
    #[test]
    fn nobody_sees_the_same_beside_or_in_front() {
        let beside: Vec<Vec<usize>> = (0..20_usize)
            .map(|n| {
                let left = (n % 4 > 0).then(|| n - 1);
                left.into_iter().chain(n.checked_sub(4)).collect()
            })
            .collect();
        let band = Band {
            least_minutes: 1.0,
            most_minutes: 9.0,
        };
        for seed in 0..100 {
            for pool in [&[2.0, 3.0][..], &[2.0, 3.0, 4.0]] {
                let dealt = deal(pool, band, &beside, seed).unwrap();
                for (n, near) in beside.iter().enumerate() {
                    assert!(near.iter().all(|m| dealt[*m] != dealt[n]), "{dealt:?}");
                }
            }
        }
    }

    #[test]
    fn neighbours_differ_and_nobody_is_outside_the_band() {
        let minutes = [3.0, 9.0, 10.0, 11.0, 30.0];
        let band = Band {
            least_minutes: 8.0,
            most_minutes: 12.0,
        };
        for seed in 0..200 {
            for seats in [0, 1, 2, 3, 7, 31] {
                let beside = row(seats);
                let dealt = deal(&minutes, band, &beside, seed).unwrap();
                assert_eq!(dealt.len(), seats);
                assert!(dealt.iter().all(|n| band.holds(minutes[*n])));
                assert!(dealt.windows(2).all(|w| w[0] != w[1]), "{seed}: {dealt:?}");
                let times = |n: usize| dealt.iter().filter(|d| **d == n).count();
                assert!(times(1).abs_diff(times(2)) <= 1 && times(2).abs_diff(times(3)) <= 1);
                assert_eq!(dealt, deal(&minutes, band, &beside, seed).unwrap());
            }
        }
    }

    #[test]
    fn a_fair_band_holds_the_most_within_a_fifth() {
        let band = Band::fair(&[12.0, 9.0, 10.0, 11.0, 30.0, 3.0]);
        assert_eq!((band.least_minutes, band.most_minutes), (10.0, 12.0));
        let first = Band::fair(&[30.0, 5.0]);
        assert_eq!(first.least_minutes, 5.0);
        assert!(!Band::fair(&[]).holds(1.0));
    }

    #[test]
    fn a_band_with_less_than_two_is_refused() {
        let band = |least_minutes, most_minutes| Band {
            least_minutes,
            most_minutes,
        };
        let refused = deal(&[3.0, 9.0], band(8.0, 12.0), &row(4), 1)
            .unwrap_err()
            .to_string();
        assert!(
            refused.contains("1 of the pool lie between 8 and 12 min"),
            "{refused}"
        );
        assert_eq!(
            deal(&[3.0, 9.0], band(12.0, 8.0), &row(4), 1),
            Err(DealError::EmptyBand)
        );
    }
}
