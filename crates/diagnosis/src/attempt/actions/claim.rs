//! Saying where the fault cannot sit, and where it may.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step};
use super::super::view::BenchView;
use super::{Act, Evidence};

/// The fault cannot sit at these places, the student says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Clear {
    pub places: Vec<String>,
}

/// The fault may well sit at these places.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Suspect {
    pub places: Vec<String>,
}

fn noted(session: &Session, places: &[String]) -> Result<(Answer, f64), Refusal> {
    if places.is_empty() {
        return bad("choose at least one place".to_owned());
    }
    for place in places {
        session.place(place)?;
    }
    Ok((Answer::Noted, 0.0))
}

/// The reading that a claim stands beside.
fn beside(step: &Step, view: &BenchView) -> Option<usize> {
    let before = view.ledger.iter().rev();
    before.map(|line| line.step).find(|no| *no < step.no)
}

/// Takes places off one list and puts them on another.
fn move_to(places: &[String], from: &mut Vec<String>, to: &mut Vec<String>) {
    from.retain(|p| !places.contains(p));
    for place in places {
        if !to.contains(place) {
            to.push(place.clone());
        }
    }
}

impl Act for Clear {
    fn said(&self, _: &Answer) -> String {
        format!("Cleared {}", self.places.join(", "))
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        noted(session, &self.places)
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }

    fn show(&self, _: &Step, view: &mut BenchView) {
        view.conclude("ruled out", &self.places);
        move_to(&self.places, &mut view.suspected, &mut view.cleared);
    }

    fn changes_line(&self, step: &Step, view: &BenchView) -> Option<usize> {
        beside(step, view)
    }
}

impl Act for Suspect {
    fn said(&self, _: &Answer) -> String {
        format!("Suspected {}", self.places.join(", "))
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        noted(session, &self.places)
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }

    fn show(&self, _: &Step, view: &mut BenchView) {
        view.conclude("suspected", &self.places);
        move_to(&self.places, &mut view.cleared, &mut view.suspected);
    }

    fn changes_line(&self, step: &Step, view: &BenchView) -> Option<usize> {
        beside(step, view)
    }
}
