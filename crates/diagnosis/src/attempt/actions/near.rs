//! What is dangerous near an engine that turns, and near its fuel.

use super::Danger;
use cimento_bench::Bench;
use cimento_model::circuit::{Circuit, Part, Place};
use cimento_model::state::Engine;
use cimento_parts::ON_THE_BLOCK;

/// Whether the engine turns, by its starter or by itself.
fn turns(bench: &Bench) -> bool {
    let parts = bench.circuit.parts.iter().zip(bench.parts());
    let mut starters = parts.filter(|(part, _)| part.kind.cranking().is_some());
    let cranked = starters.any(|(_, state)| state.speed > 0.0);
    cranked || bench.state().engine == Engine::Running
}

/// Whether a part sits where the engine turns it, or turns the engine.
fn goes_round(part: &Part) -> bool {
    part.kind.cranking().is_some() || part.kind.charges()
}

/// Whether a place is such a part, or a wire to one.
fn at_what_goes_round(circuit: &Circuit, place: Place) -> bool {
    match place {
        Place::Part(n) | Place::Pin(n, _) => goes_round(&circuit.parts[n]),
        Place::Conductor(n) => {
            let ends = [circuit.conductors[n].a, circuit.conductors[n].b];
            let mut parts = circuit.parts.iter().filter(|p| goes_round(p));
            parts.any(|p| p.nodes.iter().any(|node| *node != 0 && ends.contains(node)))
        }
    }
}

/// Hands where belts, fan and flywheel go round.
pub(super) fn hands_in(bench: &Bench, id: &str) -> Option<Danger> {
    let place = bench.circuit.place(id)?;
    (turns(bench) && at_what_goes_round(&bench.circuit, place)).then(|| Danger {
        serious: true,
        text: format!(
            "{id} was worked on while the engine turned: hands and sleeves go into belts, fan and flywheel. Stop it first."
        ),
    })
}

/// A plug that sparks in the open while the engine turns.
pub(super) fn open_spark(bench: &Bench) -> Option<Danger> {
    if !turns(bench) {
        return None;
    }
    let mut controls = bench.circuit.controls().into_iter();
    let plug = controls.find(|c| bench.state().control(&c.name) == ON_THE_BLOCK)?;
    Some(Danger {
        serious: false,
        text: format!(
            "The engine was turned with {} sparking in the open: near fuel vapour use a closed spark tester.",
            plug.name
        ),
    })
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use super::*;
    use cimento_model::state::OperatingState;

    fn bench(circuit: &str) -> Bench {
        let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/circuits");
        let text = std::fs::read_to_string(format!("{folder}/{circuit}.json")).unwrap();
        Bench::new(&cimento_parts::read_circuit(&text).unwrap(), &[]).unwrap()
    }

    fn with(bench: &Bench, controls: &[(&str, &str)]) -> Bench {
        let mut bench = bench.clone();
        let mut state = OperatingState::at_rest(&bench.circuit);
        for (control, position) in controls {
            state.set_control(control, (*position).to_owned());
        }
        bench.set(state).unwrap();
        bench
    }

    /// The starter and its cables while it cranks; a relay under the dash at any time, and everything at rest, are safe.
    #[test]
    fn hands_are_in_danger_where_something_goes_round() {
        let tug = bench("baggage-tug-starting");
        let cranks = with(&tug, &[("clutch", "down"), ("key", "start")]);
        let dangerous = |bench: &Bench, id: &str| hands_in(bench, id).is_some_and(|d| d.serious);
        assert!(dangerous(&cranks, "M1") && dangerous(&cranks, "W20"));
        assert!(!dangerous(&cranks, "K3") && !dangerous(&cranks, "W8"));
        assert!(!dangerous(&tug, "M1") && !dangerous(&tug, "W20"));
        let charging = bench("baggage-tug-charging");
        let runs = with(&charging, &[("key", "run"), ("engine", "idle")]);
        assert!(dangerous(&runs, "A1") && !dangerous(&runs, "F3"));
    }

    /// A plug on the block sparks in the open once the engine is turned, and not while it stands.
    #[test]
    fn a_spark_in_the_open_is_told_while_the_engine_turns() {
        let engine = bench("baggage-tug-ignition");
        let controls = engine.circuit.controls();
        let plug = controls
            .iter()
            .find(|c| c.positions.iter().any(|p| p == ON_THE_BLOCK));
        let plug = plug.unwrap().name.clone();
        let out = with(&engine, &[(&plug, ON_THE_BLOCK)]);
        assert!(open_spark(&out).is_none());
        let cranked = with(&engine, &[(&plug, ON_THE_BLOCK), ("key", "start")]);
        assert!(open_spark(&cranked).is_some_and(|d| !d.serious));
        let closed = with(&engine, &[("key", "start")]);
        assert!(open_spark(&closed).is_none());
    }
}
