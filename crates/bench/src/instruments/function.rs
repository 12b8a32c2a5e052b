//! What the instruments can be set to, with ranges and accuracy.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{cylinder_drop, tachometer, timing_lamp};
use cimento_model::units::Unit;

/// Full count of a range.
const COUNTS: f64 = 6000.0;
/// Divisions that can be told apart on a needle's scale, and its accuracy as a share of full scale;
/// common practice.
const NEEDLE_STEPS: f64 = 100.0;
const NEEDLE_ACCURACY: f64 = 0.03;

/// What the dial is set to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Function {
    DcVolts,
    Ohms,
    Continuity,
    /// Filament test lamp between the two leads.
    TestLamp,
    /// Clamp ammeter around a wire; the red lead names the wire.
    ClampAmps,
    /// Average-responding AC volts.
    AcVolts,
    Hertz,
    Duty,
    DiodeTest,
    /// Through the meter's shunt and fuse.
    DcAmps,
    /// Least and most DC volts since the machine was last moved.
    MinMax,
    /// Needle meter, 20 kΩ per volt.
    AnalogVolts,
    /// LED lamp between the two leads.
    LedLamp,
    /// Codes of a control module; the red lead names the module.
    ScanCodes,
    /// What a control module sees at one of its inputs; the red lead names the pin.
    ScanVolts,
    /// A wide gap in place of a plug; the red lead names the high-voltage lead.
    SparkTester,
    /// The highest volts while the engine turns, through an adapter.
    PeakVolts,
    /// Revolutions per minute by a clip round a high-voltage lead; the red lead names the lead, the range
    /// is how many sparks it has in a turn.
    Tachometer,
    /// Degrees past the pointer at which a lead sparks; the red lead names the lead.
    TimingLamp,
    /// Speed that a running engine loses with one plug held dark; the red lead names its lead.
    CylinderDrop,
    /// Filament lamp tapped between the two leads: how many clicks one hears.
    TappedLamp,
}

/// Every function with its name, in the order of a dial.
const NAMES: [(Function, &str); 21] = [
    (Function::DcVolts, "dc_volts"),
    (Function::Ohms, "ohms"),
    (Function::Continuity, "continuity"),
    (Function::TestLamp, "test_lamp"),
    (Function::ClampAmps, "clamp_amps"),
    (Function::AcVolts, "ac_volts"),
    (Function::Hertz, "hertz"),
    (Function::Duty, "duty"),
    (Function::DiodeTest, "diode_test"),
    (Function::DcAmps, "dc_amps"),
    (Function::MinMax, "min_max"),
    (Function::AnalogVolts, "analog_volts"),
    (Function::LedLamp, "led_lamp"),
    (Function::ScanCodes, "scan_codes"),
    (Function::ScanVolts, "scan_volts"),
    (Function::SparkTester, "spark_tester"),
    (Function::PeakVolts, "peak_volts"),
    (Function::Tachometer, "tachometer"),
    (Function::TimingLamp, "timing_lamp"),
    (Function::CylinderDrop, "cylinder_drop"),
    (Function::TappedLamp, "tapped_lamp"),
];

impl Function {
    /// The function with a name, such as `dc_volts`.
    pub fn parse(name: &str) -> Option<Self> {
        NAMES.iter().find(|(_, n)| *n == name).map(|(f, _)| *f)
    }

    /// The function's name.
    pub fn name(self) -> &'static str {
        let found = NAMES.iter().find(|(f, _)| *f == self);
        found.map_or("", |(_, n)| n)
    }

    /// What a sentence calls it.
    pub fn title(self) -> &'static str {
        match self {
            Self::DcVolts => "DC volts",
            Self::Ohms => "ohms",
            Self::Continuity => "continuity",
            Self::TestLamp => "the test lamp",
            Self::ClampAmps => "the clamp",
            Self::AcVolts => "AC volts",
            Self::Hertz => "hertz",
            Self::Duty => "duty",
            Self::DiodeTest => "the diode test",
            Self::DcAmps => "amperes through the meter",
            Self::MinMax => "min/max",
            Self::AnalogVolts => "the needle",
            Self::LedLamp => "the LED lamp",
            Self::ScanCodes => "the codes",
            Self::ScanVolts => "what the module sees",
            Self::SparkTester => "the spark tester",
            Self::PeakVolts => "peak volts",
            Self::Tachometer => "the tachometer",
            Self::TimingLamp => "the timing lamp",
            Self::CylinderDrop => "cylinder drop",
            Self::TappedLamp => "the tapped lamp",
        }
    }

    /// Leads that it needs.
    pub fn leads(self) -> usize {
        if self.has_one_lead() { 1 } else { 2 }
    }

    /// Every function, in the order of a dial.
    pub fn all() -> impl Iterator<Item = Self> {
        NAMES.iter().map(|(f, _)| *f)
    }

    /// The names of all functions, for an error message.
    pub fn names() -> String {
        NAMES.map(|(_, n)| n).join(", ")
    }

    /// What the function's readings are counted in.
    pub fn unit(self) -> Unit {
        match self {
            Self::DcVolts
            | Self::AcVolts
            | Self::DiodeTest
            | Self::MinMax
            | Self::AnalogVolts
            | Self::PeakVolts
            | Self::ScanVolts => Unit::Volt,
            Self::Ohms | Self::Continuity => Unit::Ohm,
            Self::TestLamp | Self::LedLamp => Unit::Light,
            Self::ClampAmps | Self::DcAmps => Unit::Ampere,
            Self::Hertz => Unit::Hertz,
            Self::Duty => Unit::Percent,
            Self::ScanCodes => Unit::Code,
            Self::SparkTester => Unit::Spark,
            Self::TappedLamp => Unit::Click,
            Self::Tachometer | Self::CylinderDrop => Unit::Rpm,
            Self::TimingLamp => Unit::Degree,
        }
    }

    /// A lamp: one sees how it shines.
    pub fn is_lamp(self) -> bool {
        matches!(self, Self::TestLamp | Self::LedLamp)
    }

    /// It goes to one place, named by the red lead, and has no black one.
    pub fn has_one_lead(self) -> bool {
        matches!(
            self,
            Self::ClampAmps
                | Self::ScanCodes
                | Self::ScanVolts
                | Self::SparkTester
                | Self::Tachometer
                | Self::TimingLamp
                | Self::CylinderDrop
        )
    }

    /// It measures a voltage that stands still, against a point.
    pub fn is_dc_volts(self) -> bool {
        matches!(self, Self::DcVolts | Self::AnalogVolts)
    }

    /// It feeds the circuit from its own source.
    pub fn feeds(self) -> bool {
        matches!(self, Self::Ohms | Self::Continuity | Self::DiodeTest)
    }
}

/// A range: its full scale in volts, ohms, amperes or hertz.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Range(pub f64);

/// The ranges of a function, smallest first.
pub fn ranges(function: Function) -> &'static [Range] {
    match function {
        Function::DcVolts | Function::AcVolts | Function::MinMax => {
            &[Range(6.0), Range(60.0), Range(600.0)]
        }
        Function::Ohms => &[
            Range(600.0),
            Range(6e3),
            Range(60e3),
            Range(600e3),
            Range(6e6),
        ],
        Function::Continuity | Function::Duty => &[Range(600.0)],
        Function::TestLamp | Function::LedLamp => &[Range(2.0)],
        Function::TappedLamp => &[Range(600.0)],
        Function::ClampAmps => &[Range(60.0), Range(600.0)],
        Function::DcAmps => &[Range(6.0), Range(60.0)],
        Function::Hertz => &[Range(60.0), Range(600.0), Range(6e3), Range(60e3)],
        Function::DiodeTest => &[Range(6.0)],
        Function::AnalogVolts => &[Range(3.0), Range(15.0), Range(60.0)],
        Function::ScanCodes | Function::TimingLamp | Function::CylinderDrop => &[Range(600.0)],
        Function::ScanVolts => &[Range(60.0)],
        // Its gap, in millimetres.
        Function::SparkTester => &[Range(6.0), Range(10.0), Range(20.0)],
        Function::PeakVolts => &[Range(6.0), Range(60.0), Range(600.0)],
        // Sparks in a turn.
        Function::Tachometer => &[Range(0.5), Range(1.0), Range(2.0)],
    }
}

impl Range {
    /// One count of a digital display.
    pub fn count(self) -> f64 {
        self.0 / COUNTS
    }

    /// The least step that a function's display can show in this range.
    pub fn step(self, function: Function) -> f64 {
        match function {
            Function::AnalogVolts => self.0 / NEEDLE_STEPS,
            Function::ScanCodes | Function::TimingLamp | Function::TappedLamp => 1.0,
            Function::CylinderDrop => 10.0,
            _ => self.count(),
        }
    }
}

/// Largest error of a displayed value, in the reading's unit: ±(0.5 % + 2 counts) on DC volts,
/// ±(0.9 % + 2 counts) on ohms, ±(1 % + 3 counts) on AC volts and amps, ±(2 % + 0.3 A) on a clamp,
/// 3 % of full scale on a needle, ±(3 % + 3 counts) on peak volts, ±(1 % + 10 rpm) on a tachometer, 1° on
/// a timing lamp, 20 rpm on a cylinder drop; common practice.
pub fn accuracy(function: Function, value: f64, range: Range) -> f64 {
    let of = |share: f64, counts: f64| share * value.abs() + counts * range.count();
    match function {
        Function::DcVolts | Function::MinMax | Function::ScanVolts => of(0.005, 2.0),
        Function::Ohms | Function::Continuity | Function::DiodeTest => of(0.009, 2.0),
        Function::AcVolts | Function::DcAmps => of(0.01, 3.0),
        Function::Hertz | Function::Duty => of(0.001, 3.0),
        Function::AnalogVolts => NEEDLE_ACCURACY * range.0,
        // One sees which of three it is, hears each click, and reads how many codes there are.
        Function::TestLamp
        | Function::LedLamp
        | Function::ScanCodes
        | Function::SparkTester
        | Function::TappedLamp => 0.0,
        Function::ClampAmps => 0.02 * value.abs() + 0.3,
        Function::PeakVolts => of(0.03, 3.0),
        Function::Tachometer => tachometer::ACCURACY * value.abs() + 10.0,
        Function::TimingLamp => timing_lamp::ACCURACY_DEG,
        Function::CylinderDrop => cylinder_drop::ACCURACY_RPM,
    }
}
