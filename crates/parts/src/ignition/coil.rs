//! Ignition coils in a can. Terminals after DIN 72552: 15 feed, 1 to what breaks the current or sends the
//! charge, 4 high voltage. A coil with two towers (4a, 4b) fires two plugs at once, one of them to waste.

use super::windings::{self, Ends};
use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::{Ignition, Look, ParamSpec, Params, PartKind, Stamp, Terminal, terminal};

/// A coil of any kind.
pub(crate) struct Coil {
    kind: &'static str,
    title: &'static str,
    params: &'static [ParamSpec],
    modes: &'static [ModeSpec],
    terminals: &'static [Terminal],
    /// Its primary is a load of the battery.
    loads: &'static [(&'static str, &'static str)],
    /// Its towers, by position.
    towers: &'static [usize],
}

const CASE: Terminal = Terminal {
    is_case: true,
    needed: false,
    ..terminal("31", "bracket", false)
};
const ONE_TOWER: [Terminal; 4] = [
    terminal("15", "feed stud", true),
    terminal("1", "breaker stud", false),
    terminal("4", "tower", false),
    CASE,
];
/// What a coil of a contact breaker is, ohms, henries and turns ratio, where one of a capacitor ignition
/// belongs.
const WRONG: (f64, f64, f64) = (3.0, 0.012, 90.0);
static CAPACITOR_MODES: [ModeSpec; 8] = {
    let [a, b, c, d, e, f, g] = windings::MODES;
    let wrong = mode(
        "wrong_coil",
        "coil of a contact breaker fitted in its place",
        0.3,
    );
    [a, b, c, d, e, f, g, wrong]
};

pub(crate) static COIL: Coil = Coil {
    kind: "ignition_coil",
    title: "Ignition coil",
    params: &windings::params(1.5, 0.008, 90.0, 9000.0),
    modes: &windings::MODES,
    loads: &[("15", "1")],
    terminals: &ONE_TOWER,
    towers: &[2],
};

pub(crate) static CAPACITOR_COIL: Coil = Coil {
    kind: "capacitor_coil",
    title: "Coil of a capacitor ignition",
    params: &windings::params(0.3, 0.0005, 75.0, 2500.0),
    modes: &CAPACITOR_MODES,
    loads: &[],
    terminals: &ONE_TOWER,
    towers: &[2],
};

pub(crate) static TWIN_COIL: Coil = Coil {
    kind: "twin_coil",
    title: "Coil with two towers",
    params: &windings::params(0.6, 0.004, 85.0, 9000.0),
    modes: &windings::MODES,
    loads: &[("15", "1")],
    terminals: &[
        terminal("15", "feed pin", true),
        terminal("1", "switched pin", false),
        terminal("4a", "tower a", false),
        CASE,
        terminal("4b", "tower b", false),
    ],
    towers: &[2, 4],
};

impl PartKind for Coil {
    fn kind(&self) -> &'static str {
        self.kind
    }

    fn title(&self) -> &'static str {
        self.title
    }

    fn letters(&self) -> &'static str {
        "T"
    }

    fn terminals(&self) -> &'static [Terminal] {
        self.terminals
    }

    fn params(&self) -> &'static [ParamSpec] {
        self.params
    }

    fn modes(&self) -> &'static [ModeSpec] {
        self.modes
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        self.loads
    }

    fn rating(&self, params: &Params) -> String {
        format!("{} Ω", params.number("primary_ohms"))
    }

    fn charge_per_s(&self, look: &Look<'_>) -> f64 {
        windings::life_per_s(look.state)
    }

    fn ignition(&self) -> Option<&dyn Ignition> {
        Some(self)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let low = match self.towers {
            [_, low] => s.node(*low),
            _ => s.node(0),
        };
        let ends = Ends {
            feed: s.node(0),
            switched: s.node(1),
            high: s.node(2),
            low,
            case: s.node(3),
        };
        let wrong = s.fault("wrong_coil").map(|_| WRONG);
        windings::stamp(s, &ends, wrong);
    }
}

impl Ignition for Coil {
    fn high_voltage(&self) -> &'static [usize] {
        self.towers
    }

    fn is_harmed(&self) -> bool {
        true
    }
}
