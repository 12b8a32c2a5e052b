//! The circuit as it is drawn: what stands where is the page's affair, what there is comes from here.
//! It holds no value that a reading would give.

use indexmap::IndexMap;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Circuit, ConductorKind};

/// Everything a diagram shows.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Drawing {
    pub title: String,
    /// The same for drawings that look alike, and no other.
    pub shape: String,
    pub parts: Vec<DrawnPart>,
    pub wires: Vec<DrawnWire>,
    pub cavities: Vec<DrawnCavity>,
    pub connectors: Vec<DrawnConnector>,
    pub splices: Vec<String>,
    pub grounds: Vec<DrawnGround>,
    /// Names of the metals, each a test point `metal:name`.
    pub metals: Vec<String>,
    pub points: Vec<DrawnPoint>,
    /// The test point of the battery's negative post, which voltages are read against.
    pub negative: Option<String>,
    /// Volts of the system.
    pub system_v: f64,
    /// Wires that carry kilovolts to a plug.
    pub leads: Vec<String>,
    /// How far an instructor moved things from where they were laid out, by id.
    pub layout: IndexMap<String, [f64; 2]>,
}

/// A part with its terminals.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DrawnPart {
    pub id: String,
    pub kind: String,
    pub name: String,
    /// "15 A".
    pub rating: String,
    pub is_source: bool,
    pub is_fuse: bool,
    pub terminals: Vec<DrawnTerminal>,
    /// The metal its case is bolted to.
    pub mount: Option<String>,
}

/// A terminal.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DrawnTerminal {
    /// The test point's id.
    pub point: String,
    pub label: String,
    /// Drawn on the feed side, at the top.
    pub feed_side: bool,
    pub is_case: bool,
}

/// A wire with its looks.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DrawnWire {
    pub id: String,
    pub from: String,
    pub to: String,
    /// IEC 60757 code, base and tracer.
    pub color: Option<String>,
    pub area_mm2: Option<f64>,
    /// "1.0 VT/WH".
    pub label: String,
}

/// A cavity with its two sides.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DrawnCavity {
    pub id: String,
    pub connector: String,
    pub male: String,
    pub female: String,
}

/// A connector with how many cavities it has, wired or not.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DrawnConnector {
    pub id: String,
    pub cavities: u32,
    pub place: Option<String>,
}

/// A ground point.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DrawnGround {
    pub id: String,
    pub metal: String,
    pub place: Option<String>,
}

/// A test point: where it is and how long it takes to reach.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DrawnPoint {
    pub id: String,
    /// "back of cavity, male side".
    pub about: String,
    pub reach_minutes: f64,
}

impl Circuit {
    /// Wires that lead to a plug, by id.
    pub fn plug_leads(&self) -> impl Iterator<Item = &str> {
        let plugs = self.parts.iter().filter(|p| p.kind.sparks());
        self.wires_at(plugs.map(|p| p.nodes[0]).collect())
    }

    /// Nodes that carry kilovolts at a part.
    pub fn high_voltage_nodes(&self) -> Vec<usize> {
        let parts = self.parts.iter();
        let towers = parts.flat_map(|p| p.kind.high_voltage().iter().map(|t| p.nodes[*t]));
        towers.collect()
    }

    /// Wires that carry kilovolts.
    pub fn high_voltage_leads(&self) -> Vec<String> {
        let leads = self.wires_at(self.high_voltage_nodes());
        leads.map(str::to_owned).collect()
    }

    /// Wires with an end at one of some nodes, by id.
    fn wires_at(&self, nodes: Vec<usize>) -> impl Iterator<Item = &str> {
        let wires = self.conductors.iter();
        let wires = wires.filter(|c| c.kind == ConductorKind::Wire);
        let there = wires.filter(move |c| nodes.contains(&c.a) || nodes.contains(&c.b));
        there.map(|c| c.id.as_str())
    }

    /// What a diagram of the circuit shows.
    pub fn drawing(&self) -> Drawing {
        let cavities = self
            .conductors
            .iter()
            .filter(|c| c.kind == ConductorKind::Cavity);
        let metals = self.nodes.iter().filter_map(|n| n.strip_prefix("metal:"));
        let mut drawing = Drawing {
            title: self.doc.title.clone(),
            shape: String::new(),
            parts: self.parts.iter().map(|p| self.drawn_part(p)).collect(),
            leads: self.high_voltage_leads(),
            negative: self.point_at(0).map(|p| p.id.clone()),
            system_v: self.doc.system_v,
            wires: self.doc.wires.iter().map(drawn_wire).collect(),
            cavities: cavities
                .map(|c| DrawnCavity {
                    id: c.id.clone(),
                    connector: c.connector.clone().unwrap_or_default(),
                    male: self.nodes[c.a].clone(),
                    female: self.nodes[c.b].clone(),
                })
                .collect(),
            connectors: self
                .doc
                .connectors
                .iter()
                .map(|(id, c)| DrawnConnector {
                    id: id.clone(),
                    cavities: c.cavities,
                    place: c.place.clone(),
                })
                .collect(),
            splices: self.doc.splices.keys().cloned().collect(),
            grounds: self
                .doc
                .grounds
                .iter()
                .map(|(id, g)| DrawnGround {
                    id: id.clone(),
                    metal: g.metal.clone(),
                    place: g.place.clone(),
                })
                .collect(),
            metals: metals.map(str::to_owned).collect(),
            points: self
                .test_points
                .iter()
                .map(|p| DrawnPoint {
                    id: p.id.clone(),
                    about: p.about.clone(),
                    reach_minutes: p.reach_minutes,
                })
                .collect(),
            layout: self.doc.layout.clone(),
        };
        drawing.shape = drawing.shape();
        drawing
    }

    fn drawn_part(&self, part: &super::Part) -> DrawnPart {
        let terminals = part.terminals();
        DrawnPart {
            id: part.id.clone(),
            kind: part.kind.kind().to_owned(),
            name: part.name.clone(),
            rating: part.kind.rating(&part.params),
            is_source: part.kind.is_source(),
            is_fuse: part.kind.is_fuse(),
            terminals: terminals
                .map(|(t, node)| DrawnTerminal {
                    point: self.nodes[node].clone(),
                    label: t.name.to_owned(),
                    feed_side: t.feed_side,
                    is_case: t.is_case,
                })
                .collect(),
            mount: self.doc.parts.get(&part.id).and_then(|p| p.mount.clone()),
        }
    }
}

impl Drawing {
    /// Points by themselves, of which nobody is told where they lie.
    pub fn of_points(title: &str, points: impl IntoIterator<Item = String>) -> Self {
        let point = |id: String| DrawnPoint {
            about: String::new(),
            reach_minutes: 0.0,
            id,
        };
        Self {
            title: title.to_owned(),
            shape: String::new(),
            parts: Vec::new(),
            wires: Vec::new(),
            cavities: Vec::new(),
            connectors: Vec::new(),
            splices: Vec::new(),
            grounds: Vec::new(),
            metals: Vec::new(),
            points: points.into_iter().map(point).collect(),
            negative: None,
            system_v: 0.0,
            leads: Vec::new(),
            layout: IndexMap::new(),
        }
    }

    /// What there is without how it is wired: for work without a diagram.
    #[must_use]
    pub fn without_wiring(mut self) -> Self {
        for wire in &mut self.wires {
            wire.from.clear();
            wire.to.clear();
        }
        self.shape.clear();
        self.layout.clear();
        self
    }

    /// A number that depends on all that is drawn.
    fn shape(&self) -> String {
        hash(&(self.structure(), &self.layout))
    }

    /// A number that depends on what there is and how it is wired, not on what was moved by hand.
    pub fn structure(&self) -> String {
        hash(&(
            &self.parts,
            &self.wires,
            &self.cavities,
            (&self.splices, &self.grounds, &self.metals),
        ))
    }
}

/// FNV-1a, 64 bits, of what something is as JSON.
fn hash(what: &impl Serialize) -> String {
    let text = serde_json::to_string(what).unwrap_or_default();
    let mix = |sum: u64, byte: u8| (sum ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3);
    format!("{:016x}", text.bytes().fold(0xcbf2_9ce4_8422_2325, mix))
}

fn drawn_wire(wire: &super::WireDoc) -> DrawnWire {
    let color = wire.color.clone().map(String::from);
    let size = match (wire.area_mm2, wire.awg) {
        (Some(area), _) if area >= 10.0 => format!("{area:.0}"),
        (Some(area), _) => format!("{area}"),
        (None, Some(awg)) => format!("AWG {awg}"),
        (None, None) => String::new(),
    };
    DrawnWire {
        id: wire.id.clone(),
        from: wire.from.clone(),
        to: wire.to.clone(),
        label: format!("{size} {}", color.clone().unwrap_or_default())
            .trim()
            .to_owned(),
        color,
        area_mm2: wire.area_mm2.or(wire.awg.map(crate::units::awg_area_mm2)),
    }
}
