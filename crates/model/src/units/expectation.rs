//! What somebody expects to read: a value, or more or less than one.

use thiserror::Error;

use super::quantity::{Quantity, QuantityError, Unit};

/// Words that stand before a bound; the longer come first.
const ABOVE: [&str; 8] = [
    "more than",
    "at least",
    "above",
    "over",
    "min.",
    "≥",
    ">=",
    ">",
];
const BELOW: [&str; 9] = [
    "less than",
    "at most",
    "below",
    "under",
    "max.",
    "≤",
    "<=",
    "<",
    "up to",
];

/// On which side of a value the reading is to be.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Bound {
    Above,
    Below,
}

/// A value, or more or less than it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Expectation {
    pub value: Quantity,
    pub bound: Option<Bound>,
}

/// Why a text is no expectation.
#[derive(Debug, Error, PartialEq, Eq)]
pub enum ExpectationError {
    #[error(transparent)]
    NoQuantity(#[from] QuantityError),
    #[error("volts are never OL: expected a number such as 12.1, or > 11")]
    VoltsOver,
    #[error("nothing is more or less than that: expected a number after “{0}”")]
    NoBound(&'static str),
}

impl Expectation {
    /// Reads what a person writes: a quantity, or `> 11`, `at least 12 V`, `< 0.2`, `under 1 Ω`.
    ///
    /// # Errors
    /// [`ExpectationError`] when it is neither.
    pub fn parse(text: &str, unit: Unit) -> Result<Self, ExpectationError> {
        let text = text.trim();
        let lower = text.to_lowercase();
        let sides = [(Bound::Above, &ABOVE[..]), (Bound::Below, &BELOW[..])];
        for (bound, words) in sides {
            if let Some(word) = words.iter().find(|w| lower.starts_with(**w)) {
                let value = Quantity::parse(&text[word.len()..], unit)?;
                return match (value, unit) {
                    (Quantity::OverLimit, _) | (_, Unit::Light | Unit::Spark) => {
                        Err(ExpectationError::NoBound(word))
                    }
                    _ => Ok(Self {
                        value,
                        bound: Some(bound),
                    }),
                };
            }
        }
        match (Quantity::parse(text, unit)?, unit) {
            (Quantity::OverLimit, Unit::Volt) => Err(ExpectationError::VoltsOver),
            (value, _) => Ok(Self { value, bound: None }),
        }
    }

    /// As it is said back: `> 11.00 V`.
    pub fn text(self, unit: Unit) -> String {
        let value = self.value.text(unit);
        match self.bound {
            Some(Bound::Above) => format!("> {value}"),
            Some(Bound::Below) => format!("< {value}"),
            None => value,
        }
    }

    /// Whether a value is on the expected side of the bound, give or take some slack; none where no bound was said.
    pub fn holds(self, value: f64, slack: f64) -> Option<bool> {
        Some(match self.bound? {
            Bound::Above => value >= self.value.number() - slack,
            Bound::Below => value <= self.value.number() + slack,
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn reads_bounds() {
        for (text, unit, bound, number) in [
            ("> 11", Unit::Volt, Some(Bound::Above), 11.0),
            (">=11,5 V", Unit::Volt, Some(Bound::Above), 11.5),
            ("At least 12 volts", Unit::Volt, Some(Bound::Above), 12.0),
            ("< 0.2", Unit::Volt, Some(Bound::Below), 0.2),
            ("under 5k", Unit::Ohm, Some(Bound::Below), 5_000.0),
            ("12.4", Unit::Volt, None, 12.4),
        ] {
            let read = Expectation::parse(text, unit).unwrap_or_else(|e| panic!("{text}: {e}"));
            assert_eq!((read.bound, read.value), (bound, Quantity::Number(number)));
        }
        for (bad, unit) in [
            (">", Unit::Volt),
            ("> lots", Unit::Volt),
            ("> OL", Unit::Ohm),
            ("< bright", Unit::Light),
            ("OL", Unit::Volt),
            ("0L", Unit::Volt),
        ] {
            assert!(Expectation::parse(bad, unit).is_err(), "{bad} was taken");
        }
        assert!(Expectation::parse("OL", Unit::Ohm).is_ok());
    }

    #[test]
    fn a_bound_holds_on_its_side() {
        let above = Expectation::parse("> 11", Unit::Volt).unwrap();
        assert_eq!(above.holds(12.4, 0.1), Some(true));
        assert_eq!(above.holds(10.95, 0.1), Some(true));
        assert_eq!(above.holds(10.0, 0.1), Some(false));
        assert_eq!(above.text(Unit::Volt), "> 11.00 V");
        assert_eq!(
            Expectation::parse("12", Unit::Volt)
                .unwrap()
                .holds(12.0, 0.1),
            None
        );
    }
}
