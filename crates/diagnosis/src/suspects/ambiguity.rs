//! Ambiguity: the places that no permitted reading can tell from the fault that is there.

use std::collections::BTreeSet;

use super::table::Table;
use super::tracks::Suspects;
use cimento_bench::BenchError;
use cimento_model::circuit::Place;
use cimento_model::faults::Fault;

/// The places that hold a candidate consistent with everything the machine shows, over the table's
/// measurements: each test point to battery negative and each wire's current in every state of the
/// trial, what modules report, and resistance behind each fuse with fuses and connectors out; and, of the few
/// that these leave, peaks, sparks, timing, screens, drops, the test lamp and exchanges. The fault's own places
/// are always among them.
///
/// # Errors
/// [`BenchError`] when a suspect that has to be asked has no solution.
pub fn ambiguity_group(suspects: &Suspects, table: &Table) -> Result<BTreeSet<Place>, BenchError> {
    let left = table.indistinguishable(suspects.living_roots())?;
    let mut places = table.places(&left);
    places.extend(suspects.lesson().faults.iter().flat_map(Fault::places));
    Ok(places)
}
