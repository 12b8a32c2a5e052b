//! Filament test lamp, 12 V and about 0.25 A: it loads what it touches, so it tells a supply that can
//! carry current from one that only shows volts.

use cimento_solver::{Element, filament_ohms};

use super::reading::Shown;
use crate::bench::{Bench, BenchError, Point, Wiring};
use crate::units::{Quantity, Swing, Unit};

/// Rated voltage, hot and cold resistance: 3 W at 12 V, a tenth of it cold; common practice.
const RATED_V: f64 = 12.0;
const HOT_OHMS: f64 = 48.0;
const COLD_OHMS: f64 = 4.8;
/// Shares of the rated power from which it is seen as dim, and as bright.
const DIM: f64 = 0.05;
const BRIGHT: f64 = 0.5;

/// Least and most of the lamp's level (0 off, 1 dim, 2 bright) over what the machine does.
pub(super) fn level(bench: &Bench<'_>, red: usize, black: usize) -> Result<(f64, f64), BenchError> {
    let settled = bench.settled_with(&|w: &mut Wiring| {
        let (a, b) = (w.node(red), w.node(black));
        w.net.attach(Element::Filament {
            a,
            b,
            rated_v: RATED_V,
            hot_ohms: HOT_OHMS,
            cold_ohms: COLD_OHMS,
        });
    })?;
    let level = |p: &Point| {
        let volts = p.op.between(p.wiring.node(red), p.wiring.node(black));
        let watts = volts * volts / filament_ohms(volts, RATED_V, HOT_OHMS, COLD_OHMS);
        match watts / (RATED_V * RATED_V / HOT_OHMS) {
            share if share >= BRIGHT => 2.0,
            share if share >= DIM => 1.0,
            _ => 0.0,
        }
    };
    Ok(settled.range(level).unwrap_or((0.0, 0.0)))
}

/// The lamp as one sees it.
pub(super) fn shown(least: f64, most: f64) -> Shown {
    let wanders = (least < most).then_some(Swing { least, most });
    let value = Quantity::Number(most);
    Shown {
        text: match wanders {
            Some(_) => "flickers".to_owned(),
            None => value.text(Unit::Light),
        },
        unit: String::new(),
        range: "12 V lamp".to_owned(),
        value,
        wanders,
        beeps: false,
    }
}
