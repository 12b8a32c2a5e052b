//! Fuses: what each protects, by the paths that run through it.

use cimento_bench::BenchError;

use super::{Binder, Kind, SheetTable};

pub(super) static SHEET: Kind = Kind {
    sheet: "fuses",
    title: "Fuses",
    about: "What is dead when a fuse is out.",
    make,
    has: |circuit| circuit.parts.iter().any(|p| p.kind.is_fuse()),
};

fn make(binder: &Binder) -> Result<Vec<SheetTable>, BenchError> {
    let circuit = &binder.own;
    let fuses = circuit.parts.iter().filter(|p| p.kind.is_fuse());
    let row = |fuse: &cimento_model::circuit::Part| {
        let through = circuit.paths().iter().filter(|path| {
            let mut stops = path.stops.iter();
            stops.any(|stop| stop.through.as_ref() == Some(&fuse.id))
        });
        let fed: Vec<&str> = through.map(|path| path.title.as_str()).collect();
        vec![
            fuse.id.clone(),
            fuse.name.clone(),
            fuse.kind.rating(&fuse.params),
            fed.join("; "),
        ]
    };
    let head = ["", "Fuse", "Rating", "Feeds"];
    Ok(vec![SheetTable::new(
        "Fuses",
        &head,
        fuses.map(row).collect(),
    )])
}
