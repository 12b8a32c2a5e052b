//! Condenser: a capacitor with what insulates it. Nothing flows through it at rest.

use cimento_solver::Element;

use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{ParamSpec, Params, PartKind, Shelf, Stamp, Terminal, terminal};
use cimento_model::stamped::Role;

pub(super) struct Condenser;

impl PartKind for Condenser {
    fn kind(&self) -> &'static str {
        "condenser"
    }

    fn title(&self) -> &'static str {
        "Condenser"
    }

    fn shelf(&self) -> Shelf {
        Shelf::Components
    }

    fn letters(&self) -> &'static str {
        "C"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("1", "lead", true),
                Terminal {
                    is_case: true,
                    ..terminal("31", "case", false)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const { &[number("farads", "capacitance", "F", (1e-9, 0.25e-6, 0.1))] }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("open", "lead broken inside", 1.0),
                mode("shorted", "plates touch", 1.5),
                graded("leaky", "insulation leaks", 1.5, (100.0, 1e4, 1e6)),
            ]
        }
    }

    fn rating(&self, params: &Params) -> String {
        format!("{} µF", params.number("farads") * 1e6)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let (a, b) = (s.node(0), s.node(1));
        let farads = s.param("farads");
        let inside = s.internal();
        let lead = s.contact_ohms(true, 0.0, "open", "");
        s.add("lead", Role::Contact, Element::resistor(a, inside, lead));
        let plates = Element::Capacitor {
            a: inside,
            b,
            farads,
        };
        s.add("plates", Role::Stray, plates);
        let leak = match (s.fault("shorted"), s.fault("leaky")) {
            (Some(_), _) => 0.05,
            (_, Some(ohms)) => ohms,
            _ => f64::INFINITY,
        };
        s.add(
            "insulation",
            Role::Stray,
            Element::resistor(inside, b, leak),
        );
    }
}
