//! Circuit numerics by modified nodal analysis: a netlist goes in, node voltages and branch
//! currents come out. Nothing here knows of cars, meters or students.
//!
//! ```
//! use cimento_solver::{Element, Netlist, Solver};
//!
//! // 12 V behind 10 mΩ feeds 6 Ω.
//! let mut net = Netlist::new();
//! let (zero, top) = (net.zero(), net.node());
//! let source = net.add(Element::source(top, zero, 12.0, 0.01));
//! net.add(Element::resistor(top, zero, 6.0));
//! let op = Solver::new().operating_point(&net).unwrap();
//! assert!((op.voltage(top) - 12.0 * 6.0 / 6.01).abs() < 1e-6);
//! assert!((op.current(source) + 12.0 / 6.01).abs() < 1e-6);
//! ```
//!
//! Elements in series carry their current as an unknown (`v − R·i = E`, open: `i = 0`), so that a
//! very small or very large resistance costs no accuracy; what lies in parallel is an admittance.
//! What is not linear, and what is only attached for a moment (a meter), lies at *ports*: the linear
//! rest is factored once, and Newton's iteration runs over the few port voltages alone.
//! Every node leaks to zero through [`LEAK_OHMS`], so a cut-off wire has a defined voltage.

mod dense;
mod elements;
mod error;
mod light;
mod matrix;
mod netlist;
mod newton;
mod node;
mod ports;
mod solution;
mod stamper;
mod transient;

pub use elements::{Element, LEAST_OHMS, Load, filament_ohms};
pub use error::SolveError;
pub use netlist::Netlist;
pub use newton::Solver;
pub use node::{ElementId, Node};
pub use solution::Solution;
pub use transient::{Flip, Motion, Shape, Spares, Start, Switch, Transient, Trigger, held};

/// Leak from every node to zero, in ohms. It gives a cut-off wire a defined voltage and is to be seen by no meter: a
/// hundred nodes that hang together read 0.6 V of 12.6 V through ten megohms. Dirt and damp are faults of their own.
pub const LEAK_OHMS: f64 = 20e9;

/// The same where a circuit is followed in time: what its ports see is held in ohms, and beside a larger leak the
/// resistance of a winding that hangs behind junctions would be lost in the digits.
pub const LEAK_IN_TIME_OHMS: f64 = 50e6;

/// Leak in time of a node whose insulation holds kilovolts, in ohms; common practice.
pub const INSULATION_OHMS: f64 = 5e9;
