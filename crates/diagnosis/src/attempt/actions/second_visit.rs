//! Handing a repaired machine over, and seeing it again some weeks later.

use cimento_model::circuit::{Circuit, Place};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::second_visit::second_visit;
use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step};
use super::super::view::{BenchView, SeenAgain};
use super::{Act, Evidence, Repair};
use crate::attempt::Action;
use crate::craft::Choices;

/// Give the machine back to its customer: what does not last brings it back.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SecondVisit {}

/// What a customer says whose machine did not come back.
const STAYS_AWAY: &str =
    "Some weeks later the customer rings up about something else: the machine has run ever since.";

impl Act for SecondVisit {
    fn said(&self, answer: &Answer) -> String {
        match answer {
            Answer::SeenAgain { text, .. } => format!("Gave the machine back. {text}"),
            _ => "Gave the machine back".to_owned(),
        }
    }

    fn concludes(&self) -> bool {
        true
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        let Some(craft) = &session.lesson.craft else {
            return bad(
                "this machine is not seen again: hand in when you have proven it".to_owned(),
            );
        };
        if !session.has_repaired() {
            return bad(
                "nothing was repaired: mend what you have named before you give it back".to_owned(),
            );
        }
        let repaired = repaired(&session.lesson.circuit, session.steps());
        let visit = second_visit(&session.lesson, craft, &session.bench, &repaired)?;
        let came_back = visit.complaint.is_some();
        let text = match visit.complaint {
            Some(said) => {
                let said = said.trim_end_matches('.');
                format!("Some weeks later the machine is back. {said}.")
            }
            None => STAYS_AWAY.to_owned(),
        };
        session.bench = visit.bench;
        session.leads = [None, None];
        Ok((Answer::SeenAgain { came_back, text }, 0.0))
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        if let Answer::SeenAgain { came_back, text } = &step.answer {
            view.seen_again = Some(SeenAgain {
                step: step.no,
                came_back: *came_back,
                text: text.clone(),
            });
        }
    }
}

/// What was repaired and how, the last word on each place.
fn repaired<'s>(circuit: &Circuit, steps: &'s [Step]) -> Vec<(Place, &'s Choices)> {
    let mut out: Vec<(Place, &Choices)> = Vec::new();
    for step in steps {
        if let Action::Repair(Repair {
            place,
            craft: Some(chosen),
            ..
        }) = &step.action
            && let Some(place) = circuit.place(place)
        {
            out.retain(|(at, _)| *at != place);
            out.push((place, chosen));
        }
    }
    out
}
