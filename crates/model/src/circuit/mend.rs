//! Changes to a document that take a finding away. They are offered, never done unasked.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::document::{CircuitDoc, ConnectorDoc, GroundDoc, PartDoc, SpliceDoc, WireDoc};
use crate::units::Colour;

/// What a wire gets that nobody gave a size: the thinnest that a machine's harness is made of, and a metre of it.
const AREA_MM2: f64 = 1.0;
const LENGTH_M: f64 = 1.0;
/// What takes a starter's current to metal.
const STRAP_MM2: f64 = 16.0;
/// A pigtail from a splice to a cavity.
const PIGTAIL_M: f64 = 0.1;
/// The metal of a circuit that names none.
const METAL: &str = "body";

/// A change that is offered with a finding. Wires are named by their position, for their ids may be what is wrong.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "do", rename_all = "snake_case")]
pub enum Mend {
    /// Gives a wire an area, that of another that it goes on with.
    Size {
        wire: usize,
    },
    /// Leaves a wire its resistance and takes its size away.
    KeepResistance {
        wire: usize,
    },
    /// Leaves a wire its size and takes its resistance away.
    KeepSize {
        wire: usize,
    },
    /// Leaves a wire its area and takes its gauge away.
    KeepArea {
        wire: usize,
    },
    /// Leaves a wire its gauge and takes its area away.
    KeepGauge {
        wire: usize,
    },
    /// Gives a wire a length.
    Length {
        wire: usize,
    },
    /// Gives a wire a colour.
    Colour {
        wire: usize,
        #[schema(value_type = String)]
        colour: Colour,
    },
    /// Gives a wire an id that no other has.
    Rename {
        wire: usize,
    },
    TakeOutWire {
        wire: usize,
    },
    /// Marks a cavity as one that is meant to be empty.
    Spare {
        connector: String,
        cavity: u32,
    },
    /// Joins wires that share a side of a cavity before it.
    JoinBefore {
        side: String,
    },
    /// Takes a splice out, with the wire that ends there.
    TakeOutSplice {
        splice: String,
    },
    /// Makes what a wire ends at: a splice, a ground, a cavity of a connector.
    Make {
        point: String,
    },
    /// Wires a terminal to a ground.
    ToGround {
        point: String,
    },
    /// Wires a terminal to the battery, through a fuse.
    FeedFused {
        point: String,
    },
    /// Bolts a part's case to metal.
    Bolt {
        part: String,
        metal: String,
    },
    /// Leaves the metal of a case out.
    Unbolt {
        part: String,
    },
    /// Puts in a part of a kind.
    PutIn {
        part_kind: String,
    },
}

impl Mend {
    /// What it does, as words on a button.
    pub fn say(&self, doc: &CircuitDoc) -> String {
        let wire = |n: &usize| doc.wires.get(*n).map_or("the wire", |w| w.id.as_str());
        match self {
            Self::Size { wire: n } => {
                format!("make {} {} mm²", wire(n), neighbour_area(doc, *n))
            }
            Self::KeepResistance { wire: n } => format!("keep the resistance of {}", wire(n)),
            Self::KeepSize { wire: n } => format!("keep the size of {}", wire(n)),
            Self::KeepArea { wire: n } => format!("keep the mm² of {}", wire(n)),
            Self::KeepGauge { wire: n } => format!("keep the AWG of {}", wire(n)),
            Self::Length { wire: n } => format!("make {} {LENGTH_M} m long", wire(n)),
            Self::Colour { wire: n, colour } => {
                format!("make {} {}", wire(n), String::from(colour.clone()))
            }
            Self::Rename { wire: n } => format!("call the second {} {}", wire(n), free(doc, "W")),
            Self::TakeOutWire { wire: n } => format!("take {} out", wire(n)),
            Self::Spare { connector, cavity } => format!("mark {connector}.{cavity} as spare"),
            Self::JoinBefore { side } => format!("join them in a splice before {side}"),
            Self::TakeOutSplice { splice } => {
                let with: Vec<&str> = at(doc, splice).map(|n| doc.wires[n].id.as_str()).collect();
                match with[..] {
                    [] => format!("take {splice} out"),
                    _ => format!("take {splice} out with {}", with.join(" and ")),
                }
            }
            Self::Make { point } => match point.split_once('.') {
                Some((connector, side)) => {
                    let cavity = side.trim_end_matches(['m', 'f']);
                    format!("make cavity {cavity} of {connector}")
                }
                None if point.starts_with("SP") => format!("make splice {point}"),
                None => format!("make ground {point}"),
            },
            Self::ToGround { point } => format!("wire {point} to a ground"),
            Self::FeedFused { point } => format!("wire {point} to the battery through a fuse"),
            Self::Bolt { part, metal } => format!("bolt {part} to the {metal}"),
            Self::Unbolt { part } => format!("leave the mount of {part} out"),
            Self::PutIn { part_kind } => format!("put in a {}", part_kind.replace('_', " ")),
        }
    }

    /// Does it. What it is about may be gone since it was offered; then it does nothing.
    pub fn apply(&self, doc: &mut CircuitDoc) {
        match self {
            Self::Size { wire } => {
                let area = neighbour_area(doc, *wire);
                change(doc, *wire, |w| w.area_mm2 = Some(area));
                if doc.wires.get(*wire).is_some_and(|w| w.length_m.is_none()) {
                    change(doc, *wire, |w| w.length_m = Some(LENGTH_M));
                }
            }
            Self::KeepResistance { wire } => change(doc, *wire, |w| {
                (w.area_mm2, w.awg) = (None, None);
            }),
            Self::KeepSize { wire } => change(doc, *wire, |w| w.ohms = None),
            Self::KeepArea { wire } => change(doc, *wire, |w| w.awg = None),
            Self::KeepGauge { wire } => change(doc, *wire, |w| w.area_mm2 = None),
            Self::Length { wire } => change(doc, *wire, |w| w.length_m = Some(LENGTH_M)),
            Self::Colour { wire, colour } => {
                change(doc, *wire, |w| w.color = Some(colour.clone()));
            }
            Self::Rename { wire } => {
                let id = free(doc, "W");
                change(doc, *wire, |w| w.id = id);
            }
            Self::TakeOutWire { wire } => {
                if *wire < doc.wires.len() {
                    doc.wires.remove(*wire);
                }
            }
            Self::Spare { connector, cavity } => {
                if let Some(c) = doc.connectors.get_mut(connector)
                    && !c.spare.contains(cavity)
                {
                    c.spare.push(*cavity);
                }
            }
            Self::JoinBefore { side } => join_before(doc, side),
            Self::TakeOutSplice { splice } => {
                doc.splices.shift_remove(splice);
                doc.wires.retain(|w| w.from != *splice && w.to != *splice);
            }
            Self::Make { point } => make(doc, point),
            Self::ToGround { point } => {
                let ground = a_ground(doc);
                let area = return_area(doc, point);
                let wire = WireDoc {
                    color: Colour::try_from("BK".to_owned()).ok(),
                    ..new_wire(doc, point.clone(), ground, area)
                };
                doc.wires.push(wire);
            }
            Self::FeedFused { point } => feed_fused(doc, point),
            Self::Bolt { part, metal } => {
                if let Some(part) = doc.parts.get_mut(part) {
                    part.mount = Some(metal.clone());
                }
            }
            Self::Unbolt { part } => {
                if let Some(part) = doc.parts.get_mut(part) {
                    part.mount = None;
                }
            }
            Self::PutIn { part_kind } => {
                // The first battery is called what practitioners call it.
                let id = match part_kind.as_str() {
                    "battery" if !is_taken(doc, "BAT") => "BAT".to_owned(),
                    "battery" => free(doc, "BAT"),
                    _ => free(doc, "M"),
                };
                doc.parts.insert(id, part(part_kind));
            }
        }
    }
}

/// A mend with its words.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Offer {
    pub say: String,
    pub mend: Mend,
}

impl Offer {
    pub fn of(doc: &CircuitDoc, mend: Mend) -> Self {
        Self {
            say: mend.say(doc),
            mend,
        }
    }
}

/// The colour that a wire would have: that of the wire it goes on with through a connector or a splice, black to metal,
/// red from the battery's positive post; common practice. None where nothing says.
pub(super) fn colour_of(doc: &CircuitDoc, wire: usize, positive: &str) -> Option<Colour> {
    let own = doc.wires.get(wire)?;
    let ends = [own.from.as_str(), own.to.as_str()];
    let beside = ends.iter().flat_map(|end| next_to(doc, wire, end));
    let known = beside.filter_map(|n| doc.wires[n].color.clone()).next();
    let metal = |end: &&str| doc.grounds.contains_key(*end) || end.starts_with("metal:");
    known.or_else(|| {
        let code = match () {
            () if ends.iter().any(metal) => "BK",
            () if ends.contains(&positive) => "RD",
            () => return None,
        };
        Colour::try_from(code.to_owned()).ok()
    })
}

fn change(doc: &mut CircuitDoc, wire: usize, how: impl FnOnce(&mut WireDoc)) {
    if let Some(wire) = doc.wires.get_mut(wire) {
        how(wire);
    }
}

/// Wires that end at a point, by position.
fn at<'a>(doc: &'a CircuitDoc, point: &'a str) -> impl Iterator<Item = usize> + 'a {
    let ends = move |w: &WireDoc| w.from == point || w.to == point;
    (0..doc.wires.len()).filter(move |n| ends(&doc.wires[*n]))
}

/// The wires that a wire goes on with beyond an end: through the cavity there, or at the same splice.
fn next_to(doc: &CircuitDoc, wire: usize, end: &str) -> Vec<usize> {
    let through = match end.strip_suffix('m') {
        Some(cavity) => format!("{cavity}f"),
        None => match end.strip_suffix('f') {
            Some(cavity) => format!("{cavity}m"),
            None => end.to_owned(),
        },
    };
    let joins = end != through || doc.splices.contains_key(end);
    let beyond = at(doc, &through).filter(|n| joins && *n != wire);
    beyond.collect()
}

fn neighbour_area(doc: &CircuitDoc, wire: usize) -> f64 {
    let Some(own) = doc.wires.get(wire) else {
        return AREA_MM2;
    };
    let beside = [&own.from, &own.to].map(|end| next_to(doc, wire, end));
    let areas = beside
        .iter()
        .flatten()
        .filter_map(|n| doc.wires[*n].area_mm2);
    areas.reduce(f64::max).unwrap_or(AREA_MM2)
}

/// What comes back from a part is as thick as what goes to it; a battery's is a strap.
fn return_area(doc: &CircuitDoc, point: &str) -> f64 {
    let Some((id, _)) = point.split_once('.') else {
        return AREA_MM2;
    };
    let of_part = |end: &String| end.split_once('.').is_some_and(|(part, _)| part == id);
    let wires = doc.wires.iter();
    let areas = wires.filter(|w| of_part(&w.from) || of_part(&w.to));
    let least = match doc.parts.get(id) {
        Some(part) if part.kind == "battery" => STRAP_MM2,
        _ => AREA_MM2,
    };
    areas.filter_map(|w| w.area_mm2).fold(least, f64::max)
}

fn is_taken(doc: &CircuitDoc, id: &str) -> bool {
    doc.parts.contains_key(id)
        || doc.connectors.contains_key(id)
        || doc.splices.contains_key(id)
        || doc.grounds.contains_key(id)
        || doc.wires.iter().any(|w| w.id == id)
}

/// The first id with some letters that nothing has.
fn free(doc: &CircuitDoc, letters: &str) -> String {
    let ids = (1..).map(|n| format!("{letters}{n}"));
    ids.into_iter()
        .find(|id| !is_taken(doc, id))
        .unwrap_or_default()
}

fn part(kind: &str) -> PartDoc {
    PartDoc {
        kind: kind.to_owned(),
        ..PartDoc::default()
    }
}

fn new_wire(doc: &CircuitDoc, from: String, to: String, area: f64) -> WireDoc {
    WireDoc {
        id: free(doc, "W"),
        from,
        to,
        area_mm2: Some(area),
        awg: None,
        length_m: Some(LENGTH_M),
        ignition_lead: None,
        ohms: None,
        color: None,
        harness: None,
        capped: Vec::new(),
    }
}

/// A ground that there is, or a new one.
fn a_ground(doc: &mut CircuitDoc) -> String {
    if let Some(known) = doc.grounds.keys().next() {
        return known.clone();
    }
    let id = free(doc, "G");
    doc.grounds.insert(id.clone(), ground(doc));
    id
}

/// The metal that grounds are on, or else what something is bolted to.
pub(super) fn metal_of(doc: &CircuitDoc) -> String {
    let grounds = doc.grounds.values().map(|g| g.metal.clone());
    let mounts = doc.parts.values().filter_map(|p| p.mount.clone());
    grounds
        .chain(mounts)
        .next()
        .unwrap_or_else(|| METAL.to_owned())
}

fn ground(doc: &CircuitDoc) -> GroundDoc {
    GroundDoc {
        metal: metal_of(doc),
        place: None,
        reach_minutes: None,
        contact_ohms: None,
    }
}

fn join_before(doc: &mut CircuitDoc, side: &str) {
    let sharing: Vec<usize> = at(doc, side).collect();
    let Some(first) = sharing.first().copied() else {
        return;
    };
    let splice = free(doc, "SP");
    doc.splices.insert(splice.clone(), SpliceDoc::default());
    let like = doc.wires[first].clone();
    for n in sharing {
        let wire = &mut doc.wires[n];
        for end in [&mut wire.from, &mut wire.to] {
            if end == side {
                end.clone_from(&splice);
            }
        }
    }
    let pigtail = WireDoc {
        id: free(doc, "W"),
        from: splice,
        to: side.to_owned(),
        length_m: Some(PIGTAIL_M),
        capped: Vec::new(),
        ..like
    };
    doc.wires.push(pigtail);
}

fn make(doc: &mut CircuitDoc, point: &str) {
    let Some((connector, side)) = point.split_once('.') else {
        if point.starts_with("SP") {
            doc.splices.insert(point.to_owned(), SpliceDoc::default());
        } else {
            doc.grounds.insert(point.to_owned(), ground(doc));
        }
        return;
    };
    let Ok(cavity) = side.trim_end_matches(['m', 'f']).parse::<u32>() else {
        return;
    };
    let new = ConnectorDoc {
        cavities: cavity,
        place: None,
        reach_minutes: None,
        contact_ohms: None,
        spare: Vec::new(),
    };
    let known = doc.connectors.entry(connector.to_owned()).or_insert(new);
    known.cavities = known.cavities.max(cavity);
}

fn feed_fused(doc: &mut CircuitDoc, point: &str) {
    let battery = doc.parts.iter().find(|(_, p)| p.kind == "battery");
    let Some((battery, _)) = battery else { return };
    let post = format!("{battery}.+");
    let fuse = free(doc, "F");
    doc.parts.insert(fuse.clone(), part("fuse"));
    let red = Colour::try_from("RD".to_owned()).ok();
    for (from, to) in [
        (post, format!("{fuse}.1")),
        (format!("{fuse}.2"), point.to_owned()),
    ] {
        let wire = WireDoc {
            color: red.clone(),
            ..new_wire(doc, from, to, AREA_MM2)
        };
        doc.wires.push(wire);
    }
}
