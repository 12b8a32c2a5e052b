//! Three-wire sensors with a transistor that pulls its output to ground: Hall and optical. Terminals:
//! 1 supply, 2 output, 3 ground. The receiver pulls the output up.
//!
//! While the engine turns, the output goes to and fro as the wheel passes; with the engine standing,
//! the wheel is turned by hand.

use cimento_solver::{Element, Trigger};

use cimento_model::circuit::Part;
use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Alternation, Change, Context, Control, Look, ParamSpec, PartKind, Shelf, Stamp, Terminal,
    terminal,
};
use cimento_model::stamped::Role;

/// Supply from which it works, in volts; common practice.
const WORKS_V: f64 = 4.0;
/// Resistance of the transistor when it conducts, in ohms: about 0.2 V at 10 mA; common practice.
const ON_OHMS: f64 = 20.0;
/// Where the wheel stands when it is turned by hand.
const POSITIONS: [&str; 2] = ["gap", "tooth"];

/// A kind of sensor.
pub(super) struct ThreeWireSensor {
    kind: &'static str,
    title: &'static str,
    params: &'static [ParamSpec],
}

const fn params(supply_ohms: f64, per_turn: f64) -> [ParamSpec; 3] {
    [
        number(
            "supply_ohms",
            "what it draws, as a resistance",
            "Ω",
            (20.0, supply_ohms, 1e5),
        ),
        number(
            "per_turn",
            "pulses per turn of the crankshaft",
            "",
            (0.25, per_turn, 360.0),
        ),
        number(
            "share",
            "share of a turn in which it pulls down",
            "",
            (0.05, 0.5, 0.95),
        ),
    ]
}

/// Hall sensor.
pub(super) static HALL: ThreeWireSensor = ThreeWireSensor {
    kind: "hall_sensor",
    title: "Hall sensor",
    params: &params(1200.0, 2.0),
};

/// Optical sensor: its lamp draws more.
pub(super) static OPTICAL: ThreeWireSensor = ThreeWireSensor {
    kind: "optical_sensor",
    title: "Optical sensor",
    params: &params(400.0, 2.0),
};

impl PartKind for ThreeWireSensor {
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
        const {
            &[
                terminal("1", "back of plug, supply", true),
                terminal("2", "back of plug, output", true),
                terminal("3", "back of plug, ground", false),
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        self.params
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("dead", "never pulls its output down", 1.5),
                mode("stuck_low", "output transistor shorted", 1.0),
                graded(
                    "output_weak",
                    "output transistor pulls weakly",
                    1.0,
                    (50.0, 1000.0, 1e5),
                ),
                graded(
                    "output_leaks",
                    "output transistor leaks, never lets go fully",
                    0.7,
                    (100.0, 600.0, 1e4),
                ),
            ]
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("1", "3")]
    }

    fn needs_engine(&self) -> bool {
        true
    }

    fn control(&self, part: &Part) -> Option<Control> {
        Some(Control {
            name: part.control.clone().unwrap_or_else(|| "wheel".to_owned()),
            positions: POSITIONS.map(str::to_owned).to_vec(),
            rest: POSITIONS[0].to_owned(),
            worked: POSITIONS[0].to_owned(),
            alone: false,
        })
    }

    fn alternation(&self, c: &Context<'_>) -> Option<Alternation> {
        Some(Alternation {
            hz: c.rpm / 60.0 * c.param("per_turn"),
            share: c.param("share"),
        })
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let supply = Element::resistor(s.node(0), s.node(2), s.param("supply_ohms"));
        s.add("supply", Role::Load, supply);
        let under = if s.rpm > 0.0 {
            s.up()
        } else {
            s.control("wheel") == POSITIONS[1]
        };
        let pulls = s.state.level == 1 && under && s.fault("dead").is_none();
        let ends = (s.node(1), s.node(2));
        let leaks = s.fault("output_leaks").unwrap_or(f64::INFINITY);
        s.add(
            "leak",
            Role::Stray,
            Element::resistor(ends.0, ends.1, leaks),
        );
        if s.fault("stuck_low").is_some() {
            s.contact("output", (1, 2), ON_OHMS);
            return;
        }
        let ohms = ON_OHMS + s.fault("output_weak").unwrap_or(0.0);
        let works = s.state.level == 1 && s.fault("dead").is_none();
        let (closed, changes) = match s.turning() {
            Some(t) if works => {
                // It lets go as cylinder 1 fires.
                let every = 360.0 / s.param("per_turn");
                t.contact(0.0, every, every * s.param("share"))
            }
            Some(_) => (false, Vec::new()),
            None => (pulls, Vec::new()),
        };
        let when = (closed, Trigger::Schedule(changes));
        s.switched("output", Role::Contact, ends, (ohms, 0.0), when);
    }

    fn next(&self, look: &Look<'_>) -> Option<Change> {
        let powered = u64::from(look.voltage(0, 2) >= WORKS_V);
        (powered != look.state.level).then(|| Change::to(powered, 0.005))
    }
}
