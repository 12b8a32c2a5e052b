//! Capacitor ignition fed from the windings of a stator. A and B take the charge of a low-speed and a
//! high-speed winding, T to W the pulses of its triggers, 1 to 4 go to the coils; S, grounded, empties the
//! capacitor, and there is no spark.

use cimento_solver::Element;

use super::capacitor::{Gate, WEAK, rectifier, store, thyristor};
use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::{ParamSpec, Params, PartKind, Shelf, Stamp, Terminal, terminal};
use cimento_model::stamped::Role;

const GATE_OHMS: f64 = 1000.0;
/// Leak of what would else hang in the air.
const REST_OHMS: f64 = 1e6;
/// Pulse that fires it, in volts, and the least current that it goes on with, in amperes; common practice.
const FIRES_V: f64 = 1.0;
const HOLD_A: f64 = 0.1;

/// Trigger, coil and names of each channel.
const CHANNELS: [(usize, usize, [&str; 2]); 4] = [
    (2, 4, ["trigger 1", "thyristor 1"]),
    (3, 5, ["trigger 2", "thyristor 2"]),
    (8, 10, ["trigger 3", "thyristor 3"]),
    (9, 11, ["trigger 4", "thyristor 4"]),
];
/// Terminals of the charging windings.
const CHARGE: [(usize, [&str; 2]); 2] = [(0, ["charge A", "rest A"]), (1, ["charge B", "rest B"])];
const STOP: usize = 6;
const GROUND: usize = 7;
static PIN_MODES: [ModeSpec; 1] = [mode(
    "channel_dead",
    "thyristor of this coil never fires",
    1.0,
)];

pub(crate) struct AcCdi;

impl PartKind for AcCdi {
    fn kind(&self) -> &'static str {
        "stator_fed_capacitor_box"
    }

    fn title(&self) -> &'static str {
        "Capacitor ignition box, stator fed"
    }

    fn shelf(&self) -> Shelf {
        Shelf::Ignition
    }

    fn letters(&self) -> &'static str {
        "U"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("A", "back of plug, charge, low speed", true),
                Terminal {
                    needed: false,
                    ..terminal("B", "back of plug, charge, high speed", true)
                },
                terminal("T", "back of plug, trigger 1", true),
                Terminal {
                    needed: false,
                    ..terminal("U", "back of plug, trigger 2", true)
                },
                terminal("1", "back of plug, coil 1", false),
                Terminal {
                    needed: false,
                    ..terminal("2", "back of plug, coil 2", false)
                },
                Terminal {
                    needed: false,
                    ..terminal("S", "back of plug, stop", false)
                },
                Terminal {
                    is_case: true,
                    ..terminal("31", "case", false)
                },
                Terminal {
                    needed: false,
                    ..terminal("V", "back of plug, trigger 3", true)
                },
                Terminal {
                    needed: false,
                    ..terminal("W", "back of plug, trigger 4", true)
                },
                Terminal {
                    needed: false,
                    ..terminal("3", "back of plug, coil 3", false)
                },
                Terminal {
                    needed: false,
                    ..terminal("4", "back of plug, coil 4", false)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        &[]
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const { &[mode("dead", "never charges", 1.0), WEAK] }
    }

    fn pin_modes(&self, _: &Params, terminal: usize) -> &'static [ModeSpec] {
        match CHANNELS.iter().any(|c| c.1 == terminal) {
            true => &PIN_MODES,
            false => &[],
        }
    }

    fn needs_engine(&self) -> bool {
        true
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let ground = s.node(GROUND);
        let full = s.internal();
        let works = s.fault("dead").is_none();
        for (terminal, [name, rest]) in CHARGE {
            if s.part.is_wired(terminal) {
                let winding = s.node(terminal);
                if works {
                    rectifier(s, name, (winding, full));
                }
                let leak = Element::resistor(winding, ground, REST_OHMS);
                s.add(rest, Role::Stray, leak);
            }
        }
        store(s, full, ground);
        for (trigger, coil, [input, name]) in CHANNELS {
            if !s.part.is_wired(trigger) && !s.part.is_wired(coil) {
                continue;
            }
            let (gate, out) = (s.node(trigger), s.node(coil));
            s.add(
                input,
                Role::Stray,
                Element::resistor(gate, ground, GATE_OHMS),
            );
            let alive = !s.pin_fault(coil, "channel_dead");
            let gate = alive.then_some(Gate {
                gate,
                cathode: ground,
                volts: FIRES_V,
                hold_a: HOLD_A,
            });
            thyristor(s, name, (full, out), gate);
        }
        if s.part.is_wired(STOP) {
            let stop = s.node(STOP);
            rectifier(s, "stop", (full, stop));
            let leak = Element::resistor(stop, ground, REST_OHMS);
            s.add("stop rest", Role::Stray, leak);
        }
    }
}
