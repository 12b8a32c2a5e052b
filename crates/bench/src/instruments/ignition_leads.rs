//! High-voltage leads, as the instruments of an ignition are clipped round or put on the end of them.

use super::take::TakeError;
use cimento_model::circuit::{Circuit, ConductorKind, Part};

/// The position of a lead among the conductors.
///
/// # Errors
/// [`TakeError`] when the name is no wire.
pub(super) fn wire(circuit: &Circuit, lead: &str) -> Result<usize, TakeError> {
    let mut conductors = circuit.conductors.iter();
    let at = conductors.position(|c| c.kind == ConductorKind::Wire && c.id == lead);
    at.ok_or_else(|| TakeError::NoWire(lead.to_owned()))
}

/// The plug that a lead leads to, with its position.
///
/// # Errors
/// [`TakeError`] when it leads to none; `what` begins the sentence that says so.
pub(super) fn plug<'c>(
    circuit: &'c Circuit,
    lead: &str,
    what: &str,
) -> Result<(usize, &'c Part), TakeError> {
    let wire = &circuit.conductors[wire(circuit, lead)?];
    let ends = [wire.a, wire.b];
    let mut parts = circuit.parts.iter().enumerate();
    let plug = parts.find(|(_, p)| p.kind.sparks() && ends.contains(&p.nodes[0]));
    plug.ok_or_else(|| TakeError::Setting(format!("{what}: {lead} leads to no plug")))
}
