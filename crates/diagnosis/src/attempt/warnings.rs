//! What one is warned of once more before doing it.

use serde::Serialize;
use serde_json::{Map, Value};
use utoipa::ToSchema;

use cimento_model::circuit::{Circuit, DangerousAct};
use cimento_parts::ON_THE_BLOCK;

/// A warning with what it is meant for.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Warning {
    pub act: DangerousAct,
    pub text: String,
    /// It is meant for an action that holds all that one of these holds.
    #[schema(value_type = Vec<std::collections::HashMap<String, Value>>)]
    pub before: Vec<Map<String, Value>>,
}

/// The warnings at a circuit.
pub fn warnings(circuit: &Circuit) -> Vec<Warning> {
    let all = circuit.dangers().into_iter();
    all.map(|danger| Warning {
        before: before(danger.act, circuit),
        act: danger.act,
        text: danger.text,
    })
    .collect()
}

fn before(act: DangerousAct, circuit: &Circuit) -> Vec<Map<String, Value>> {
    match act {
        DangerousAct::JoinUnfused => vec![holds("join", "fused", false)],
        DangerousAct::Amps => vec![holds("take_reading", "function", "dc_amps")],
        DangerousAct::BatteryOff => {
            let sources = circuit.parts.iter().filter(|p| p.kind.is_source());
            sources
                .map(|p| holds("take_apart", "what", p.id.as_str()))
                .collect()
        }
        DangerousAct::GroundOff => {
            let grounds = circuit.undone();
            grounds
                .map(|id| holds("take_apart", "what", id.as_str()))
                .collect()
        }
        DangerousAct::OpenSpark => vec![holds("set_control", "position", ON_THE_BLOCK)],
    }
}

/// An action with something in one of its fields.
fn holds(action: &str, field: &str, value: impl Into<Value>) -> Map<String, Value> {
    let both = [("do", Value::from(action)), (field, value.into())];
    both.map(|(field, value)| (field.to_owned(), value))
        .into_iter()
        .collect()
}
