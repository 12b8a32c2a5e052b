//! Where things are: harness by harness what hangs on it, in the order of its wires, with the way there.

use std::collections::BTreeMap;

use cimento_bench::BenchError;
use cimento_model::circuit::Circuit;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::connectors::is_unused;
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

/// A harness with what hangs on it, in the order of its wires.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Loom {
    pub title: String,
    pub hanging: Vec<Hanging>,
}

/// Something that hangs on a harness.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Hanging {
    pub id: String,
    pub is: HangsOn,
    /// "Start relay", "connector, 4 cavities".
    pub about: String,
    /// "column", "on the engine"; empty where nothing is known.
    pub place: String,
    /// Minutes of the way to it, where one gets to it.
    pub minutes: Option<f64>,
}

/// What hangs on a harness.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum HangsOn {
    Part,
    Connector,
    Ground,
    Splice,
}

fn make(binder: &Binder) -> Result<Vec<SheetTable>, BenchError> {
    let row = |it: Hanging| {
        let minutes = it.minutes.map(|m| m.to_string());
        vec![it.id, it.about, it.place, minutes.unwrap_or_default()]
    };
    let table = |loom: Loom| {
        let rows = loom.hanging.into_iter().map(row).collect();
        SheetTable::new(loom.title, &["", "What", "Where", "Minutes"], rows)
    };
    Ok(looms(&binder.own).into_iter().map(table).collect())
}

/// The harnesses of a circuit.
pub(super) fn looms(circuit: &Circuit) -> Vec<Loom> {
    let mut harnesses: BTreeMap<&str, Vec<Hanging>> = BTreeMap::new();
    for wire in &circuit.doc.wires {
        let harness = wire.harness.as_deref().unwrap_or(ELSEWHERE);
        let hang = harnesses.entry(harness).or_default();
        for end in [&wire.from, &wire.to] {
            let id = end.split('.').next().unwrap_or(end);
            if !hang.iter().any(|it| it.id == id) {
                hang.push(hanging(circuit, id));
            }
        }
    }
    let loom = |(title, hanging): (&str, Vec<Hanging>)| Loom {
        title: title.to_owned(),
        hanging,
    };
    harnesses.into_iter().map(loom).collect()
}

fn hanging(circuit: &Circuit, id: &str) -> Hanging {
    let doc = &circuit.doc;
    let part = circuit.part(id).map(|n| &circuit.parts[n]);
    let (is, about, place) = if let Some(part) = part {
        let on = doc.parts.get(id).and_then(|p| p.mount.as_ref());
        let place = on.map(|metal| format!("on the {metal}"));
        (HangsOn::Part, part.name.clone(), place)
    } else if let Some(connector) = doc.connectors.get(id) {
        let unused = match is_unused(connector) {
            true => ", nothing plugged in",
            false => "",
        };
        let about = format!("connector, {} cavities{unused}", connector.cavities);
        (HangsOn::Connector, about, connector.place.clone())
    } else if let Some(ground) = doc.grounds.get(id) {
        let place = ground.place.as_ref();
        let place = place.map_or(ground.metal.clone(), |p| format!("{}, {p}", ground.metal));
        (HangsOn::Ground, "ground".to_owned(), Some(place))
    } else {
        let place = "inside the loom".to_owned();
        (HangsOn::Splice, "splice".to_owned(), Some(place))
    };
    Hanging {
        id: id.to_owned(),
        is,
        about,
        place: place.unwrap_or_default(),
        minutes: match doc.splices.get(id) {
            Some(splice) => splice.reach_minutes,
            None => Some(circuit.reach_minutes(id)),
        },
    }
}
