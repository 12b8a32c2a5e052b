//! The parts of an ignition, from the primary current to the spark.

mod ac_cdi;
mod breakdown;
mod capacitor;
mod coil;
mod computer;
mod dc_cdi;
mod distributor;
mod engine_computer;
mod gap;
mod magneto;
mod module;
mod pencil_coil;
mod pickup;
mod plug;
mod points;
mod windings;

pub(super) use ac_cdi::AcCdi;
pub use breakdown::{EDGE, NEEDLES, breakdown_v};
pub(super) use coil::{CAPACITOR_COIL, COIL, TWIN_COIL};
pub(super) use computer::Computer;
pub(super) use dc_cdi::DcCdi;
pub(super) use distributor::Distributor;
pub(super) use engine_computer::EngineComputer;
pub use gap::arc;
pub(super) use magneto::{BREAKER_MAGNETO, MAGNETO};
pub(super) use module::Module;
pub(super) use pencil_coil::PencilCoil;
pub(super) use pickup::Pickup;
pub use plug::ON_THE_BLOCK;
pub(super) use plug::Plug;
pub(super) use points::Points;
pub use windings::TOWER;
