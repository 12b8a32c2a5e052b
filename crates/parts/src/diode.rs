//! Silicon rectifier diode: anode A, cathode K.

use cimento_solver::Element;

use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::number;
use cimento_model::part::{ParamSpec, PartKind, Shelf, Stamp, Terminal, terminal};
use cimento_model::stamped::Role;

pub(super) struct Diode;

impl PartKind for Diode {
    fn kind(&self) -> &'static str {
        "diode"
    }

    fn title(&self) -> &'static str {
        "Diode"
    }

    fn shelf(&self) -> Shelf {
        Shelf::Components
    }

    fn letters(&self) -> &'static str {
        "D"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("A", "anode", true),
                terminal("K", "cathode", false),
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number(
                    "saturation_a",
                    "saturation current",
                    "A",
                    (1e-18, 1e-9, 1e-3),
                ),
                number("emission", "emission coefficient", "", (1.0, 1.8, 3.0)),
                number("series_ohms", "bulk resistance", "Ω", (0.0, 0.02, 10.0)),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("open", "junction open", 1.0),
                mode("shorted", "junction shorted", 1.5),
            ]
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("A", "K")]
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let inside = s.internal();
        let ohms = s.contact_ohms(true, s.param("series_ohms"), "open", "");
        s.add(
            "bulk",
            Role::Contact,
            Element::resistor(s.node(0), inside, ohms),
        );
        let (a, b) = (inside, s.node(1));
        let element = match s.fault("shorted") {
            Some(_) => Element::Conductance { a, b, siemens: 1e3 },
            None => Element::Diode {
                a,
                b,
                saturation_a: s.param("saturation_a"),
                emission: s.param("emission"),
            },
        };
        s.add("junction", Role::Load, element);
    }
}
