//! Alternator with its regulator. Terminals: B+ output, L warning lamp (D+), S sense (B+ itself when
//! not wired), 31 case.
//!
//! The output is a mean current. Excited, the regulator sends what holds the sensed voltage at its
//! set point; past what the speed allows, it sends that and no more. Excitation comes through the
//! lamp at L, or from residual magnetism at high speed. What the three-phase bridge sends with the
//! diodes it has left, and how far it ripples, is worked out in `bridge.rs`.

mod bridge;

use bridge::{Diodes, Turn};
use cimento_solver::{Element, Shape};

use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Change, Context, Generator, Look, ParamSpec, Params, PartKind, Riding, Ripple, Stamp, Terminal,
    Turning, terminal,
};
use cimento_model::stamped::Role;

const B: usize = 0;
const L: usize = 1;
const S: usize = 2;
const T31: usize = 3;

/// Levels: not excited, regulating, giving all it can, excited but with nothing to give.
const DEAD: u64 = 0;
const REGULATING: u64 = 1;
const FULL: u64 = 2;
const IDLE: u64 = 3;

/// Field current that excites, in amperes, and the rotor speed from which it excites itself; common
/// practice.
const EXCITES_A: f64 = 0.1;
const SELF_EXCITES_RPM: f64 = 5500.0;
/// Rotor speed at which output begins, and that at which the rated output is given. Sources: common practice;
/// ISO 8854 (from memory).
const CUT_IN_RPM: f64 = 1300.0;
const RATED_RPM: f64 = 6000.0;
/// Set point at 20 °C falls with temperature. Common practice: about 10 mV/K.
const VOLTS_PER_KELVIN: f64 = 0.010;
/// Steepness of the regulator: volts of droop per ampere; common practice.
const DROOP_OHMS: f64 = 0.004;
/// Exciter diodes, in ohms; common practice.
const TRIO_OHMS: f64 = 0.05;
/// What a slipping belt leaves of the rotor's speed; common practice.
const SLIP: f64 = 0.55;
/// A diode of the bridge, in volts; common practice.
const DIODE_V: f64 = 0.8;
/// What the rated current loses in the resistance of a winding, in volts; common practice.
const WINDING_V: f64 = 2.0;
/// Humps of a sound bridge in one turn of the phases.
const HUMPS: f64 = 6.0;
/// Ripple is fed in through so many ohms, next to which the circuit's own are nothing.
const RIPPLE_OHMS: f64 = 200.0;

pub(super) struct Alternator;

impl Alternator {
    /// The humps of the bridge around the mean that it sends, in time.
    fn ripple_in_time(s: &mut Stamp<'_>, turning: &Turning, riding: Riding) {
        let turn = Self::turn(s, riding.amps);
        let rest_v = Self::set_v(s);
        let element = Element::source(s.node(B), s.node(T31), rest_v, RIPPLE_OHMS);
        let ripple = s.add("ripple", Role::Stray, element);
        let period_s = 60.0 / (Self::rotor_rpm(s) * s.param("pole_pairs"));
        // It ends as it begins.
        let all = turn.current.iter().chain(turn.current.first());
        let points = all.enumerate().map(|(n, i)| {
            let off = riding.ripple_a * (i / turn.mean - 1.0) / turn.ripple();
            (
                period_s * n as f64 / bridge::STEPS as f64,
                rest_v + RIPPLE_OHMS * off,
            )
        });
        let shape = Shape::Lines {
            points: points.collect(),
            phase_s: turning.seconds(turning.from_deg),
        };
        s.follows(ripple, shape);
    }

    fn rotor_rpm(c: &Context<'_>) -> f64 {
        let slip = if c.fault("belt_slipping").is_some() {
            SLIP
        } else {
            1.0
        };
        c.rpm * c.param("pulley_ratio") * slip
    }

    fn diodes(c: &Context<'_>) -> Diodes {
        match (c.fault("diode_open"), c.fault("diode_shorted")) {
            (_, Some(_)) => Diodes::Shorted,
            (Some(_), _) => Diodes::Open,
            _ => Diodes::Sound,
        }
    }

    fn field_ohms(c: &Context<'_>) -> f64 {
        match c.fault("field_open") {
            Some(_) => f64::INFINITY,
            None => c.param("field_ohms") + c.fault("brushes_worn").unwrap_or(0.0),
        }
    }

    /// Resistance of a winding beside its reactance at a speed. Of the peak that the full field induces, the
    /// reactance lets the same current through at any speed.
    fn resistance(c: &Context<'_>, rpm: f64) -> f64 {
        let reactance_v = c.param("set_v") / bridge::highest() * rpm / CUT_IN_RPM;
        WINDING_V / reactance_v.max(WINDING_V)
    }

    /// What the full field's peak drives through a winding's reactance, in amperes: the same at any speed, and such
    /// that the rated output comes out at the rated speed.
    fn reactive_a(c: &Context<'_>) -> f64 {
        let supply = bridge::highest() * CUT_IN_RPM / RATED_RPM;
        let resistance = Self::resistance(c, RATED_RPM);
        c.param("rated_a") / bridge::mean_into(supply, resistance, Diodes::Sound)
    }

    /// Share of the full field.
    fn field(c: &Context<'_>) -> f64 {
        c.param("field_ohms") / Self::field_ohms(c)
    }

    /// The speed at which the full field would induce what the field that there is does at its own.
    fn strength_rpm(c: &Context<'_>) -> f64 {
        Self::rotor_rpm(c) * Self::field(c)
    }

    /// The most it can give at its speed, in amperes.
    fn full_a(c: &Context<'_>) -> f64 {
        let strength = Self::strength_rpm(c);
        if strength <= CUT_IN_RPM {
            return 0.0;
        }
        // Through a diode that is shorted there is one less in the way.
        let diodes = Self::diodes(c);
        let less = match diodes {
            Diodes::Shorted => DIODE_V / (c.param("set_v") + 2.0 * DIODE_V),
            _ => 0.0,
        };
        let supply = bridge::highest() * CUT_IN_RPM / strength * (1.0 - less);
        let resistance = Self::resistance(c, Self::rotor_rpm(c));
        let mean = bridge::mean_into(supply, resistance, diodes);
        Self::reactive_a(c) * Self::field(c) * mean.max(0.0)
    }

    /// One turn of the phases while it sends so many amperes on the mean.
    fn turn(c: &Context<'_>, amps: f64) -> Turn {
        let rpm = Self::rotor_rpm(c);
        let times = amps / Self::reactive_a(c) * rpm / CUT_IN_RPM / bridge::highest();
        let (resistance, diodes) = (Self::resistance(c, rpm), Self::diodes(c));
        let supply = bridge::weakened_to(times, resistance, diodes);
        bridge::into(supply, resistance, diodes)
    }

    fn set_v(c: &Context<'_>) -> f64 {
        c.param("set_v") - VOLTS_PER_KELVIN * (c.operating.temperature_c - 20.0)
    }

    fn sense(c: &Context<'_>) -> usize {
        if c.part.is_wired(S) { S } else { B }
    }
}

impl PartKind for Alternator {
    fn kind(&self) -> &'static str {
        "alternator"
    }

    fn title(&self) -> &'static str {
        "Alternator"
    }

    fn letters(&self) -> &'static str {
        "G"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("B+", "output stud", true),
                terminal("L", "back of plug, lamp", true),
                Terminal {
                    needed: false,
                    ..terminal("S", "back of plug, sense", true)
                },
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
                number("rated_a", "output at full speed", "A", (5.0, 65.0, 400.0)),
                number("set_v", "set point at 20 °C", "V", (12.0, 14.3, 17.0)),
                number("field_ohms", "field winding", "Ω", (0.5, 3.5, 50.0)),
                number(
                    "pulley_ratio",
                    "rotor turns per turn of the crankshaft",
                    "",
                    (0.5, 2.5, 6.0),
                ),
                number("pole_pairs", "pairs of poles", "", (1.0, 6.0, 12.0)),
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("field_open", "field winding or brush open", 1.5),
                graded("brushes_worn", "brushes worn", 1.5, (1.0, 20.0, 1000.0)),
                mode("diode_open", "one diode open", 1.0),
                mode("diode_shorted", "one diode shorted", 1.0),
                mode("regulator_dead", "regulator never excites", 1.0),
                mode("regulator_full", "regulator never lets up", 1.0),
                mode("belt_slipping", "belt slips", 2.0)
                    .seen("the belt is glazed and loose")
                    .adjustable(),
            ]
        }
    }

    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[("L", "31")]
    }

    fn needs_engine(&self) -> bool {
        true
    }

    fn rating(&self, params: &Params) -> String {
        format!("{:.0} A", params.number("rated_a"))
    }

    fn generator(&self) -> Option<&dyn Generator> {
        Some(self)
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let (b, case) = (s.node(B), s.node(T31));
        let level = s.state.level;
        let regulating = level == REGULATING && s.riding().is_none();
        // With nothing to feed, its voltage rises no further than its speed makes it.
        let (full_a, set_v) = (Self::full_a(s), Self::set_v(s));
        let open_v = set_v * (Self::strength_rpm(s) / CUT_IN_RPM).max(1.01);
        let (amps, winding) = match (level, s.riding()) {
            (_, Some(riding)) => (riding.amps, f64::INFINITY),
            (FULL, None) if full_a > 0.0 => {
                let ohms = (open_v - set_v) / full_a;
                (open_v / ohms, ohms)
            }
            _ => (0.0, f64::INFINITY),
        };
        let element = Element::Regulator {
            a: case,
            b,
            plus: s.node(Self::sense(s)),
            minus: case,
            volts: set_v,
            ohms: if regulating {
                DROOP_OHMS
            } else {
                f64::INFINITY
            },
            amps,
        };
        s.add("output", Role::Source, element);
        s.add("winding", Role::Stray, Element::resistor(b, case, winding));
        if let (Some(turning), Some(riding)) = (s.turning(), s.riding()) {
            Self::ripple_in_time(s, turning, riding);
        }
        // Unexcited, the regulator waits with the field across the lamp; excited, its own diodes
        // hold the lamp at the output's voltage.
        let field = match level {
            DEAD if s.fault("regulator_dead").is_some() => f64::INFINITY,
            _ => Self::field_ohms(s),
        };
        let field = Element::resistor(s.node(L), case, field);
        s.add("field", Role::Load, field);
        let trio = if level == DEAD {
            f64::INFINITY
        } else {
            TRIO_OHMS
        };
        let trio = Element::resistor(b, s.node(L), trio);
        s.add("exciter diodes", Role::Contact, trio);
    }

    fn next(&self, look: &Look<'_>) -> Option<Change> {
        let full_a = Self::full_a(look);
        let works = full_a > 0.0 && look.fault("regulator_dead").is_none();
        let excited =
            look.current("field").abs() >= EXCITES_A || Self::rotor_rpm(look) >= SELF_EXCITES_RPM;
        let sent = look.current("output") - look.current("winding");
        let over = look.voltage(Self::sense(look), T31) - Self::set_v(look);
        let full_field = look.fault("regulator_full").is_some();
        let (level, after_s) = match look.state.level {
            // It comes in giving all it can, and lets up when the sensed voltage is there.
            DEAD if works && excited => (FULL, 0.2),
            DEAD => return None,
            _ if !works => (DEAD, 0.05),
            REGULATING if sent > full_a => (FULL, 0.02),
            REGULATING if sent < 0.0 => (IDLE, 0.02),
            FULL if over > 0.0 && !full_field => (REGULATING, 0.02),
            IDLE if over < -0.02 => (FULL, 0.02),
            _ => return None,
        };
        Some(Change::to(level, after_s))
    }
}

impl Generator for Alternator {
    fn ripple(&self, look: &Look<'_>) -> Option<Ripple> {
        let amps = look.current("output") - look.current("winding");
        let sound = Self::diodes(look) == Diodes::Sound;
        let base_hz = Self::rotor_rpm(look) / 60.0 * look.param("pole_pairs");
        // The field takes a steady current through diodes of its own, and leaves the ripple to the output. Only the
        // winding whose diode is open still feeds it, and fills the gap as far.
        let leaves = match Self::diodes(look) {
            Diodes::Open => (1.0 - look.current("exciter diodes") / amps).clamp(0.0, 1.0),
            _ => 1.0,
        };
        (amps > 0.0).then(|| Ripple {
            amps,
            share: Self::turn(look, amps).ripple() * leaves,
            hz: base_hz * if sound { HUMPS } else { 1.0 },
            humps_hz: base_hz * HUMPS,
        })
    }
}
