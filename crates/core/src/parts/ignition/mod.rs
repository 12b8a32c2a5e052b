//! The parts of an ignition, from the primary current to the spark.

mod breakdown;
mod coil;
mod computer;
mod distributor;
mod gap;
mod magneto;
mod pencil_coil;
mod plug;
mod points;
mod windings;

pub use breakdown::{EDGE, NEEDLES, breakdown_v};
pub(super) use coil::Coil;
pub(super) use computer::Computer;
pub(super) use distributor::Distributor;
pub(super) use magneto::Magneto;
pub(super) use pencil_coil::PencilCoil;
pub(super) use plug::Plug;
pub(super) use points::Points;
