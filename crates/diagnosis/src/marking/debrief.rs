//! The debrief: an attempt step by step, with what each step ruled out and why, what it was worth
//! beside the best then to be had, and what each claim overlooked.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::case::{Case, Tracked};
use super::claims::ClaimKind;
use crate::attempt::{Answer, Step};
use crate::suspects::{Plan, Proposal, RuledOut};

/// An attempt replayed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Debrief {
    /// Places possible after the complaint, most likely first.
    pub begin: Vec<Share>,
    pub steps: Vec<DebriefStep>,
    /// How a good diagnostician would have gone about it.
    pub plan: Plan,
    /// The next thing to practise.
    pub practise: String,
    /// The kind of lesson on which it is practised.
    #[serde(default)]
    pub practise_on: PractiseOn,
    /// The fault that was there, in words.
    #[serde(default)]
    pub fault: String,
    /// What was told of the machine and leads astray.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub misleading: Vec<String>,
}

/// The kind of lesson on which something is practised.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum PractiseOn {
    /// A bench for learning the tools.
    Tools,
    /// Practice, with hints.
    #[default]
    Practice,
    /// The next machine that is marked.
    Marks,
}

/// A place with how likely it is to hold the fault.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Share {
    pub place: String,
    pub share: f64,
}

/// One step of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DebriefStep {
    pub step: usize,
    /// What was done, in words.
    pub did: String,
    /// What became impossible, a sentence for each way it was ruled out.
    pub ruled_out: Vec<String>,
    /// What is still possible, most likely first; absent once the fault was named.
    pub left: Option<Vec<Share>>,
    /// Worth of the reading, in bits.
    pub bits: Option<f64>,
    pub minutes: f64,
    /// The best measurement then to be had.
    pub best: Option<Proposal>,
    /// What a claim overlooked.
    pub overlooked: Vec<String>,
}

/// Replays an attempt that has been laid open.
pub fn debrief(case: &Case<'_>) -> Debrief {
    let share = |(place, share): (cimento_model::circuit::Place, f64)| Share {
        place: case.lesson.circuit.place_id(place).to_owned(),
        share,
    };
    let table = &case.reference.table;
    let steps = case.steps.iter().map(|step| {
        let tracked = case.track.iter().find(|t| t.step == step.no);
        let taken = case.readings.iter().find(|t| t.step == step.no);
        let choice = case.choices().find(|(no, _)| *no == step.no);
        let claims = case
            .claims
            .iter()
            .filter(|c| c.step == step.no && !c.justified);
        DebriefStep {
            step: step.no,
            did: step.said(),
            ruled_out: tracked.map_or(Vec::new(), |t| ruled_out(case, step, t)),
            left: tracked.map(|t| t.left.iter().copied().map(share).collect()),
            bits: taken.map_or_else(|| case.screen(step.no).and_then(|s| s.bits), |t| t.bits),
            minutes: step.minutes,
            best: choice.and_then(|(_, c)| c.best).map(|b| table.proposal(b)),
            overlooked: claims
                .map(|c| {
                    let id = case.lesson.circuit.place_id(c.place);
                    let verb = match c.kind {
                        ClaimKind::Cleared => "ruled out",
                        ClaimKind::Suspected => "suspected",
                    };
                    format!("You {verb} {id}: {}", c.overlooks)
                })
                .collect(),
        }
    });
    let begin = case.reference.after_complaint.belief();
    let (practise_on, practise) = practise(case);
    Debrief {
        begin: begin.into_iter().map(share).collect(),
        steps: steps.collect(),
        plan: case.reference.plan.clone(),
        practise: practise.to_owned(),
        misleading: case.lesson.told.misleading(),
        practise_on,
        fault: case.lesson.fault_in_words(),
    }
}

/// Sentences for what a step ruled out; places that would have shown the same share one.
fn ruled_out(case: &Case<'_>, step: &Step, tracked: &Tracked) -> Vec<String> {
    let circuit = &case.lesson.circuit;
    let mut groups: Vec<(String, Vec<&str>)> = Vec::new();
    for RuledOut { place, would_show } in &tracked.gone {
        let why = match (&step.answer, would_show) {
            (Answer::Reading { reading }, Some(span)) => {
                let unit = reading.function.unit();
                format!("with a fault there it would have been {}", span.text(unit))
            }
            _ => "a fault there would have answered otherwise".to_owned(),
        };
        let id = circuit.place_id(*place);
        match groups.iter_mut().find(|(w, _)| *w == why) {
            Some((_, ids)) => ids.push(id),
            None => groups.push((why, vec![id])),
        }
    }
    let what = match &step.answer {
        Answer::Reading { reading } => reading.about(),
        _ => step.said(),
    };
    let sentence =
        |(why, ids): (String, Vec<&str>)| format!("{what} rules out {}: {why}.", ids.join(", "));
    groups.into_iter().map(sentence).collect()
}

/// Advice drawn from the weakest point of the attempt.
fn practise(case: &Case<'_>) -> (PractiseOn, &'static str) {
    let unjustified = |kind: ClaimKind| case.claims.iter().any(|c| c.kind == kind && !c.justified);
    let (mut spent, mut lost) = (0.0, 0.0);
    for (_, choice) in case.choices() {
        if let Some(share) = choice.share() {
            spent += choice.minutes;
            lost += choice.minutes * (1.0 - share);
        }
    }
    if case.events.iter().any(|e| e.serious) {
        (
            PractiseOn::Tools,
            "Safety first: go through the cautions of the work order before the next attempt.",
        )
    } else if case.readings.is_empty() && case.screens.is_empty() {
        (
            PractiseOn::Tools,
            "Measure before you renew: take one reading in the middle of the path and say what it rules out.",
        )
    } else if super::slips::slips(case)
        .iter()
        .any(|s| s.kind.weight() >= 2.0)
    {
        (
            PractiseOn::Tools,
            "Measuring with the load on: use volts while the circuit works, and ohms only where nothing feeds the place.",
        )
    } else if unjustified(ClaimKind::Cleared) {
        (
            PractiseOn::Practice,
            "Clear only what the reading rules out: ask of each place whether a fault there would have shown the same.",
        )
    } else if !case.claims.iter().any(|c| c.kind == ClaimKind::Cleared) {
        (
            PractiseOn::Practice,
            "After each reading, mark what it clears before you take the next.",
        )
    } else if spent > 0.0 && lost / spent > 0.3 {
        (
            PractiseOn::Practice,
            "Choosing the next point: measure where the suspects fall into two halves, nearest to hand first.",
        )
    } else if !case.is_concluded() {
        (
            PractiseOn::Practice,
            "Say where the fault is and how it failed before you repair.",
        )
    } else {
        (
            PractiseOn::Marks,
            "A harder fault: a resistance instead of an open, or one that comes and goes.",
        )
    }
}
