//! The ways in which conductors fail: one description each, and which kinds of conductor fail so. Priors are
//! relative to a break in mid-run; common practice says that grounds and contacts fail more often than wires.

use super::{Condition, ModeSpec, mode_spec};
use crate::circuit::{Circuit, Conductor, ConductorKind, LeadKind, SeverityUnit};

/// Length of the damaged stretch of a wire whose strands are cut, in metres; common practice.
const CUT_STRETCH_M: f64 = 0.01;
/// Resistance of aluminium beside copper. Source: IEC 60889 (28.264 nΩ·m) over IEC 60028 (17.241).
const ALLOY_OVER_COPPER: f64 = 28.264 / 17.241;

/// All that is to be known about a way in which conductors fail.
pub struct ConductorMode {
    /// As documents spell it.
    pub name: &'static str,
    /// What its severity is counted in, where it has one.
    pub unit: SeverityUnit,
    /// Its severity counts what is gone: what is left is the axis along which it changes evenly.
    pub by_rest: bool,
    /// What lies at the other end of it.
    pub leads_to: LeadsTo,
    /// How it changes a conductor.
    pub effect: fn(&Damage<'_>) -> Effect,
    /// Where a spark has to jump, seen in time.
    pub jump: Option<Jump>,
    /// The condition under which alone it shows.
    pub shows_only: Option<Condition>,
    /// What a close look at a conductor of a kind shows.
    pub looks: fn(ConductorKind) -> Option<&'static str>,
    /// Whether cleaning and tightening cures it in a conductor of a kind.
    pub cleaned: fn(ConductorKind) -> bool,
}

/// What lies at the other end of a fault.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LeadsTo {
    /// Nothing: it is in the conductor alone.
    Nowhere,
    /// A metal.
    Metal,
    /// The battery's positive post.
    Power,
    /// Another conductor.
    Conductor,
    /// Another conductor whose far side it is exchanged with.
    Crossed,
}

/// Where a spark has to jump, seen in time.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Jump {
    /// In the conductor itself.
    Along,
    /// Out of it.
    Out,
}

/// A conductor with a fault.
pub struct Damage<'a> {
    pub circuit: &'a Circuit,
    pub conductor: &'a Conductor,
    pub length_m: f64,
    /// 0 for a mode without one.
    pub severity: f64,
    /// The node at the other end of it.
    pub to: Option<usize>,
}

/// Ohms in series with a conductor, and ohms with the node of a path beside it.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Effect {
    pub series_ohms: f64,
    pub beside: Option<(f64, usize)>,
}

fn series(series_ohms: f64) -> Effect {
    Effect {
        series_ohms,
        beside: None,
    }
}

fn nothing(_: &Damage<'_>) -> Effect {
    Effect::default()
}

fn parted(_: &Damage<'_>) -> Effect {
    series(f64::INFINITY)
}

fn path_beside(d: &Damage<'_>) -> Effect {
    Effect {
        series_ohms: 0.0,
        beside: d.to.map(|to| (d.severity, to)),
    }
}

impl ConductorMode {
    /// Whether it is between its place and another, which has to be said.
    pub fn is_between(&self) -> bool {
        matches!(self.leads_to, LeadsTo::Conductor | LeadsTo::Crossed)
    }

    /// Whether it takes current out of its conductor, or into it.
    pub fn taps(&self) -> bool {
        !matches!(self.leads_to, LeadsTo::Nowhere | LeadsTo::Crossed)
    }
}

/// What most have in common.
const USUAL: ConductorMode = ConductorMode {
    name: "",
    unit: SeverityUnit::Ohm,
    by_rest: false,
    leads_to: LeadsTo::Nowhere,
    effect: nothing,
    jump: None,
    shows_only: None,
    looks: |_| None,
    cleaned: |_| true,
};

/// What is broken or pushed out of place is not cured by cleaning a cavity.
fn not_in_a_cavity(kind: ConductorKind) -> bool {
    kind != ConductorKind::Cavity
}

static OPEN: ConductorMode = ConductorMode {
    name: "open",
    effect: parted,
    looks: |kind| match kind {
        ConductorKind::Cavity => Some("the terminal sits too far back"),
        ConductorKind::Splice => Some("the joint is dark"),
        ConductorKind::Ground | ConductorKind::Mount => Some("the lug is loose"),
        // A break inside its insulation shows nothing.
        ConductorKind::Wire => None,
    },
    cleaned: not_in_a_cavity,
    ..USUAL
};

static BARELY_REACHES: ConductorMode = ConductorMode {
    name: "barely_reaches",
    effect: parted,
    // It parts when it is pulled.
    shows_only: Some(Condition::Moved),
    looks: |kind| (kind == ConductorKind::Cavity).then_some("the wire is taut at its terminal"),
    cleaned: not_in_a_cavity,
    ..USUAL
};

static HIGH_RESISTANCE: ConductorMode = ConductorMode {
    name: "high_resistance",
    effect: |d| series(d.severity),
    looks: |kind| match kind {
        ConductorKind::Cavity => Some("the contact is green"),
        ConductorKind::Splice => Some("the joint is dark"),
        ConductorKind::Ground | ConductorKind::Mount => Some("rust under the lug"),
        ConductorKind::Wire => None,
    },
    ..USUAL
};

const CHAFED: fn(ConductorKind) -> Option<&'static str> =
    |_| Some("the insulation is chafed through");
const DAMP: fn(ConductorKind) -> Option<&'static str> = |_| Some("it is wet and grey");

static SHORT_TO_GROUND: ConductorMode = ConductorMode {
    name: "short_to_ground",
    leads_to: LeadsTo::Metal,
    effect: path_beside,
    looks: CHAFED,
    ..USUAL
};

static SHORT_TO_POWER: ConductorMode = ConductorMode {
    name: "short_to_power",
    leads_to: LeadsTo::Power,
    effect: path_beside,
    looks: CHAFED,
    ..USUAL
};

static SHORT_BETWEEN: ConductorMode = ConductorMode {
    name: "short_between",
    leads_to: LeadsTo::Conductor,
    effect: path_beside,
    looks: CHAFED,
    ..USUAL
};

static LEAK: ConductorMode = ConductorMode {
    name: "leak",
    leads_to: LeadsTo::Metal,
    effect: path_beside,
    looks: DAMP,
    ..USUAL
};

static LEAK_BETWEEN: ConductorMode = ConductorMode {
    name: "leak_between",
    leads_to: LeadsTo::Conductor,
    effect: path_beside,
    looks: DAMP,
    ..USUAL
};

/// The netlist exchanges the two far sides.
static CROSSED: ConductorMode = ConductorMode {
    name: "crossed",
    leads_to: LeadsTo::Crossed,
    looks: |_| Some("it does not lead where its colour or number says"),
    ..USUAL
};

/// Over its damaged stretch a wire has the rest of its strands.
static STRANDS_CUT: ConductorMode = ConductorMode {
    name: "strands_cut",
    unit: SeverityUnit::Share,
    by_rest: true,
    effect: |d| {
        let stretch = match d.length_m > 0.0 {
            true => (CUT_STRETCH_M / d.length_m).min(1.0),
            false => 1.0,
        };
        series(d.conductor.ohms * stretch * d.severity / (1.0 - d.severity))
    },
    ..USUAL
};

static TOO_THIN: ConductorMode = ConductorMode {
    name: "too_thin",
    unit: SeverityUnit::Share,
    effect: |d| series(d.conductor.ohms * (1.0 / d.severity - 1.0)),
    looks: |_| Some("the wire is thinner than its neighbours"),
    ..USUAL
};

static ALLOY: ConductorMode = ConductorMode {
    name: "alloy",
    effect: |d| series(d.conductor.ohms * (ALLOY_OVER_COPPER - 1.0)),
    ..USUAL
};

static BURNT: ConductorMode = ConductorMode {
    name: "burnt",
    unit: SeverityUnit::Millimetre,
    effect: parted,
    jump: Some(Jump::Along),
    ..USUAL
};

static PINHOLE: ConductorMode = ConductorMode {
    name: "pinhole",
    unit: SeverityUnit::Millimetre,
    leads_to: LeadsTo::Metal,
    // Nothing flows until a spark jumps.
    effect: nothing,
    jump: Some(Jump::Out),
    looks: |_| Some("a pale track from a dot in the boot"),
    ..USUAL
};

static WRONG_KIND: ConductorMode = ConductorMode {
    name: "wrong_kind",
    effect: |d| {
        let healthy = d.conductor.ohms;
        let other = d.conductor.ignition_lead.map(LeadKind::other);
        series(other.map_or(healthy, |o| o.ohms_per_m() * d.length_m) - healthy)
    },
    looks: |_| Some("the lead is printed with another kind"),
    ..USUAL
};

/// Every way in which a conductor fails.
pub static CONDUCTOR_MODES: [&ConductorMode; 15] = [
    &OPEN,
    &BARELY_REACHES,
    &HIGH_RESISTANCE,
    &SHORT_TO_GROUND,
    &SHORT_TO_POWER,
    &SHORT_BETWEEN,
    &LEAK,
    &LEAK_BETWEEN,
    &CROSSED,
    &STRANDS_CUT,
    &TOO_THIN,
    &ALLOY,
    &BURNT,
    &PINHOLE,
    &WRONG_KIND,
];

const fn plain(how: &'static ConductorMode, about: &'static str, prior: f64) -> ModeSpec {
    ModeSpec {
        conductor: Some(how),
        ..mode_spec::mode(how.name, about, prior)
    }
}

const fn graded(
    how: &'static ConductorMode,
    about: &'static str,
    prior: f64,
    range: (f64, f64, f64),
) -> ModeSpec {
    ModeSpec {
        conductor: Some(how),
        ..mode_spec::graded_in(how.unit, how.name, about, prior, range)
    }
}

const SHORT_OHMS: (f64, f64, f64) = (0.001, 0.05, 1000.0);
/// A few milliohms in the cable of a starter already cost a volt.
const SERIES_OHMS: (f64, f64, f64) = (0.003, 2.0, 1e6);
const LEAK_OHMS: (f64, f64, f64) = (1000.0, 10_000.0, 1e6);

static WIRE: [ModeSpec; 10] = [
    plain(&OPEN, "broken through", 1.0),
    graded(
        &HIGH_RESISTANCE,
        "corroded or nearly broken",
        1.0,
        SERIES_OHMS,
    ),
    graded(&SHORT_TO_GROUND, "chafed through to metal", 0.8, SHORT_OHMS),
    graded(
        &SHORT_TO_POWER,
        "chafed against a live feed",
        0.1,
        SHORT_OHMS,
    ),
    graded(
        &SHORT_BETWEEN,
        "chafed against another wire",
        0.1,
        SHORT_OHMS,
    ),
    graded(
        &STRANDS_CUT,
        "some strands cut, share of the area",
        0.3,
        (0.1, 0.9, 0.999),
    ),
    graded(&LEAK, "damp path to metal", 0.2, LEAK_OHMS),
    graded(&LEAK_BETWEEN, "damp path to another wire", 0.1, LEAK_OHMS),
    graded(
        &TOO_THIN,
        "renewed too thin, share of the right area",
        0.1,
        (0.02, 0.3, 0.9),
    ),
    plain(&ALLOY, "renewed in aluminium", 0.05),
];

/// A high-voltage lead.
static LEAD: [ModeSpec; 9] = [
    plain(&OPEN, "parted, its ends far from each other", 0.7),
    graded(
        &HIGH_RESISTANCE,
        "aged, its resistance has risen",
        1.5,
        (1e3, 3e4, 1e6),
    ),
    graded(
        &BURNT,
        "burnt spot, a small gap in its core",
        1.5,
        (0.5, 5.0, 30.0),
    ),
    graded(
        &PINHOLE,
        "pinhole in its boot, so far from metal",
        0.7,
        (0.5, 3.0, 12.0),
    ),
    graded(&SHORT_TO_GROUND, "chafed through to metal", 0.2, SHORT_OHMS),
    graded(&LEAK, "tracks to metal", 0.5, LEAK_OHMS),
    graded(&LEAK_BETWEEN, "tracks to another lead", 0.1, LEAK_OHMS),
    plain(&CROSSED, "exchanged with another lead", 0.5),
    plain(&WRONG_KIND, "lead of the wrong kind fitted", 0.2),
];

static CAVITY: [ModeSpec; 6] = [
    plain(&OPEN, "terminal pushed back or spread", 2.5),
    graded(&HIGH_RESISTANCE, "green or loose contact", 3.0, SERIES_OHMS),
    graded(&SHORT_TO_GROUND, "touches metal", 0.2, SHORT_OHMS),
    graded(&LEAK, "damp path to metal", 0.4, LEAK_OHMS),
    plain(
        &BARELY_REACHES,
        "conductor barely reaches its terminal",
        0.3,
    ),
    plain(&CROSSED, "wires exchanged with another cavity", 0.1),
];

static JOINT: [ModeSpec; 4] = [
    plain(&OPEN, "joint broken", 1.5),
    graded(&HIGH_RESISTANCE, "poor joint", 2.5, SERIES_OHMS),
    graded(&SHORT_TO_GROUND, "touches metal", 0.2, SHORT_OHMS),
    graded(&LEAK, "damp path to metal", 0.3, LEAK_OHMS),
];

static LUG: [ModeSpec; 2] = [
    plain(&OPEN, "loose, or paint under it", 3.0),
    graded(&HIGH_RESISTANCE, "corroded or loose", 4.0, SERIES_OHMS),
];

/// The ways a conductor can fail.
pub fn conductor_modes(conductor: &Conductor) -> &'static [ModeSpec] {
    match conductor.kind {
        ConductorKind::Wire if conductor.ignition_lead.is_some() => &LEAD,
        ConductorKind::Wire => &WIRE,
        ConductorKind::Cavity => &CAVITY,
        ConductorKind::Splice => &JOINT,
        ConductorKind::Ground | ConductorKind::Mount => &LUG,
    }
}
