//! What a candidate says a meter shows, and whether a reading could come from it.

use cimento_bench::instruments::{Function, Range, Reading};
use cimento_model::units::{Quantity, Swing, Unit};

/// Rounding of the numerics, in volts or ohms, beside the meter's own error.
const NUMERIC: f64 = 1e-5;
/// How far a resistance that reads next to over limit may be from it, as a share.
const NEAR_LIMIT: f64 = 0.97;

/// Least and most that a meter shows, and whether it may wander.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Span {
    pub least: f64,
    pub most: f64,
    pub wanders: bool,
    pub steady: bool,
}

impl Span {
    /// The span of what a display shows, and wanders between if it does.
    pub fn shown(value: &Quantity, wanders: Option<Swing>) -> Self {
        let v = value.number();
        let Swing { least, most } = wanders.unwrap_or(Swing { least: v, most: v });
        Self {
            least,
            most,
            wanders: wanders.is_some(),
            steady: wanders.is_none(),
        }
    }

    /// A value that stands still.
    pub fn steady(value: f64) -> Self {
        Self {
            least: value,
            most: value,
            wanders: false,
            steady: true,
        }
    }

    /// Whatever there is.
    pub(super) fn anything() -> Self {
        Self {
            least: f64::NEG_INFINITY,
            most: f64::INFINITY,
            wanders: true,
            steady: true,
        }
    }

    /// What either of two says.
    #[must_use]
    pub fn hull(self, other: Self) -> Self {
        Self {
            least: self.least.min(other.least),
            most: self.most.max(other.most),
            wanders: self.wanders || other.wanders,
            steady: self.steady || other.steady,
        }
    }

    /// Widened by so much either way.
    #[must_use]
    pub(super) fn spread(self, by: f64) -> Self {
        Self {
            least: self.least - by,
            most: self.most + by,
            ..self
        }
    }

    /// Widened by a share of its larger end, or of what is given when that is more.
    #[must_use]
    pub(super) fn widened(self, share: f64, of: f64) -> Self {
        let largest = self.least.abs().max(self.most.abs());
        if share == 0.0 || !largest.is_finite() {
            return self;
        }
        let by = share * largest.max(of);
        Self {
            least: self.least - by,
            most: self.most + by,
            ..self
        }
    }

    /// "11.2 V", or "0.00 V to 11.2 V" where it depends on how bad the fault is.
    pub fn text(self, unit: Unit) -> String {
        let one = |v: f64| match v.is_finite() {
            true => Quantity::Number(v).text(unit),
            false => Quantity::OverLimit.text(unit),
        };
        let (least, most) = (one(self.least), one(self.most));
        if least == most {
            least
        } else {
            format!("{least} to {most}")
        }
    }

    /// Readings at its ends and in its middle. What wanders is one reading.
    pub(super) fn samples(self) -> [Self; 3] {
        let at = |v: f64| Self {
            least: v,
            most: v,
            ..self
        };
        if self.wanders {
            [self; 3]
        } else {
            let middle = f64::midpoint(self.least, self.most);
            [at(self.least), at(middle), at(self.most)]
        }
    }

    /// What a display of it may be off by; nothing where it is no display that says it.
    pub(super) fn slack(self, function: Option<Function>) -> f64 {
        let off = |f: Function| error(f, self.most, None).max(error(f, self.least, None));
        function.map_or(0.0, off)
    }

    /// Whether one reading could come from either; `slack` is this one's own, as a reading's is when it
    /// is held against a prediction.
    pub(super) fn confusable(self, other: Self, slack: f64) -> bool {
        let overlap = self.least <= other.most + slack && other.least <= self.most + slack;
        let both_open = self.most.is_infinite() && other.most.is_infinite();
        let same_kind = (self.wanders && other.wanders) || (self.steady && other.steady);
        same_kind && (overlap || both_open)
    }

    /// Whether all that it says could come from another.
    pub(super) fn is_within(self, other: Self, slack: f64) -> bool {
        let within = self.least >= other.least - slack && self.most <= other.most + slack;
        let both_open = self.least.is_infinite() && other.most.is_infinite();
        let kinds = self.wanders <= other.wanders && self.steady <= other.steady;
        kinds && (within || both_open)
    }

    /// Whether a segment could have shown a reading.
    pub fn agrees(self, reading: &Reading, range: Option<Range>) -> bool {
        let shown = &reading.shown;
        let function = reading.function;
        if let Some(Swing { least, most }) = shown.wanders {
            let slack = error(function, least, range).max(error(function, most, range));
            return self.wanders && least >= self.least - slack && most <= self.most + slack;
        }
        if !self.steady {
            return false;
        }
        match shown.value {
            Quantity::OverLimit => {
                let limit = range.or(function.ranges().last().copied());
                // The candidate's own display may stand just under the limit.
                self.most >= limit.map_or(f64::INFINITY, |r| r.0) * NEAR_LIMIT
            }
            Quantity::Number(v) => {
                let slack = error(function, v, range);
                v >= self.least - slack && v <= self.most + slack
            }
        }
    }
}

/// What a displayed value may be off by: the meter's accuracy twice (the candidate's display and
/// the student's), a step of the display and the numerics, in the coarser range at a boundary.
pub(super) fn error(function: Function, value: f64, range: Option<Range>) -> f64 {
    if !value.is_finite() {
        return 0.0;
    }
    let all = function.ranges();
    let range = range.unwrap_or_else(|| {
        let fits = all.iter().find(|r| value.abs() * 1.05 < r.0);
        fits.or(all.last()).copied().unwrap_or(Range(1.0))
    });
    2.0 * function.accuracy(value, range) + function.step(range) + NUMERIC
}
