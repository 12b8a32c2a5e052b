//! What practice says at once: a verdict, a clearance or a repair that is wrong, with its reason.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::case::{Case, is_repair, same_unit};
use super::claims::ClaimKind;
use super::{clearing, verdicts};
use crate::attempt::Action;
use crate::attempt::actions::Repair;
use cimento_model::circuit::Place;

/// What was wrong with a step, in a sentence.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Corrected {
    pub step: usize,
    pub text: String,
}

/// Every claim and repair that is wrong as it stands, in the order of the steps. Nothing is said of what was not
/// claimed yet, and where the fault is to nobody.
pub fn corrected(case: &Case<'_>) -> Vec<Corrected> {
    let mut out = verdicts::wrong(case);
    let too_soon = case.claims.iter();
    out.extend(
        too_soon
            .filter(|c| c.kind == ClaimKind::Cleared && !c.justified)
            .map(|c| Corrected {
                step: c.step,
                text: clearing::too_soon(case, c),
            }),
    );
    for step in case.steps.iter().filter(|s| is_repair(case.lesson, s)) {
        let Action::Repair(Repair { place, .. }) = &step.action else {
            continue;
        };
        let elsewhere = case.lesson.circuit.place(place);
        if elsewhere.is_some_and(|p| !case.is_guilty(p) && !was_faulty(case, p)) {
            let elsewhere = match case.lesson.faults.is_empty() {
                true => "",
                false => ": the fault is elsewhere",
            };
            let text = format!(
                "{place} was mended, and nothing was wrong with it{elsewhere}. Which reading would have told?"
            );
            out.push(Corrected {
                step: step.no,
                text,
            });
        }
    }
    out.sort_by_key(|c| c.step);
    out
}

/// A place at which a fault of the lesson is, or that comes as one unit with it.
fn was_faulty(case: &Case<'_>, place: Place) -> bool {
    let mut places = case.lesson.faults.iter().flat_map(|f| f.places());
    places.any(|at| same_unit(at, place))
}
