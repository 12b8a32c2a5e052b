//! Distributor: cap and rotor lead the high voltage to one plug after the other. Terminal 4 comes from
//! the coil, 41 to 44 go to the plugs of cylinders 1 to 4, which fire in the order 1, 3, 4, 2.

use cimento_solver::{Element, Trigger};

use super::gap::spark_gap;
use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{Ignition, ParamSpec, Params, PartKind, Stamp, Terminal, terminal};
use cimento_model::stamped::Role;
use cimento_model::strokes::firing_place;

/// The arc from rotor to tower as a resistance, in ohms. What its air needs before it carries is little
/// beside the plug's need and is left out.
const GAP_OHMS: f64 = 2000.0;
/// Volts at which a crack in the rotor flashes over; common practice.
const CRACK_V: f64 = 6000.0;

/// Names of the gaps between rotor and towers.
const GAPS: [&str; 4] = ["to 41", "to 42", "to 43", "to 44"];

pub(crate) struct Distributor;

impl PartKind for Distributor {
    fn kind(&self) -> &'static str {
        "distributor"
    }

    fn title(&self) -> &'static str {
        "Distributor cap and rotor"
    }

    fn letters(&self) -> &'static str {
        "S"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("4", "centre tower", true),
                terminal("41", "tower, cylinder 1", false),
                terminal("42", "tower, cylinder 2", false),
                terminal("43", "tower, cylinder 3", false),
                terminal("44", "tower, cylinder 4", false),
                Terminal {
                    is_case: true,
                    needed: false,
                    ..terminal("31", "housing", false)
                },
            ]
        }
    }

    fn has_terminal(&self, params: &Params, terminal: usize) -> bool {
        terminal == 0 || terminal == 5 || terminal as f64 <= params.number("cylinders")
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number("cylinders", "towers", "", (1.0, 4.0, 4.0)),
                number(
                    "rotor_ohms",
                    "resistance in the rotor",
                    "Ω",
                    (0.0, 1000.0, 20_000.0),
                ),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("rotor_open", "rotor burnt through", 1.0),
                mode("rotor_punctured", "rotor leaks to its shaft", 1.0),
                graded(
                    "cap_tracking",
                    "damp or carbon from centre to housing",
                    1.5,
                    (1e4, 3e5, 1e7),
                ),
            ]
        }
    }

    fn ignition(&self) -> Option<&dyn Ignition> {
        Some(self)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let rotor = s.internal();
        s.insulate(rotor);
        let ohms = match s.fault("rotor_open") {
            Some(_) => f64::INFINITY,
            None => s.param("rotor_ohms"),
        };
        let (centre, case) = (s.node(0), s.node(5));
        s.insulate(centre);
        s.add("rotor", Role::Load, Element::resistor(centre, rotor, ohms));
        let cylinders = s.param("cylinders").round() as usize;
        let every = 720.0 / cylinders as f64;
        for tower in 1..=cylinders {
            let place = firing_place(tower, cylinders);
            let node = s.node(tower);
            s.insulate(node);
            // The rotor passes a tower for half of the way from one to the next around its firing.
            let at = every * place as f64;
            let faces = s
                .turning()
                .map(|t| t.contact(at + every / 2.0, 720.0, every));
            let (closed, changes) = faces.unwrap_or((false, Vec::new()));
            let trigger = Trigger::Schedule(changes);
            s.switched(
                GAPS[tower - 1],
                Role::Contact,
                (rotor, node),
                (GAP_OHMS, 0.0),
                (closed, trigger),
            );
        }
        let track = s.fault("cap_tracking").unwrap_or(f64::INFINITY);
        s.add("track", Role::Stray, Element::resistor(centre, case, track));
        if s.fault("rotor_punctured").is_some() {
            spark_gap(s, "puncture", Role::Stray, (rotor, case), (CRACK_V, 0.0));
        }
    }
}

impl Ignition for Distributor {
    fn high_voltage(&self) -> &'static [usize] {
        &[0, 1, 2, 3, 4]
    }
}
