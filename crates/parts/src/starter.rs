//! Starter with solenoid: pull-in and hold-in windings, bridge contact, motor with back EMF.
//! Terminals after DIN 72552: 30 battery, 50 solenoid, 45 motor stud, 31 case.
//!
//! Both windings have the same turns, so the pull on the plunger goes with the sum of their
//! currents. Once the bridge has closed, the pull-in winding lies between two points of the same
//! voltage and only the hold-in winding pulls; when 50 is let go, current runs backwards through
//! the pull-in winding and the two cancel. The motor is referred to the crankshaft.

use cimento_solver::{Element, Load, Node, Shape};

use cimento_model::circuit::Caution;
use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Change, Cranking, Look, Notice, NoticeKind, ParamSpec, Params, PartKind, PartState, Stamp,
    Terminal, Turning, terminal,
};
use cimento_model::stamped::Role;
use cimento_model::strokes::firing_place;

/// Times of the plunger's travel in and out, in seconds; common practice.
const PULL_IN_S: f64 = 0.030;
const DROP_OUT_S: f64 = 0.015;
/// Below this cranking speed an engine is slow to fire, in rpm; common practice.
const SLOW_RPM: f64 = 120.0;
/// A contact that carries more than this is made, in amperes.
const MADE_A: f64 = 1.0;
/// Least torque that counts as turning against an engine, in rpm.
const TURNING_RPM: f64 = 5.0;

const T30: usize = 0;
const T50: usize = 1;
const T45: usize = 2;
const T31: usize = 3;
const I: usize = 4;
/// Contact of the ignition bypass, in ohms; common practice.
const BYPASS_OHMS: f64 = 0.01;
/// The cylinder that leaks, and what is left of its compression; common practice.
const LEAKING_CYLINDER: usize = 3;
const LEAKING: f64 = 0.3;
/// What shorted field turns leave of the torque, and of the resistance; common practice.
const FIELD_SHORTED: (f64, f64) = (0.45, 0.6);

/// Share of its voltage by which a motor's speed sinks and rises over a compression stroke; common practice.
const HUMP: f64 = 0.1;

pub(super) struct Starter;

impl PartKind for Starter {
    fn kind(&self) -> &'static str {
        "starter"
    }

    fn title(&self) -> &'static str {
        "Starter motor"
    }

    fn letters(&self) -> &'static str {
        "M"
    }

    fn cautions(&self) -> &'static [Caution] {
        &[
            Caution {
                rank: 1,
                text: "Before cranking: gear in neutral, brake on; hands, hair and leads clear of belts, fan and flywheel.",
            },
            Caution {
                rank: 2,
                text: "Never defeat a neutral or clutch switch on a machine in gear.",
            },
        ]
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("30", "battery stud", true),
                terminal("50", "solenoid terminal", true),
                Terminal {
                    needed: false,
                    ..terminal("45", "motor stud", false)
                },
                Terminal {
                    is_case: true,
                    ..terminal("31", "case", false)
                },
                Terminal {
                    needed: false,
                    ..terminal("I", "ignition bypass terminal", false)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number("pull_in_ohms", "pull-in winding", "Ω", (0.05, 0.4, 20.0)),
                number("hold_in_ohms", "hold-in winding", "Ω", (0.1, 1.2, 50.0)),
                number(
                    "pull_in_a",
                    "sum of winding currents that pulls in",
                    "A",
                    (0.5, 20.0, 500.0),
                ),
                number(
                    "drop_out_a",
                    "sum of winding currents that lets go",
                    "A",
                    (0.1, 4.0, 500.0),
                ),
                number(
                    "contact_ohms",
                    "closed bridge contact",
                    "Ω",
                    (0.0, 0.000_5, 0.1),
                ),
                number(
                    "armature_ohms",
                    "armature and brushes",
                    "Ω",
                    (0.001, 0.016, 1.0),
                ),
                number(
                    "torque_nm_per_a",
                    "torque at the crankshaft per ampere",
                    "N·m/A",
                    (0.01, 0.4, 10.0),
                ),
                number(
                    "static_nm",
                    "torque to begin turning the engine",
                    "N·m",
                    (0.0, 45.0, 2000.0),
                ),
                number(
                    "viscous_nm_s",
                    "engine drag per speed",
                    "N·m·s",
                    (0.01, 0.8, 100.0),
                ),
                number(
                    "cylinders",
                    "compression strokes in two turns",
                    "",
                    (1.0, 4.0, 12.0),
                ),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("pull_in_open", "pull-in winding open", 1.0),
                mode("hold_in_open", "hold-in winding open", 1.0),
                mode("contacts_open", "bridge contact never makes", 1.5),
                graded(
                    "contacts_burnt",
                    "bridge contact burnt",
                    2.5,
                    (0.005, 0.05, 100.0),
                ),
                mode("brushes_open", "brushes off the commutator", 2.0),
                graded("brushes_worn", "brushes worn", 2.0, (0.005, 0.05, 100.0)),
                mode("field_shorted", "field turns shorted", 1.0),
                mode("contacts_welded", "bridge contact never opens", 0.5),
                mode("dragging", "engine or armature drags", 1.0),
                mode(
                    "cylinder_leaks",
                    "one cylinder leaks, the engine and not the starter",
                    0.5,
                ),
            ]
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("45", "31"), ("50", "31")]
    }

    fn contacts(&self, _: &Params) -> Vec<(usize, usize)> {
        vec![(T30, T45), (T30, I)]
    }

    fn cranking(&self) -> Option<&dyn Cranking> {
        Some(self)
    }

    fn pulled_in(&self, state: &PartState) -> Option<bool> {
        Some(state.level == 1)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let winding = |s: &Stamp<'_>, open: &str, ohms: &str| match s.fault(open) {
            Some(_) => f64::INFINITY,
            None => s.param(ohms),
        };
        let pull_in = winding(s, "pull_in_open", "pull_in_ohms");
        let hold_in = winding(s, "hold_in_open", "hold_in_ohms");
        let element = Element::resistor(s.node(T50), s.node(T45), pull_in);
        s.add("pull-in winding", Role::Load, element);
        let element = Element::resistor(s.node(T50), s.node(T31), hold_in);
        s.add("hold-in winding", Role::Load, element);
        let closed = s.state.level == 1 || s.fault("contacts_welded").is_some();
        let ohms = s.contact_ohms(
            closed,
            s.param("contact_ohms"),
            "contacts_open",
            "contacts_burnt",
        );
        s.contact("bridge contact", (T30, T45), ohms);
        if s.part.is_wired(I) {
            let bypass = if closed { BYPASS_OHMS } else { f64::INFINITY };
            s.contact("bypass contact", (T30, I), bypass);
        }
        motor(s);
    }

    fn next(&self, look: &Look<'_>) -> Option<Change> {
        let pull = (look.current("pull-in winding") + look.current("hold-in winding")).abs();
        let (level, after_s) = match look.state.level {
            0 if pull >= look.param("pull_in_a") => (1, PULL_IN_S),
            1 if pull < look.param("drop_out_a") => (0, DROP_OUT_S),
            _ => return None,
        };
        Some(Change {
            after_s,
            level,
            wear_per_s: 0.0,
        })
    }

    fn notice(&self, looks: &[Look<'_>]) -> Option<Notice> {
        let last = looks.last()?;
        // A contact that has welded makes without a plunger that pulls.
        let makes =
            |l: &&Look<'_>| l.state.level == 1 || l.current("bridge contact").abs() > MADE_A;
        let pulled = looks.iter().filter(makes).count();
        let rpm = last.state.speed * 30.0 / std::f64::consts::PI;
        let (text, sign) = if pulled == 0 {
            ("no crank".to_owned(), "silent")
        } else if pulled < looks.len() {
            ("no crank, the starter clicks rapidly".to_owned(), "chatter")
        } else if rpm >= SLOW_RPM && last.fault("cylinder_leaks").is_some() {
            // Its rhythm limps where it is held back less.
            (format!("cranks unevenly at {rpm:.0} rpm"), "limps")
        } else if rpm >= SLOW_RPM {
            (format!("cranks at {rpm:.0} rpm"), "cranks")
        } else if rpm >= TURNING_RPM {
            (format!("cranks slowly, {rpm:.0} rpm"), "slow")
        } else {
            ("no crank, one click from the starter".to_owned(), "click")
        };
        Some(Notice {
            kind: NoticeKind::Cranking,
            part: last.part.id.clone(),
            text,
            sign: sign.to_owned(),
            hidden: false,
        })
    }
}

impl Cranking for Starter {}

fn motor(s: &mut Stamp<'_>) {
    let (field, copper) = match s.fault("field_shorted") {
        Some(_) => FIELD_SHORTED,
        None => (1.0, 1.0),
    };
    let ohms = s.param("armature_ohms") * copper + s.fault("brushes_worn").unwrap_or(0.0);
    let drag = if s.fault("dragging").is_some() {
        3.0
    } else {
        1.0
    };
    let load = Load {
        static_nm: s.param("static_nm") * drag,
        viscous: s.param("viscous_nm_s") * drag,
    };
    let held = (!s.balanced()).then_some(s.state.speed);
    let k = s.param("torque_nm_per_a") * field;
    // The brushes are a branch of their own, so that an open there leaves the motor solvable.
    let inside = s.internal();
    let brushes = match s.fault("brushes_open") {
        Some(_) => f64::INFINITY,
        None => 0.0,
    };
    let element = Element::resistor(s.node(T45), inside, brushes);
    s.add("brushes", Role::Contact, element);
    let end = match s.turning() {
        Some(turning) if s.state.speed > 0.0 => compression(s, turning, k * s.state.speed),
        _ => s.node(T31),
    };
    let element = Element::Motor {
        a: inside,
        b: end,
        ohms,
        k,
        load,
        held,
    };
    s.add("motor", Role::Load, element);
}

/// A motor that is slowed by each compression stroke: seen in time, its own voltage of `emf_v` sinks and
/// its current rises as a cylinder comes to fire. Gives the motor's lower end.
fn compression(s: &mut Stamp<'_>, turning: &Turning, emf_v: f64) -> Node {
    let end = s.internal();
    let strokes = Element::source(end, s.node(T31), 0.0, 0.0);
    let strokes = s.add("compression", Role::Load, strokes);
    let cylinders = s.param("cylinders").round() as usize;
    // Where the plugs are part of the circuit they say how well each cylinder does.
    let mut compression = match turning.compression.len() == cylinders {
        true => turning.compression.clone(),
        false => vec![1.0; cylinders],
    };
    if s.fault("cylinder_leaks").is_some() {
        compression[firing_place(LEAKING_CYLINDER, cylinders)] *= LEAKING;
    }
    let every = 720.0 / cylinders as f64;
    let shape = match compression.iter().all(|c| *c == 1.0) {
        true => Shape::Sine {
            volts: HUMP * emf_v,
            hz: 1.0 / turning.seconds(every),
            phase: std::f64::consts::TAU * turning.from_deg / every - std::f64::consts::FRAC_PI_2,
        },
        false => Shape::Lines {
            points: humps(&compression, every)
                .map(|(deg, share)| (turning.seconds(deg), HUMP * emf_v * share))
                .collect(),
            phase_s: turning.seconds(turning.from_deg + every / 2.0),
        },
    };
    s.follows(strokes, shape);
    end
}

/// The rise of a motor's own voltage over two turns, from half a stroke before cylinder 1 fires on, as
/// shares of a sound stroke's: each cylinder holds it back as well as it squeezes its gas.
fn humps(compression: &[f64], every: f64) -> impl Iterator<Item = (f64, f64)> + '_ {
    const POINTS: usize = 24;
    let mean = compression.iter().sum::<f64>() / compression.len() as f64;
    let all = POINTS * compression.len();
    (0..=all).map(move |n| {
        let stroke = compression[n / POINTS % compression.len()];
        let turned = n as f64 / POINTS as f64;
        // Half a stroke from its firing a cylinder does not hold back.
        let holds = (1.0 - (std::f64::consts::TAU * turned).cos()) * stroke;
        (turned * every, mean - holds)
    })
}
