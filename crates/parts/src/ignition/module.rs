//! Electronic ignition module: a transistor that lets the coil charge while the pickup's voltage is up
//! and breaks the current as it falls through zero. 7 and 31d go to the pickup, 1 to the coil. Where RF,
//! BY and TI are wired it tells the engine computer of each pulse (RF), and while the computer holds BY
//! at 5 V it fires as TI says, not by itself.

use cimento_solver::{Element, Trigger};

use super::gap::clamp;
use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Alternation, Change, Context, Look, ParamSpec, Params, PartKind, Shelf, Stamp, Terminal,
    terminal,
};
use cimento_model::stamped::Role;

/// It works from so many volts on; common practice.
const WORKS_V: f64 = 6.0;
const SUPPLY_OHMS: f64 = 150.0;
const PICKUP_OHMS: f64 = 10_000.0;
const RETURN_OHMS: f64 = 0.5;
const INPUT_OHMS: f64 = 20_000.0;
/// Volts of the pickup at which the transistor takes hold; it lets go at zero; common practice.
const TAKES_HOLD_V: f64 = 0.3;
/// Volts of what a computer sends, high and low.
const HIGH_V: f64 = 2.5;
const LOW_V: f64 = 1.5;
/// It takes no notice of what is shorter, in seconds; common practice.
const FILTER_S: f64 = 100e-6;
const REFERENCE_V: f64 = 5.0;
const REFERENCE_OHMS: f64 = 500.0;
/// Transistor when it conducts, in ohms and volts; its clamp, in volts; common practice.
const CONDUCTS: (f64, f64) = (0.1, 0.8);
const CLAMP_V: f64 = 380.0;
const WAKES_S: f64 = 0.01;

/// What it has noticed, as bits of its level.
const POWERED: u64 = 1;
const PULSES: u64 = 2;
const BYPASSED: u64 = 4;

pub(crate) struct Module;

impl PartKind for Module {
    fn kind(&self) -> &'static str {
        "ignition_module"
    }

    fn title(&self) -> &'static str {
        "Ignition module"
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
                terminal("15", "back of plug, supply", true),
                terminal("1", "back of plug, coil", true),
                terminal("7", "back of plug, pickup signal", true),
                terminal("31d", "back of plug, pickup return", true),
                Terminal {
                    is_case: true,
                    ..terminal("31", "heat sink", false)
                },
                Terminal {
                    needed: false,
                    ..terminal("RF", "back of plug, reference out", false)
                },
                Terminal {
                    needed: false,
                    ..terminal("BY", "back of plug, bypass in", false)
                },
                Terminal {
                    needed: false,
                    ..terminal("TI", "back of plug, timing in", false)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[number(
                "pulses",
                "sparks in two turns of the crankshaft",
                "",
                (1.0, 4.0, 8.0),
            )]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("dead", "never conducts", 1.5),
                mode("driver_shorted", "transistor always conducts", 1.0),
                mode("reference_dead", "gives no reference pulses", 0.7),
                mode("deaf_to_bypass", "never hands the timing over", 0.5),
            ]
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("15", "31")]
    }

    fn contacts(&self, _: &Params) -> Vec<(usize, usize)> {
        vec![(1, 4)]
    }

    fn needs_engine(&self) -> bool {
        true
    }

    fn alternation(&self, c: &Context<'_>) -> Option<Alternation> {
        let works = c.state.level & (POWERED | PULSES) == POWERED | PULSES;
        works.then(|| Alternation {
            hz: c.rpm / 120.0 * c.param("pulses"),
            share: 0.5,
        })
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let [supply, coil, signal, ret, ground] = [0, 1, 2, 3, 4].map(|t| s.node(t));
        s.add(
            "supply",
            Role::Load,
            Element::resistor(supply, ground, SUPPLY_OHMS),
        );
        s.add(
            "pickup",
            Role::Stray,
            Element::resistor(signal, ret, PICKUP_OHMS),
        );
        s.add(
            "return",
            Role::Stray,
            Element::resistor(ret, ground, RETURN_OHMS),
        );
        let powered = s.state.level & POWERED != 0;
        let bypassed = s.state.level & BYPASSED != 0;
        let pulses = powered && s.state.level & PULSES != 0;
        let by_pickup = Trigger::Voltage {
            plus: signal,
            minus: ret,
            close_v: TAKES_HOLD_V,
            open_v: 0.0,
            rests_s: FILTER_S,
        };
        let still = || Trigger::Schedule(Vec::new());
        let in_time = s.turning().is_some();
        let (closed, when) = if s.fault("driver_shorted").is_some() {
            (true, still())
        } else if s.fault("dead").is_some() || !powered {
            (false, still())
        } else if bypassed {
            let by_computer = Trigger::Voltage {
                plus: s.node(7),
                minus: ground,
                close_v: HIGH_V,
                open_v: LOW_V,
                rests_s: FILTER_S,
            };
            (!in_time && pulses && s.up(), by_computer)
        } else {
            (!in_time && pulses && s.up(), by_pickup.clone())
        };
        s.switched(
            "transistor",
            Role::Contact,
            (coil, ground),
            CONDUCTS,
            (closed, when),
        );
        clamp(s, (coil, ground), CLAMP_V);
        let reference = s.node(5);
        if s.part.is_wired(5) {
            let tells = powered && s.fault("reference_dead").is_none();
            let when = if tells { by_pickup } else { still() };
            s.switched(
                "reference",
                Role::Source,
                (reference, ground),
                (REFERENCE_OHMS, REFERENCE_V),
                (!in_time && tells && pulses && s.up(), when),
            );
        }
        for (terminal, name) in [
            (5, "reference rest"),
            (6, "bypass input"),
            (7, "timing input"),
        ] {
            if s.part.is_wired(terminal) {
                let input = Element::resistor(s.node(terminal), ground, INPUT_OHMS);
                s.add(name, Role::Stray, input);
            }
        }
    }

    fn next(&self, look: &Look<'_>) -> Option<Change> {
        let mut level = 0;
        if look.voltage(0, 4) >= WORKS_V {
            level |= POWERED;
        }
        // Its halves are means: a wave of them swings twice its mean.
        if look.swing("pickup") > 2.0 * TAKES_HOLD_V * std::f64::consts::FRAC_2_PI {
            level |= PULSES;
        }
        let asked = look.part.is_wired(6) && look.voltage(6, 4) >= HIGH_V;
        if asked && look.fault("deaf_to_bypass").is_none() {
            level |= BYPASSED;
        }
        (level != look.state.level).then(|| Change::to(level, WAKES_S))
    }
}
