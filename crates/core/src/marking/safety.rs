//! Safety: what would have hurt someone or burnt something on a real machine. Marks are taken off,
//! each event is named, and a serious one is flagged.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::attempt::{Action, Answer, Step};
use crate::bench::Bench;

/// Marks that a serious and a minor event take.
const SERIOUS: f64 = 5.0;
const MINOR: f64 = 2.0;
/// A lead without a fuse that carries this lies across the source, in amperes.
const ACROSS_A: f64 = 60.0;

/// Something dangerous.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SafetyEvent {
    pub step: usize,
    pub serious: bool,
    pub text: String,
}

impl SafetyEvent {
    /// Marks that it takes.
    pub fn takes(&self) -> f64 {
        if self.serious { SERIOUS } else { MINOR }
    }
}

/// The events of a step; the bench stands as it does after it.
pub(super) fn events(bench: &Bench<'_>, step: &Step) -> Vec<SafetyEvent> {
    let event = |serious: bool, text: String| SafetyEvent {
        step: step.no,
        serious,
        text,
    };
    match (&step.action, &step.answer) {
        (_, Answer::Reading { reading }) if reading.blew => vec![event(
            true,
            "An ammeter was put across a source: on a real meter without its fuse the leads burn."
                .to_owned(),
        )],
        (Action::Join { from, to, fused }, _) => {
            let mut out = Vec::new();
            if let Some(switch) = bypassed(bench, from, to) {
                let text = format!("{switch} was bypassed: a machine in gear would have run off.");
                out.push(event(true, text));
            }
            let amps = if *fused { 0.0 } else { carried(bench) };
            if amps > ACROSS_A {
                let text = format!(
                    "A lead without a fuse was put across the source and carried {amps:.0} A."
                );
                out.push(event(true, text));
            } else if !*fused {
                let text = format!("A lead without a fuse was put between {from} and {to}.");
                out.push(event(false, text));
            }
            out
        }
        _ => Vec::new(),
    }
}

/// The switch that keeps a machine in gear from starting, if a lead lies across it.
fn bypassed(bench: &Bench<'_>, from: &str, to: &str) -> Option<String> {
    let circuit = bench.circuit;
    let node = |id: &str| circuit.test_point(id).map(|p| p.node);
    let (a, b) = (node(from)?, node(to)?);
    let guards = circuit.parts.iter().filter(|p| p.kind.guards_the_start());
    guards
        .filter(|p| p.nodes.contains(&a) && p.nodes.contains(&b))
        .map(|p| p.id.clone())
        .next()
}

/// Current in the lead last put on, in amperes.
fn carried(bench: &Bench<'_>) -> f64 {
    let points = &bench.settled().points;
    let amps = points.iter().map(|p| {
        let mut leads = p.wiring.lines.iter().filter(|l| l.name == "jumper");
        leads
            .next_back()
            .map_or(0.0, |l| p.op.current(l.element).abs())
    });
    amps.fold(0.0, f64::max)
}
