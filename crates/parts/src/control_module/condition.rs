//! What a module goes by: a few words that a person can read and write, such as `5 low`,
//! `7 above 0.5`, `8 plus 9 outside 4.6 5.4`, `engine running`, `not code P1`.

use super::{CODES_AT, MOST_CODES, NUMBERS, SENSES, TAKEN_AT};
use cimento_model::part::Look;
use cimento_model::text::MOST_CHARACTERS;

/// An input is low below, and high above, these voltages; common practice.
const LOW_V: f64 = 1.5;
const HIGH_V: f64 = 3.5;
/// Swing that counts as pulses, in volts; common practice.
const PULSE_V: f64 = 1.5;
/// Engine speeds from which it turns, and runs, in revolutions per minute; common practice.
const TURNS_RPM: f64 = 40.0;
const RUNS_RPM: f64 = 400.0;

/// The bits of all codes.
const MANY: u64 = (1 << MOST_CODES) - 1;

/// A condition.
#[derive(Debug, Clone, PartialEq)]
pub enum Condition {
    Above(usize, f64),
    Below(usize, f64),
    /// An input plus a multiple of another outside a band.
    Outside {
        a: usize,
        b: usize,
        times: f64,
        least: f64,
        most: f64,
    },
    Pulses(usize),
    EngineTurning,
    EngineRunning,
    /// A code is set.
    Code(usize),
    /// A code has taken something away that has not come back.
    Taken(usize),
    AnyCode,
    AnyTaken,
    Not(Box<Condition>),
}

impl Condition {
    /// Reads a condition; `pins` are the pins there are, `codes` the names of the codes.
    ///
    /// # Errors
    /// A sentence that says what was expected.
    pub fn read(text: &str, pins: &[usize], codes: &[String]) -> Result<Self, String> {
        if text.len() > MOST_CHARACTERS {
            return Err(format!(
                "{} characters are too many: expected at most {MOST_CHARACTERS}",
                text.len()
            ));
        }
        let words: Vec<&str> = text.split_whitespace().collect();
        let pin = |word: &str| {
            let found = NUMBERS.iter().position(|n| *n == word);
            found
                .filter(|n| pins.contains(n))
                .ok_or_else(|| format!("“{word}” in “{text}” is no pin of this module"))
        };
        let number = |word: &str| {
            word.parse::<f64>()
                .ok()
                .filter(|v| v.is_finite())
                .ok_or_else(|| format!("“{word}” in “{text}” is no number of volts"))
        };
        let code = |word: &str| {
            codes
                .iter()
                .position(|c| c == word)
                .ok_or_else(|| format!("“{word}” in “{text}” is no code of this module"))
        };
        match words.as_slice() {
            ["not", ..] => {
                let rest = text.trim_start().trim_start_matches("not");
                Ok(Self::Not(Box::new(Self::read(rest, pins, codes)?)))
            }
            ["engine", "turning"] => Ok(Self::EngineTurning),
            ["engine", "running"] => Ok(Self::EngineRunning),
            ["any", "code"] => Ok(Self::AnyCode),
            ["reduced"] => Ok(Self::AnyTaken),
            ["code", name] => Ok(Self::Code(code(name)?)),
            ["reduced", "by", name] => Ok(Self::Taken(code(name)?)),
            [p, "low"] => Ok(Self::Below(pin(p)?, LOW_V)),
            [p, "high"] => Ok(Self::Above(pin(p)?, HIGH_V)),
            [p, "pulses"] => Ok(Self::Pulses(pin(p)?)),
            [p, "above", v] => Ok(Self::Above(pin(p)?, number(v)?)),
            [p, "below", v] => Ok(Self::Below(pin(p)?, number(v)?)),
            [a, how @ ("plus" | "minus"), b, "outside", least, most] => {
                let (times, b) = b.split_once('x').unwrap_or(("1", b));
                let sign = if *how == "plus" { 1.0 } else { -1.0 };
                Ok(Self::Outside {
                    a: pin(a)?,
                    b: pin(b)?,
                    times: sign * number(times)?,
                    least: number(least)?,
                    most: number(most)?,
                })
            }
            _ => Err(format!(
                "“{text}” is no condition: expected such as “5 low”, “7 above 0.5”, “8 plus 9 outside 4.6 5.4”, “8 minus 2x9 outside -0.3 0.3”, “engine running”, “any code”, “code P1”, “reduced”, “reduced by P1”, or “not” before one of these"
            )),
        }
    }

    /// Whether it holds, given what the inputs see.
    pub(super) fn holds(&self, look: &Look<'_>, sees: &dyn Fn(usize) -> f64) -> bool {
        match self {
            Self::Above(pin, volts) => sees(*pin) > *volts,
            Self::Below(pin, volts) => sees(*pin) < *volts,
            Self::Outside {
                a,
                b,
                times,
                least,
                most,
            } => {
                let sum = sees(*a) + times * sees(*b);
                sum < *least || sum > *most
            }
            Self::Pulses(pin) => look.swing(SENSES[*pin]) > PULSE_V,
            Self::EngineTurning => look.rpm >= TURNS_RPM,
            Self::EngineRunning => look.rpm >= RUNS_RPM,
            Self::Code(n) => look.state.level >> (CODES_AT + n) & 1 == 1,
            Self::Taken(n) => look.state.level >> (TAKEN_AT + n) & 1 == 1,
            Self::AnyCode => look.state.level >> CODES_AT & MANY != 0,
            Self::AnyTaken => look.state.level >> TAKEN_AT & MANY != 0,
            Self::Not(other) => !other.holds(look, sees),
        }
    }
}
