//! Looking closely at a place.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session};
use super::super::step::{Answer, Step};
use super::super::view::{BenchView, SeenAt};
use super::{Act, Evidence};
use crate::lesson::Means;
use cimento_bench::Bench;
use cimento_model::circuit::Place;
use cimento_model::faults::Fault;
use cimento_parts::MELTED;

/// Minutes beyond reaching the place; common practice.
const MINUTES: f64 = 0.3;

/// Look closely at a place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Inspect {
    pub place: String,
}

impl Act for Inspect {
    fn said(&self, answer: &Answer) -> String {
        match answer {
            Answer::Seen { text } => format!("Looked at {}: {text}", self.place),
            _ => format!("Looked at {}", self.place),
        }
    }

    fn needs() -> Option<Means> {
        Some(Means::LookingClosely)
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        let place = session.place(&self.place)?;
        let text = seen(session.bench(), place);
        let way = session.lesson.circuit.reach_minutes_of(place);
        Ok((Answer::Seen { text }, MINUTES + way))
    }

    fn evidence<'a>(&'a self, answer: &'a Answer) -> Evidence<'a> {
        let place = &self.place;
        match answer {
            Answer::Seen { text } => Evidence::Look { place, text },
            _ => Evidence::Nothing,
        }
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        if let Answer::Seen { text } = &step.answer {
            view.seen.push(SeenAt {
                step: step.no,
                place: self.place.clone(),
                text: text.clone(),
            });
        }
    }
}

/// What a wire shows that was too hot and still conducts.
const BARE: &str = "its insulation has melted";

/// What there is to see at a place when one looks closely.
pub fn seen(bench: &Bench, place: Place) -> String {
    let faults = bench
        .faults()
        .iter()
        .filter(|f| f.places().any(|p| p == place));
    let look = |f: &Fault| match (place, f.mode.of_conductor()) {
        (Place::Conductor(n), Some(how)) => (how.looks)(bench.circuit.conductors[n].kind),
        _ => f.mode.spec.looks,
    };
    let mut words: Vec<&str> = faults.filter_map(look).collect();
    if let Place::Part(n) = place
        && bench.circuit.parts[n].kind.is_fuse()
        && bench.parts()[n].level != 0
    {
        words.push(MELTED);
    }
    if let Place::Conductor(n) = place
        && bench.is_bare(n)
    {
        words.push(BARE);
    }
    if words.is_empty() {
        "nothing out of the ordinary".to_owned()
    } else {
        words.join("; ")
    }
}
