//! Coil on the plug with its transistor inside: 15 supply, 31 ground, S trigger of 0 V to 5 V, 4 to the
//! plug. While the trigger is high the transistor lets the primary charge; a clamp keeps its collector
//! under a few hundred volts. F, where it is wired, pulls a shared line low after each firing.

use cimento_solver::{Element, Trigger};

use super::gap::clamp;
use super::windings::{self, Ends};
use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::{Ignition, Look, ParamSpec, Params, PartKind, Stamp, Terminal, terminal};
use cimento_model::stamped::Role;

/// Trigger volts at which the transistor lets go and takes hold.
const CLOSE_V: f64 = 2.5;
const OPEN_V: f64 = 1.5;
const INPUT_OHMS: f64 = 10_000.0;
/// Its input takes no notice of what is shorter, in seconds; common practice.
const FILTER_S: f64 = 50e-6;
/// Transistor when it conducts, in ohms and volts; its clamp, in volts; common practice.
const CONDUCTS: (f64, f64) = (0.05, 0.6);
const CLAMP_V: f64 = 400.0;
/// The feedback transistor, in ohms, and the collector volts above which it answers.
const ANSWER_OHMS: f64 = 50.0;
const ANSWER_V: f64 = 60.0;

pub(crate) struct PencilCoil;

impl PartKind for PencilCoil {
    fn kind(&self) -> &'static str {
        "pencil_coil"
    }

    fn title(&self) -> &'static str {
        "Coil on plug"
    }

    fn letters(&self) -> &'static str {
        "T"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("15", "back of plug, supply", true),
                terminal("31", "back of plug, ground", false),
                terminal("S", "back of plug, trigger", true),
                terminal("4", "boot", false),
                Terminal {
                    needed: false,
                    ..terminal("F", "back of plug, feedback", true)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const { &windings::params(0.6, 0.003, 85.0, 6000.0) }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        static ALL: [ModeSpec; 9] = windings::modes_and(
            mode("driver_open", "transistor never conducts", 1.5),
            mode("driver_shorted", "transistor always conducts", 0.7),
        );
        &ALL
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("15", "31")]
    }

    fn contacts(&self, _: &Params) -> Vec<(usize, usize)> {
        vec![(4, 1)]
    }

    fn rating(&self, params: &Params) -> String {
        format!("{} mH", params.number("primary_h") * 1e3)
    }

    fn charge_per_s(&self, look: &Look<'_>) -> f64 {
        windings::life_per_s(look.state)
    }

    fn ignition(&self) -> Option<&dyn Ignition> {
        Some(self)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let (supply, ground, trigger, high) = (s.node(0), s.node(1), s.node(2), s.node(3));
        s.add(
            "input",
            Role::Stray,
            Element::resistor(trigger, ground, INPUT_OHMS),
        );
        let collector = s.internal();
        let ends = Ends {
            feed: supply,
            switched: collector,
            high,
            low: supply,
            case: ground,
        };
        windings::stamp(s, &ends, None);
        let when = Trigger::Voltage {
            plus: trigger,
            minus: ground,
            close_v: CLOSE_V,
            open_v: OPEN_V,
            rests_s: FILTER_S,
        };
        let (closed, when) = if s.fault("driver_shorted").is_some() {
            (true, Trigger::Schedule(Vec::new()))
        } else if s.fault("driver_open").is_some() {
            (false, Trigger::Schedule(Vec::new()))
        } else {
            (false, when)
        };
        s.switched(
            "driver",
            Role::Contact,
            (collector, ground),
            CONDUCTS,
            (closed, when),
        );
        clamp(s, (collector, ground), CLAMP_V);
        if s.part.is_wired(4) {
            let answers = Trigger::Voltage {
                plus: collector,
                minus: ground,
                close_v: ANSWER_V,
                open_v: ANSWER_V / 2.0,
                rests_s: FILTER_S,
            };
            let line = (s.node(4), ground);
            s.switched(
                "feedback",
                Role::Contact,
                line,
                (ANSWER_OHMS, 0.0),
                (false, answers),
            );
        }
    }
}

impl Ignition for PencilCoil {
    fn high_voltage(&self) -> &'static [usize] {
        &[3]
    }

    fn is_harmed(&self) -> bool {
        true
    }
}
