//! Fixed resistor or ballast.

use cimento_solver::Element;

use super::params::number;
use super::{ModeSpec, ParamSpec, Params, PartKind, Stamp, Terminal, graded, mode, terminal};
use crate::bench::Role;

pub(super) struct Resistor;

impl PartKind for Resistor {
    fn kind(&self) -> &'static str {
        "resistor"
    }

    fn title(&self) -> &'static str {
        "Resistor"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const { &[terminal("1", "lead", true), terminal("2", "lead", false)] }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const { &[number("ohms", "resistance", "Ω", (0.001, 100.0, 1e7))] }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("open", "resistor open", 1.5),
                graded("drifted", "resistance risen", 1.0, (0.1, 10.0, 1e6)),
            ]
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("1", "2")]
    }

    fn rating(&self, params: &Params) -> String {
        crate::units::Quantity::Number(params.number("ohms")).text(crate::units::Unit::Ohm)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let ohms = s.contact_ohms(true, s.param("ohms"), "open", "drifted");
        let element = Element::resistor(s.node(0), s.node(1), ohms);
        s.add("resistor", Role::Load, element);
    }
}
