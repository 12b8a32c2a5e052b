//! Clamp ammeter: it touches nothing and reads the current of one wire.

use super::display::display;
use super::function::{Function, Instrument, Keyed, Leads, PutOn, Range};
use super::reading::Shown;
use super::take::Held;
use super::take::TakeError;
use crate::{Bench, Point};
use cimento_model::circuit::Circuit;
use cimento_model::circuit::{Conductor, ConductorKind, Place};
use cimento_model::stamped::STRAYS;
use cimento_model::state::OperatingState;
use cimento_model::units::Unit;

/// Its accuracy, and how far off a current is that is still normal, beside a share of it; common practice.
const ACCURACY: f64 = 0.02;
const ACCURACY_A: f64 = 0.3;
const NORMAL_A: f64 = 1.0;

/// Least and most amperes in a wire; the jaws are put on so that it reads positive.
///
/// # Errors
/// [`TakeError::NoWire`] for anything that is no wire.
fn amps(bench: &Bench, id: &str) -> Result<(f64, f64), TakeError> {
    let wire = |c: &Conductor| c.kind == ConductorKind::Wire && c.id == id;
    let at = bench.circuit.conductors.iter().position(wire);
    let place = Place::Conductor(at.ok_or_else(|| TakeError::NoWire(id.to_owned()))?);
    let amps = |p: &Point| {
        let current = |name: &str| {
            let line = p.wiring.tagged(place, name);
            line.map_or(0.0, |l| p.op.current(l.element))
        };
        match p.wiring.tagged(place, "before") {
            Some(line) => p.op.current(line.element).abs(),
            // What leaves by a path beside it has come in at its first end.
            None => (current("through") + current(STRAYS[0])).abs(),
        }
    };
    Ok(bench.settled().range(amps).unwrap_or((0.0, 0.0)))
}

/// Clamp ammeter: ±(2 % + 0.3 A); common practice.
pub(super) struct ClampAmps;

impl Function {
    pub const CLAMP_AMPS: Self = Self::of(&ClampAmps);
}

impl Instrument for ClampAmps {
    fn name(&self) -> &'static str {
        "clamp_amps"
    }

    fn label(&self) -> &'static str {
        "Clamp"
    }

    fn title(&self) -> &'static str {
        "the clamp"
    }

    fn unit(&self) -> Unit {
        Unit::Ampere
    }

    fn put_on(&self) -> PutOn {
        PutOn::Wire
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(60.0), Range(600.0)]
    }

    fn accuracy(&self, value: f64, _range: Range) -> f64 {
        ACCURACY * value.abs() + ACCURACY_A
    }

    fn tolerance(&self, share: f64, healthy: f64) -> f64 {
        share * healthy.abs() + NORMAL_A
    }

    fn keyed(&self) -> Keyed {
        Keyed::Wires
    }

    fn proposes(&self, circuit: &Circuit, state: &OperatingState) -> Vec<Leads> {
        if state.key == OperatingState::at_rest(circuit).key {
            return Vec::new();
        }
        let wires = circuit
            .conductors
            .iter()
            .filter(|c| c.kind == ConductorKind::Wire);
        wires.map(|c| (c.id.clone(), None)).collect()
    }

    fn at(&self, held: &Held<'_>, wire: &str) -> Result<Shown, TakeError> {
        let amps = amps(held.bench, wire)?;
        Ok(display(held.meter, Function::CLAMP_AMPS, held.range, amps))
    }
}
