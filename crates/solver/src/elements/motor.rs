//! DC motor with a permanent field. Unknowns: current and speed.

use super::Load;
use crate::node::Node;
use crate::stamper::Stamper;

/// `v(a) − v(b) − ohms·i − k·w = 0`, and either `w = held` or `k·i − viscous·w = static_nm`.
pub(super) fn stamp(
    s: &mut impl Stamper,
    (a, b): (Node, Node),
    extra: usize,
    (ohms, k): (f64, f64),
    load: Load,
    held: Option<f64>,
) {
    let w = extra + 1;
    s.series((a, b), extra, (1.0, -ohms), 0.0);
    s.entry(extra, w, -k);
    let (from_i, own, rhs) = match held {
        Some(held) => (0.0, 1.0, held),
        None => (k, -load.viscous, load.static_nm),
    };
    s.entry(w, extra, from_i);
    s.entry(w, w, own);
    s.rhs(w, rhs);
}
