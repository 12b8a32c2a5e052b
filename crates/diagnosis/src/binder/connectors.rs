//! Connector views: what is in which cavity, from either side.

use cimento_bench::BenchError;
use cimento_model::circuit::{Circuit, ConnectorDoc, WireDoc};

use super::{Binder, Kind, SheetTable, color};

pub(super) const CONNECTORS: &str = "connectors";

pub(super) static SHEET: Kind = Kind {
    sheet: CONNECTORS,
    title: "Connector views",
    about: "Both halves of each connector, seen from where the wires go in. Colours are IEC 60757 codes.",
    make,
    has: |circuit| !circuit.doc.connectors.is_empty(),
};

/// A plug of another variant: it hangs in the loom, and nothing is plugged in.
pub(super) fn is_unused(doc: &ConnectorDoc) -> bool {
    (1..=doc.cavities).all(|n| doc.spare.contains(&n))
}

/// What is in a cavity: its wire on the male side and on the female side.
type Cavity<'a> = (u32, [Option<&'a WireDoc>; 2]);

fn cavities<'a>(circuit: &'a Circuit, id: &str) -> Vec<Cavity<'a>> {
    let count = circuit.doc.connectors.get(id).map_or(0, |c| c.cavities);
    let wire = |end: String| {
        let mut wires = circuit.doc.wires.iter();
        wires.find(|w| w.from == end || w.to == end)
    };
    let one = |n: u32| (n, ["m", "f"].map(|half| wire(format!("{id}.{n}{half}"))));
    (1..=count).map(one).collect()
}

/// Two cavities of a connector whose wires have different colours on both sides: those that another variant has the other
/// way round.
pub(super) fn exchanged(circuit: &Circuit, id: &str) -> Option<[u32; 2]> {
    let wired = cavities(circuit, id);
    let colors = |(_, both): &Cavity<'_>| both.map(|w| w.and_then(color));
    let differ = |a: &Cavity<'_>, b: &Cavity<'_>| {
        let (a, b) = (colors(a), colors(b));
        (0..2).all(|n| a[n].is_some() && b[n].is_some() && a[n] != b[n])
    };
    let mut pairs = wired
        .iter()
        .enumerate()
        .flat_map(|(n, a)| wired[n + 1..].iter().map(move |b| (a, b)));
    pairs.find(|(a, b)| differ(a, b)).map(|(a, b)| [a.0, b.0])
}

fn make(binder: &Binder) -> Result<Vec<SheetTable>, BenchError> {
    let circuit = &binder.own;
    let variant = binder.variant.as_ref();
    let table = |(id, doc): (&String, &ConnectorDoc)| {
        let wired = cavities(circuit, id);
        let other = variant
            .filter(|v| *v == id)
            .and_then(|id| exchanged(circuit, id));
        let holds = |n: u32| match other {
            Some([a, b]) if n == a => b,
            Some([a, b]) if n == b => a,
            _ => n,
        };
        let row = |&(n, _): &Cavity<'_>| {
            let both = wired.iter().find(|(m, _)| *m == holds(n)).map(|(_, b)| *b);
            let [male, female] = both.unwrap_or_default();
            let mut row = vec![n.to_string()];
            for (half, wire) in [("m", male), ("f", female)] {
                row.extend(looks(wire, &format!("{id}.{}{half}", holds(n))));
            }
            row
        };
        let mut title = match &doc.place {
            Some(place) => format!("{id}, {place}"),
            None => id.clone(),
        };
        if is_unused(doc) {
            title.push_str("; nothing is plugged in on this machine");
        }
        let head = [
            "Cavity",
            "Male: colour",
            "mm²",
            "to",
            "Female: colour",
            "mm²",
            "to",
        ];
        SheetTable {
            connector: Some(id.clone()),
            ..SheetTable::new(title, &head, wired.iter().map(row).collect())
        }
    };
    Ok(circuit.doc.connectors.iter().map(table).collect())
}

/// Colour, area and far end of a wire that ends in a cavity.
fn looks(wire: Option<&WireDoc>, here: &str) -> [String; 3] {
    let Some(wire) = wire else {
        return ["–".to_owned(), String::new(), String::new()];
    };
    let far = match wire.from == here {
        true => &wire.to,
        false => &wire.from,
    };
    [
        color(wire).unwrap_or("–".to_owned()),
        wire.area_mm2.map(|a| a.to_string()).unwrap_or_default(),
        far.clone(),
    ]
}
