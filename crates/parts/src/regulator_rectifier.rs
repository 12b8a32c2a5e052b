//! Regulator and rectifier of a permanent-magnet stator: four diodes, and a shunt that takes what the
//! battery should not have. Terminals: G1 and G2 the two legs, B+ output, 31 ground.

use cimento_solver::Element;

use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Change, Generator, Look, ParamSpec, PartKind, Shelf, Stamp, Terminal, terminal,
};
use cimento_model::stamped::Role;

const G1: usize = 0;
const G2: usize = 1;
const B: usize = 2;
const T31: usize = 3;

/// Junction of a rectifier diode: about 0.9 V at 10 A; common practice.
const SATURATION_A: f64 = 1e-8;
const EMISSION: f64 = 1.7;
/// Steepness of the shunt, in ohms; common practice.
const SHUNT_OHMS: f64 = 0.02;
const VOLTS_PER_KELVIN: f64 = 0.010;

pub(super) struct RegulatorRectifier;

impl RegulatorRectifier {
    fn set_v(look: &cimento_model::part::Context<'_>) -> f64 {
        look.param("set_v") - VOLTS_PER_KELVIN * (look.operating.temperature_c - 20.0)
    }
}

impl PartKind for RegulatorRectifier {
    fn kind(&self) -> &'static str {
        "regulator_rectifier"
    }

    fn title(&self) -> &'static str {
        "Regulator/rectifier"
    }

    fn shelf(&self) -> Shelf {
        Shelf::Supply
    }

    fn letters(&self) -> &'static str {
        "U"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("G1", "back of plug, leg", true),
                terminal("G2", "back of plug, leg", true),
                terminal("B+", "back of plug, output", true),
                Terminal {
                    is_case: true,
                    ..terminal("31", "case", false)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[number(
                "set_v",
                "set point at 20 °C",
                "V",
                (12.0, 14.4, 17.0),
            )]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("diode_open", "one diode open", 1.5),
                mode("diode_shorted", "one diode shorted", 1.5),
                mode("shunt_open", "never regulates", 1.0),
                mode("shunt_shorted", "shorts the legs for ever", 1.0),
            ]
        }
    }

    fn needs_engine(&self) -> bool {
        true
    }

    fn generator(&self) -> Option<&dyn Generator> {
        Some(self)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let (g1, g2, b, case) = (s.node(G1), s.node(G2), s.node(B), s.node(T31));
        let junction = |a, b| Element::Diode {
            a,
            b,
            saturation_a: SATURATION_A,
            emission: EMISSION,
        };
        // The upper diode of the first leg is the one that fails.
        let inside = s.internal();
        let lead = match s.fault("diode_open") {
            Some(_) => f64::INFINITY,
            None => 0.0,
        };
        s.add(
            "diode lead",
            Role::Contact,
            Element::resistor(g1, inside, lead),
        );
        s.add("diode 1", Role::Contact, junction(inside, b));
        s.add("diode 2", Role::Contact, junction(g2, b));
        s.add("diode 3", Role::Contact, junction(case, g1));
        s.add("diode 4", Role::Contact, junction(case, g2));
        let short = match s.fault("diode_shorted") {
            Some(_) => 0.02,
            None => f64::INFINITY,
        };
        s.add("diode short", Role::Stray, Element::resistor(g1, b, short));
        let legs = match s.fault("shunt_shorted") {
            Some(_) => 0.05,
            None => f64::INFINITY,
        };
        s.add("leg short", Role::Stray, Element::resistor(g1, g2, legs));
        let shunts = s.state.level == 1 && s.fault("shunt_open").is_none();
        let shunt = Element::Regulator {
            a: case,
            b,
            plus: b,
            minus: case,
            volts: Self::set_v(s),
            ohms: if shunts { SHUNT_OHMS } else { f64::INFINITY },
            amps: 0.0,
        };
        s.add("shunt", Role::Load, shunt);
    }

    fn next(&self, look: &Look<'_>) -> Option<Change> {
        let over = look.voltage(B, T31) - Self::set_v(look);
        match look.state.level {
            0 if over > 0.0 && look.rpm > 0.0 => Some(Change::to(1, 0.02)),
            // A shunt takes and never gives.
            1 if look.current("shunt") > 0.0 => Some(Change::to(0, 0.02)),
            _ => None,
        }
    }
}

impl Generator for RegulatorRectifier {}
