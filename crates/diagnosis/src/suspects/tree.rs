//! The reference plan as a tree: what to measure, and for each thing it may show, what to measure
//! next. It does not know what is wrong with the machine.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::table::{Proposal, Table};
use super::tracks::Suspects;
use cimento_bench::BenchError;
use cimento_model::circuit::Circuit;

/// A tree is cut off at this depth: it is a mistake in the circuit, not a long search.
const DEEPEST: usize = 40;

/// A place in the tree.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PlanTree {
    /// Places that are possible here.
    pub left: Vec<String>,
    /// What to measure; absent where nothing tells any more.
    pub measure: Option<Box<Branching>>,
}

/// A measurement and where its outcomes lead.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Branching {
    #[serde(flatten)]
    pub measure: Proposal,
    pub outcomes: Vec<Outcome>,
}

/// What a measurement may show, and what then.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Outcome {
    /// "0.00 V", "8.5 V to 12.6 V", "wanders".
    pub shows: String,
    pub then: PlanTree,
}

/// The tree from the complaint on.
///
/// # Errors
/// [`BenchError`] when a suspect that has to be asked has no solution.
pub fn plan_tree(suspects: &Suspects, table: &Table) -> Result<PlanTree, BenchError> {
    let circuit = &suspects.lesson().circuit;
    node(circuit, table, &suspects.living_roots(), Some(0), &[])
}

fn node(
    circuit: &Circuit,
    table: &Table,
    alive: &BTreeSet<usize>,
    now: Option<usize>,
    taken: &[usize],
) -> Result<PlanTree, BenchError> {
    let left = table.names(circuit, alive);
    let best = match left.len() > 1 && taken.len() < DEEPEST {
        true => table.best_but(alive, now, taken)?,
        false => None,
    };
    let Some(choice) = best else {
        return Ok(PlanTree {
            left,
            measure: None,
        });
    };
    let m = &table.measurements[choice.measurement];
    let taken = [taken, &[choice.measurement]].concat();
    let outcomes = table.outcomes(choice.measurement, alive)?.into_iter();
    let outcomes = outcomes.map(|(shows, roots)| {
        Ok(Outcome {
            shows,
            then: node(circuit, table, &roots, Some(m.state), &taken)?,
        })
    });
    Ok(PlanTree {
        left,
        measure: Some(Box::new(Branching {
            measure: table.proposal(choice),
            outcomes: outcomes.collect::<Result<_, BenchError>>()?,
        })),
    })
}

impl PlanTree {
    /// Measurements on the longest way through the tree.
    pub fn depth(&self) -> usize {
        let below = |b: &Branching| b.outcomes.iter().map(|o| o.then.depth()).max().unwrap_or(0);
        self.measure.as_ref().map_or(0, |b| 1 + below(b))
    }
}
