//! Potentiometer sensors of a pedal or throttle: one track, or two that the same shaft turns the same
//! way or opposite ways. Terminals: 1 supply, 2 signal, 3 ground of the first track, 4 to 6 of the
//! second.

use cimento_solver::Element;

use cimento_model::circuit::Part;
use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{Control, ParamSpec, PartKind, Shelf, Stamp, Terminal, terminal};
use cimento_model::stamped::Role;

/// Share of the track below the wiper, by position of the pedal; common practice leaves both ends
/// free, so that a break is told from an end.
const POSITIONS: [(&str, f64); 3] = [("released", 0.1), ("half", 0.5), ("full", 0.9)];

/// A kind of sensor.
pub(super) struct Potentiometer {
    kind: &'static str,
    title: &'static str,
    control: &'static str,
    /// Where the second track's wiper stands, given the first's; none has one track.
    second: Option<fn(f64) -> f64>,
    terminals: &'static [Terminal],
    modes: &'static [ModeSpec],
    loads: &'static [(&'static str, &'static str)],
}

/// Share of the first track that the second of a pair turning the same way shows; common practice
/// has it at half, so that a short between the two is seen.
const HALF: f64 = 0.5;

const PAIR: [Terminal; 6] = [
    terminal("1", "back of plug, first supply", true),
    terminal("2", "back of plug, first signal", false),
    terminal("3", "back of plug, first ground", false),
    terminal("4", "back of plug, second supply", true),
    terminal("5", "back of plug, second signal", false),
    terminal("6", "back of plug, second ground", false),
];

const PAIR_MODES: [ModeSpec; 4] = [
    mode("track_open", "first track broken at its supply end", 1.0),
    mode("wiper_open", "first wiper lifts off", 2.0),
    graded("wiper_worn", "first wiper worn", 2.0, (200.0, 5000.0, 1e6)),
    mode("second_wiper_open", "second wiper lifts off", 2.0),
];

/// One track.
pub(super) static SINGLE: Potentiometer = Potentiometer {
    kind: "potentiometer",
    title: "Pedal sensor",
    control: "pedal",
    second: None,
    terminals: &[
        terminal("1", "back of plug, supply", true),
        terminal("2", "back of plug, signal", false),
        terminal("3", "back of plug, ground", false),
    ],
    modes: &[
        mode("track_open", "track broken at its supply end", 1.0),
        mode("wiper_open", "wiper lifts off", 2.0),
        graded(
            "wiper_worn",
            "wiper contact worn",
            2.0,
            (200.0, 5000.0, 1e6),
        ),
    ],
    loads: &[("1", "3")],
};

/// Two tracks that move the same way, the second at half.
pub(super) static SAME: Potentiometer = Potentiometer {
    kind: "paired_potentiometer_same",
    title: "Pedal sensors",
    control: "pedal",
    second: Some(|share| share * HALF),
    terminals: &PAIR,
    modes: &PAIR_MODES,
    loads: &[("1", "3"), ("4", "6")],
};

/// Two tracks that move opposite ways: their sum stays the same.
pub(super) static OPPOSITE: Potentiometer = Potentiometer {
    kind: "paired_potentiometer_opposite",
    title: "Throttle sensors",
    control: "throttle",
    second: Some(|share| 1.0 - share),
    terminals: &PAIR,
    modes: &PAIR_MODES,
    loads: &[("1", "3"), ("4", "6")],
};

impl PartKind for Potentiometer {
    fn kind(&self) -> &'static str {
        self.kind
    }

    fn title(&self) -> &'static str {
        self.title
    }

    fn shelf(&self) -> Shelf {
        Shelf::Sensors
    }

    fn letters(&self) -> &'static str {
        "B"
    }

    fn terminals(&self) -> &'static [Terminal] {
        self.terminals
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number("track_ohms", "whole track", "Ω", (100.0, 5000.0, 1e6)),
                number("wiper_ohms", "wiper contact", "Ω", (0.0, 100.0, 1e5)),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        self.modes
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        self.loads
    }

    fn control(&self, part: &Part) -> Option<Control> {
        Some(Control {
            name: part
                .control
                .clone()
                .unwrap_or_else(|| self.control.to_owned()),
            positions: POSITIONS
                .iter()
                .map(|(name, _)| (*name).to_owned())
                .collect(),
            rest: POSITIONS[0].0.to_owned(),
            worked: POSITIONS[1].0.to_owned(),
            alone: true,
        })
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let at = POSITIONS
            .iter()
            .find(|(name, _)| *name == s.control(self.control));
        let share = at.map_or(POSITIONS[0].1, |(_, share)| *share);
        let track = s.param("track_ohms");
        let inside = s.internal();
        let upper = s.contact_ohms(true, track * (1.0 - share), "track_open", "");
        let element = Element::resistor(s.node(0), inside, upper);
        s.add("track above", Role::Load, element);
        let element = Element::resistor(inside, s.node(2), track * share);
        s.add("track below", Role::Load, element);
        let wiper = s.contact_ohms(true, s.param("wiper_ohms"), "wiper_open", "wiper_worn");
        let element = Element::resistor(inside, s.node(1), wiper);
        s.add("wiper", Role::Contact, element);
        let Some(second) = self.second else { return };
        let share = second(share);
        let inside = s.internal();
        let element = Element::resistor(s.node(3), inside, track * (1.0 - share));
        s.add("second track above", Role::Load, element);
        let element = Element::resistor(inside, s.node(5), track * share);
        s.add("second track below", Role::Load, element);
        let wiper = s.contact_ohms(true, s.param("wiper_ohms"), "second_wiper_open", "");
        let element = Element::resistor(inside, s.node(4), wiper);
        s.add("second wiper", Role::Contact, element);
    }
}
