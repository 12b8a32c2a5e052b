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
    pub fn crossed_plugs(&self) -> Vec<[&str; 2]> {
        let causes = self.faults.iter().filter_map(|f| f.cause.as_deref());
        let mut out: Vec<_> = causes.filter_map(crossed).collect();
        out.dedup();
        out
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
        let pair = |f: &Fault| {
            f.cause
                .as_deref()
                .and_then(crossed)
                .is_some_and(|p| p.contains(&what))
        };
        self.faults.retain(|f| !pair(f));
        let told_apart = [what, other.as_str()]
            .iter()
            .any(|id| self.labelled.iter().any(|l| l == id));
        if !told_apart {
            let faults = exchange(&self.circuit, [what, &other]);
            self.faults.extend(faults);
        }
    }
}

/// What two connectors come to that are mated crosswise.
fn exchange(circuit: &Circuit, [a, b]: [&str; 2]) -> Vec<Fault> {
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
            cause: Some(format!("{a} × {b}")),
        })
    };
    let one = |n: u32| match (cavity(a, n), cavity(b, n)) {
        (Some(own), Some(other)) => fault(own, CROSSED, Target::Conductor(other)),
        (Some(own), None) | (None, Some(own)) => fault(own, OPEN, Target::Nothing),
        (None, None) => None,
    };
    (1..=count).filter_map(one).collect()
}

/// The two connectors that a cause names.
fn crossed(cause: &str) -> Option<[&str; 2]> {
    let (a, b) = cause.split_once(" × ")?;
    Some([a, b])
}
