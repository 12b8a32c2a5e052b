//! Where things are: harness by harness what hangs on it, in the order of its wires, with the way there.

use std::collections::BTreeMap;

use cimento_bench::BenchError;
use cimento_model::circuit::Circuit;

use super::{Binder, Kind, SheetTable};

/// Wires without a harness.
const ELSEWHERE: &str = "wires of their own";

pub(super) static SHEET: Kind = Kind {
    sheet: "locations",
    title: "Where things are",
    about: "What hangs on each harness. Minutes are those of the way to it.",
    make,
    has: |_| true,
};

fn make(binder: &Binder) -> Result<Vec<SheetTable>, BenchError> {
    let circuit = &binder.own;
    let mut harnesses: BTreeMap<&str, Vec<String>> = BTreeMap::new();
    for wire in &circuit.doc.wires {
        let harness = wire.harness.as_deref().unwrap_or(ELSEWHERE);
        let hang = harnesses.entry(harness).or_default();
        for end in [&wire.from, &wire.to] {
            let what = end.split('.').next().unwrap_or(end).to_owned();
            if !hang.contains(&what) {
                hang.push(what);
            }
        }
    }
    let table = |(harness, hang): (&str, Vec<String>)| {
        let rows = hang.iter().map(|what| row(circuit, what)).collect();
        SheetTable::new(harness, &["", "What", "Where", "Minutes"], rows)
    };
    Ok(harnesses.into_iter().map(table).collect())
}

fn row(circuit: &Circuit, what: &str) -> Vec<String> {
    let doc = &circuit.doc;
    let part = circuit.part(what).map(|n| &circuit.parts[n]);
    let (about, place) = if let Some(part) = part {
        let on = doc.parts.get(what).and_then(|p| p.mount.as_ref());
        (part.name.clone(), on.map(|metal| format!("on the {metal}")))
    } else if let Some(connector) = doc.connectors.get(what) {
        let about = format!("connector, {} cavities", connector.cavities);
        (about, connector.place.clone())
    } else if let Some(ground) = doc.grounds.get(what) {
        let place = ground.place.as_ref();
        let place = place.map_or(ground.metal.clone(), |p| format!("{}, {p}", ground.metal));
        ("ground".to_owned(), Some(place))
    } else {
        ("splice".to_owned(), Some("inside the loom".to_owned()))
    };
    let minutes = match doc.splices.get(what) {
        Some(splice) => splice.reach_minutes,
        None => Some(circuit.reach_minutes(what)),
    };
    vec![
        what.to_owned(),
        about,
        place.unwrap_or_default(),
        minutes.map(|m| m.to_string()).unwrap_or_default(),
    ]
}
