//! Wire lists as CSV.

use std::rc::Rc;

use cimento_model::circuit::{CircuitDoc, read_wire_list, write_wire_list};
use fastrand::Rng;

use super::{Good, Outcome, Target};
use crate::damage;

pub(super) struct WireLists {
    good: Rc<Good>,
    lists: Vec<String>,
}

impl WireLists {
    pub(super) fn new(good: Rc<Good>) -> Result<Self, String> {
        let list = |value: &serde_json::Value| {
            let doc: CircuitDoc =
                serde_json::from_value(value.clone()).map_err(|e| e.to_string())?;
            Ok(write_wire_list(&doc.wires))
        };
        let lists: Result<Vec<_>, String> = good.circuits.iter().map(list).collect();
        Ok(Self {
            lists: lists?,
            good,
        })
    }
}

impl Target for WireLists {
    fn name(&self) -> &'static str {
        "wire lists"
    }

    fn weight(&self) -> u32 {
        60
    }

    fn draw(&mut self, rng: &mut Rng) -> String {
        let good = &self.lists[rng.usize(..self.lists.len())];
        csv(good, &self.good.words, rng)
    }

    fn take(&mut self, input: &str) -> Outcome {
        let Ok(wires) = read_wire_list(input) else {
            return Outcome::Refused;
        };
        match read_wire_list(&write_wire_list(&wires)) {
            Ok(again) if again == wires => Outcome::Taken,
            Ok(_) => Outcome::Broken("what was written is read otherwise".to_owned()),
            Err(e) => Outcome::Broken(format!("what was written is not read: {e}")),
        }
    }
}

/// A good table with something wrong in it.
pub(super) fn csv(good: &str, words: &crate::words::Words, rng: &mut Rng) -> String {
    if rng.bool() {
        return damage::bytes(good, rng);
    }
    let mut rows: Vec<Vec<String>> = good
        .lines()
        .map(|l| l.split(',').map(str::to_owned).collect())
        .collect();
    for _ in 0..=rng.usize(..4) {
        let row = rng.usize(..rows.len());
        let at = rng.usize(..rows[row].len());
        match rng.u8(..6) {
            0 => drop(rows[row].remove(at)),
            1 => rows[row].insert(at, words.one(rng)),
            2 => {
                let copied = rows[row].clone();
                rows.push(copied);
            }
            _ => rows[row][at] = words.one(rng),
        }
        rows.retain(|r| !r.is_empty());
        if rows.is_empty() {
            return String::new();
        }
    }
    let sign = [",", ";", "\t"][rng.usize(..3)];
    let lines: Vec<String> = rows.iter().map(|r| r.join(sign)).collect();
    lines.join(["\n", "\r\n"][rng.usize(..2)])
}
