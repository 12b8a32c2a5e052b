//! Ambiguity: the places that no permitted reading can tell from the fault that is there.

use std::collections::BTreeSet;

use super::table::Table;
use super::tracks::Suspects;
use cimento_model::circuit::Place;
use cimento_model::faults::Fault;

/// The places of what no measurement of the table tells from the machine: each test point to battery negative and each
/// wire's current in every state of the trial, what modules report, and resistance behind each fuse with fuses and
/// connectors out; and, of the few that these leave, peaks, sparks, timing, screens, drops, the test lamp and
/// exchanges. The fault's own places are always among them.
pub(super) fn ambiguity_group(
    suspects: &Suspects,
    table: &Table,
    alike: &BTreeSet<usize>,
) -> BTreeSet<Place> {
    let mut places = table.places(alike);
    places.extend(suspects.lesson().faults.iter().flat_map(Fault::places));
    places
}
