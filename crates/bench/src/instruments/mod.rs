//! Instruments: what each adds to the circuit, and what it then displays. One file an instrument.

mod alternating;
mod ammeter;
mod analogue;
mod clamp;
mod cylinder_drop;
mod display;
mod function;
mod lamp;
mod leads;
mod min_max;
mod multimeter;
mod oscilloscope;
mod peak;
mod reading;
mod scan_tool;
mod spark_tester;
mod tachometer;
mod take;
mod tapped_lamp;
mod timing_lamp;

pub use ammeter::FUSE_A;
pub use display::ohms_shown;
pub use function::{Function, Range, accuracy, ranges};
pub use multimeter::LEAD_OHMS;
pub use oscilloscope::{
    Acquire, Attenuation, CHANNELS, Capture, CursorReading, Cursors, Features, Form, Looks, Often,
    Peak, Probe, SWEEPS, Scope, Trace, capture,
};
pub use reading::{Reading, Shown};
pub use take::{Meter, TakeError, read, take, take_with};
