//! Plugs that look alike. Where they can be mixed up, halves that are apart together and that nobody has labelled are put
//! back crossed, and stay so until both are apart again.

use cimento_model::circuit::{Circuit, ConductorKind, Place};
use cimento_model::faults::{Condition, Fault, Mode, ModeSpec, Target};

use super::{Bench, BenchError};

/// How a cavity fails that is mated with one of another connector, and with none.
const CROSSED: &str = "crossed";
const OPEN: &str = "open";

impl Bench {
    /// Labels both halves of a connector, so that it finds its own half again.
    pub fn label(&mut self, connector: &str) {
        if !self.labelled.iter().any(|l| l == connector) {
            self.labelled.push(connector.to_owned());
        }
    }

    /// The connectors whose halves bear labels.
    pub fn labelled(&self) -> &[String] {
        &self.labelled
    }

    /// The pairs of connectors that are mated crosswise.
    pub fn crossed_plugs(&self) -> impl ExactSizeIterator<Item = &[String; 2]> {
        self.crossed.iter().map(|(pair, _)| pair)
    }

    /// Puts something back that is apart.
    ///
    /// # Errors
    /// As [`Bench::set`].
    pub fn put_back(&mut self, what: &str) -> Result<(), BenchError> {
        if self.shared.mixes_plugs() {
            self.mate(what);
        }
        let mut state = self.state.clone();
        state.put_back(what);
        self.set(state)
    }

    /// Finds the halves that a connector is put back with.
    fn mate(&mut self, what: &str) {
        let apart = |id: &String| self.state.unplugged.contains(id);
        let alike = self.circuit.look_alikes(what);
        let Some(other) = alike.into_iter().find(|id| apart(id)) else {
            return;
        };
        let mut pairs = self.crossed.iter();
        let known = pairs.position(|(pair, _)| pair.iter().any(|id| id == what));
        let told_apart = [what, other.as_str()]
            .iter()
            .any(|id| self.labelled.iter().any(|l| l == id));
        match known {
            // Both halves of both are apart: by their labels each finds its own again.
            Some(at) if told_apart => {
                let (_, own) = self.crossed.swap_remove(at);
                self.faults.retain(|f| !own.contains(f));
            }
            None if !told_apart => {
                let pair = [what.to_owned(), other];
                let mut new = exchange(&self.circuit, &pair);
                // What was so before stays so afterwards.
                new.retain(|f| !self.faults.contains(f));
                self.faults.extend(new.iter().cloned());
                self.crossed.push((pair, new));
            }
            _ => {}
        }
    }
}

/// What two connectors come to that are mated crosswise.
fn exchange(circuit: &Circuit, [a, b]: &[String; 2]) -> Vec<Fault> {
    let cavity = |connector: &str, n: u32| {
        let id = format!("{connector}.{n}");
        let mut all = circuit.conductors.iter();
        all.position(|c| c.kind == ConductorKind::Cavity && c.id == id)
    };
    let count = circuit.doc.connectors.get(a).map_or(0, |c| c.cavities);
    let mode = |at: usize, name: &str| -> Option<&'static ModeSpec> {
        let mut modes = circuit.modes(Place::Conductor(at)).iter();
        modes.find(|m| m.name == name)
    };
    let fault = |at: usize, name: &str, target: Target| {
        Some(Fault {
            place: Place::Conductor(at),
            mode: Mode::new(mode(at, name)?, None, target),
            at: 0.5,
            when: Condition::Always,
            cause: None,
        })
    };
    let one = |n: u32| match (cavity(a, n), cavity(b, n)) {
        (Some(own), Some(other)) => fault(own, CROSSED, Target::Conductor(other)),
        (Some(own), None) | (None, Some(own)) => fault(own, OPEN, Target::Nothing),
        (None, None) => None,
    };
    (1..=count).filter_map(one).collect()
}
