//! Cylinder drop: one plug after the other is held dark while the engine runs, and one sees by how much it
//! slows down. A cylinder that did no work is not missed.

use super::leads;
use super::reading::Shown;
use super::take::TakeError;
use crate::Bench;
use cimento_model::state::Engine;
use cimento_model::units::{Quantity, Unit};

/// What an engine loses of its speed with one of its firing cylinders, times how many fire: a tenth on four
/// cylinders; common practice.
const SHARE: f64 = 0.4;
/// Its display goes by so many revolutions per minute, and an engine's speed wanders by about twice that.
const STEP_RPM: f64 = 10.0;
pub(super) const ACCURACY_RPM: f64 = 2.0 * STEP_RPM;

/// Revolutions per minute that a running engine loses without the plug of a lead; all of them when it was
/// the last that fired, none while it is cranked or stands.
///
/// # Errors
/// [`TakeError`] when the lead leads to no plug.
pub(super) fn rpm(bench: &Bench, lead: &str) -> Result<f64, TakeError> {
    let what = "the cylinder-drop tester holds a plug dark";
    let (at, _) = leads::plug(&bench.circuit, lead, what)?;
    let (firing, _) = bench.firing();
    let works = bench.parts()[at].level == 1 && bench.state().engine == Engine::Running;
    Ok(match (works, firing) {
        (false, _) => 0.0,
        (true, 1) => bench.rpm(),
        (true, firing) => bench.rpm() * SHARE / firing as f64,
    })
}

/// The tester as one sees it.
pub(super) fn shown(rpm: f64) -> Shown {
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
