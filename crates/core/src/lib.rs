//! The trade: circuits and their faults, a bench that settles them, instruments that read them,
//! the answer key, the suspects and the mark sheet. No interface, no clock, no chance: the same
//! inputs always give the same outputs.
//!
//! Predicting a reading takes a few lines:
//!
//! ```
//! use cimento_core::{bench::Bench, circuit::Circuit, faults::{Fault, read_short_form}};
//! use cimento_core::instruments::{Function, read};
//!
//! let text = include_str!("../../../demo/circuits/baggage-tug-starting.json");
//! let circuit = Circuit::read(text).unwrap();
//! let fault = Fault::read(&circuit, &read_short_form("W8:open").unwrap(), "fault").unwrap();
//! let mut bench = Bench::new(&circuit, &[fault]).unwrap();
//! let mut state = bench.state().clone();
//! (state.key, state.inputs["clutch"]) = ("start".into(), "down".into());
//! bench.set(state).unwrap();
//! let (red, black) = (circuit.test_point("K3.86"), circuit.test_point("BAT.-"));
//! let reading = read(&bench, Function::DcVolts, None, red, black).unwrap();
//! assert_eq!(reading.shown.text, "0.000");
//! ```

pub mod attempt;
pub mod bench;
pub mod circuit;
pub mod faults;
pub mod instruments;
pub mod key;
pub mod marking;
pub mod parts;
pub mod suspects;
pub mod units;
