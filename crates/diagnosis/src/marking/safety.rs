//! Safety: what would have hurt someone or burnt something on a real machine. Marks are taken off,
//! each event is named, and a serious one is flagged.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::attempt::{Action, Answer, Step};
use cimento_bench::Bench;

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
pub(super) fn events(bench: &Bench, step: &Step) -> Vec<SafetyEvent> {
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
        (Action::Wait { minutes }, _) => {
            let coils = strained(bench).into_iter();
            let text = |coil| {
                format!(
                    "{coil} was left to fire for {minutes} min with nowhere to spark, which harms it inside."
                )
            };
            coils.map(|coil| event(false, text(coil))).collect()
        }
        _ => Vec::new(),
    }
}

/// The coils that fire with nowhere to spark.
fn strained(bench: &Bench) -> Vec<&str> {
    let parts = bench.circuit.parts.iter().zip(bench.parts());
    let strained = parts.filter(|(part, state)| part.kind.is_harmed() && state.level == 1);
    strained.map(|(part, _)| part.id.as_str()).collect()
}

/// The switch that keeps a machine in gear from starting, if a lead lies across it.
fn bypassed(bench: &Bench, from: &str, to: &str) -> Option<String> {
    let circuit = &bench.circuit;
    let node = |id: &str| circuit.test_point(id).map(|p| p.node);
    let (a, b) = (node(from)?, node(to)?);
    let guards = circuit.parts.iter().filter(|p| p.kind.guards_the_start());
    guards
        .filter(|p| p.nodes.contains(&a) && p.nodes.contains(&b))
        .map(|p| p.id.clone())
        .next()
}

/// Current in the lead last put on, in amperes.
fn carried(bench: &Bench) -> f64 {
    let points = &bench.settled().points;
    let amps = points.iter().map(|p| {
        let mut leads = p.wiring.tags.iter().filter(|l| l.name == "jumper");
        leads
            .next_back()
            .map_or(0.0, |l| p.op.current(l.element).abs())
    });
    amps.fold(0.0, f64::max)
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use super::*;
    use cimento_model::faults::{Fault, read_short_form};

    /// A coil is harmed while the engine runs with a lead off, and not while it stands.
    #[test]
    fn a_coil_left_with_nowhere_to_spark_is_told() {
        let text = include_str!("../../../../demo/circuits/baggage-tug-ignition.json");
        let circuit = cimento_parts::read_circuit(text).unwrap();
        let doc = read_short_form("W13:open").unwrap();
        let fault = Fault::read(&circuit, &doc, "fault").unwrap();
        let mut bench = Bench::new(&circuit, &[fault]).unwrap();
        let step = Step {
            no: 7,
            action: Action::Wait { minutes: 5.0 },
            answer: Answer::Noted,
            minutes: 5.0,
        };
        assert!(events(&bench, &step).is_empty());
        let mut state = bench.state().clone();
        for (control, position) in [("key", "run"), ("engine", "idle")] {
            state.set_control(control, position.to_owned());
        }
        bench.set(state).unwrap();
        let told = events(&bench, &step);
        assert_eq!(told.len(), 1, "{told:?}");
        assert!(told[0].text.starts_with("T1 was left to fire for 5 min"));
        assert!(!told[0].serious);
    }
}
