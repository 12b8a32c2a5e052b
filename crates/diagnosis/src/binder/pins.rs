//! Pin charts of modules: wire, colour, and what a sound machine reads in each state that it is tried in.

use cimento_bench::BenchError;
use cimento_model::circuit::Circuit;

use super::healthy::healthy_sheets;
use super::{Binder, Kind, SheetTable, color};

pub(super) static SHEET: Kind = Kind {
    sheet: "pins",
    title: "Pin charts of modules",
    about: "Volts to battery negative, everything plugged in, of a sound machine.",
    make,
    has: |circuit| circuit.parts.iter().any(|p| p.kind.module().is_some()),
};

fn make(binder: &Binder) -> Result<Vec<SheetTable>, BenchError> {
    let circuit = &binder.own;
    let states = healthy_sheets(circuit)?;
    let modules = circuit.parts.iter().filter(|p| p.kind.module().is_some());
    let mut head = vec!["Pin", "What it is", "Wire", "Colour"];
    head.extend(states.iter().map(|s| s.state.as_str()));
    let table = |part: &cimento_model::circuit::Part| {
        let pins = part.terminals().enumerate();
        let row = |(_, (terminal, _)): (usize, (&cimento_model::part::Terminal, usize))| {
            let point = format!("{}.{}", part.id, terminal.name);
            let (wire, color) = wired(circuit, &point)?;
            let mut row = vec![
                terminal.name.to_owned(),
                terminal.about.to_owned(),
                wire,
                color,
            ];
            for state in &states {
                let mut readings = state.readings.iter();
                let own = readings.find(|[at, _]| *at == point);
                row.push(own.map(|[_, shown]| shown.clone()).unwrap_or_default());
            }
            Some(row)
        };
        SheetTable::new(part.title(), &head, pins.filter_map(row).collect())
    };
    Ok(modules.map(table).collect())
}

/// The wire at a point with its colour.
fn wired(circuit: &Circuit, point: &str) -> Option<(String, String)> {
    let mut wires = circuit.doc.wires.iter();
    let wire = wires.find(|w| w.from == point || w.to == point)?;
    Some((wire.id.clone(), color(wire).unwrap_or_default()))
}
