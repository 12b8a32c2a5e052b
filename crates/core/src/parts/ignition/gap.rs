//! Gaps that break down and clamps that give way, as every part of an ignition has them.

use cimento_solver::{Node, Trigger};

use crate::bench::Role;
use crate::parts::Stamp;

/// Volts and ohms of an arc in a gas, the current below which it goes out, and the time until its gas is an
/// insulator again; common practice.
const ARC: (f64, f64) = (600.0, 1000.0);
const HOLD_A: f64 = 0.003;
const RESTS_S: f64 = 50e-6;
/// Resistance of a clamp, and the current below which it lets go.
const CLAMP_OHMS: f64 = 1.0;
const CLAMP_HOLD_A: f64 = 1e-3;

/// A gap that a spark jumps at `breakdown_v`, with `ohms` more in its way than the arc's own.
pub(super) fn spark_gap(
    s: &mut Stamp<'_>,
    name: &'static str,
    role: Role,
    ends: (Node, Node),
    (breakdown_v, ohms): (f64, f64),
) {
    let trigger = Trigger::Gap {
        breakdown_v,
        hold_a: HOLD_A,
        rests_s: RESTS_S,
    };
    s.switched(name, role, ends, (ARC.1 + ohms, ARC.0), (false, trigger));
}

/// What keeps the voltage between two nodes under so many volts.
pub(super) fn clamp(s: &mut Stamp<'_>, ends: (Node, Node), volts: f64) {
    let trigger = Trigger::Gap {
        breakdown_v: volts,
        hold_a: CLAMP_HOLD_A,
        rests_s: 0.0,
    };
    s.switched(
        "clamp",
        Role::Stray,
        ends,
        (CLAMP_OHMS, volts),
        (false, trigger),
    );
}
