//! A source that holds a voltage somewhere by sending current somewhere else: what is inside a
//! regulator, whether it feeds a sensor or excites a generator.

use crate::node::Node;
use crate::stamper::Stamper;

/// `v(plus) − v(minus) + ohms·i = volts` with `i` from `a` to `b` through the element, or `i = amps`
/// where `ohms` is infinite.
pub(super) fn stamp(
    s: &mut impl Stamper,
    (a, b): (Node, Node),
    (plus, minus): (Node, Node),
    k: usize,
    (volts, ohms, amps): (f64, f64, f64),
) {
    let limited = ohms.is_infinite();
    let (from_v, own, rhs) = if limited {
        (0.0, 1.0, amps)
    } else {
        (1.0, ohms, volts)
    };
    for (node, sign) in [(a, 1.0), (b, -1.0)] {
        if node.0 > 0 {
            s.entry(node.0 - 1, k, sign);
        }
    }
    for (node, sign) in [(plus, from_v), (minus, -from_v)] {
        if node.0 > 0 {
            s.entry(k, node.0 - 1, sign);
        }
    }
    s.entry(k, k, own);
    s.rhs(k, rhs);
}
