//! What a lesson allows beside measuring, and what it shows.

use std::sync::Arc;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use cimento_bench::instruments::{Function, take};
use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::Circuit;
use cimento_model::state::OperatingState;

/// A kind of thing that is done to the machine, and that a lesson may forbid.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Means {
    /// Unplugging, pulling fuses and relays, taking the battery off.
    TakingApart,
    /// Leads from one point to another.
    Leads,
    JumpPack,
    /// Moving a place or a harness.
    Moving,
    /// Warming, cooling, wetting, drying.
    Climate,
    LookingClosely,
    /// Exchanging two parts that are alike.
    Swapping,
    /// Fitting a part that is known to be good.
    KnownGood,
    /// A needle through the insulation of a wire.
    Piercing,
}

impl Means {
    pub const ALL: [Self; 9] = [
        Self::TakingApart,
        Self::Leads,
        Self::JumpPack,
        Self::Moving,
        Self::Climate,
        Self::LookingClosely,
        Self::Swapping,
        Self::KnownGood,
        Self::Piercing,
    ];

    /// "taking things apart".
    pub fn text(self) -> &'static str {
        match self {
            Self::TakingApart => "taking things apart",
            Self::Leads => "joining points with a lead",
            Self::JumpPack => "a jump pack",
            Self::Moving => "moving harnesses and connectors",
            Self::Climate => "warming, cooling and wetting",
            Self::LookingClosely => "looking closely at a place",
            Self::Swapping => "exchanging parts",
            Self::KnownGood => "fitting known-good parts",
            Self::Piercing => "piercing insulation",
        }
    }
}

/// What the student has at hand of the machine's papers.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(default, deny_unknown_fields)]
pub struct Papers {
    /// The circuit diagram.
    pub diagram: bool,
    /// Views of the connectors from the front.
    pub connectors: bool,
    /// What a healthy machine reads at its test points.
    pub healthy: bool,
}

impl Default for Papers {
    fn default() -> Self {
        Self {
            diagram: true,
            connectors: true,
            healthy: false,
        }
    }
}

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
