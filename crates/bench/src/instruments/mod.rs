//! Instruments: what each adds to the circuit, and what it then displays. One file an instrument; [`ALL`] is
//! the registry.

mod alternating;
mod ammeter;
mod analog_voltmeter;
mod clamp;
mod cylinder_balance;
mod display;
mod function;
mod ignition_leads;
mod lamp;
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
pub use function::{
    Function, Instrument, InstrumentInfo, Keyed, LEAD_OHMS, Leads, PutOn, Range, Setting, Standing,
};
pub use oscilloscope::{
    Acquire, Attenuation, CHANNELS, Capture, CursorReading, Cursors, Features, Form, Looks, Often,
    Peak, Probe, SWEEPS, Scope, Trace, capture, captures, swinging, telling,
};
pub use reading::{Reading, Shown};
pub use take::{Held, Measured, Meter, TakeError, read, take, take_with, value_with};

/// Every instrument, in the order of a dial.
pub static ALL: &[&dyn Instrument] = &[
    &multimeter::DcVolts,
    &multimeter::Ohms,
    &multimeter::Continuity,
    &lamp::TestLamp,
    &clamp::ClampAmps,
    &alternating::AcVolts,
    &alternating::Hertz,
    &alternating::Duty,
    &multimeter::DiodeTest,
    &ammeter::DcAmps,
    &min_max::MinMax,
    &analog_voltmeter::AnalogVolts,
    &lamp::LedLamp,
    &scan_tool::ScanCodes,
    &scan_tool::ScanVolts,
    &spark_tester::SparkTester,
    &peak::PeakVolts,
    &tachometer::Tachometer,
    &timing_lamp::TimingLamp,
    &cylinder_balance::CylinderBalance,
    &tapped_lamp::TappedLamp,
];
