//! Gaps that break down and clamps that give way, as every part of an ignition has them.

use cimento_solver::{Node, Shape, Trigger};

use cimento_model::part::Stamp;
use cimento_model::stamped::Role;

/// Volts and ohms of an arc in a gas, the current below which it goes out, and the time until its gas is an
/// insulator again; common practice.
const ARC: (f64, f64) = (600.0, 1000.0);
const HOLD_A: f64 = 0.003;
const RESTS_S: f64 = 50e-6;
/// Resistance of a clamp, and the current below which it lets go.
const CLAMP_OHMS: f64 = 1.0;
const CLAMP_HOLD_A: f64 = 1e-3;

/// Volts and ohms of an arc, and what lights it and puts it out.
pub fn arc(breakdown_v: f64) -> ((f64, f64), Trigger) {
    let trigger = Trigger::Gap {
        breakdown_v,
        in_time: None,
        hold_a: HOLD_A,
        rests_s: RESTS_S,
    };
    (ARC, trigger)
}

/// A gap that a spark jumps at `breakdown_v`, with `ohms` more in its way than the arc's own.
pub(super) fn spark_gap(
    s: &mut Stamp<'_>,
    name: &'static str,
    role: Role,
    ends: (Node, Node),
    (breakdown_v, ohms): (f64, f64),
) {
    let (arc, trigger) = arc(breakdown_v);
    s.switched(name, role, ends, (arc.1 + ohms, arc.0), (false, trigger));
}

/// A spark gap in a gas that is squeezed and let go as time passes: what it needs follows `needs_v`.
pub(super) fn gap_in_a_cylinder(
    s: &mut Stamp<'_>,
    name: &'static str,
    ends: (Node, Node),
    needs_v: Shape,
) {
    let trigger = Trigger::Gap {
        breakdown_v: needs_v.most(),
        in_time: Some(needs_v),
        hold_a: HOLD_A,
        rests_s: RESTS_S,
    };
    s.switched(name, Role::Load, ends, (ARC.1, ARC.0), (false, trigger));
}

/// What keeps the voltage between two nodes under so many volts.
pub(super) fn clamp(s: &mut Stamp<'_>, ends: (Node, Node), volts: f64) {
    let trigger = Trigger::Gap {
        breakdown_v: volts,
        in_time: None,
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
