//! Flywheel magneto of a small engine: magnets in the flywheel drive a current through the primary, and a
//! transistor inside, or a contact breaker outside, breaks it at its peak, once a turn. S is the end of the
//! primary, where the stop wire and the breaker hang: grounded, there is no spark. 4 goes to the plug, 31 is
//! the core.

use cimento_solver::{Element, Shape, Trigger};

use super::gap::clamp;
use super::windings::{self, Ends};
use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::number;
use cimento_model::part::{Ignition, Look, ParamSpec, Params, PartKind, Stamp, Terminal, terminal};
use cimento_model::stamped::Role;

/// Degrees over which the magnets pass the core's legs, and what their lobes are beside the middle one.
const PASS_DEG: f64 = 36.0;
const LOBE: f64 = 0.5;
/// How far past its peak the middle lobe is when the transistor lets go, in degrees.
const AFTER_DEG: f64 = 8.0;
const CONDUCTS: (f64, f64) = (0.05, 0.1);
const CLAMP_V: f64 = 350.0;

pub(crate) struct Magneto {
    kind: &'static str,
    title: &'static str,
    /// The transistor is inside.
    solid_state: bool,
    modes: &'static [ModeSpec],
}

const WEAK: ModeSpec = mode("magnets_weak", "magnets weak or air gap wide", 0.7).adjustable();
static MODES: [ModeSpec; 9] =
    windings::modes_and(mode("module_open", "transistor never conducts", 1.5), WEAK);
static BREAKER_MODES: [ModeSpec; 8] = {
    let [a, b, c, d, e, f, g] = windings::MODES;
    [a, b, c, d, e, f, g, WEAK]
};

pub(crate) static MAGNETO: Magneto = Magneto {
    kind: "magneto",
    title: "Flywheel magneto",
    solid_state: true,
    modes: &MODES,
};

pub(crate) static BREAKER_MAGNETO: Magneto = Magneto {
    kind: "breaker_magneto",
    title: "Flywheel magneto for a contact breaker",
    solid_state: false,
    modes: &BREAKER_MODES,
};

impl PartKind for Magneto {
    fn kind(&self) -> &'static str {
        self.kind
    }

    fn title(&self) -> &'static str {
        self.title
    }

    fn letters(&self) -> &'static str {
        "G"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                Terminal {
                    needed: false,
                    ..terminal("S", "stop tab", true)
                },
                terminal("4", "high-voltage lead", false),
                Terminal {
                    is_case: true,
                    ..terminal("31", "core", false)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        static ALL: [ParamSpec; 8] = {
            let [a, b, c, d, e, f, g] = windings::params(1.0, 0.003, 80.0, 5000.0);
            let pulse = number(
                "v_per_krpm",
                "pulse of the magnets at 1000 rpm",
                "V",
                (1.0, 6.0, 100.0),
            );
            [a, b, c, d, e, f, g, pulse]
        };
        &ALL
    }

    fn modes(&self) -> &'static [ModeSpec] {
        self.modes
    }

    fn needs_engine(&self) -> bool {
        true
    }

    fn rating(&self, params: &Params) -> String {
        format!("{} kΩ", params.number("secondary_ohms") / 1e3)
    }

    fn charge_per_s(&self, look: &Look<'_>) -> f64 {
        windings::life_per_s(look.state)
    }

    fn ignition(&self) -> Option<&dyn Ignition> {
        Some(self)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let (stop, high, core) = (s.node(0), s.node(1), s.node(2));
        let driven = s.internal();
        let magnets = s.add(
            "magnets",
            Role::Source,
            Element::source(driven, core, 0.0, 0.0),
        );
        let weak = if s.fault("magnets_weak").is_some() {
            0.4
        } else {
            1.0
        };
        if let Some(t) = s.turning() {
            let volts = s.param("v_per_krpm") * t.rpm / 1000.0 * weak;
            // Middle lobe around −AFTER_DEG, its neighbours the other way.
            let at = |deg: f64, v: f64| (t.seconds(deg + 180.0), v * volts);
            let middle = -AFTER_DEG;
            let points = vec![
                at(-180.0, 0.0),
                at(middle - 1.5 * PASS_DEG, 0.0),
                at(middle - PASS_DEG, -LOBE),
                at(middle - PASS_DEG / 2.0, 0.0),
                at(middle - PASS_DEG / 4.0, 1.0),
                at(middle + PASS_DEG / 4.0, 1.0),
                at(middle + PASS_DEG / 2.0, 0.0),
                at(middle + PASS_DEG, -LOBE),
                at(middle + 1.5 * PASS_DEG, 0.0),
                at(180.0, 0.0),
            ];
            let phase_s = t.seconds(t.from_deg + 180.0);
            s.follows(magnets, Shape::Lines { points, phase_s });
        }
        let ends = Ends {
            feed: driven,
            switched: stop,
            high,
            low: driven,
            case: core,
        };
        windings::stamp(s, &ends, None);
        if !self.solid_state {
            return;
        }
        let conducts = s
            .turning()
            .map(|t| t.contact(0.0, 360.0, AFTER_DEG + PASS_DEG / 2.0));
        let (closed, changes) = match conducts {
            Some(schedule) if s.fault("module_open").is_none() => schedule,
            _ => (false, Vec::new()),
        };
        s.switched(
            "transistor",
            Role::Contact,
            (stop, core),
            CONDUCTS,
            (closed, Trigger::Schedule(changes)),
        );
        clamp(s, (stop, core), CLAMP_V);
    }
}

impl Ignition for Magneto {
    fn high_voltage(&self) -> &'static [usize] {
        &[1]
    }

    fn is_harmed(&self) -> bool {
        true
    }
}
