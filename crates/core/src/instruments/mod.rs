//! Instruments: what each adds to the circuit, and what it then displays.

mod multimeter;
mod reading;

pub use multimeter::{Function, LEAD_OHMS, Range, accuracy, ranges, read};
pub use reading::{Reading, Shown};
