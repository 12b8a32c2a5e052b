//! The two windings of a coil on one core, with what every kind of coil has in common.
//!
//! The primary is a resistance and an inductance, the secondary the same with the square of the turns
//! ratio, and a capacitance across it. The loss of the core is a resistance across the primary, as a
//! shorted turn is.

use cimento_solver::{Element, Node};

use super::gap::spark_gap;
use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::{ParamSpec, number};
use cimento_model::part::{PartState, Stamp};
use cimento_model::stamped::Role;

/// Loss that a shorted turn makes, in ohms across the primary; common practice.
const SHORTED_TURN_OHMS: f64 = 4.0;
/// Share of the turns that shorted windings leave in the primary.
const TURNS_LEFT: f64 = 0.6;
/// A break in the secondary is a gap inside the coil, in volts; common practice.
const INNER_GAP_V: f64 = 14_000.0;
/// A cracked tower flashes over at so many volts; common practice.
const CRACK_V: f64 = 5_000.0;

/// Name of what lies across the secondary, from its tower to its low end.
pub const TOWER: &str = "own capacitance";
/// Insulation that was harmed by firing with nowhere to spark gives way at so many volts: enough for a
/// sound plug at idle, not under load; common practice.
const HARMED_V: f64 = 7_000.0;
/// Minutes of such firing that harm it; common practice says that it happens, not how soon.
const HARMED_MINUTES: f64 = 10.0;

/// Capacitance of a lead to the metal beside it, in farads; common practice.
const LEAD_F: f64 = 10e-12;

/// What a coil's windings hang between.
pub(super) struct Ends {
    /// Feed of the primary.
    pub feed: Node,
    /// Switched end of the primary.
    pub switched: Node,
    pub high: Node,
    /// Low end of the secondary: the primary's feed, or a second tower.
    pub low: Node,
    /// Metal around the coil.
    pub case: Node,
}

/// Parameters of a coil's windings: ohms and henries of the primary, turns ratio, ohms of the secondary.
pub(super) const fn params(ohms: f64, henries: f64, ratio: f64, secondary: f64) -> [ParamSpec; 7] {
    [
        number("primary_ohms", "primary resistance", "Ω", (0.1, ohms, 20.0)),
        number("primary_h", "primary inductance", "H", (1e-4, henries, 0.1)),
        number(
            "turns_ratio",
            "turns, secondary over primary",
            "",
            (20.0, ratio, 200.0),
        ),
        number(
            "secondary_ohms",
            "secondary resistance",
            "Ω",
            (100.0, secondary, 50_000.0),
        ),
        number(
            "secondary_f",
            "capacitance of the secondary",
            "F",
            (1e-12, 60e-12, 1e-9),
        ),
        number(
            "coupling",
            "share of the flux in common",
            "",
            (0.5, 0.97, 0.999),
        ),
        number(
            "core_ohms",
            "loss of the core, across the primary",
            "Ω",
            (100.0, 1000.0, 1e6),
        ),
    ]
}

/// How windings fail.
pub(super) const MODES: [ModeSpec; 7] = [
    mode("primary_open", "primary winding open", 1.5),
    mode("primary_turns_shorted", "some primary turns shorted", 0.7),
    mode("secondary_open", "secondary winding broken", 1.0),
    mode("secondary_turns_shorted", "secondary turns shorted", 1.0),
    mode(
        "cracked_tower",
        "tower cracked, flashes over to the case",
        0.7,
    ),
    graded(
        "carbon_track",
        "carbon track from tower to case",
        0.7,
        (1e4, 3e5, 1e7),
    ),
    mode(
        "insulation_harmed",
        "insulation harmed inside, by firing with nowhere to spark",
        0.7,
    ),
];

/// Writes both windings; `other` are ohms, henries and turns ratio of a coil that does not belong there.
pub(super) fn stamp(s: &mut Stamp<'_>, ends: &Ends, other: Option<(f64, f64, f64)>) {
    let own = (
        s.param("primary_ohms"),
        s.param("primary_h"),
        s.param("turns_ratio"),
    );
    let (primary_ohms, own, ratio) = other.unwrap_or(own);
    let turns = if s.fault("primary_turns_shorted").is_some() {
        TURNS_LEFT
    } else {
        1.0
    };
    let open = |s: &Stamp<'_>, mode: &str, ohms: f64| match s.fault(mode) {
        Some(_) => f64::INFINITY,
        None => ohms,
    };
    let ohms = open(s, "primary_open", primary_ohms * turns);
    let (inner, far) = (s.internal(), s.internal());
    s.add(
        "primary",
        Role::Load,
        Element::resistor(ends.feed, inner, ohms),
    );
    let henries = own * turns * turns;
    let primary = Element::Inductor {
        a: inner,
        b: ends.switched,
        henries,
    };
    let primary = s.add("primary winding", Role::Load, primary);
    let loss = if s.fault("secondary_turns_shorted").is_some() {
        SHORTED_TURN_OHMS
    } else {
        s.param("core_ohms")
    };
    let core = Element::resistor(inner, ends.switched, loss);
    s.add("core", Role::Stray, core);
    let secondary = Element::Inductor {
        a: far,
        b: ends.low,
        henries: own * ratio * ratio,
    };
    let secondary = s.add("secondary winding", Role::Load, secondary);
    s.couple(primary, secondary, s.param("coupling"));
    let ohms = s.param("secondary_ohms");
    if s.fault("secondary_open").is_some() {
        spark_gap(
            s,
            "secondary",
            Role::Load,
            (ends.high, far),
            (INNER_GAP_V, ohms),
        );
    } else {
        let winding = Element::resistor(ends.high, far, ohms);
        s.add("secondary", Role::Load, winding);
    }
    let own = Element::Capacitor {
        a: ends.high,
        b: ends.low,
        farads: s.param("secondary_f"),
    };
    s.add(TOWER, Role::Stray, own);
    s.insulate(ends.high);
    if ends.low != ends.feed {
        s.insulate(ends.low);
        // What the leads hold lets the easier of two gaps burn on until the other one breaks down.
        for (name, a) in [("lead a", ends.high), ("lead b", ends.low)] {
            let (b, farads) = (ends.case, LEAD_F);
            s.add(name, Role::Stray, Element::Capacitor { a, b, farads });
        }
    }
    s.insulate(far);
    if s.fault("insulation_harmed").is_some() || s.state.drained >= 1.0 {
        let across = (ends.high, ends.low);
        spark_gap(s, "harmed", Role::Stray, across, (HARMED_V, 0.0));
    }
    let track = s.fault("carbon_track").unwrap_or(f64::INFINITY);
    let track = Element::resistor(ends.high, ends.case, track);
    s.add("track", Role::Stray, track);
    if s.fault("cracked_tower").is_some() {
        spark_gap(
            s,
            "crack",
            Role::Stray,
            (ends.high, ends.case),
            (CRACK_V, 0.0),
        );
    }
}

/// How windings fail, and what holds them besides.
pub(super) const fn modes_and(first: ModeSpec, second: ModeSpec) -> [ModeSpec; 9] {
    let [a, b, c, d, e, f, g] = MODES;
    [a, b, c, d, e, f, g, first, second]
}

/// Share of its insulation's life that a coil gains per second: it loses some while it fires with nowhere
/// to spark, and never gains any.
pub(super) fn life_per_s(state: PartState) -> f64 {
    if state.level == 1 {
        -1.0 / (HARMED_MINUTES * 60.0)
    } else {
        0.0
    }
}
