//! What somebody expected to read, beside what it should be.

use cimento_bench::instruments::Function;
use cimento_model::units::{Expectation, Quantity, Unit};

/// Below this share of the supply a reading is "near zero", between the others "near supply": a battery that is charged
/// stands a quarter higher.
const NEAR_ZERO: f64 = 0.05;
pub(super) const NEAR_SUPPLY: f64 = 0.9;
const MOST_SUPPLY: f64 = 1.25;

/// A bound within this share of what it bounds says something; of resistances this small it is enough to say so, in ohms.
const NEAR_BOUND: f64 = 0.15;
const SMALL_OHMS: f64 = 1.0;
/// Where a meter shows that it is more than it goes to, a bound from this share of its widest range on says something.
const NEAR_TOP: f64 = 0.5;
/// What is more than this is taken for open, in ohms; common practice.
const OPEN_OHMS: f64 = 1e6;

/// What is measured, and how far from what it should be it may lie.
#[derive(Debug, Clone, Copy)]
pub struct Measured {
    pub function: Function,
    /// In the unit of the function.
    pub tolerance: f64,
    /// What the system is made for, in volts.
    pub supply_v: f64,
}

/// How good an expectation is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Expected {
    Right,
    /// Of the right kind, and not the value.
    Alike,
    /// True, and true of much else.
    TrueOfMuch,
    Wrong,
}

impl Expected {
    /// What it earns, 0 to 1.
    pub fn earned(self) -> f64 {
        match self {
            Self::Right => 1.0,
            Self::Alike => 0.5,
            Self::TrueOfMuch | Self::Wrong => 0.0,
        }
    }
}

impl Measured {
    /// Holds an expectation against what it should be.
    pub fn judge(&self, wrote: Expectation, should: Quantity) -> Expected {
        if let Some(holds) = wrote.holds(should.number(), self.tolerance) {
            return match (holds, self.is_telling(wrote, should.number())) {
                (true, true) => Expected::Right,
                (true, false) => Expected::TrueOfMuch,
                (false, _) => Expected::Wrong,
            };
        }
        match (wrote.value, should) {
            (Quantity::OverLimit, Quantity::OverLimit) => Expected::Right,
            (Quantity::Number(a), Quantity::Number(b)) => {
                let off = (a - b).abs();
                if off <= self.tolerance {
                    Expected::Right
                } else if off <= 3.0 * self.tolerance || self.alike(a, b) {
                    Expected::Alike
                } else {
                    Expected::Wrong
                }
            }
            _ => Expected::Wrong,
        }
    }

    /// A bound says something where it lies near what it bounds: "more than 0 V" does not.
    pub(super) fn is_telling(&self, wrote: Expectation, should: f64) -> bool {
        let (bound, should) = (wrote.value.number(), should.abs());
        // What shows OL is more than anything: it says something that it is more than a meter takes for a path, or of what
        // is no resistance, about more than the meter goes to.
        if should.is_infinite() {
            let widest = self.function.ranges().last().map_or(f64::INFINITY, |r| r.0);
            return match self.function.unit() {
                Unit::Ohm => bound >= OPEN_OHMS,
                _ => bound >= NEAR_TOP * widest,
            };
        }
        let off = (bound.abs() - should).abs();
        let small = self.function.unit() == Unit::Ohm && bound.max(should) <= SMALL_OHMS;
        small || off <= (NEAR_BOUND * should).max(3.0 * self.tolerance) || self.alike(bound, should)
    }

    /// Of one kind: near zero, near the supply; within a factor of two where it is no voltage.
    pub(super) fn alike(&self, a: f64, b: f64) -> bool {
        let (a, b) = (a.abs(), b.abs());
        if self.function != Function::DC_VOLTS {
            return a.is_finite() && b.is_finite() && a.max(b) <= 2.0 * a.min(b);
        }
        let near_zero = |v: f64| v < NEAR_ZERO * self.supply_v;
        let near_supply =
            |v: f64| (NEAR_SUPPLY * self.supply_v..=MOST_SUPPLY * self.supply_v).contains(&v);
        near_zero(a) && near_zero(b) || near_supply(a) && near_supply(b)
    }
}
