//! What the boxes of capacitor ignitions have in common: a capacitor charged to some hundreds of volts,
//! and a thyristor that empties it into a coil.

use cimento_solver::{Element, Node, Trigger};

use super::gap::clamp;
use cimento_model::circuit::SeverityUnit;
use cimento_model::faults::{ModeSpec, graded_in};
use cimento_model::part::Stamp;
use cimento_model::stamped::Role;

/// Capacitor, in farads, and what drains it while nothing happens, in ohms; common practice.
const FARADS: f64 = 1e-6;
const BLEED_OHMS: f64 = 5e5;
/// What the capacitor is kept under, in volts.
const CLAMP_V: f64 = 420.0;
/// Thyristor when it conducts, in ohms and volts; common practice.
const CONDUCTS: (f64, f64) = (0.1, 1.0);
/// A rectifier when it conducts, in ohms and volts; common practice.
const RECTIFIER: (f64, f64) = (0.5, 0.8);

/// How the capacitor fails.
pub(super) const WEAK: ModeSpec = graded_in(
    SeverityUnit::Share,
    "capacitor_weak",
    "capacitor aged, share of it left",
    0.5,
    (0.005, 0.05, 0.5),
);

/// A rectifier from `a` to `b`. It opens and closes as a whole: beside hundreds of volts the curve of a
/// junction is nothing, and following it is slow.
pub(super) fn rectifier(s: &mut Stamp<'_>, name: &'static str, ends: (Node, Node)) {
    s.switched(
        name,
        Role::Contact,
        ends,
        RECTIFIER,
        (false, Trigger::Rectifier),
    );
}

/// The capacitor between a node and ground, with the diode that carries the coil's current on once it
/// is empty.
pub(super) fn store(s: &mut Stamp<'_>, full: Node, ground: Node) {
    let farads = match s.fault(WEAK.name) {
        Some(share) => FARADS * share,
        None => FARADS,
    };
    let capacitor = Element::Capacitor {
        a: full,
        b: ground,
        farads,
    };
    s.add("capacitor", Role::Stray, capacitor);
    s.add(
        "bleed",
        Role::Stray,
        Element::resistor(full, ground, BLEED_OHMS),
    );
    rectifier(s, "return", (ground, full));
    clamp(s, (full, ground), CLAMP_V);
}

/// A gate with the volts it fires at, and the amperes under which its thyristor lets go.
pub(super) struct Gate {
    pub gate: Node,
    pub cathode: Node,
    pub volts: f64,
    pub hold_a: f64,
}

/// The thyristor that empties the capacitor into a coil.
pub(super) fn thyristor(
    s: &mut Stamp<'_>,
    name: &'static str,
    (full, coil): (Node, Node),
    gate: Option<Gate>,
) {
    let trigger = match gate {
        Some(gate) => Trigger::Thyristor {
            gate: gate.gate,
            cathode: gate.cathode,
            gate_v: gate.volts,
            hold_a: gate.hold_a,
        },
        None => Trigger::Schedule(Vec::new()),
    };
    s.switched(
        name,
        Role::Contact,
        (full, coil),
        CONDUCTS,
        (false, trigger),
    );
}
