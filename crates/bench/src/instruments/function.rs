//! What a dial can be set to. One file an instrument; [`ALL`](super::ALL) is the registry.

use std::borrow::Cow;
use std::fmt;
use std::hash::{Hash, Hasher};

use serde::de::Error as _;
use serde::{Deserialize, Deserializer, Serialize, Serializer};
use utoipa::openapi::schema::{ObjectBuilder, Type};
use utoipa::openapi::{RefOr, Schema};
use utoipa::{PartialSchema, ToSchema};

use super::ALL;
use super::reading::Shown;
use super::take::{Held, Measured, TakeError};
use crate::BenchError;
use cimento_model::circuit::Circuit;
use cimento_model::state::OperatingState;
use cimento_model::units::Unit;

/// Full count of a digital display.
const COUNTS: f64 = 6000.0;
/// Both leads together, in ohms, unless zeroed; common practice.
pub const LEAD_OHMS: f64 = 0.2;

/// A range: its full scale in volts, ohms, amperes or hertz, or what a setting is counted in.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Range(pub f64);

impl Range {
    /// One count of a digital display.
    pub fn count(self) -> f64 {
        self.0 / COUNTS
    }
}

/// What an instrument is put on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum PutOn {
    /// Two test points.
    Points,
    /// Round a wire.
    Wire,
    /// Round or on the end of a high-voltage lead.
    IgnitionLead,
    /// A control module.
    Module,
    /// An input that a control module reports.
    Pin,
}

/// What the answer key writes down of an instrument.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Keyed {
    /// Each test point against battery negative.
    Points,
    /// The same, and the drop along what carries its load.
    PointsAndDrops,
    /// The test points that swing.
    Swings,
    /// Each wire that carries something.
    Wires,
    Modules,
    Inputs,
    /// Each place with everything around it taken off.
    ByItself,
    /// Nothing: a hand has to set it up.
    Nothing,
}

/// The state that a machine is measured in, and the terminals of a sound one that swing there.
pub type Standing<'a> = (&'a OperatingState, &'a [usize]);

/// How an instrument is held: the lead by which it is named, or two test points.
pub type Leads = (String, Option<String>);

/// The lead of every plug.
pub(super) fn on_plugs(circuit: &Circuit) -> Vec<Leads> {
    circuit.plug_leads().map(|l| (l.to_owned(), None)).collect()
}

/// An instrument, or one function of one.
pub trait Instrument: Sync {
    /// As documents spell it.
    fn name(&self) -> &'static str;
    /// On the panel.
    fn label(&self) -> &'static str;
    /// In a sentence.
    fn title(&self) -> &'static str;
    fn unit(&self) -> Unit;
    /// What an expectation may be, as the empty field says.
    fn hint(&self) -> &'static str {
        self.unit().sign()
    }
    fn put_on(&self) -> PutOn {
        PutOn::Points
    }
    /// Smallest first.
    fn ranges(&self) -> &'static [Range];
    /// What it has to be told before it reads, for one whose ranges are settings: the words for each.
    fn settings(&self) -> &'static [&'static str] {
        &[]
    }
    /// How it is set before anybody sets it.
    fn usual_setting(&self) -> Option<f64> {
        None
    }
    /// It has ranges to choose from.
    fn is_ranged(&self) -> bool {
        true
    }
    /// The least step that its display can show in a range.
    fn step(&self, range: Range) -> f64 {
        range.count()
    }
    /// Largest error of a displayed value, in the reading's unit.
    fn accuracy(&self, value: f64, range: Range) -> f64;
    /// How far a reading may lie from a healthy one and still be normal, where the lesson's limits of
    /// resistance are that share.
    fn tolerance(&self, share: f64, healthy: f64) -> f64 {
        share * healthy.abs() + 2.0 * LEAD_OHMS
    }
    /// A lamp: one sees how it shines.
    fn is_lamp(&self) -> bool {
        false
    }
    /// It measures a voltage that stands still, against a point.
    fn is_dc_volts(&self) -> bool {
        false
    }
    /// It feeds the circuit from its own source.
    fn feeds(&self) -> bool {
        false
    }
    /// It counts what goes to and fro.
    fn counts_beats(&self) -> bool {
        false
    }
    /// What it drives through the leads may blow a fuse of its own.
    fn is_fused(&self) -> bool {
        false
    }
    /// How finely it looks for volts at a point, for what does: the plan takes the finest that is allowed.
    fn fineness(&self) -> Option<u8> {
        None
    }
    fn keyed(&self) -> Keyed {
        Keyed::Nothing
    }
    /// What a plan may propose to measure with it in a state that is worked, beside volts at the points.
    fn proposes(&self, _circuit: &Circuit, _state: &OperatingState) -> Vec<Leads> {
        Vec::new()
    }
    /// What it may be put to beside that once few suspects are left: what takes long to follow, or is too many
    /// to be worked out of every suspect.
    fn proposes_closer(&self, _circuit: &Circuit, _: Standing<'_>) -> Vec<Leads> {
        Vec::new()
    }
    /// It follows the machine in time, and tells nothing where nothing turns.
    fn follows_time(&self) -> bool {
        false
    }
    /// What is measured between two nodes.
    ///
    /// # Errors
    /// [`BenchError`] when the circuit has no solution with the instrument in it.
    fn between(&self, _held: &Held<'_>, _nodes: (usize, usize)) -> Result<Measured, BenchError> {
        Ok(Measured::of((0.0, 0.0)))
    }
    /// What is read at the one place that it is put on.
    ///
    /// # Errors
    /// [`TakeError`] when that is no such place, or the circuit has no solution with the instrument in it.
    fn at(&self, _held: &Held<'_>, place: &str) -> Result<Shown, TakeError> {
        Err(TakeError::NoPoint(place.to_owned()))
    }
    /// What one sees of values from least to most, where that is no digital display.
    fn shown(&self, _values: (f64, f64)) -> Option<Shown> {
        None
    }
}

/// What the dial is set to: an instrument of the registry.
#[derive(Clone, Copy)]
pub struct Function(&'static dyn Instrument);

impl Function {
    pub(super) const fn of(instrument: &'static dyn Instrument) -> Self {
        Self(instrument)
    }

    /// The function with a name, such as `dc_volts`.
    pub fn parse(name: &str) -> Option<Self> {
        Self::all().find(|f| f.name() == name)
    }

    /// Every function, in the order of a dial.
    pub fn all() -> impl Iterator<Item = Self> {
        ALL.iter().map(|i| Self(*i))
    }

    /// The names of all functions, for an error message.
    pub fn names() -> String {
        ALL.iter().map(|i| i.name()).collect::<Vec<_>>().join(", ")
    }

    /// The instrument itself.
    pub fn instrument(self) -> &'static dyn Instrument {
        self.0
    }

    /// Leads that it needs.
    pub fn leads(self) -> usize {
        if self.has_one_lead() { 1 } else { 2 }
    }

    /// It goes to one place, named by the red lead, and has no black one.
    pub fn has_one_lead(self) -> bool {
        self.0.put_on() != PutOn::Points
    }
}

impl std::ops::Deref for Function {
    type Target = dyn Instrument;

    fn deref(&self) -> &Self::Target {
        self.0
    }
}

impl PartialEq for Function {
    fn eq(&self, other: &Self) -> bool {
        self.0.name() == other.0.name()
    }
}

impl Eq for Function {}

impl Hash for Function {
    fn hash<H: Hasher>(&self, hasher: &mut H) {
        self.0.name().hash(hasher);
    }
}

impl fmt::Debug for Function {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.0.name())
    }
}

impl Serialize for Function {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.0.name())
    }
}

impl<'de> Deserialize<'de> for Function {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let name = Cow::<'de, str>::deserialize(deserializer)?;
        Self::parse(&name).ok_or_else(|| {
            let known = Self::names();
            D::Error::custom(format!(
                "unknown function “{name}”, expected one of {known}"
            ))
        })
    }
}

impl PartialSchema for Function {
    fn schema() -> RefOr<Schema> {
        let names = ALL.iter().map(|i| i.name());
        let all = ObjectBuilder::new().schema_type(Type::String);
        all.enum_values(Some(names)).into()
    }
}

impl ToSchema for Function {
    fn name() -> Cow<'static, str> {
        "Function".into()
    }
}

/// An instrument as the page draws it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct InstrumentInfo {
    pub function: Function,
    /// On the panel.
    pub label: &'static str,
    /// What an expectation may be.
    pub hint: &'static str,
    pub put_on: PutOn,
    /// What it has to be told before it reads.
    pub settings: Vec<Setting>,
    pub usual_setting: Option<f64>,
    /// It has ranges to choose from.
    pub ranged: bool,
    /// It measures a voltage that stands still, so that drops can be drawn from it.
    pub is_dc_volts: bool,
    /// It has a fuse that can blow.
    pub is_fused: bool,
}

/// One way to set an instrument.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Setting {
    pub value: f64,
    pub label: &'static str,
}

impl From<Function> for InstrumentInfo {
    fn from(function: Function) -> Self {
        let settings = function.ranges().iter().zip(function.settings());
        Self {
            function,
            label: function.label(),
            hint: function.hint(),
            put_on: function.put_on(),
            settings: settings
                .map(|(range, label)| Setting {
                    value: range.0,
                    label,
                })
                .collect(),
            usual_setting: function.usual_setting(),
            ranged: function.is_ranged(),
            is_dc_volts: function.is_dc_volts(),
            is_fused: function.is_fused(),
        }
    }
}
