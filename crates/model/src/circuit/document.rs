//! The circuit document as it is written in a file, before it is checked.

use indexmap::IndexMap;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::units::Colour;

/// The only format and version there is so far.
pub const FORMAT: &str = "cimento/circuit";
pub const VERSION: u32 = 1;

/// A circuit as a document.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CircuitDoc {
    /// Always `cimento/circuit`.
    pub format: String,
    pub version: u32,
    pub title: String,
    /// Nominal voltage of the system.
    pub system_v: f64,
    #[serde(default)]
    pub parts: IndexMap<String, PartDoc>,
    #[serde(default)]
    pub connectors: IndexMap<String, ConnectorDoc>,
    #[serde(default)]
    pub splices: IndexMap<String, SpliceDoc>,
    #[serde(default)]
    pub grounds: IndexMap<String, GroundDoc>,
    #[serde(default)]
    pub wires: Vec<WireDoc>,
    /// How far things were moved on the diagram from where they are laid out, by id, to the right and
    /// down, in diagram units.
    #[serde(default, skip_serializing_if = "IndexMap::is_empty")]
    pub layout: IndexMap<String, [f64; 2]>,
}

impl CircuitDoc {
    /// A circuit of 12 V with nothing in it yet.
    pub fn new(title: &str) -> Self {
        Self {
            format: FORMAT.to_owned(),
            version: VERSION,
            title: title.to_owned(),
            system_v: 12.0,
            parts: IndexMap::new(),
            connectors: IndexMap::new(),
            splices: IndexMap::new(),
            grounds: IndexMap::new(),
            wires: Vec::new(),
            layout: IndexMap::new(),
        }
    }
}

/// A part: its kind decides terminals and parameters.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PartDoc {
    pub kind: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub name: Option<String>,
    /// Parameters by name, in SI units; what is absent has the kind's default.
    #[serde(default, skip_serializing_if = "serde_json::Map::is_empty")]
    #[schema(value_type = Object)]
    pub params: serde_json::Map<String, serde_json::Value>,
    /// The metal that the part's case is bolted to, for kinds that ground through their case.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mount: Option<String>,
    /// What the machine calls the part's knob or lever, in place of the kind's own word: two
    /// switches with one name move together.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub control: Option<String>,
    /// Minutes to reach the part's terminals.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[serde(rename = "reach_min")]
    pub reach_minutes: Option<f64>,
}

/// Two mating halves with numbered cavities.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ConnectorDoc {
    pub cavities: u32,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[serde(rename = "reach_min")]
    pub reach_minutes: Option<f64>,
    /// Contact resistance of a healthy cavity, in ohms.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub contact_ohms: Option<f64>,
    /// Cavities that are meant to have a wire on one side or none.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub spare: Vec<u32>,
}

/// Several wires joined inside a harness.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SpliceDoc {
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub harness: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[serde(rename = "reach_min")]
    pub reach_minutes: Option<f64>,
    /// How the wires are joined; crimped when left out.
    #[serde(default, skip_serializing_if = "SpliceJoint::is_usual")]
    pub join: SpliceJoint,
}

/// What a high-voltage lead is made of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum LeadKind {
    /// A string full of carbon, against radio noise.
    Carbon,
    /// A fine wire wound round a core.
    WireWound,
    /// Plain copper, as capacitor ignitions want it.
    Copper,
}

impl LeadKind {
    pub const ALL: [Self; 3] = [Self::Carbon, Self::WireWound, Self::Copper];

    /// As documents spell it.
    pub fn name(self) -> &'static str {
        match self {
            Self::Carbon => "carbon",
            Self::WireWound => "wire_wound",
            Self::Copper => "copper",
        }
    }

    /// Resistance of a sound one, in ohms per metre; common practice: carbon leads have 10 kΩ to 16 kΩ
    /// per metre by design, wire-wound ones about a tenth.
    pub fn ohms_per_m(self) -> f64 {
        match self {
            Self::Carbon => 13_000.0,
            Self::WireWound => 1_000.0,
            Self::Copper => 0.02,
        }
    }

    /// What somebody would fit by mistake.
    pub(crate) fn other(self) -> Self {
        match self {
            Self::Carbon => Self::Copper,
            Self::WireWound | Self::Copper => Self::Carbon,
        }
    }
}

/// How wires are joined in a splice.
#[derive(
    Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema,
)]
#[serde(rename_all = "snake_case")]
pub enum SpliceJoint {
    #[default]
    Crimped,
    /// Soldered and sleeved.
    Soldered,
    /// Twisted together and taped.
    Twisted,
    /// A tap that cuts into the wire.
    Tap,
}

impl SpliceJoint {
    fn is_usual(&self) -> bool {
        *self == Self::Crimped
    }

    /// Resistance of a sound one, in ohms; common practice.
    pub fn ohms(self) -> f64 {
        match self {
            Self::Soldered => 0.000_3,
            Self::Crimped => 0.000_5,
            Self::Twisted => 0.01,
            Self::Tap => 0.02,
        }
    }

    /// How often it fails beside a crimped one; common practice: taps are the worst.
    pub fn doubt(self) -> f64 {
        match self {
            Self::Soldered | Self::Crimped => 1.0,
            Self::Twisted => 3.0,
            Self::Tap => 5.0,
        }
    }
}

/// A lug on metal.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct GroundDoc {
    pub metal: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[serde(rename = "reach_min")]
    pub reach_minutes: Option<f64>,
    /// Contact resistance of the clean lug, in ohms.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub contact_ohms: Option<f64>,
}

/// One conductor between two terminals.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WireDoc {
    pub id: String,
    pub from: String,
    pub to: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub area_mm2: Option<f64>,
    /// American gauge, in place of `area_mm2`; 2/0 is −1.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub awg: Option<i32>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub length_m: Option<f64>,
    /// What a high-voltage lead is made of, in place of a size; its resistance comes from its length.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[serde(rename = "lead")]
    pub ignition_lead: Option<LeadKind>,
    /// Resistance, in place of area and length.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ohms: Option<f64>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(value_type = Option<String>)]
    pub color: Option<Colour>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub harness: Option<String>,
    /// Ends that are meant to hang free: `from`, `to`.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub capped: Vec<String>,
}
