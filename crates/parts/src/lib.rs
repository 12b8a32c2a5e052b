//! The kinds of part. One file a kind; [`ALL`] is the registry.

mod actuator;
mod alternator;
mod battery;
mod blower;
mod build;
mod condenser;
mod control_module;
mod diode;
mod engine;
mod fuse;
mod gauge;
mod hand_starter;
mod ignition;
mod key_switch;
mod lamp;
mod led;
mod lever_switch;
mod path_line;
mod potentiometer;
mod regulator_rectifier;
mod relay;
mod resistor;
mod sensor_switch;
mod starter;
mod starts;
mod stator;
mod thermistor;
mod three_wire_sensor;

pub use build::{build_circuit, read_circuit};
pub use control_module::{ControlModule, ModuleTable};
pub use fuse::{MELTED, fuse_ohms, opening_s};
pub use ignition::{EDGE, NEEDLES, ON_THE_BLOCK, TOWER, arc, breakdown_v};
pub use key_switch::ContactTable;
pub use path_line::{PathLineError, path_line, say_path};
pub use starts::{FIRST_PATH, STARTS, Start, start};

use cimento_model::part::PartKind;

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
    &engine::Engine,
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
    &ignition::AcCdi,
    &ignition::DcCdi,
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
