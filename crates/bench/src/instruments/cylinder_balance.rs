//! Cylinder balance: one plug after the other is held dark while the engine runs, and one sees by how much it
//! slows down. A cylinder that did no work is not missed.

use super::function::{Function, Instrument, Leads, PutOn, Range, on_plugs};
use super::ignition_leads;
use super::reading::Shown;
use super::take::Held;
use super::take::TakeError;
use crate::Bench;
use cimento_model::circuit::Circuit;
use cimento_model::state::Engine;
use cimento_model::state::OperatingState;
use cimento_model::units::{Quantity, Unit};

/// What an engine loses of its speed with one of its firing cylinders, times how many fire: a tenth on four
/// cylinders; common practice.
const SHARE: f64 = 0.4;
/// Its display goes by so many revolutions per minute, and an engine's speed wanders by about twice that.
const STEP_RPM: f64 = 10.0;
const ACCURACY_RPM: f64 = 2.0 * STEP_RPM;

/// Cylinders whose drops differ by less than this share do their work alike; common practice.
const ALIKE: f64 = 0.4;

/// Revolutions per minute that a running engine loses without the plug of a lead; all of them when it was
/// the last that fired, none while it is cranked or stands.
///
/// # Errors
/// [`TakeError`] when the lead leads to no plug.
fn rpm(bench: &Bench, lead: &str) -> Result<f64, TakeError> {
    let what = "the cylinder balance tester holds a plug dark";
    let (at, _) = ignition_leads::plug(&bench.circuit, lead, what)?;
    let (firing, _) = bench.firing();
    let works = bench.parts()[at].level == 1 && bench.state().engine == Engine::Running;
    Ok(match (works, firing) {
        (false, _) => 0.0,
        (true, 1) => bench.rpm(),
        (true, firing) => bench.rpm() * SHARE / firing as f64,
    })
}

/// The tester as one sees it.
fn shown(rpm: f64) -> Shown {
    let whole = (rpm / STEP_RPM).round() * STEP_RPM;
    Shown {
        text: format!("{whole:.0}"),
        unit: Unit::Rpm.sign().to_owned(),
        range: "one plug held dark".to_owned(),
        value: Quantity::Number(whole),
        wanders: None,
        beeps: false,
    }
}

/// What holds one plug dark.
pub(super) struct CylinderBalance;

impl Function {
    pub const CYLINDER_BALANCE: Self = Self::of(&CylinderBalance);
}

impl Instrument for CylinderBalance {
    fn name(&self) -> &'static str {
        "cylinder_drop"
    }

    fn label(&self) -> &'static str {
        "Cylinder balance"
    }

    fn title(&self) -> &'static str {
        "cylinder balance"
    }

    fn unit(&self) -> Unit {
        Unit::Rpm
    }

    fn put_on(&self) -> PutOn {
        PutOn::IgnitionLead
    }

    fn ranges(&self) -> &'static [Range] {
        &[Range(600.0)]
    }

    fn is_ranged(&self) -> bool {
        false
    }

    fn step(&self, _range: Range) -> f64 {
        STEP_RPM
    }

    fn accuracy(&self, _value: f64, _range: Range) -> f64 {
        ACCURACY_RPM
    }

    fn tolerance(&self, _share: f64, healthy: f64) -> f64 {
        ALIKE * healthy
    }

    fn proposes(&self, circuit: &Circuit, state: &OperatingState) -> Vec<Leads> {
        match state.engine {
            Engine::Running => on_plugs(circuit),
            Engine::Stopped => Vec::new(),
        }
    }

    fn at(&self, held: &Held<'_>, lead: &str) -> Result<Shown, TakeError> {
        Ok(shown(rpm(held.bench, lead)?))
    }
}
