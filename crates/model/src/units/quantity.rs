//! A number with a unit, as it stands on a meter's display or in a student's notes.

use serde::{Deserialize, Serialize};
use thiserror::Error;
use utoipa::ToSchema;

/// What is measured.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Unit {
    Volt,
    Ohm,
    Ampere,
    /// How a lamp shines: 0 off, 1 dim, 2 bright.
    Light,
    Hertz,
    /// Share of a period, in hundredths.
    Percent,
    /// How many codes a module has set.
    Code,
    /// Whether a spark jumps: 0 no, 1 yes.
    Spark,
    /// Turns in a minute.
    Rpm,
    /// Degrees of the crankshaft.
    Degree,
    /// How often something clicks.
    Click,
}

/// Words that say that a figure is meant roughly.
const ABOUT: [&str; 6] = ["about", "approx.", "approx", "roughly", "~", "≈"];
/// Words of [`Unit::Light`] by their number.
const LIGHT: [&str; 3] = ["off", "dim", "bright"];
/// Words of [`Unit::Spark`].
const SPARK: [&str; 2] = ["no spark", "spark"];

impl Unit {
    /// The unit's sign.
    pub fn sign(self) -> &'static str {
        match self {
            Self::Volt => "V",
            Self::Ohm => "Ω",
            Self::Ampere => "A",
            Self::Light | Self::Code | Self::Spark | Self::Click => "",
            Self::Hertz => "Hz",
            Self::Percent => "%",
            Self::Rpm => "rpm",
            Self::Degree => "°",
        }
    }
}

/// A value that was read or is expected: a number in the unit's base, or over limit.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Quantity {
    Number(f64),
    OverLimit,
}

/// Least and most of a value that does not stand still.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Swing {
    pub least: f64,
    pub most: f64,
}

impl Swing {
    /// Half-way between the two.
    pub fn middle(self) -> f64 {
        (self.least + self.most) / 2.0
    }
}

/// Why a text is not a quantity.
#[derive(Debug, Error, PartialEq, Eq)]
#[error("“{text}” is no reading{}", expected(*unit))]
pub struct QuantityError {
    text: String,
    unit: Unit,
}

fn expected(unit: Unit) -> String {
    match unit {
        Unit::Light => ": expected off, dim or bright".to_owned(),
        Unit::Spark => ": expected spark or no spark".to_owned(),
        Unit::Degree => {
            ": expected degrees past the pointer such as 4, −6 when early, or no flash".to_owned()
        }
        Unit::Click => ": expected nothing, or how many click".to_owned(),
        Unit::Code => ": expected none, a number of codes, or no answer".to_owned(),
        // Only ohms are said to be OL.
        Unit::Ohm => " in Ω: expected a number such as 12.1, 250m, 4.7k, > 11, or OL".to_owned(),
        unit => format!(
            " in {}: expected a number such as 12.1, 250m, 4.7k or > 11",
            unit.sign()
        ),
    }
}

impl Quantity {
    /// Reads what a person writes: `12.1`, `12,1 V`, `200 mV`, `11.4k`, `2 MΩ`, `12 volts`, `about 12`, `OL`.
    ///
    /// # Errors
    /// [`QuantityError`] when it is neither a number in this unit nor OL.
    pub fn parse(text: &str, unit: Unit) -> Result<Self, QuantityError> {
        let bad = || QuantityError {
            text: text.trim().to_owned(),
            unit,
        };
        if unit == Unit::Light {
            let word = text.trim().to_lowercase();
            let word = match word.as_str() {
                "dark" => "off",
                "on" | "lit" => "bright",
                "glows" => "dim",
                word => word,
            };
            let level = LIGHT.iter().position(|w| *w == word);
            return level.map(|n| Self::Number(n as f64)).ok_or_else(bad);
        }
        if unit == Unit::Spark {
            let word = text.trim().to_lowercase();
            let word = if word == "none" {
                "no spark"
            } else {
                word.as_str()
            };
            let jumps = SPARK.iter().position(|w| *w == word);
            return jumps.map(|n| Self::Number(n as f64)).ok_or_else(bad);
        }
        if unit == Unit::Code {
            return match text.trim().to_lowercase().as_str() {
                "none" | "no codes" | "no code" => Ok(Self::Number(0.0)),
                "no answer" | "silent" | "ol" => Ok(Self::OverLimit),
                number => number
                    .parse()
                    .map(|n: u8| Self::Number(n.into()))
                    .map_err(|_| bad()),
            };
        }
        if unit == Unit::Click {
            let word = text.trim().to_lowercase();
            if matches!(
                word.as_str(),
                "nothing" | "none" | "no click" | "nothing clicks"
            ) {
                return Ok(Self::Number(0.0));
            }
            let number = word.trim_end_matches("clicks").trim_end_matches("click");
            let clicks = number.trim().parse::<u8>();
            return clicks.map(|n| Self::Number(n.into())).map_err(|_| bad());
        }
        if unit == Unit::Degree
            && matches!(text.trim().to_lowercase().as_str(), "no flash" | "dark")
        {
            return Ok(Self::OverLimit);
        }
        let mut rest = text.trim().replace(',', ".").replace('−', "-");
        for about in ABOUT {
            if let Some(cut) = rest.strip_prefix(about) {
                rest = cut.trim_start().to_owned();
                break;
            }
        }
        // A zero is taken for an O on many a display.
        if ["ol", "0l", "o.l", "0.l", "∞"].contains(&rest.to_lowercase().as_str()) {
            return Ok(Self::OverLimit);
        }
        let signs: &[&str] = match unit {
            Unit::Volt => &["volts", "volt", "Volts", "Volt", "V", "v"],
            Unit::Ohm => &["Ω", "Ω", "ohms", "ohm", "Ohms", "Ohm", "R"],
            Unit::Ampere => &["amperes", "amps", "amp", "Amps", "A", "a"],
            Unit::Hertz => &["Hz", "hz"],
            Unit::Percent => &["%"],
            Unit::Rpm => &["rpm", "1/min"],
            Unit::Degree => &["°", "deg", "degrees"],
            Unit::Light | Unit::Code | Unit::Spark | Unit::Click => &[],
        };
        if let Some(cut) = signs.iter().find_map(|s| rest.strip_suffix(s)) {
            rest = cut.trim_end().to_owned();
        }
        let mut factor = 1.0;
        for (prefix, value) in [('m', 1e-3), ('k', 1e3), ('K', 1e3), ('M', 1e6)] {
            if let Some(cut) = rest.strip_suffix(prefix) {
                (rest, factor) = (cut.trim_end().to_owned(), value);
                break;
            }
        }
        match rest.parse::<f64>() {
            Ok(number) if number.is_finite() => Ok(Self::Number(number * factor)),
            _ => Err(bad()),
        }
    }

    /// The number, or infinity for over limit.
    pub fn number(self) -> f64 {
        match self {
            Self::Number(n) => n,
            Self::OverLimit => f64::INFINITY,
        }
    }

    /// The value as the trade writes it: `12.48 V`, `11.4 kΩ`, `OL`.
    pub fn text(self, unit: Unit) -> String {
        let Self::Number(n) = self else {
            return match unit {
                Unit::Code => "no answer".to_owned(),
                Unit::Degree => "no flash".to_owned(),
                _ => "OL".to_owned(),
            };
        };
        if unit == Unit::Light {
            return LIGHT[(n.round().max(0.0) as usize).min(2)].to_owned();
        }
        if unit == Unit::Spark {
            return SPARK[(n.round().max(0.0) as usize).min(1)].to_owned();
        }
        if unit == Unit::Click {
            return match n.round() as i64 {
                0 => "nothing clicks".to_owned(),
                1 => "1 click".to_owned(),
                n => format!("{n} clicks"),
            };
        }
        if unit == Unit::Code {
            return match n.round() as i64 {
                0 => "no codes".to_owned(),
                1 => "1 code".to_owned(),
                n => format!("{n} codes"),
            };
        }
        let (scaled, prefix) = match unit {
            Unit::Ohm if n.abs() >= 0.999_5e6 => (n / 1e6, "M"),
            Unit::Ohm | Unit::Volt if n.abs() >= 999.5 => (n / 1e3, "k"),
            _ => (n, ""),
        };
        let decimals = match (unit, scaled.abs()) {
            (Unit::Ohm, s) if (0.000_5..0.099_5).contains(&s) => 3,
            (Unit::Ohm, s) if s >= 99.95 => 0,
            (Unit::Rpm | Unit::Degree, _) => 0,
            (Unit::Ohm, s) if s >= 9.995 => 1,
            (Unit::Ampere | Unit::Hertz | Unit::Percent, s) if s >= 9.995 => 1,
            _ => 2,
        };
        let scaled = if scaled.abs() < 0.5 * 10f64.powi(-decimals) {
            0.0
        } else {
            scaled
        };
        format!("{scaled:.0$} {prefix}{1}", decimals as usize, unit.sign())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn reads_what_people_write() {
        for (text, unit, expected) in [
            ("12.1", Unit::Volt, 12.1),
            (" 12,1 V", Unit::Volt, 12.1),
            ("250m", Unit::Volt, 0.25),
            ("200 mV", Unit::Volt, 0.2),
            ("−0.3 V", Unit::Volt, -0.3),
            ("11.4k", Unit::Ohm, 11_400.0),
            ("2 MΩ", Unit::Ohm, 2e6),
            ("160 A", Unit::Ampere, 160.0),
            ("900 rpm", Unit::Rpm, 900.0),
            ("12 volts", Unit::Volt, 12.0),
            ("about 12", Unit::Volt, 12.0),
            ("~ 0,2 V", Unit::Volt, 0.2),
            ("11.4 kohm", Unit::Ohm, 11_400.0),
            ("3 amps", Unit::Ampere, 3.0),
            ("on", Unit::Light, 2.0),
            ("glows", Unit::Light, 1.0),
            ("−6°", Unit::Degree, -6.0),
        ] {
            let Ok(Quantity::Number(n)) = Quantity::parse(text, unit) else {
                panic!("{text} was not read");
            };
            assert!((n - expected).abs() < 1e-9, "{text} gave {n}");
        }
        for (text, unit) in [
            ("ol", Unit::Ohm),
            ("0L", Unit::Ohm),
            ("O.L", Unit::Ohm),
            ("no flash", Unit::Degree),
        ] {
            assert_eq!(Quantity::parse(text, unit), Ok(Quantity::OverLimit));
        }
        for bad in ["", "about", "volts", "twelve", "12 Ω", "NaN", "1e999"] {
            assert!(Quantity::parse(bad, Unit::Volt).is_err(), "{bad} was taken");
        }
    }

    #[test]
    fn writes_as_the_trade_does() {
        for (value, unit, text) in [
            (12.484, Unit::Volt, "12.48 V"),
            (-0.001, Unit::Volt, "0.00 V"),
            (11_400.0, Unit::Ohm, "11.4 kΩ"),
            (0.3, Unit::Ohm, "0.30 Ω"),
            (0.015, Unit::Ohm, "0.015 Ω"),
            (0.003, Unit::Ohm, "0.003 Ω"),
            (0.0, Unit::Ohm, "0.00 Ω"),
            (161.2, Unit::Ampere, "161.2 A"),
            (899.7, Unit::Rpm, "900 rpm"),
            (-6.2, Unit::Degree, "-6 °"),
        ] {
            assert_eq!(Quantity::Number(value).text(unit), text);
        }
        assert_eq!(Quantity::OverLimit.text(Unit::Ohm), "OL");
    }
}
