//! Places where a fault can sit, and the conductors among them.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Circuit, LeadKind};
use crate::faults::ModeSpec;

/// Where a fault can sit.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Place {
    /// A conductor, by position in [`Circuit::conductors`].
    Conductor(usize),
    /// A part, by position in [`Circuit::parts`].
    Part(usize),
    /// What lies behind one terminal of a part that fails pin by pin: the part and the terminal, by
    /// position.
    Pin(usize, usize),
}

/// What a conductor is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ConductorKind {
    Wire,
    Cavity,
    Splice,
    Ground,
    /// A part's case bolted to metal.
    Mount,
}

/// Something that only conducts, between two nodes.
#[derive(Debug, Clone, PartialEq)]
pub struct Conductor {
    /// `W8`, `C12.4`, `SP3`, `G1`, `M1.mount`.
    pub id: String,
    pub kind: ConductorKind,
    pub a: usize,
    pub b: usize,
    /// Resistance when healthy, at 20 °C, in ohms.
    pub ohms: f64,
    /// The metal a chafe would touch, by node, if the circuit has one.
    pub near_metal: Option<usize>,
    /// The connector a cavity belongs to.
    pub connector: Option<String>,
    /// Harness, for wires and splices.
    pub harness: Option<String>,
    /// Copper of a wire that has a size, in mm².
    pub area_mm2: Option<f64>,
    /// What it is made of, for a high-voltage lead.
    pub ignition_lead: Option<LeadKind>,
    /// How often it fails beside others of its kind.
    pub doubt: f64,
}

/// A place as people and programs outside see it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PlaceInfo {
    pub id: String,
    /// "wire VT/WH, C12.4f to S2.1".
    pub about: String,
    pub modes: Vec<ModeInfo>,
}

/// One way a place can fail, as shown.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ModeInfo {
    pub mode: String,
    pub about: String,
    /// The range of its severity, if it has one.
    pub severity: Option<SeverityInfo>,
    /// It lies between its place and another, which has to be said.
    pub needs_other: bool,
}

/// The range of a mode's severity.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SeverityInfo {
    pub least: f64,
    pub most: f64,
    pub usual: f64,
    pub unit: SeverityUnit,
}

/// What a severity is counted in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema)]
pub enum SeverityUnit {
    #[serde(rename = "Ω")]
    Ohm,
    /// A share from 0 to 1.
    #[serde(rename = "share")]
    Share,
    #[serde(rename = "A")]
    Ampere,
    #[serde(rename = "mm")]
    Millimetre,
}

impl std::fmt::Display for SeverityUnit {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(match self {
            Self::Ohm => "Ω",
            Self::Share => "share",
            Self::Ampere => "A",
            Self::Millimetre => "mm",
        })
    }
}

impl Circuit {
    /// The place with an id.
    pub fn place(&self, id: &str) -> Option<Place> {
        let conductor = self.conductors.iter().position(|c| c.id == id);
        conductor
            .map(Place::Conductor)
            .or_else(|| self.part(id).map(Place::Part))
            .or_else(|| self.pins().find(|p| self.place_id(*p) == id))
    }

    /// The pins that fail by themselves.
    fn pins(&self) -> impl Iterator<Item = Place> + '_ {
        let parts = self.parts.iter().enumerate();
        parts.flat_map(|(n, part)| {
            let fails = |t: &usize| !part.kind.pin_modes(&part.params, *t).is_empty();
            (0..part.nodes.len())
                .filter(fails)
                .map(move |t| Place::Pin(n, t))
        })
    }

    /// Whether the far ends of two conductors can be exchanged: cavities of one connector, or high-voltage
    /// leads that lead to parts of one kind.
    pub fn can_cross(&self, a: usize, b: usize) -> bool {
        let (a, b) = (&self.conductors[a], &self.conductors[b]);
        let leads_to = |c: &Conductor| {
            let mut parts = self.parts.iter();
            let part = parts.find(|p| p.nodes.contains(&c.b));
            part.map(|p| p.kind.kind())
        };
        match (a.ignition_lead, b.ignition_lead) {
            (Some(_), Some(_)) => leads_to(a).is_some() && leads_to(a) == leads_to(b),
            (None, None) => a.connector.is_some() && a.connector == b.connector,
            _ => false,
        }
    }

    /// A place's id.
    pub fn place_id(&self, place: Place) -> &str {
        match place {
            Place::Conductor(n) => &self.conductors[n].id,
            Place::Part(n) => &self.parts[n].id,
            Place::Pin(n, terminal) => &self.nodes[self.parts[n].nodes[terminal]],
        }
    }

    /// Every place: conductors first, then parts, then pins.
    pub fn places(&self) -> impl Iterator<Item = Place> + '_ {
        let conductors = (0..self.conductors.len()).map(Place::Conductor);
        let parts = (0..self.parts.len()).map(Place::Part);
        conductors.chain(parts).chain(self.pins())
    }

    /// The ways a place can fail.
    pub fn modes(&self, place: Place) -> &'static [ModeSpec] {
        match place {
            Place::Conductor(n) => crate::faults::conductor_modes(&self.conductors[n]),
            Place::Part(n) => self.parts[n].kind.modes(),
            Place::Pin(n, t) => self.parts[n].kind.pin_modes(&self.parts[n].params, t),
        }
    }

    /// A place in a few words: "wire VT/WH, C12.4f to S2.1".
    pub fn place_about(&self, place: Place) -> String {
        self.about(place, true)
    }

    /// The same, with or without what it is wired to.
    fn about(&self, place: Place, wiring: bool) -> String {
        match place {
            Place::Part(n) => self.parts[n].name.clone(),
            Place::Pin(n, t) => format!(
                "pin {} of {}, inside",
                self.parts[n].kind.terminals()[t].name,
                self.parts[n].name.to_lowercase()
            ),
            Place::Conductor(n) => {
                let c = &self.conductors[n];
                let (a, b) = (&self.nodes[c.a], &self.nodes[c.b]);
                match c.kind {
                    ConductorKind::Wire => {
                        let wire = self.doc.wires.iter().find(|w| w.id == c.id);
                        let colour = wire.and_then(|w| w.color.clone()).map(String::from);
                        let (from, to) = wire.map_or((a.as_str(), b.as_str()), |w| {
                            (w.from.as_str(), w.to.as_str())
                        });
                        let what = match c.ignition_lead {
                            Some(_) => "high-voltage lead",
                            None => "wire",
                        };
                        let what = match colour {
                            Some(colour) => format!("{what} {colour}"),
                            None => what.to_owned(),
                        };
                        match wiring {
                            true => format!("{what}, {from} to {to}"),
                            false => what,
                        }
                    }
                    ConductorKind::Cavity => {
                        let connector = c.connector.as_deref().unwrap_or_default();
                        let place = self.doc.connectors.get(connector);
                        let place = place.and_then(|d| d.place.clone()).unwrap_or_default();
                        format!("cavity of {connector} {place}")
                            .trim_end()
                            .to_owned()
                    }
                    ConductorKind::Splice => "splice".to_owned(),
                    ConductorKind::Ground => {
                        let metal = b.trim_start_matches("metal:");
                        match self.doc.grounds.get(&c.id).and_then(|g| g.place.clone()) {
                            Some(place) => format!("ground on the {metal}, {place}"),
                            None => format!("ground on the {metal}"),
                        }
                    }
                    ConductorKind::Mount => {
                        format!("mounting face on the {}", b.trim_start_matches("metal:"))
                    }
                }
            }
        }
    }

    /// All places with their modes, for a list to choose from.
    pub fn place_list(&self) -> Vec<PlaceInfo> {
        self.list(true)
    }

    /// The same without how it is wired: for work without a diagram.
    pub fn place_list_without_wiring(&self) -> Vec<PlaceInfo> {
        self.list(false)
    }

    fn list(&self, wiring: bool) -> Vec<PlaceInfo> {
        self.places()
            .map(|place| PlaceInfo {
                id: self.place_id(place).to_owned(),
                about: self.about(place, wiring),
                modes: self.modes(place).iter().map(ModeSpec::info).collect(),
            })
            .collect()
    }
}
