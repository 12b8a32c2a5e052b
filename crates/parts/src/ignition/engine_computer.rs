//! Engine computer of an engine with an ignition module: from the module's reference pulses (RF) it
//! makes the timing (TI), takes it over from the module by 5 V on the bypass wire (BY) once the engine
//! runs, and pulls its injectors (J1, J2) to ground at each pulse. No pulses, no injection.

use cimento_solver::{Element, Trigger};

use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Alternation, Change, Context, Fuel, Look, ParamSpec, Params, PartKind, Shelf, Stamp, Terminal,
    terminal,
};
use cimento_model::stamped::Role;

/// It works from so many volts on; common practice.
const WORKS_V: f64 = 6.5;
const SUPPLY_OHMS: f64 = 40.0;
const INPUT_OHMS: f64 = 10_000.0;
/// A reference pulse, in volts.
const PULSE_V: f64 = 2.0;
const OUTPUT_V: f64 = 5.0;
const OUTPUT_OHMS: f64 = 200.0;
const PULL_DOWN_OHMS: f64 = 10_000.0;
/// From here on it takes the timing over, in revolutions per minute; common practice.
const TAKES_OVER_RPM: f64 = 400.0;
/// An injector's driver when it conducts, in ohms; common practice.
const DRIVER_OHMS: f64 = 0.3;
const WAKES_S: f64 = 0.02;

/// What it has noticed, as bits of its level.
const POWERED: u64 = 1;
const PULSES: u64 = 2;
const TAKEN_OVER: u64 = 4;

const INJECTORS: [(usize, &str); 2] = [(5, "driver 1"), (6, "driver 2")];
static PIN_MODES: [ModeSpec; 2] = [
    mode("driver_open", "driver of this injector dead", 0.8),
    mode(
        "driver_shorted",
        "driver of this injector stuck to ground",
        0.5,
    ),
];

pub(crate) struct EngineComputer;

impl PartKind for EngineComputer {
    fn kind(&self) -> &'static str {
        "engine_computer"
    }

    fn title(&self) -> &'static str {
        "Engine computer"
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
                terminal("31", "back of plug, ground", false),
                terminal("RF", "back of plug, reference in", true),
                terminal("BY", "back of plug, bypass out", true),
                terminal("TI", "back of plug, timing out", true),
                Terminal {
                    needed: false,
                    ..terminal("J1", "back of plug, injector 1", false)
                },
                Terminal {
                    needed: false,
                    ..terminal("J2", "back of plug, injector 2", false)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number(
                    "pulses",
                    "reference pulses in two turns of the crankshaft",
                    "",
                    (1.0, 4.0, 8.0),
                ),
                number("dwell_s", "time of charging", "s", (0.0005, 0.004, 0.02)),
                number(
                    "advance_deg",
                    "degrees by which it fires before the pickup would",
                    "°",
                    (0.0, 0.0, 40.0),
                ),
                number(
                    "inject_s",
                    "time that an injector is open",
                    "s",
                    (0.0005, 0.003, 0.02),
                ),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("dead", "does nothing", 0.7),
                mode("timing_dead", "gives no timing", 0.7),
                mode("bypass_dead", "never asks for the timing", 0.5),
            ]
        }
    }

    fn pin_modes(&self, _: &Params, terminal: usize) -> &'static [ModeSpec] {
        match INJECTORS.iter().any(|(t, _)| *t == terminal) {
            true => &PIN_MODES,
            false => &[],
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("15", "31")]
    }

    fn contacts(&self, _: &Params) -> Vec<(usize, usize)> {
        INJECTORS.map(|(t, _)| (t, 1)).to_vec()
    }

    fn needs_engine(&self) -> bool {
        true
    }

    fn alternation(&self, c: &Context<'_>) -> Option<Alternation> {
        let hz = c.rpm / 120.0 * c.param("pulses");
        let share = (c.param("inject_s") * hz).min(0.5);
        let works = c.state.level & (POWERED | PULSES) == POWERED | PULSES;
        works.then_some(Alternation { hz, share })
    }

    fn fuel(&self) -> Option<&dyn Fuel> {
        Some(self)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let [supply, ground, reference, bypass, timing] = [0, 1, 2, 3, 4].map(|t| s.node(t));
        s.add(
            "supply",
            Role::Load,
            Element::resistor(supply, ground, SUPPLY_OHMS),
        );
        s.add(
            "reference",
            Role::Stray,
            Element::resistor(reference, ground, INPUT_OHMS),
        );
        let works = s.state.level & POWERED != 0 && s.fault("dead").is_none();
        let pulses = works && s.state.level & PULSES != 0;
        let taken = pulses && s.state.level & TAKEN_OVER != 0 && s.fault("bypass_dead").is_none();
        let volts = if taken { OUTPUT_V } else { 0.0 };
        s.add(
            "bypass",
            Role::Source,
            Element::source(bypass, ground, volts, OUTPUT_OHMS),
        );
        let every = 720.0 / s.param("pulses").round();
        let (dwell_s, inject_s) = (s.param("dwell_s"), s.param("inject_s"));
        let schedule = |s: &Stamp<'_>, works: bool, open_deg: f64, closed_s: f64| match s.turning()
        {
            _ if !works => (false, Trigger::Schedule(Vec::new())),
            Some(t) => {
                let closed_deg = (closed_s * 6.0 * t.rpm).min(0.9 * every);
                let (closed, changes) = t.contact(open_deg, every, closed_deg);
                (closed, Trigger::Schedule(changes))
            }
            None => (s.up(), Trigger::Schedule(Vec::new())),
        };
        let (times, early_deg) = (
            pulses && s.fault("timing_dead").is_none(),
            s.param("advance_deg"),
        );
        let when = schedule(s, times, -early_deg, dwell_s);
        s.switched(
            "timing",
            Role::Source,
            (timing, ground),
            (OUTPUT_OHMS, OUTPUT_V),
            when,
        );
        s.add(
            "timing rest",
            Role::Stray,
            Element::resistor(timing, ground, PULL_DOWN_OHMS),
        );
        for (terminal, name) in INJECTORS {
            if !s.part.is_wired(terminal) {
                continue;
            }
            let when = if s.pin_fault(terminal, "driver_shorted") {
                (true, Trigger::Schedule(Vec::new()))
            } else {
                let works = pulses && !s.pin_fault(terminal, "driver_open");
                // It opens as the pulse comes.
                schedule(s, works, every / 2.0, inject_s)
            };
            let ends = (s.node(terminal), ground);
            s.switched(name, Role::Contact, ends, (DRIVER_OHMS, 0.0), when);
        }
    }

    fn next(&self, look: &Look<'_>) -> Option<Change> {
        let mut level = 0;
        if look.voltage(0, 1) >= WORKS_V {
            level |= POWERED;
        }
        if look.swing("reference") > PULSE_V {
            level |= PULSES;
            if look.rpm >= TAKES_OVER_RPM {
                level |= TAKEN_OVER;
            }
        }
        (level != look.state.level).then(|| Change::to(level, WAKES_S))
    }
}

impl Fuel for EngineComputer {
    fn hears_v(&self, look: &Look<'_>) -> Option<f64> {
        Some(look.across("reference"))
    }

    fn clicks(&self, look: &Look<'_>, volts: f64) -> usize {
        let works = look.state.level & POWERED != 0 && look.fault("dead").is_none();
        if !works || volts < PULSE_V {
            return 0;
        }
        // An injector clicks that its driver can pull and that has its feed.
        let whole = INJECTORS.iter().filter(|(terminal, _)| {
            look.part.is_wired(*terminal)
                && !look.pin_fault(*terminal, "driver_open")
                && look.voltage(*terminal, 1) >= WORKS_V
        });
        whole.count()
    }
}
