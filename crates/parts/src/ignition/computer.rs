//! Ignition computer: lets each coil charge for as long as it needs, once in two turns, or once a turn for a
//! coil with two towers. By its triggers of 0 V to 5 V where the transistor is in the coil, or with drivers
//! of its own that pull the coil to ground. T1 to T4 belong to cylinders 1 to 4, which fire in the order
//! 1, 3, 4, 2. Where a crank sensor is wired to it (K1, K2, K3), it fires only while that pulses. Where a cam
//! sensor is wired to it too (N2) and does not pulse, it cannot tell a cylinder from the one that stands a turn
//! apart, and fires each coil once a turn.

use cimento_solver::{Element, Trigger};

use super::gap::clamp;
use cimento_model::faults::{ModeSpec, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Alternation, Change, Context, Look, ParamSpec, Params, PartKind, Shelf, Stamp, Terminal,
    terminal,
};
use cimento_model::stamped::Role;
use cimento_model::strokes::firing_place;

const TRIGGER_V: f64 = 5.0;
const OUTPUT_OHMS: f64 = 100.0;
const PULL_DOWN_OHMS: f64 = 10_000.0;
const SUPPLY_OHMS: f64 = 60.0;
/// It works from so many volts on; common practice.
const WORKS_V: f64 = 6.5;
const WAKES_S: f64 = 0.02;
/// Feed, signal and ground of its crank sensor, by position; what it feeds it with, in volts and ohms, what
/// pulls the signal up and what it takes for a pulse; common practice.
const SENSOR: [usize; 3] = [6, 7, 8];
const SENSOR_FEED: (f64, f64) = (5.0, 10.0);
const PULL_UP_OHMS: f64 = 2_200.0;
const SENSOR_GROUND_OHMS: f64 = 0.05;
const PULSE_V: f64 = 2.5;

const CAM: usize = 9;

/// What it has noticed: it fires, waits for its crank sensor, or fires every turn for want of a cam sensor.
const FIRES: u64 = 1;
const WAITS: u64 = 2;
const EVERY_TURN: u64 = 3;

/// Degrees of the crankshaft from one firing of a coil to its next.
fn period_deg(c: &Context<'_>) -> f64 {
    match c.state.level {
        EVERY_TURN => 360.0,
        _ => c.param("period_deg"),
    }
}

/// Whether it fires at all.
fn fires(c: &Context<'_>) -> bool {
    matches!(c.state.level, FIRES | EVERY_TURN)
}
const OUTPUTS: [&str; 4] = ["driver 1", "driver 2", "driver 3", "driver 4"];
const RESTS: [&str; 4] = ["rest 1", "rest 2", "rest 3", "rest 4"];
/// A driver when it conducts, in ohms and volts; its clamp, in volts; common practice.
const CONDUCTS: (f64, f64) = (0.05, 0.8);
const CLAMP_V: f64 = 400.0;
static TRIGGER_MODES: [ModeSpec; 1] = [mode("driver_open", "driver of this trigger dead", 0.8)];
static DRIVER_MODES: [ModeSpec; 2] = [
    mode("driver_open", "driver of this coil dead", 0.8),
    mode("driver_shorted", "driver of this coil always conducts", 0.5),
];

/// Whether the transistors of the coils are in it.
fn drives(params: &Params) -> bool {
    params.number("drivers") >= 0.5
}

pub(crate) struct Computer;

impl PartKind for Computer {
    fn kind(&self) -> &'static str {
        "ignition_computer"
    }

    fn title(&self) -> &'static str {
        "Ignition computer"
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
                terminal("T1", "back of plug, trigger 1", false),
                terminal("T2", "back of plug, trigger 2", false),
                terminal("T3", "back of plug, trigger 3", false),
                terminal("T4", "back of plug, trigger 4", false),
                Terminal {
                    needed: false,
                    ..terminal("K1", "back of plug, crank sensor feed", true)
                },
                Terminal {
                    needed: false,
                    ..terminal("K2", "back of plug, crank sensor signal", true)
                },
                Terminal {
                    needed: false,
                    ..terminal("K3", "back of plug, crank sensor ground", false)
                },
                Terminal {
                    needed: false,
                    ..terminal("N2", "back of plug, cam sensor signal", true)
                },
            ]
        }
    }

    fn has_terminal(&self, params: &Params, terminal: usize) -> bool {
        terminal < 2 || terminal >= SENSOR[0] || (terminal - 1) as f64 <= params.number("cylinders")
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number("cylinders", "coils", "", (1.0, 4.0, 4.0)),
                number("dwell_s", "time of charging", "s", (0.0005, 0.0025, 0.02)),
                number(
                    "period_deg",
                    "degrees of the crankshaft from one firing of a coil to its next",
                    "°",
                    (360.0, 720.0, 720.0),
                ),
                number(
                    "drivers",
                    "1 when it pulls the coils to ground itself, 0 when it sends triggers",
                    "",
                    (0.0, 0.0, 1.0),
                ),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const { &[mode("dead", "gives no triggers", 1.0)] }
    }

    fn pin_modes(&self, params: &Params, terminal: usize) -> &'static [ModeSpec] {
        match terminal {
            0 | 1 => &[],
            _ if terminal >= SENSOR[0] => &[],
            _ if drives(params) => &DRIVER_MODES,
            _ => &TRIGGER_MODES,
        }
    }

    fn contacts(&self, params: &Params) -> Vec<(usize, usize)> {
        let drivers = match drives(params) {
            true => params.number("cylinders").round() as usize,
            false => 0,
        };
        let [feed, _, ground] = SENSOR;
        let drivers = (0..drivers).map(|n| (2 + n, 1));
        drivers.chain([(0, feed), (ground, 1)]).collect()
    }

    fn needs_engine(&self) -> bool {
        true
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("15", "31")]
    }

    fn alternation(&self, c: &Context<'_>) -> Option<Alternation> {
        let hz = c.rpm * 6.0 / period_deg(c);
        let share = (c.param("dwell_s") * hz).min(0.9);
        fires(c).then_some(Alternation { hz, share })
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let (supply, ground) = (s.node(0), s.node(1));
        s.add(
            "supply",
            Role::Load,
            Element::resistor(supply, ground, SUPPLY_OHMS),
        );
        let cylinders = s.param("cylinders").round() as usize;
        let period_deg = period_deg(s);
        let every = s.param("period_deg") / cylinders as f64;
        let works = fires(s) && s.fault("dead").is_none();
        if s.part.is_wired(SENSOR[1]) {
            self.sensor(s);
        }
        for n in 0..cylinders {
            let out = s.node(2 + n);
            let place = firing_place(n + 1, cylinders);
            let works = works && !s.pin_fault(2 + n, "driver_open");
            let dwell_s = s.param("dwell_s");
            let (on, changes) = match s.turning() {
                _ if !works => (false, Vec::new()),
                Some(t) => {
                    let dwell_deg = (dwell_s * 6.0 * t.rpm).min(0.9 * period_deg);
                    t.contact(every * place as f64, period_deg, dwell_deg)
                }
                None => (s.rpm > 0.0 && s.up(), Vec::new()),
            };
            let trigger = Trigger::Schedule(changes);
            if drives(&s.part.params) {
                let on = on || s.pin_fault(2 + n, "driver_shorted");
                let trigger = match s.pin_fault(2 + n, "driver_shorted") {
                    true => Trigger::Schedule(Vec::new()),
                    false => trigger,
                };
                let when = (on, trigger);
                s.switched(OUTPUTS[n], Role::Contact, (out, ground), CONDUCTS, when);
                clamp(s, (out, ground), CLAMP_V);
                continue;
            }
            s.switched(
                OUTPUTS[n],
                Role::Source,
                (out, ground),
                (OUTPUT_OHMS, TRIGGER_V),
                (on, trigger),
            );
            s.add(
                RESTS[n],
                Role::Stray,
                Element::resistor(out, ground, PULL_DOWN_OHMS),
            );
        }
    }

    fn next(&self, look: &Look<'_>) -> Option<Change> {
        let powered = look.voltage(0, 1) >= WORKS_V;
        let waits = look.part.is_wired(SENSOR[1]) && look.swing("pull-up") < PULSE_V;
        let lost = look.part.is_wired(CAM) && look.swing("cam pull-up") < PULSE_V;
        let level = match (powered, waits) {
            (false, _) => 0,
            (true, true) => WAITS,
            (true, false) if lost => EVERY_TURN,
            (true, false) => FIRES,
        };
        (level != look.state.level).then(|| Change::to(level, WAKES_S))
    }
}

impl Computer {
    /// The three wires of the crank sensor, inside.
    fn sensor(&self, s: &mut Stamp<'_>) {
        let [feed, signal, ground] = SENSOR.map(|t| s.node(t));
        let case = s.node(1);
        let volts = if s.state.level == 0 {
            0.0
        } else {
            SENSOR_FEED.0
        };
        let source = Element::source(feed, case, volts, SENSOR_FEED.1);
        s.add("sensor feed", Role::Source, source);
        let pull_up = Element::resistor(feed, signal, PULL_UP_OHMS);
        s.add("pull-up", Role::Stray, pull_up);
        if s.part.is_wired(CAM) {
            let pull_up = Element::resistor(feed, s.node(CAM), PULL_UP_OHMS);
            s.add("cam pull-up", Role::Stray, pull_up);
        }
        let joint = Element::resistor(ground, case, SENSOR_GROUND_OHMS);
        s.add("sensor ground", Role::Contact, joint);
    }
}
