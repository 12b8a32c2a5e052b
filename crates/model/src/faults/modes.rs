//! The modes of conductors. Priors are relative to a break in mid-run; common practice says that
//! grounds and contacts fail more often than wires.

use crate::circuit::{Conductor, ConductorKind, SeverityUnit};
use crate::faults::{ModeSpec, graded, graded_in, mode};

const SHORT_OHMS: (f64, f64, f64) = (0.001, 0.05, 1000.0);
const SERIES_OHMS: (f64, f64, f64) = (0.01, 2.0, 1e6);
const LEAK_OHMS: (f64, f64, f64) = (1000.0, 10_000.0, 1e6);

static WIRE: [ModeSpec; 10] = [
    mode("open", "broken through", 1.0),
    graded(
        "high_resistance",
        "corroded or nearly broken",
        1.0,
        SERIES_OHMS,
    ),
    graded(
        "short_to_ground",
        "chafed through to metal",
        0.8,
        SHORT_OHMS,
    ),
    graded(
        "short_to_power",
        "chafed against a live feed",
        0.1,
        SHORT_OHMS,
    ),
    graded(
        "short_between",
        "chafed against another wire",
        0.1,
        SHORT_OHMS,
    ),
    graded_in(
        SeverityUnit::Share,
        "strands_cut",
        "some strands cut, share of the area",
        0.3,
        (0.1, 0.9, 0.999),
    ),
    graded("leak", "damp path to metal", 0.2, LEAK_OHMS),
    graded("leak_between", "damp path to another wire", 0.1, LEAK_OHMS),
    graded_in(
        SeverityUnit::Share,
        "too_thin",
        "renewed too thin, share of the right area",
        0.1,
        (0.02, 0.3, 0.9),
    ),
    mode("alloy", "renewed in aluminium", 0.05),
];

/// A high-voltage lead.
static LEAD: [ModeSpec; 9] = [
    mode("open", "parted, its ends far from each other", 0.7),
    graded(
        "high_resistance",
        "aged, its resistance has risen",
        1.5,
        (1e3, 3e4, 1e6),
    ),
    graded_in(
        SeverityUnit::Millimetre,
        "burnt",
        "burnt spot, a small gap in its core",
        1.5,
        (0.5, 5.0, 30.0),
    ),
    graded_in(
        SeverityUnit::Millimetre,
        "pinhole",
        "pinhole in its boot, so far from metal",
        0.7,
        (0.5, 3.0, 12.0),
    ),
    graded(
        "short_to_ground",
        "chafed through to metal",
        0.2,
        SHORT_OHMS,
    ),
    graded("leak", "tracks to metal", 0.5, LEAK_OHMS),
    graded("leak_between", "tracks to another lead", 0.1, LEAK_OHMS),
    mode("crossed", "exchanged with another lead", 0.5),
    mode("wrong_kind", "lead of the wrong kind fitted", 0.2),
];

static CAVITY: [ModeSpec; 6] = [
    mode("open", "terminal pushed back or spread", 2.5),
    graded(
        "high_resistance",
        "green or loose contact",
        3.0,
        SERIES_OHMS,
    ),
    graded("short_to_ground", "touches metal", 0.2, SHORT_OHMS),
    graded("leak", "damp path to metal", 0.4, LEAK_OHMS),
    mode(
        "barely_reaches",
        "conductor barely reaches its terminal",
        0.3,
    ),
    mode("crossed", "wires exchanged with another cavity", 0.1),
];

static JOINT: [ModeSpec; 4] = [
    mode("open", "joint broken", 1.5),
    graded("high_resistance", "poor joint", 2.5, SERIES_OHMS),
    graded("short_to_ground", "touches metal", 0.2, SHORT_OHMS),
    graded("leak", "damp path to metal", 0.3, LEAK_OHMS),
];

static LUG: [ModeSpec; 2] = [
    mode("open", "loose, or paint under it", 3.0),
    graded("high_resistance", "corroded or loose", 4.0, SERIES_OHMS),
];

/// The ways a conductor can fail.
pub fn conductor_modes(conductor: &Conductor) -> &'static [ModeSpec] {
    match conductor.kind {
        ConductorKind::Wire if conductor.lead.is_some() => &LEAD,
        ConductorKind::Wire => &WIRE,
        ConductorKind::Cavity => &CAVITY,
        ConductorKind::Splice => &JOINT,
        ConductorKind::Ground | ConductorKind::Mount => &LUG,
    }
}
