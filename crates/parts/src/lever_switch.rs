//! Switches that a lever, a pedal or a lanyard works: one contact, closed in one position.

use cimento_model::circuit::Part;
use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{Control, ParamSpec, Params, PartKind, Shelf, Stamp, Terminal, terminal};

/// A kind of switch.
pub(super) struct LeverSwitch {
    kind: &'static str,
    title: &'static str,
    control: &'static str,
    positions: [&'static str; 2],
    /// The contact is closed in this one of the two.
    closed: usize,
    /// Where it rests, and where it is held to work the machine.
    rest: usize,
    worked: usize,
    /// Tried by itself, not held while the key is turned.
    alone: bool,
}

/// Closed while the pedal is down.
pub(super) static CLUTCH: LeverSwitch = LeverSwitch {
    kind: "clutch_switch",
    title: "Clutch switch",
    control: "clutch",
    positions: ["up", "down"],
    closed: 1,
    rest: 0,
    worked: 1,
    alone: false,
};

/// Closed in neutral.
pub(super) static NEUTRAL: LeverSwitch = LeverSwitch {
    kind: "neutral_switch",
    title: "Neutral switch",
    control: "gear",
    positions: ["neutral", "in gear"],
    closed: 0,
    rest: 0,
    worked: 0,
    alone: false,
};

/// Closed while the lanyard is clipped on.
pub(super) static LANYARD: LeverSwitch = LeverSwitch {
    kind: "lanyard_switch",
    title: "Lanyard switch",
    control: "lanyard",
    positions: ["clipped", "pulled"],
    closed: 0,
    rest: 0,
    worked: 0,
    alone: false,
};

/// Closed, and grounding what it stops, while the lanyard is off.
pub(super) static STOP_LANYARD: LeverSwitch = LeverSwitch {
    kind: "stop_lanyard",
    title: "Stop lanyard",
    control: "lanyard",
    positions: ["clipped", "pulled"],
    closed: 1,
    rest: 0,
    worked: 0,
    alone: false,
};

/// Closed, and grounding what it stops, while the key is at off.
pub(super) static STOP_KEY: LeverSwitch = LeverSwitch {
    kind: "stop_key",
    title: "Stop key",
    control: "stop key",
    positions: ["off", "on"],
    closed: 0,
    rest: 0,
    worked: 1,
    alone: false,
};

/// A plain switch on the dash, for lamps, horn or heater.
pub(super) static PLAIN: LeverSwitch = LeverSwitch {
    kind: "switch",
    title: "Switch",
    control: "switch",
    positions: ["off", "on"],
    closed: 1,
    rest: 0,
    worked: 1,
    alone: true,
};

/// Closed while it is pressed.
pub(super) static HORN_BUTTON: LeverSwitch = LeverSwitch {
    kind: "horn_button",
    title: "Horn button",
    control: "horn",
    positions: ["free", "pressed"],
    closed: 1,
    rest: 0,
    worked: 1,
    alone: true,
};

impl PartKind for LeverSwitch {
    fn guards_the_start(&self) -> bool {
        matches!(self.control, "clutch" | "gear")
    }

    fn kind(&self) -> &'static str {
        self.kind
    }

    fn title(&self) -> &'static str {
        self.title
    }

    fn shelf(&self) -> Shelf {
        Shelf::Switches
    }

    fn letters(&self) -> &'static str {
        "S"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("1", "back of switch", true),
                terminal("2", "back of switch", false),
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[number(
                "contact_ohms",
                "resistance of the closed contact",
                "Ω",
                (0.0, 0.01, 1.0),
            )]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("contact_open", "contact never closes", 2.0),
                graded("contact_worn", "contact burnt", 2.0, (0.05, 20.0, 1e5)),
                mode("contact_stuck", "contact never opens", 1.0),
            ]
        }
    }

    fn contacts(&self, _: &Params) -> Vec<(usize, usize)> {
        vec![(0, 1)]
    }

    fn control(&self, part: &Part) -> Option<Control> {
        let at = |n: usize| self.positions[n].to_owned();
        Some(Control {
            name: part
                .control
                .clone()
                .unwrap_or_else(|| self.control.to_owned()),
            positions: vec![at(0), at(1)],
            rest: at(self.rest),
            worked: at(self.worked),
            alone: self.alone,
        })
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let set = s.control(self.control) == self.positions[self.closed];
        let closed = set || s.fault("contact_stuck").is_some();
        let ohms = s.contact_ohms(
            closed,
            s.param("contact_ohms"),
            "contact_open",
            "contact_worn",
        );
        s.contact("contact", (0, 1), ohms);
    }
}
