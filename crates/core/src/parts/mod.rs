//! The kinds of part. One file a kind; [`ALL`] is the registry.

mod actuator;
mod alternator;
mod battery;
mod blower;
mod condenser;
mod context;
mod control_module;
mod diode;
mod fuse;
mod gauge;
mod hand_starter;
mod ignition;
mod key_switch;
mod lamp;
mod led;
mod lever_switch;
mod params;
mod potentiometer;
mod regulator_rectifier;
mod relay;
mod resistor;
mod sensor_switch;
mod starter;
mod stator;
mod thermistor;
mod three_wire_sensor;

pub use context::{Change, Context, Cylinder, Look, Notice, NoticeKind, Stamp, Turning};
pub use control_module::{ControlModule, ModuleTable};
pub use fuse::{fuse_ohms, opening_s};
pub use ignition::{EDGE, NEEDLES, breakdown_v};
pub(crate) use ignition::{TOWER, arc};
pub use key_switch::ContactTable;
pub use params::{ParamKind, ParamSpec, Params};

use crate::bench::OperatingState;
use crate::circuit::{Part, SeverityInfo, SeverityUnit};

/// Every kind of part there is.
pub static ALL: &[&dyn PartKind] = &[
    &battery::Battery,
    &fuse::BLADE,
    &fuse::FUSIBLE_LINK,
    &fuse::BREAKER,
    &key_switch::KeySwitch,
    &lever_switch::PLAIN,
    &lever_switch::CLUTCH,
    &lever_switch::NEUTRAL,
    &lever_switch::LANYARD,
    &lever_switch::STOP_LANYARD,
    &lever_switch::STOP_KEY,
    &lever_switch::HORN_BUTTON,
    &relay::MAKE,
    &relay::CHANGE_OVER,
    &starter::Starter,
    &lamp::LAMP,
    &lamp::WARNING_LAMP,
    &led::Led,
    &actuator::HORN,
    &actuator::INJECTOR,
    &actuator::SOLENOID_VALVE,
    &actuator::HEATER,
    &blower::Blower,
    &potentiometer::SINGLE,
    &potentiometer::SAME,
    &potentiometer::OPPOSITE,
    &thermistor::Thermistor,
    &resistor::RESISTOR,
    &resistor::BALLAST,
    &resistor::CODED_KEY,
    &condenser::Condenser,
    &diode::Diode,
    &alternator::Alternator,
    &stator::Stator,
    &regulator_rectifier::RegulatorRectifier,
    &gauge::Gauge,
    &gauge::Sender,
    &sensor_switch::OIL_PRESSURE,
    &sensor_switch::TEMPERATURE,
    &three_wire_sensor::HALL,
    &three_wire_sensor::OPTICAL,
    &control_module::ControlModule,
    &hand_starter::HandStarter,
    &ignition::COIL,
    &ignition::CAPACITOR_COIL,
    &ignition::TWIN_COIL,
    &ignition::PencilCoil,
    &ignition::Points,
    &ignition::Distributor,
    &ignition::Plug,
    &ignition::Computer,
    &ignition::MAGNETO,
    &ignition::BREAKER_MAGNETO,
    &ignition::Pickup,
    &ignition::Module,
    &ignition::EngineComputer,
    &ignition::StatorBox,
    &ignition::BatteryBox,
];

/// The kind with a name as documents spell it.
pub fn kind(name: &str) -> Option<&'static dyn PartKind> {
    ALL.iter().find(|k| k.kind() == name).copied()
}

/// The names of all kinds, for an error message.
pub fn kinds() -> String {
    let names: Vec<_> = ALL.iter().map(|k| k.kind()).collect();
    names.join(", ")
}

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
const fn terminal(name: &'static str, about: &'static str, feed_side: bool) -> Terminal {
    Terminal {
        name,
        about,
        feed_side,
        is_case: false,
        needed: true,
    }
}

/// One way a place can fail.
pub struct ModeSpec {
    /// As documents spell it.
    pub name: &'static str,
    pub about: &'static str,
    pub severity: Option<SeverityInfo>,
    /// How often it happens beside a wire's break in mid-run (1.0); common practice.
    pub prior: f64,
}

impl ModeSpec {
    /// Whether it is between its place and another, which has to be said.
    pub fn needs_other(&self) -> bool {
        matches!(self.name, "short_between" | "leak_between" | "crossed")
    }

    /// The mode as shown to people.
    pub fn info(&self) -> crate::circuit::ModeInfo {
        crate::circuit::ModeInfo {
            mode: self.name.to_owned(),
            about: self.about.to_owned(),
            severity: self.severity,
            needs_other: self.needs_other(),
        }
    }
}

/// A mode without severity.
pub(crate) const fn mode(name: &'static str, about: &'static str, prior: f64) -> ModeSpec {
    ModeSpec {
        name,
        about,
        severity: None,
        prior,
    }
}

/// A mode with a resistance, least and most in ohms.
pub(crate) const fn graded(
    name: &'static str,
    about: &'static str,
    prior: f64,
    (least, usual, most): (f64, f64, f64),
) -> ModeSpec {
    ModeSpec {
        name,
        about,
        severity: Some(SeverityInfo {
            least,
            most,
            usual,
            unit: SeverityUnit::Ohm,
        }),
        prior,
    }
}

/// A mode whose severity is counted in something else than ohms.
pub(crate) const fn graded_in(
    unit: SeverityUnit,
    name: &'static str,
    about: &'static str,
    prior: f64,
    (least, usual, most): (f64, f64, f64),
) -> ModeSpec {
    ModeSpec {
        name,
        about,
        severity: Some(SeverityInfo {
            least,
            most,
            usual,
            unit,
        }),
        prior,
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

/// A kind of part: how it is described, how it enters the equations, how it answers.
pub trait PartKind: Send + Sync {
    /// The name documents use.
    fn kind(&self) -> &'static str;
    /// The name people use.
    fn title(&self) -> &'static str;
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
    /// What rides on the current it sends, if it sends any.
    fn ripple(&self, _look: &Look<'_>) -> Option<Ripple> {
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
    /// It turns the engine while it cranks; its speed is the crankshaft's.
    fn cranks(&self) -> bool {
        false
    }
    /// Speed at which a hand turns the crankshaft with it, in revolutions per minute.
    fn hand_rpm(&self, _part: &Part, _operating: &OperatingState) -> f64 {
        0.0
    }
    /// Terminals, by position, that carry kilovolts.
    fn high_voltage(&self) -> &'static [usize] {
        &[]
    }
    /// It makes the spark of a cylinder.
    fn sparks(&self) -> bool {
        false
    }
    /// The cylinder it makes the spark of.
    fn cylinder(&self, _params: &Params) -> Option<Cylinder> {
        None
    }
    /// How well its cylinder squeezes its gas with it there, from 0 to 1.
    fn compression(&self, _context: &Context<'_>) -> f64 {
        1.0
    }
    /// It is harmed by firing with nowhere to spark: its level is 1 while it does.
    fn is_harmed(&self) -> bool {
        false
    }
    /// What it does, it does in a cylinder, and not in open air.
    fn is_in_cylinder(&self, _part: &Part, _operating: &OperatingState) -> bool {
        true
    }
    /// It does something only while the engine turns, so the machine can be run.
    fn needs_engine(&self) -> bool {
        false
    }
    /// It needs more volts than a starter may leave it: it may come to life as the key is let go.
    fn drops_out(&self) -> bool {
        false
    }
    /// Whether the engine gets fuel by it; `None` for what has nothing to do with fuel.
    fn fuels(&self, _look: &Look<'_>) -> Option<bool> {
        None
    }
    /// Degrees of the crankshaft by which it makes sparks late.
    fn retards_deg(&self, _context: &Context<'_>) -> f64 {
        0.0
    }
    /// Volts at the input where it listens for pulses, if it has one.
    fn hears_v(&self, _look: &Look<'_>) -> Option<f64> {
        None
    }
    /// How many things click when its input jumps by so many volts.
    fn clicks(&self, _look: &Look<'_>, _volts: f64) -> usize {
        0
    }
    /// It charges a battery.
    fn charges(&self) -> bool {
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
    /// It keeps a machine in gear from being started.
    fn guards_the_start(&self) -> bool {
        false
    }
    /// It protects a circuit by melting, and is a consumable.
    fn is_fuse(&self) -> bool {
        false
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
