//! Circuit documents, and everything that is written of one that was taken.

use std::rc::Rc;

use cimento_bench::Bench;
use cimento_bench::spice::spice_netlist;
use cimento_model::circuit::{CircuitDoc, read_wire_list, write_harness_sheet, write_wire_list};
use cimento_parts::{path_line, read_circuit, say_path};
use cimento_tracks::Size;
use fastrand::Rng;

use super::{Good, Outcome, Target};

pub(super) struct Circuits(pub Rc<Good>);

impl Target for Circuits {
    fn name(&self) -> &'static str {
        "circuits"
    }

    fn weight(&self) -> u32 {
        4
    }

    fn draw(&mut self, rng: &mut Rng) -> String {
        let good = &self.0.circuits[rng.usize(..self.0.circuits.len())];
        self.0.bad(good, "CircuitDoc", rng)
    }

    fn take(&mut self, input: &str) -> Outcome {
        let Ok(circuit) = read_circuit(input) else {
            return Outcome::Refused;
        };
        // What was read is what is written.
        let written = serde_json::to_string(&circuit.doc).unwrap_or_default();
        match serde_json::from_str::<CircuitDoc>(&written) {
            Ok(again) if again == circuit.doc => {}
            Ok(_) => return Outcome::Broken("what was written is read otherwise".to_owned()),
            Err(e) => return Outcome::Broken(format!("what was written is not read: {e}")),
        }
        let list = write_wire_list(&circuit.doc.wires);
        match read_wire_list(&list) {
            Ok(wires) if wires == circuit.doc.wires => {}
            Ok(_) => return Outcome::Broken("its wire list is read otherwise".to_owned()),
            Err(e) => return Outcome::Broken(format!("its wire list is not read: {e}")),
        }
        let _ = write_harness_sheet(&circuit.harness_runs());
        let _ = (circuit.cautions(), circuit.place_list(), circuit.alike());
        for path in circuit.paths() {
            let line = path_line(&circuit, path);
            let _ = say_path(&circuit.doc, &line);
        }
        // One that has no solution says so.
        if let Ok(bench) = Bench::new(&circuit, &[]) {
            let netlist = spice_netlist(&bench).unwrap_or_default();
            if let Some(line) = netlist
                .lines()
                .find(|l| l.trim_start().starts_with("shell"))
            {
                return Outcome::Broken(format!("a text came into the netlist: {line}"));
            }
        }
        let flow = cimento_bench::flow(&circuit).unwrap_or_default();
        let drawing = circuit.drawing();
        let placement = cimento_tracks::place(&drawing, &flow);
        let size = Size {
            width: 905,
            height: 465,
            font: 14,
            least: 10,
        };
        let _ = cimento_tracks::draw(&drawing, &flow, &placement, size);
        Outcome::Taken
    }
}
