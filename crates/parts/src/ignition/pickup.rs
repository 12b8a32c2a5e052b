//! Magnetic pickup: a toothed wheel swings the voltage of a winding, as widely as it turns fast. At the
//! end of each upward lobe the voltage falls through zero.

use cimento_solver::{Element, Shape};

use cimento_model::circuit::SeverityUnit;
use cimento_model::faults::{ModeSpec, graded_in, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Alternation, Context, ParamSpec, Params, PartKind, Shelf, Stamp, Terminal, Turning, terminal,
};
use cimento_model::stamped::Role;

/// Mean of a sine wave's half beside its peak.
const MEAN: f64 = std::f64::consts::FRAC_2_PI;
/// The wheel turns once while the crankshaft turns twice.
const TWO_TURNS_DEG: f64 = 720.0;

pub(crate) struct Pickup;

impl PartKind for Pickup {
    fn kind(&self) -> &'static str {
        "magnetic_pickup"
    }

    fn title(&self) -> &'static str {
        "Magnetic pickup"
    }

    fn shelf(&self) -> Shelf {
        Shelf::Ignition
    }

    fn letters(&self) -> &'static str {
        "B"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("1", "back of plug, signal", true),
                terminal("2", "back of plug, return", false),
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number("winding_ohms", "winding", "Ω", (5.0, 800.0, 5000.0)),
                number(
                    "v_per_krpm",
                    "peak of the open winding at 1000 rpm of the crankshaft",
                    "V",
                    (0.5, 10.0, 100.0),
                ),
                number(
                    "pulses",
                    "pulses in two turns of the crankshaft",
                    "",
                    (1.0, 4.0, 8.0),
                ),
                number(
                    "pulse_deg",
                    "width of a pulse; 0: one runs into the next",
                    "°",
                    (0.0, 0.0, 90.0),
                ),
                number(
                    "at_deg",
                    "where a pulse ends, after cylinder 1 fires",
                    "°",
                    (0.0, 0.0, 719.0),
                ),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("winding_open", "winding open", 2.0),
                mode("turns_shorted", "half the turns shorted", 1.0),
                graded_in(
                    SeverityUnit::Share,
                    "gap_wide",
                    "air gap wide, share of the swing left",
                    1.0,
                    (0.02, 0.1, 0.5),
                )
                .adjustable(),
                mode(
                    "tooth_chipped",
                    "a tooth chipped off, one pulse missing",
                    0.5,
                ),
            ]
        }
    }

    fn needs_engine(&self) -> bool {
        true
    }

    fn rating(&self, params: &Params) -> String {
        format!("{} Ω", params.number("winding_ohms"))
    }

    fn alternation(&self, c: &Context<'_>) -> Option<Alternation> {
        Some(Alternation {
            hz: c.rpm / 120.0 * c.param("pulses"),
            share: 0.5,
        })
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let turns = match s.fault("turns_shorted") {
            Some(_) => 0.5,
            None => 1.0,
        };
        let ohms = match s.fault("winding_open") {
            Some(_) => f64::INFINITY,
            None => s.param("winding_ohms") * turns,
        };
        let peak = s.param("v_per_krpm") * s.rpm / 1000.0 * turns;
        let peak = peak * s.fault("gap_wide").unwrap_or(1.0);
        let mean = if s.up() { MEAN * peak } else { -MEAN * peak };
        let standing = if s.turning().is_some() { 0.0 } else { mean };
        let winding = Element::source(s.node(0), s.node(1), standing, ohms);
        let winding = s.add("winding", Role::Source, winding);
        if let Some(turning) = s.turning() {
            let shape = shape(turning, s, peak);
            s.follows(winding, shape);
        }
    }
}

/// The wave in time: a sine, or a lobe up and a lobe down for each tooth.
fn shape(turning: &Turning, s: &Stamp<'_>, peak: f64) -> Shape {
    let pulses = s.param("pulses").round();
    let every = TWO_TURNS_DEG / pulses;
    let since = turning.from_deg - s.param("at_deg");
    let chipped = s.fault("tooth_chipped").is_some();
    let width = s.param("pulse_deg");
    if width <= 0.0 && !chipped {
        return Shape::Sine {
            volts: peak,
            hz: 1.0 / turning.seconds(every),
            phase: std::f64::consts::PI + std::f64::consts::TAU * since / every,
        };
    }
    let width = if width > 0.0 {
        width.min(every / 2.0)
    } else {
        every / 2.0
    };
    // The period begins as the first lobe does.
    let mut points = vec![(0.0, 0.0)];
    for tooth in 0..pulses as usize {
        let begins = every * tooth as f64;
        let high = if chipped && tooth == 0 { 0.0 } else { peak };
        for (share, volts) in [
            (0.25, high),
            (0.75, high),
            (1.0, 0.0),
            (1.25, -high),
            (1.75, -high),
            (2.0, 0.0),
        ] {
            points.push((turning.seconds(begins + share * width), volts));
        }
        let next = turning.seconds(every * (tooth + 1) as f64);
        if points.last().is_some_and(|p| p.0 < next) {
            points.push((next, 0.0));
        }
    }
    Shape::Lines {
        points,
        phase_s: turning.seconds(since + width),
    }
}
