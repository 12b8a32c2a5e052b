//! Fixed resistor, ballast, and the coded resistor in a key.

use cimento_solver::Element;

use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{ParamSpec, Params, PartKind, Shelf, Stamp, Terminal, terminal};
use cimento_model::stamped::Role;

/// A kind of resistor.
pub(super) struct Resistor {
    kind: &'static str,
    title: &'static str,
    params: &'static [ParamSpec],
    modes: &'static [ModeSpec],
}

const MODES: [ModeSpec; 2] = [
    mode("open", "resistor open", 1.5),
    graded("drifted", "resistance risen", 1.0, (0.1, 10.0, 1e6)),
];

/// Any resistor.
pub(super) static RESISTOR: Resistor = Resistor {
    kind: "resistor",
    title: "Resistor",
    params: &[number("ohms", "resistance", "Ω", (0.001, 100.0, 1e7))],
    modes: &MODES,
};

/// Resistor in the feed of an ignition coil.
pub(super) static BALLAST: Resistor = Resistor {
    kind: "ballast",
    title: "Ballast resistor",
    params: &[number("ohms", "resistance", "Ω", (0.1, 1.5, 20.0))],
    modes: &MODES,
};

/// Resistor in a key, by which a module knows the right one.
pub(super) static CODED_KEY: Resistor = Resistor {
    kind: "coded_key",
    title: "Coded key",
    params: &[number("ohms", "resistance", "Ω", (50.0, 2000.0, 1e5))],
    modes: &[
        mode("open", "contact in the lock open", 1.5),
        graded(
            "drifted",
            "contacts in the lock dirty",
            2.0,
            (1.0, 180.0, 1e5),
        ),
    ],
};

impl PartKind for Resistor {
    fn kind(&self) -> &'static str {
        self.kind
    }

    fn title(&self) -> &'static str {
        self.title
    }

    fn shelf(&self) -> Shelf {
        Shelf::Components
    }

    fn letters(&self) -> &'static str {
        "R"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const { &[terminal("1", "lead", true), terminal("2", "lead", false)] }
    }

    fn params(&self) -> &'static [ParamSpec] {
        self.params
    }

    fn modes(&self) -> &'static [ModeSpec] {
        self.modes
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("1", "2")]
    }

    fn rating(&self, params: &Params) -> String {
        cimento_model::units::Quantity::Number(params.number("ohms"))
            .text(cimento_model::units::Unit::Ohm)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let ohms = s.contact_ohms(true, s.param("ohms"), "open", "drifted");
        let element = Element::resistor(s.node(0), s.node(1), ohms);
        s.add("resistor", Role::Load, element);
    }
}
