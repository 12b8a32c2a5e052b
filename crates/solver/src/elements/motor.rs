//! DC motor with a permanent field. Unknowns: current and speed.

use super::Speed;
use crate::matrix::Stamper;
use crate::netlist::Node;

/// `v(a) − v(b) − ohms·i − k·w = 0`, and either `w = held` or `k·i − viscous·w = static_nm`.
pub(super) fn stamp(
    s: &mut Stamper<'_>,
    (a, b): (Node, Node),
    extra: usize,
    ohms: f64,
    k: f64,
    speed: Speed,
) {
    let w = extra + 1;
    s.series(a, b, extra, 1.0, -ohms, 0.0);
    s.entry(extra, w, -k);
    let (from_i, own, rhs) = match speed {
        Speed::Held(held) => (0.0, 1.0, held),
        Speed::Balanced { static_nm, viscous } => (k, -viscous, static_nm),
    };
    s.entry(w, extra, from_i);
    s.entry(w, w, own);
    s.rhs(w, rhs);
}
