//! What a display shows for a measured value.

use super::function::{Function, Range};
use super::reading::Shown;
use super::take::Meter;
use cimento_model::units::{Quantity, Swing, Unit};

/// Continuity beeps below this many ohms; common practice.
const BEEP_OHMS: f64 = 40.0;
/// Values of a cycle closer than this many counts do not look like wandering.
const STEADY_COUNTS: f64 = 1.5;
/// The display reads over limit half a count below full scale.
const HALF_COUNT: f64 = 0.5 / 6000.0;

/// Factor and prefix for a value.
fn scaled(value: f64, unit: Unit) -> (f64, &'static str) {
    match unit {
        Unit::Ohm if value >= 1e6 => (1e6, "M"),
        Unit::Ohm | Unit::Hertz if value >= 1e3 => (1e3, "k"),
        _ => (1.0, ""),
    }
}

fn range_text(range: Range, unit: Unit) -> String {
    let (scale, prefix) = scaled(range.0, unit);
    format!("{} {prefix}{}", range.0 / scale, unit.sign())
}

/// A value as a display counts it.
pub(super) struct Counted {
    range: Range,
    step: f64,
    least: f64,
    most: f64,
    pub value: Quantity,
    /// Least and most when the display wanders.
    pub wanders: Option<Swing>,
}

impl Counted {
    fn over(range: Range, v: f64) -> bool {
        !v.is_finite() || !fits(v, range)
    }
}

fn fits(v: f64, range: Range) -> bool {
    v.abs() < range.0 * (1.0 - HALF_COUNT)
}

/// Counts a value that lies between `least` and `most`.
pub(super) fn counted(
    meter: &Meter,
    function: Function,
    range: Option<Range>,
    (least, most): (f64, f64),
) -> Counted {
    let all = function.ranges();
    let largest = least.abs().max(most.abs());
    let range = range.unwrap_or_else(|| {
        let found = all.iter().find(|r| fits(largest, **r));
        *found.unwrap_or(&all[all.len() - 1])
    });
    let (least, most) = (
        least + meter.error(function, least, range),
        most + meter.error(function, most, range),
    );
    let step = function.step(range);
    let over = |v: f64| Counted::over(range, v);
    let hidden = over(least) && over(most);
    let wanders = !hidden && most - least > STEADY_COUNTS * step;
    let middle = if wanders && least.is_finite() && most.is_finite() {
        f64::midpoint(least, most)
    } else {
        most
    };
    Counted {
        range,
        step,
        least,
        most,
        value: if hidden || over(middle) {
            Quantity::OverLimit
        } else {
            Quantity::Number(in_steps(middle, step))
        },
        wanders: wanders.then_some(Swing { least, most }),
    }
}

/// A value as so many steps of a display. A step below one is divided by, so that 12.53 is not 12.530000000000001;
/// adding zero turns a negative zero into a plain one.
fn in_steps(value: f64, step: f64) -> f64 {
    let count = (value / step).round();
    let per_unit = (1.0 / step).round();
    if per_unit > 1.0 && (per_unit * step - 1.0).abs() < 1e-9 {
        count / per_unit + 0.0
    } else {
        count * step + 0.0
    }
}

/// What the display shows for a value that lies between `least` and `most`.
pub(super) fn display(
    meter: &Meter,
    function: Function,
    range: Option<Range>,
    values: (f64, f64),
) -> Shown {
    let counted = counted(meter, function, range, values);
    let Counted {
        range,
        step,
        least,
        most,
        ..
    } = counted;
    let unit = function.unit();
    let beeps = function == Function::CONTINUITY && most < BEEP_OHMS && least > -BEEP_OHMS;
    let over = |v: f64| Counted::over(range, v);
    if over(least) && over(most) {
        return Shown {
            text: "OL".to_owned(),
            unit: String::new(),
            range: range_text(range, unit),
            value: Quantity::OverLimit,
            wanders: None,
            beeps,
        };
    }
    let (scale, prefix) = scaled(range.0, unit);
    let decimals = (-(step / scale).log10() - 1e-9).ceil().max(0.0) as usize;
    let figures = |v: f64| {
        if over(v) {
            return "OL".to_owned();
        }
        // Adding zero turns a negative zero into a plain one.
        let counted = (v / step).round() * step / scale + 0.0;
        format!("{counted:.decimals$}")
    };
    let middle = match counted.wanders {
        Some(_) if least.is_finite() && most.is_finite() => f64::midpoint(least, most),
        _ => most,
    };
    Shown {
        text: match counted.wanders {
            Some(_) => format!("{} … {}", figures(least), figures(most)),
            None => figures(middle),
        },
        unit: format!("{prefix}{}", unit.sign()),
        range: range_text(range, unit),
        value: counted.value,
        wanders: counted.wanders,
        beeps,
    }
}

/// What an ideal meter shows for a resistance.
pub fn ohms_shown(ohms: f64) -> Shown {
    display(&Meter::default(), Function::OHMS, None, (ohms, ohms))
}
