//! Paths said in a line, put into a circuit.

use std::rc::Rc;

use cimento_model::circuit::CircuitDoc;
use cimento_parts::{build_circuit, path_line, say_path};
use fastrand::Rng;

use super::{Good, Outcome, Target};
use crate::damage;

pub(super) struct PathLines {
    good: Rc<Good>,
    circuits: Vec<(CircuitDoc, Vec<String>)>,
    doc: usize,
}

impl PathLines {
    pub(super) fn new(good: Rc<Good>) -> Result<Self, String> {
        let read = |value: &serde_json::Value| {
            let doc: CircuitDoc =
                serde_json::from_value(value.clone()).map_err(|e| e.to_string())?;
            let circuit = build_circuit(doc.clone()).map_err(|e| e.to_string())?;
            let lines = circuit.paths().iter().map(|p| path_line(&circuit, p));
            Ok((doc, lines.collect()))
        };
        let circuits: Result<Vec<_>, String> = good.circuits.iter().map(read).collect();
        Ok(Self {
            circuits: circuits?,
            good,
            doc: 0,
        })
    }
}

impl Target for PathLines {
    fn name(&self) -> &'static str {
        "path lines"
    }

    fn weight(&self) -> u32 {
        60
    }

    fn draw(&mut self, rng: &mut Rng) -> String {
        self.doc = rng.usize(..self.circuits.len());
        let lines = &self.circuits[rng.usize(..self.circuits.len())].1;
        let good = lines.get(rng.usize(..lines.len().max(1)));
        let good = good.map_or("BAT.+ -> F1.1", String::as_str);
        match rng.bool() {
            true => damage::bytes(good, rng),
            // Words in another order, and others among them.
            false => {
                let mut words: Vec<String> = good.split(' ').map(str::to_owned).collect();
                for _ in 0..rng.usize(..4) {
                    let at = rng.usize(..=words.len());
                    words.insert(at, self.good.words.one(rng));
                }
                if rng.bool() {
                    rng.shuffle(&mut words);
                }
                words.join(" ")
            }
        }
    }

    fn take(&mut self, input: &str) -> Outcome {
        match say_path(&self.circuits[self.doc].0, input) {
            Ok(doc) => {
                let _ = build_circuit(doc);
                Outcome::Taken
            }
            Err(_) => Outcome::Refused,
        }
    }
}
