//! Specifications: what parts measure by themselves when they are sound, their ratings and their gaps.

use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::Place;

use super::{Binder, Kind, SheetTable};
use crate::key::isolated;

pub(super) static SHEET: Kind = Kind {
    sheet: "specifications",
    title: "Specifications",
    about: "Parts by themselves, unplugged, at 20 °C, in the position of rest.",
    make,
    has: |_| true,
};

fn make(binder: &Binder) -> Result<Vec<SheetTable>, BenchError> {
    let circuit = &binder.own;
    let bench = Bench::new(circuit, &[])?;
    let mut rows = Vec::new();
    for (n, part) in circuit.parts.iter().enumerate() {
        let place = Place::Part(n);
        let named =
            |across: String, value: String| vec![part.id.clone(), part.name.clone(), across, value];
        for (a, b) in isolated::ends(circuit, place) {
            let reading = isolated::ohms(&bench, place, (a, b))?;
            let across = [reading.red, reading.black].map(Option::unwrap_or_default);
            let value = format!("{} {}", reading.shown.text, reading.shown.unit);
            rows.push(named(across.join(" to "), value.trim().to_owned()));
        }
        let rating = part.kind.rating(&part.params);
        let is_told = rows.iter().any(|r| r[0] == part.id && r[3] == rating);
        if !rating.is_empty() && !is_told {
            rows.push(named("rating".to_owned(), rating));
        }
    }
    let system = vec![
        String::new(),
        "System".to_owned(),
        "nominal".to_owned(),
        format!("{} V", circuit.doc.system_v),
    ];
    rows.insert(0, system);
    Ok(vec![SheetTable::new(
        "Parts",
        &["", "Part", "Between", "Sound"],
        rows,
    )])
}
