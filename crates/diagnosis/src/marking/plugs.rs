//! Plugs that were put back crossed, for want of a label.

use super::case::Case;
use super::slips::{Slip, SlipKind};

/// The slips with plugs that look alike.
pub(super) fn of_plugs<'a>(case: &'a Case<'_>) -> impl Iterator<Item = Slip> + 'a {
    case.plugs_crossed.iter().map(|(step, [a, b])| Slip {
        step: *step,
        kind: SlipKind::PlugsCrossed,
        text: format!(
            "{a} and {b} look alike: they were apart together without a label, and were put back crossed."
        ),
    })
}
