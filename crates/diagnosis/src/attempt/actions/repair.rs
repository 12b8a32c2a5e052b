//! Repairing a place.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::perform::Outcome;
use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step};
use super::super::view::BenchView;
use super::near::hands_in;
use super::{Act, Danger};
use crate::craft::{self, Choices};
use crate::lesson::Lesson;
use crate::repairs::{RepairKind, cures, repairs};
use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::{Circuit, Place};

/// Repair a place in one of the ways that it allows.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Repair {
    pub place: String,
    pub how: RepairKind,
    /// How it is made, where the lesson asks for that.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub craft: Option<Choices>,
}

impl Repair {
    /// A repair of which nothing more is asked.
    pub fn of(place: impl Into<String>, how: RepairKind) -> Self {
        Self {
            place: place.into(),
            how,
            craft: None,
        }
    }

    /// One that is made so that it lasts, where the lesson asks how it is made.
    pub fn that_lasts(lesson: &Lesson, place: &str, how: RepairKind) -> Self {
        let at = lesson
            .circuit
            .place(place)
            .filter(|_| lesson.craft.is_some());
        Self {
            craft: at.map(|at| craft::lasting(&lesson.circuit, at, how)),
            ..Self::of(place, how)
        }
    }
}

impl Act for Repair {
    fn said(&self, answer: &Answer) -> String {
        match answer {
            Answer::Repaired { text } => format!("Repaired: {text}"),
            _ => format!("Repaired: {} {}", self.place, self.how.text()),
        }
    }

    fn concludes(&self) -> bool {
        true
    }

    fn opens(&self) -> bool {
        true
    }

    /// What it does not cure stays.
    fn perform(&self, bench: &mut Bench) -> Result<Outcome, BenchError> {
        if let Some(place) = bench.circuit.place(&self.place) {
            // Insulation that has melted is not joined or cleaned.
            if let (Place::Conductor(n), RepairKind::Renew) = (place, self.how) {
                bench.renew_wire(n);
            }
            let faults = bench.faults().iter();
            let mut here = faults.filter(|f| f.places().any(|p| p == place));
            if here.all(|f| cures(&bench.circuit, place, f.mode.spec, self.how)) {
                bench.repair(place)?;
            }
        }
        Ok(Outcome::done())
    }

    /// A main cable, a starter, a generator is not touched while the battery is on.
    fn dangers(&self, bench: &Bench, _: &Answer) -> Vec<Danger> {
        let circuit = &bench.circuit;
        let place = circuit.place(&self.place);
        let connected = |n: usize| !bench.state().is_apart(circuit, Place::Part(n));
        let mut sources = circuit
            .parts
            .iter()
            .enumerate()
            .filter(|(_, p)| p.kind.is_source());
        let live = sources.any(|(n, _)| connected(n));
        let live = place.filter(|place| live && on_main_cables(circuit, *place));
        let battery = live.map(|_| Danger {
            serious: true,
            text: format!(
                "{} was worked on with the battery connected: a spanner between it and the frame welds itself fast. Take the negative cable off first.",
                self.place
            ),
        });
        // One act is one event, however many ways it may end in.
        let event = battery.or_else(|| hands_in(bench, &self.place));
        event.into_iter().collect()
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        let place = session.place(&self.place)?;
        let mut text = format!("{} {}", self.place, self.how.text());
        if !repairs(&session.lesson.circuit, place).contains(&self.how) {
            return bad(format!("{} cannot be {}", self.place, self.how.text()));
        }
        let asked = craft::questions(&session.lesson.circuit, place, self.how);
        match (&session.lesson.craft, &self.craft) {
            (None, Some(_)) => {
                return bad("this lesson does not ask how a repair is made".to_owned());
            }
            (Some(_), chosen) => {
                let nothing = Choices::new();
                let chosen = chosen.as_ref().unwrap_or(&nothing);
                craft::check(&asked, chosen).or_else(bad)?;
                if !asked.is_empty() {
                    text += &format!(": {}", craft::in_words(&asked, chosen));
                }
            }
            (None, None) => {}
        }
        self.perform(&mut session.bench)?;
        Ok((Answer::Repaired { text }, self.how.minutes()))
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        if let Answer::Repaired { text } = &step.answer {
            view.repairs.push(text.clone());
        }
    }
}

/// Area from which a wire is a main cable, in mm²; common practice.
const MAIN_MM2: f64 = 10.0;
const MAIN_AWG: i32 = 7;

/// Whether a place is a main cable on the feed side, or a part at the end of one: no fuse stands before it.
fn on_main_cables(circuit: &Circuit, place: Place) -> bool {
    let mut cables = circuit.conductors.iter().enumerate().filter(|(_, c)| {
        let doc = circuit.doc.wires.iter().find(|w| w.id == c.id);
        let thick = doc.is_some_and(|w| {
            w.area_mm2.is_some_and(|area| area >= MAIN_MM2)
                || w.awg.is_some_and(|no| no <= MAIN_AWG)
        });
        thick && (c.a == circuit.positive() || c.b == circuit.positive())
    });
    cables.any(|(n, cable)| match place {
        Place::Conductor(at) => at == n,
        Place::Part(at) => {
            let part = &circuit.parts[at];
            let taken_off = !part.kind.is_source() && !part.kind.is_fuse();
            taken_off && (part.nodes.contains(&cable.a) || part.nodes.contains(&cable.b))
        }
        Place::Pin(..) => false,
    })
}
