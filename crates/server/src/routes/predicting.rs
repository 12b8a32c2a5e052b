//! Readings that a lesson may ask its students to predict, and test sheets that it may have them fill in, for the
//! instructor who chooses among them.

use std::sync::Arc;

use axum::Json;
use axum::extract::State;
use cimento_bench::instruments::{Function, Shown};
use cimento_diagnosis::lesson::{Limits, ProposedSheets, all_functions, propose_sheets};
use cimento_diagnosis::predict::{AskedReading, LONGEST, Truth, propose};
use cimento_model::circuit::{Circuit, Refused};
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
    OpenApiRouter::new()
        .routes(routes!(predictions))
        .routes(routes!(test_sheets))
}

/// A machine of which readings are to be predicted, or a sheet filled in.
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

impl Machine {
    /// Its circuit and faults, checked.
    fn built(&self, s: &AppState, id: i32) -> Result<(Arc<Circuit>, Vec<Fault>), Problem> {
        let circuit = build_circuit(super::lessons::circuit_of(s, id, self.version)?)?;
        self.limits.check().map_err(Problem::bad)?;
        let faults = self.faults.iter().enumerate();
        let faults = faults
            .map(|(n, doc)| Fault::read(&circuit, doc, &format!("faults[{n}]")))
            .collect::<Result<Vec<_>, _>>()
            .map_err(|p| Problem::from(Refused(vec![p])))?;
        Ok((circuit, faults))
    }
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
        let (circuit, faults) = machine.built(s, id)?;
        let functions = machine.functions.unwrap_or_else(all_functions);
        let readings = propose(&circuit, &faults, &machine.limits, &functions)?;
        Ok(Proposals {
            most: LONGEST,
            readings: readings.into_iter().map(ProposedReading::of).collect(),
        })
    });
    Ok(Json(found.await?))
}

/// Test sheets that can be filled in at a circuit with some faults: surveys of what carries much, harnesses off the
/// machine, plugs without marks.
#[utoipa::path(post, operation_id = "circuits_test_sheets", path = "/api/circuits/{id}/test-sheets", params(("id" = i32, Path)), request_body = Machine, responses((status = 200, body = ProposedSheets), (status = 404, body = Problem), (status = 422, body = Problem)))]
async fn test_sheets(
    State(state): State<AppState>,
    _: Instructor,
    Path(id): Path<i32>,
    Body(machine): Body<Machine>,
) -> Result<Json<ProposedSheets>, Problem> {
    let found = state.work(move |s| {
        let (circuit, faults) = machine.built(s, id)?;
        Ok(propose_sheets(&circuit, &faults, &machine.limits)?)
    });
    Ok(Json(found.await?))
}
