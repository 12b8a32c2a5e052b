//! Capacitor ignition fed from the battery: an inverter charges the capacitor, and each time the trigger
//! T is let up the capacitor is emptied into the coil at 1. Under its drop-out voltage the inverter stops,
//! and under its least speed the box stays silent.

use cimento_solver::Element;

use super::capacitor::{Gate, WEAK, store, thyristor};
use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::number;
use cimento_model::part::{Change, Ignition, Look, ParamSpec, PartKind, Stamp, Terminal, terminal};
use cimento_model::stamped::Role;

/// What it draws asleep and while the inverter works, as resistances; common practice.
const ASLEEP_OHMS: f64 = 400.0;
const WORKS_OHMS: f64 = 8.0;
/// The inverter, in volts and ohms; common practice.
const INVERTER: (f64, f64) = (320.0, 2500.0);
const PULL_UP_OHMS: f64 = 1000.0;
/// The gate feels edges only: what couples it, and what rests it.
const COUPLES_F: f64 = 20e-9;
const GATE_OHMS: f64 = 1000.0;
const FIRES_V: f64 = 1.0;
/// More than the inverter sends: the thyristor lets go once the coil is still; in amperes.
const HOLD_A: f64 = 0.25;
const WAKES_S: f64 = 0.02;

/// Its level while the inverter works.
const CHARGES: u64 = 1;

pub(crate) struct DcCdi;

impl PartKind for DcCdi {
    fn kind(&self) -> &'static str {
        "battery_fed_capacitor_box"
    }

    fn title(&self) -> &'static str {
        "Capacitor ignition box, battery fed"
    }

    fn letters(&self) -> &'static str {
        "U"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("15", "back of plug, supply", true),
                terminal("T", "back of plug, trigger", true),
                terminal("1", "back of plug, coil", false),
                Terminal {
                    is_case: true,
                    ..terminal("31", "case", false)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number(
                    "drops_out_v",
                    "volts under which it does not fire",
                    "V",
                    (4.0, 11.6, 24.0),
                ),
                number(
                    "least_rpm",
                    "speed under which it stays silent",
                    "rpm",
                    (0.0, 80.0, 400.0),
                ),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("dead", "inverter dead", 1.5),
                mode("thyristor_open", "thyristor never fires", 0.7),
                WEAK,
            ]
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("15", "31")]
    }

    fn needs_engine(&self) -> bool {
        true
    }

    fn ignition(&self) -> Option<&dyn Ignition> {
        Some(self)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let [supply, trigger, coil, ground] = [0, 1, 2, 3].map(|t| s.node(t));
        let charges = s.state.level == CHARGES && s.fault("dead").is_none();
        let draws = if charges { WORKS_OHMS } else { ASLEEP_OHMS };
        s.add(
            "supply",
            Role::Load,
            Element::resistor(supply, ground, draws),
        );
        s.add(
            "pull-up",
            Role::Stray,
            Element::resistor(supply, trigger, PULL_UP_OHMS),
        );
        let (full, gate) = (s.internal(), s.internal());
        let (volts, ohms) = match charges {
            true => INVERTER,
            false => (0.0, f64::INFINITY),
        };
        s.add(
            "inverter",
            Role::Source,
            Element::source(full, ground, volts, ohms),
        );
        store(s, full, ground);
        let couples = Element::Capacitor {
            a: trigger,
            b: gate,
            farads: COUPLES_F,
        };
        s.add("coupling", Role::Stray, couples);
        s.add(
            "gate",
            Role::Stray,
            Element::resistor(gate, ground, GATE_OHMS),
        );
        let fires = s.fault("thyristor_open").is_none() && s.rpm >= s.param("least_rpm");
        let gate = fires.then_some(Gate {
            gate,
            cathode: ground,
            volts: FIRES_V,
            hold_a: HOLD_A,
        });
        thyristor(s, "thyristor", (full, coil), gate);
    }

    fn next(&self, look: &Look<'_>) -> Option<Change> {
        let charges = look.voltage(0, 3) >= look.param("drops_out_v") && look.rpm > 0.0;
        let level = if charges { CHARGES } else { 0 };
        (level != look.state.level).then(|| Change::to(level, WAKES_S))
    }
}

impl Ignition for DcCdi {
    fn drops_out(&self) -> bool {
        true
    }
}
