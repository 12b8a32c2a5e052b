//! Readings that a lesson may ask its students to predict, for the instructor who chooses among them.

use axum::Json;
use axum::extract::State;
use cimento_bench::instruments::{Function, Shown};
use cimento_diagnosis::lesson::{Limits, all_functions};
use cimento_diagnosis::predict::{AskedReading, LONGEST, Truth, propose};
use cimento_model::faults::{Fault, FaultDoc};
use cimento_parts::build_circuit;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::extract::{Body, Path};
use crate::problem::Problem;
use crate::session::Instructor;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(predictions))
}

/// A machine of which readings are to be predicted.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct Machine {
    /// The version of the circuit; the present one when absent.
    #[serde(default)]
    version: Option<i32>,
    faults: Vec<FaultDoc>,
    #[serde(default)]
    limits: Limits,
    /// What may be measured with; everything when absent.
    #[serde(default)]
    functions: Option<Vec<Function>>,
}

/// Readings worth asking for, the best first.
#[derive(Serialize, ToSchema)]
struct Proposals {
    /// Most readings that one lesson asks for.
    most: usize,
    readings: Vec<ProposedReading>,
}

/// A reading worth asking for.
#[derive(Serialize, ToSchema)]
struct ProposedReading {
    asked: AskedReading,
    /// The state in words.
    state: String,
    shown: Shown,
    tolerance: f64,
    /// The reasons that hold; empty where none is asked for.
    reasons: Vec<&'static str>,
}

impl ProposedReading {
    fn of(truth: Truth) -> Self {
        Self {
            asked: truth.asked,
            state: truth.state,
            shown: truth.shown,
            tolerance: truth.tolerance,
            reasons: truth.holds.iter().map(|r| r.text()).collect(),
        }
    }
}

/// Readings that are worth asking for of a circuit with some faults: of many kinds, in several states.
#[utoipa::path(post, operation_id = "circuits_predictions", path = "/api/circuits/{id}/predictions", params(("id" = i32, Path)), request_body = Machine, responses((status = 200, body = Proposals), (status = 404, body = Problem), (status = 422, body = Problem)))]
async fn predictions(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
    Body(machine): Body<Machine>,
) -> Result<Json<Proposals>, Problem> {
    let found = state.work(move |s| {
        let circuit = build_circuit(super::lessons::circuit_of(s, id, machine.version)?)?;
        machine.limits.check().map_err(Problem::bad)?;
        let faults = machine.faults.iter().enumerate();
        let faults = faults
            .map(|(n, doc)| Fault::read(&circuit, doc, &format!("faults[{n}]")))
            .collect::<Result<Vec<_>, _>>()
            .map_err(|p| Problem::from(cimento_model::circuit::Refused(vec![p])))?;
        let functions = machine.functions.unwrap_or_else(all_functions);
        let readings = propose(&circuit, &faults, &machine.limits, &functions)?;
        Ok(Proposals {
            most: LONGEST,
            readings: readings.into_iter().map(ProposedReading::of).collect(),
        })
    });
    Ok(Json(found.await?))
}
