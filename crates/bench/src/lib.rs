//! A machine on the bench: a circuit with faults in an operating state, settled, followed in time, read by
//! instruments, written as a netlist. No interface, no clock, no chance: the same inputs always give the same
//! outputs.
//!
//! Predicting a reading takes a few lines:
//!
//! ```
//! use cimento_bench::{Bench, instruments::{Function, read}};
//! use cimento_model::faults::{Fault, read_short_form};
//! use cimento_parts::read_circuit;
//!
//! let text = include_str!("../../../demo/circuits/baggage-tug-starting.json");
//! let circuit = read_circuit(text).unwrap();
//! let fault = Fault::read(&circuit, &read_short_form("W8:open").unwrap(), "fault").unwrap();
//! let mut bench = Bench::new(&circuit, &[fault]).unwrap();
//! let mut state = bench.state().clone();
//! (state.key, state.inputs["clutch"]) = ("start".into(), "down".into());
//! bench.set(state).unwrap();
//! let (red, black) = (circuit.test_point("K3.86"), circuit.test_point("BAT.-"));
//! let reading = read(&bench, Function::DC_VOLTS, None, red, black).unwrap();
//! assert_eq!(reading.shown.text, "0.000");
//! ```

pub mod instruments;
mod machine;
pub mod spice;

pub use machine::{
    Bench, BenchError, Complaint, Event, FROM_DEG, PEAK_TURNS, Point, Settled, Shared, Spark,
    Waves, burns_in_use, complaint, complaint_beside, flow, is_unprotected, unprotected_wires,
};
