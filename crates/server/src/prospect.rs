//! What a lesson is in for.

use cimento_bench::BenchError;
use cimento_diagnosis::course::Proof;
use cimento_diagnosis::lesson::contradictions;
use cimento_diagnosis::suspects::{Plan, Reference};
use cimento_model::circuit::Place;
use cimento_model::faults::Fault;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// What a lesson's meter and states can show of its fault.
#[derive(Clone, Serialize, Deserialize, ToSchema)]
pub(crate) struct Prospect {
    /// Its fault can be told from every other.
    provable: bool,
    /// What it cannot be told from, its own places first among them.
    group: Vec<String>,
    pub(crate) plan: Plan,
    /// What the instructor should know before giving it out; empty when all is well.
    warning: String,
    /// Where the customer's words contradict what the machine does.
    contradictions: Vec<String>,
    /// What is proven of it, and what it practises.
    proof: Proof,
}

impl Prospect {
    /// What is proven of the lesson.
    pub(crate) fn into_proof(self) -> Proof {
        self.proof
    }

    /// What a reference says of its lesson.
    ///
    /// # Errors
    /// [`BenchError`] when a circuit that has to be computed has no solution.
    pub(crate) fn of(reference: &Reference) -> Result<Self, BenchError> {
        let lesson = &reference.lesson;
        let circuit = &reference.lesson.circuit;
        let own: Vec<Place> = reference
            .lesson
            .faults
            .iter()
            .flat_map(Fault::places)
            .collect();
        let others = reference.group.iter().filter(|p| !own.contains(p));
        let names = |p: &Place| circuit.place_id(*p).to_owned();
        let others: Vec<String> = others.map(names).collect();
        let warning = if others.is_empty() {
            String::new()
        } else {
            format!(
                "With these instruments the fault cannot be told from one at {}; naming any of them counts as right.",
                others.join(", ")
            )
        };
        Ok(Self {
            provable: others.is_empty(),
            group: own.iter().map(names).chain(others).collect(),
            plan: reference.plan.clone(),
            warning,
            contradictions: contradictions(&lesson.words, &lesson.symptom),
            proof: Proof::of(reference)?,
        })
    }
}
