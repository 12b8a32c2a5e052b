//! Permanent-magnet stator of a small engine: a winding whose voltage grows with speed, behind its
//! resistance and reactance. Terminals 1 and 2 are the two legs, 31 the core, which neither touches.
//!
//! The two halves of its period stand for its wave: in each the winding gives the mean of the
//! rectified wave, 0.9 times its root mean square.

use cimento_solver::{Element, Shape};

use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Alternation, Context, ParamSpec, PartKind, Shelf, Stamp, Terminal, Turning, terminal,
};
use cimento_model::stamped::Role;

/// Mean of a rectified sine over its root mean square, `2·√2/π`.
const MEAN_OVER_RMS: f64 = 0.900_316;

/// An inductance of its own in time, in henries, where none is given.
const LEAST_H: f64 = 1e-6;

pub(super) struct Stator;

impl PartKind for Stator {
    fn kind(&self) -> &'static str {
        "stator"
    }

    fn title(&self) -> &'static str {
        "Stator"
    }

    fn shelf(&self) -> Shelf {
        Shelf::Supply
    }

    fn letters(&self) -> &'static str {
        "G"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("1", "back of plug, leg", false),
                terminal("2", "back of plug, leg", false),
                Terminal {
                    is_case: true,
                    needed: false,
                    ..terminal("31", "core", false)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number("winding_ohms", "leg to leg", "Ω", (0.05, 0.7, 1000.0)),
                number("henries", "inductance", "H", (0.0, 0.0009, 20.0)),
                number(
                    "v_per_krpm",
                    "open voltage (rms) at 1000 rpm",
                    "V",
                    (1.0, 14.0, 500.0),
                ),
                number("pole_pairs", "pairs of poles", "", (1.0, 6.0, 12.0)),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("winding_open", "winding open", 1.5),
                mode("turns_shorted", "half the turns shorted", 1.0),
                mode("winding_to_core", "a leg touches the core", 1.0),
            ]
        }
    }

    fn needs_engine(&self) -> bool {
        true
    }

    fn alternation(&self, c: &Context<'_>) -> Option<Alternation> {
        Some(Alternation {
            hz: c.rpm / 60.0 * c.param("pole_pairs"),
            share: 0.5,
        })
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let turns = if s.fault("turns_shorted").is_some() {
            0.5
        } else {
            1.0
        };
        let hz = s.rpm / 60.0 * s.param("pole_pairs");
        let reactance = std::f64::consts::TAU * hz * s.param("henries") * turns * turns;
        let ohms = match s.fault("winding_open") {
            Some(_) => f64::INFINITY,
            None => (s.param("winding_ohms") * turns).hypot(reactance),
        };
        let mean_v = MEAN_OVER_RMS * s.param("v_per_krpm") * s.rpm / 1000.0 * turns;
        let volts = if s.up() { mean_v } else { -mean_v };
        if let Some(turning) = s.turning() {
            self.wind_in_time(s, turning, turns);
        } else {
            let winding = Element::source(s.node(0), s.node(1), volts, ohms);
            s.add("winding", Role::Source, winding);
        }
        let touch = match s.fault("winding_to_core") {
            Some(_) => 0.05,
            None => f64::INFINITY,
        };
        let touch = Element::resistor(s.node(0), s.node(2), touch);
        s.add("insulation", Role::Stray, touch);
    }
}

impl Stator {
    /// A sine wave behind the winding's own resistance and inductance.
    fn wind_in_time(&self, s: &mut Stamp<'_>, turning: &Turning, turns: f64) {
        let ohms = match s.fault("winding_open") {
            Some(_) => f64::INFINITY,
            None => s.param("winding_ohms") * turns,
        };
        let (induced, leg) = (s.internal(), s.node(0));
        let winding = Element::source(induced, s.node(1), 0.0, ohms);
        let winding = s.add("winding", Role::Source, winding);
        let henries = (s.param("henries") * turns * turns).max(LEAST_H);
        let inductance = Element::Inductor {
            a: induced,
            b: leg,
            henries,
        };
        s.add("inductance", Role::Source, inductance);
        let rms = s.param("v_per_krpm") * s.rpm / 1000.0 * turns;
        let every = 360.0 / s.param("pole_pairs").round();
        let shape = Shape::Sine {
            volts: rms * std::f64::consts::SQRT_2,
            hz: 1.0 / turning.seconds(every),
            phase: std::f64::consts::TAU * turning.from_deg / every,
        };
        s.follows(winding, shape);
    }
}
