//! What a kind of part is to the rest: how it is described, how it enters the equations, how it answers.

mod context;
mod facets;
mod params;

pub use context::{Change, Context, Cylinder, Look, Notice, NoticeKind, Riding, Stamp, Turning};
pub use facets::{Cranking, Fuel, Generator, Ignition, Mechanics, Module, SparkPlug};
pub use params::{ParamKind, ParamSpec, Params, ReadTable, Table, number};

use crate::circuit::{Caution, DangerousAct, Part};
use crate::faults::ModeSpec;

/// A terminal of a kind of part.
pub struct Terminal {
    /// DIN 72552 code where there is one.
    pub name: &'static str,
    /// What a probe touches there.
    pub about: &'static str,
    /// Drawn on the feed side (top) or the ground side (bottom).
    pub feed_side: bool,
    /// The part's case, which `mount` bolts to a metal.
    pub is_case: bool,
    /// A circuit that leaves it unwired is worth a warning.
    pub needed: bool,
}

/// Shorthand for the tables in the part files.
pub const fn terminal(name: &'static str, about: &'static str, feed_side: bool) -> Terminal {
    Terminal {
        name,
        about,
        feed_side,
        is_case: false,
        needed: true,
    }
}

/// A knob or lever of the machine that belongs to a part.
#[derive(Debug, Clone, PartialEq)]
pub struct Control {
    /// `key`, `clutch`.
    pub name: String,
    pub positions: Vec<String>,
    /// Position it rests in.
    pub rest: String,
    /// Position it is held in while the complaint is tried.
    pub worked: String,
    /// It is tried by itself, as a horn button is, and not held while the key is turned.
    pub alone: bool,
}

/// What rides on the current that a generator sends.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Ripple {
    /// Mean current, in amperes.
    pub amps: f64,
    /// Mean distance from it, as a share of it.
    pub share: f64,
    pub hz: f64,
    /// How often it rises and falls in a second at most.
    pub humps_hz: f64,
}

/// What a part's discrete and slow state is: everything that survives from one solve to the next.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct PartState {
    /// Meaning by kind: relay pulled in, fuse blown.
    pub level: u64,
    /// Speed in rad/s, for what turns.
    pub speed: f64,
    /// Share of its life used up, 0 to 1, for what melts.
    pub wear: f64,
    /// Share of its charge, or of its life, that is gone, for what runs down.
    pub drained: f64,
}

/// Something that goes to and fro as the engine turns: a winding, a toothed wheel. The two halves
/// of its period stand for the wave: a meter on DC shows their mean, on AC how far they are apart.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Alternation {
    pub hz: f64,
    /// Share of the period in the upper half.
    pub share: f64,
}

/// Where a kind of part lies on the shelf that one builds from.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Shelf {
    Supply,
    Protection,
    Switches,
    Loads,
    Components,
    Sensors,
    Modules,
    Starting,
    Ignition,
}

impl Shelf {
    pub const ALL: [Self; 9] = [
        Self::Supply,
        Self::Protection,
        Self::Switches,
        Self::Loads,
        Self::Components,
        Self::Sensors,
        Self::Modules,
        Self::Starting,
        Self::Ignition,
    ];

    /// The heading above it.
    pub fn title(self) -> &'static str {
        match self {
            Self::Supply => "Battery and charging",
            Self::Protection => "Fuses and breakers",
            Self::Switches => "Switches and relays",
            Self::Loads => "Lamps, horns, motors, valves",
            Self::Components => "Resistors, diodes, capacitors",
            Self::Sensors => "Sensors and gauges",
            Self::Modules => "Modules",
            Self::Starting => "Starting",
            Self::Ignition => "Ignition",
        }
    }
}

/// A kind of part: how it is described, how it enters the equations, how it answers.
pub trait PartKind: Send + Sync {
    /// The name documents use.
    fn kind(&self) -> &'static str;
    /// The name people use.
    fn title(&self) -> &'static str;
    /// What the ids of such parts begin with.
    fn letters(&self) -> &'static str {
        "X"
    }
    /// Where it lies on the shelf; what it is for says it of most.
    fn shelf(&self) -> Shelf {
        if self.is_source() || self.generator().is_some() {
            Shelf::Supply
        } else if self.is_fuse() {
            Shelf::Protection
        } else if self.cranking().is_some() {
            Shelf::Starting
        } else if self.ignition().is_some() || self.plug().is_some() {
            Shelf::Ignition
        } else if !self.loads().is_empty() {
            Shelf::Loads
        } else {
            Shelf::Components
        }
    }
    /// What one is warned of where it is fitted.
    fn cautions(&self) -> &'static [Caution] {
        &[]
    }
    /// What one is warned of once more, right before doing it, where it is fitted.
    fn danger(&self) -> Option<(DangerousAct, &'static str)> {
        None
    }
    fn terminals(&self) -> &'static [Terminal];
    fn params(&self) -> &'static [ParamSpec];
    fn modes(&self) -> &'static [ModeSpec];
    /// Whether a part with these parameters has a terminal, by position.
    fn has_terminal(&self, _params: &Params, _terminal: usize) -> bool {
        true
    }
    /// The ways in which what lies behind one terminal can fail, for parts that fail pin by pin.
    fn pin_modes(&self, _params: &Params, _terminal: usize) -> &'static [ModeSpec] {
        &[]
    }
    /// A pair of terminals between which it consumes, where that depends on its parameters.
    fn own_load(&self, _params: &Params) -> Option<(usize, usize)> {
        None
    }
    /// Pairs of terminals between which it consumes.
    fn loads(&self) -> &'static [(&'static str, &'static str)] {
        &[]
    }
    /// Pairs of terminals, by position, that it can join.
    fn contacts(&self, _params: &Params) -> Vec<(usize, usize)> {
        Vec::new()
    }
    /// It gives the circuit its voltage; its second terminal is the negative.
    fn is_source(&self) -> bool {
        false
    }
    /// It does something only while the engine turns, so the machine can be run.
    fn needs_engine(&self) -> bool {
        false
    }
    /// How it goes to and fro in its present state, if it does.
    fn alternation(&self, _context: &Context<'_>) -> Option<Alternation> {
        None
    }
    /// It sits in a socket and can be pulled by hand.
    fn plugs_in(&self) -> bool {
        false
    }
    /// Parameters that say where it sits, and go with its place when it is exchanged for its like.
    fn sits_by(&self) -> &'static [&'static str] {
        &[]
    }
    /// It keeps a machine in gear from being started.
    fn guards_the_start(&self) -> bool {
        false
    }
    /// It protects a circuit by melting, and is a consumable.
    fn is_fuse(&self) -> bool {
        false
    }
    /// Whether its armature is pulled in, of what has one.
    fn pulled_in(&self, _state: &PartState) -> Option<bool> {
        None
    }
    /// It makes the spark of a cylinder.
    fn plug(&self) -> Option<&dyn SparkPlug> {
        None
    }
    /// It charges a battery.
    fn generator(&self) -> Option<&dyn Generator> {
        None
    }
    /// It turns the engine while it cranks; its speed is the crankshaft's.
    fn cranking(&self) -> Option<&dyn Cranking> {
        None
    }
    /// It is what the ignition is to start, and no electrical part.
    fn mechanics(&self) -> Option<&dyn Mechanics> {
        None
    }
    /// It has to do with fuel.
    fn fuel(&self) -> Option<&dyn Fuel> {
        None
    }
    /// It belongs to an ignition.
    fn ignition(&self) -> Option<&dyn Ignition> {
        None
    }
    /// It answers a scan tool.
    fn module(&self) -> Option<&dyn Module> {
        None
    }
    fn control(&self, _part: &Part) -> Option<Control> {
        None
    }
    /// Rating or size in a few characters for the diagram, such as "15 A".
    fn rating(&self, _params: &Params) -> String {
        String::new()
    }
    /// Writes the part's elements.
    fn stamp(&self, stamp: &mut Stamp<'_>);
    /// The change of state the part wants, given a solution.
    fn next(&self, _look: &Look<'_>) -> Option<Change> {
        None
    }
    /// Share of its charge that it gains per second; negative while it is drained or harmed.
    fn charge_per_s(&self, _look: &Look<'_>) -> f64 {
        0.0
    }
    /// What a person at the machine notices of it.
    fn notice(&self, _looks: &[Look<'_>]) -> Option<Notice> {
        None
    }
}
