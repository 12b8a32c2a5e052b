//! What a sound machine reads at its test points, state by state.

use std::sync::Arc;

use cimento_bench::instruments::{Function, take};
use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::Circuit;
use cimento_model::state::OperatingState;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a healthy machine reads at its test points to battery negative in one state, as its papers
/// list it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct HealthySheet {
    pub state: String,
    /// Test point with what a voltmeter shows.
    pub readings: Vec<[String; 2]>,
}

/// The healthy voltages of a machine in every state that it is tried in.
///
/// # Errors
/// [`BenchError`] when the circuit has no solution.
pub fn healthy_sheets(circuit: &Arc<Circuit>) -> Result<Vec<HealthySheet>, BenchError> {
    let negative = circuit.point_at(0).map(|p| p.id.as_str());
    let mut bench = Bench::new(circuit, &[])?;
    let mut out: Vec<HealthySheet> = Vec::new();
    for trial in OperatingState::trial(circuit) {
        bench.set(trial.state)?;
        let state = bench.state().about();
        if out.iter().any(|sheet| sheet.state == state) {
            continue;
        }
        let mut readings = Vec::new();
        for point in circuit.test_points.iter().filter(|p| p.node != 0) {
            let red = Some(point.id.as_str());
            // Where there are kilovolts a meter has no business, and its papers list nothing.
            if let Ok(reading) = take(&bench, Function::DC_VOLTS, None, red, negative) {
                let shown = &reading.shown;
                readings.push([point.id.clone(), format!("{} {}", shown.text, shown.unit)]);
            }
        }
        out.push(HealthySheet { state, readings });
    }
    Ok(out)
}
