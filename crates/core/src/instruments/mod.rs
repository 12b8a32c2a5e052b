//! Instruments: what each adds to the circuit, and what it then displays.

mod multimeter;
mod reading;
mod test_lamp;

pub use multimeter::{Function, LEAD_OHMS, Range, TakeError, accuracy, ranges, read, take};
pub use reading::{Reading, Shown};
