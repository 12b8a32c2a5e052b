//! What can be wrong, where, how badly and when.

mod document;
mod mode_spec;
mod modes;

pub use document::{FaultDoc, read_short_form};
pub use mode_spec::{ModeSpec, graded, graded_in, mode};
pub use modes::conductor_modes;

use crate::circuit::{Circuit, Conductor, ConductorKind, LeadKind, Place, Problem, SeverityUnit};
use crate::state::{EVERYTHING, Engine, OperatingState};

/// A fault of a checked circuit.
#[derive(Debug, Clone, PartialEq)]
pub struct Fault {
    pub place: Place,
    pub mode: Mode,
    /// Where along a wire, 0 at its `from` end, 1 at its `to` end.
    pub at: f64,
    pub when: Condition,
    /// Faults with the same cause came from one event.
    pub cause: Option<String>,
}

/// How a place fails.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Mode {
    Open,
    /// Series resistance added, in ohms.
    HighResistance {
        ohms: f64,
    },
    /// A path of so many ohms to a metal, by node.
    ShortToGround {
        ohms: f64,
        metal: usize,
    },
    /// A path of so many ohms to the battery's positive post.
    ShortToPower {
        ohms: f64,
    },
    /// A conductor that barely reaches its terminal: it parts when it is pulled.
    BarelyReaches,
    /// A path of so many ohms to another conductor, by position.
    ShortBetween {
        ohms: f64,
        other: usize,
    },
    /// Part of a wire's strands cut over its crimp or chafe, as a share of its area.
    StrandsCut {
        fraction: f64,
    },
    /// A damp path of so many ohms to another conductor, by position.
    LeakBetween {
        ohms: f64,
        other: usize,
    },
    /// Two cavities of a connector with their wires exchanged on one side.
    Crossed {
        other: usize,
    },
    /// A wire fitted with a share of the area it should have.
    TooThin {
        fraction: f64,
    },
    /// A wire of aluminium in place of copper.
    Alloy,
    /// A high-voltage lead with a gap of so many millimetres in its core.
    Burnt {
        mm: f64,
    },
    /// A hole in the insulation of a high-voltage lead, so many millimetres from a metal, by node.
    Pinhole {
        mm: f64,
        metal: usize,
    },
    /// A high-voltage lead of another kind than it should be.
    WrongKind,
    /// A damp path of so many ohms to a metal, by node.
    Leak {
        ohms: f64,
        metal: usize,
    },
    /// A part's own failure, with its severity if it has one.
    Part {
        spec: &'static ModeSpec,
        severity: Option<f64>,
    },
}

/// Length of the damaged stretch of a wire whose strands are cut, in metres; common practice.
const CUT_STRETCH_M: f64 = 0.01;

/// Resistance of aluminium beside copper. Source: IEC 60889 (28.264 nΩ·m) over IEC 60028 (17.241).
const ALLOY_OVER_COPPER: f64 = 28.264 / 17.241;

impl Mode {
    /// The name as documents spell it.
    pub fn name(&self) -> &'static str {
        match self {
            Self::Open => "open",
            Self::BarelyReaches => "barely_reaches",
            Self::HighResistance { .. } => "high_resistance",
            Self::ShortToGround { .. } => "short_to_ground",
            Self::ShortToPower { .. } => "short_to_power",
            Self::ShortBetween { .. } => "short_between",
            Self::StrandsCut { .. } => "strands_cut",
            Self::Leak { .. } => "leak",
            Self::LeakBetween { .. } => "leak_between",
            Self::Crossed { .. } => "crossed",
            Self::TooThin { .. } => "too_thin",
            Self::Alloy => "alloy",
            Self::Burnt { .. } => "burnt",
            Self::Pinhole { .. } => "pinhole",
            Self::WrongKind => "wrong_kind",
            Self::Part { spec, .. } => spec.name,
        }
    }

    /// How bad it is: ohms, or the share of strands cut.
    pub fn severity(&self) -> Option<f64> {
        match *self {
            Self::Open
            | Self::BarelyReaches
            | Self::Crossed { .. }
            | Self::Alloy
            | Self::WrongKind => None,
            Self::Burnt { mm } | Self::Pinhole { mm, .. } => Some(mm),
            Self::HighResistance { ohms }
            | Self::ShortToGround { ohms, .. }
            | Self::ShortToPower { ohms }
            | Self::ShortBetween { ohms, .. }
            | Self::LeakBetween { ohms, .. }
            | Self::Leak { ohms, .. } => Some(ohms),
            Self::StrandsCut { fraction } | Self::TooThin { fraction } => Some(fraction),
            Self::Part { severity, .. } => severity,
        }
    }

    /// The same mode with another severity.
    #[must_use]
    pub fn with_severity(self, severity: f64) -> Self {
        match self {
            Self::Open
            | Self::BarelyReaches
            | Self::Crossed { .. }
            | Self::Alloy
            | Self::WrongKind => self,
            Self::Burnt { .. } => Self::Burnt { mm: severity },
            Self::Pinhole { metal, .. } => Self::Pinhole {
                mm: severity,
                metal,
            },
            Self::TooThin { .. } => Self::TooThin { fraction: severity },
            Self::LeakBetween { other, .. } => Self::LeakBetween {
                ohms: severity,
                other,
            },
            Self::HighResistance { .. } => Self::HighResistance { ohms: severity },
            Self::ShortToGround { metal, .. } => Self::ShortToGround {
                ohms: severity,
                metal,
            },
            Self::ShortToPower { .. } => Self::ShortToPower { ohms: severity },
            Self::ShortBetween { other, .. } => Self::ShortBetween {
                ohms: severity,
                other,
            },
            Self::StrandsCut { .. } => Self::StrandsCut { fraction: severity },
            Self::Leak { metal, .. } => Self::Leak {
                ohms: severity,
                metal,
            },
            Self::Part { spec, severity: s } => Self::Part {
                spec,
                severity: s.map(|_| severity),
            },
        }
    }

    /// Ohms in series with a conductor, and ohms with the node of a path beside it. What a spark has to
    /// jump is no path here.
    pub fn effect(
        &self,
        circuit: &Circuit,
        conductor: &Conductor,
        length_m: f64,
    ) -> (f64, Option<(f64, usize)>) {
        let healthy_ohms = conductor.ohms;
        match *self {
            Self::Open | Self::BarelyReaches | Self::Burnt { .. } => (f64::INFINITY, None),
            Self::WrongKind => {
                let other = conductor.lead.map(LeadKind::other);
                let ohms = other.map_or(healthy_ohms, |o| o.ohms_per_m() * length_m);
                (ohms - healthy_ohms, None)
            }
            Self::Pinhole { .. } => (0.0, None),
            Self::HighResistance { ohms } => (ohms, None),
            Self::ShortToGround { ohms, metal } | Self::Leak { ohms, metal } => {
                (0.0, Some((ohms, metal)))
            }
            Self::ShortToPower { ohms } => (0.0, Some((ohms, circuit.positive()))),
            Self::ShortBetween { ohms, other } | Self::LeakBetween { ohms, other } => {
                (0.0, Some((ohms, circuit.conductors[other].a)))
            }
            Self::TooThin { fraction } => (healthy_ohms * (1.0 / fraction - 1.0), None),
            Self::Alloy => (healthy_ohms * (ALLOY_OVER_COPPER - 1.0), None),
            // The wiring exchanges the two sides.
            Self::Crossed { .. } => (0.0, None),
            Self::StrandsCut { fraction } => {
                let share = if length_m > 0.0 {
                    (CUT_STRETCH_M / length_m).min(1.0)
                } else {
                    1.0
                };
                (healthy_ohms * share * fraction / (1.0 - fraction), None)
            }
            Self::Part { .. } => (0.0, None),
        }
    }
}

/// When a fault is there.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Condition {
    #[default]
    Always,
    /// Above [`HOT_C`].
    Hot,
    /// While its place or harness is moved.
    Moved,
    Wet,
    /// Under the vibration of a running engine.
    Vibrating,
}

/// From this temperature on a fault "when hot" is there, in °C; common practice.
pub const HOT_C: f64 = 70.0;

impl Condition {
    pub fn name(self) -> &'static str {
        match self {
            Self::Always => "always",
            Self::Hot => "hot",
            Self::Moved => "moved",
            Self::Wet => "wet",
            Self::Vibrating => "vibrating",
        }
    }

    fn parse(text: &str) -> Option<Self> {
        [
            Self::Always,
            Self::Hot,
            Self::Moved,
            Self::Wet,
            Self::Vibrating,
        ]
        .into_iter()
        .find(|c| c.name() == text)
    }
}

impl Fault {
    /// A fault that is always there, in the middle of its place.
    pub fn new(place: Place, mode: Mode) -> Self {
        Self {
            place,
            mode,
            at: 0.5,
            when: Condition::Always,
            cause: None,
        }
    }

    /// The places it sits at: its own, and for one between two conductors the other.
    pub fn places(&self) -> impl Iterator<Item = Place> + use<> {
        let other = match self.mode {
            Mode::ShortBetween { other, .. }
            | Mode::LeakBetween { other, .. }
            | Mode::Crossed { other } => Some(Place::Conductor(other)),
            _ => None,
        };
        std::iter::once(self.place).chain(other)
    }

    /// Whether the fault is there in a state of the machine.
    pub fn is_active(&self, circuit: &Circuit, state: &OperatingState) -> bool {
        match self.when {
            Condition::Always => true,
            Condition::Hot => state.temperature_c >= HOT_C,
            Condition::Wet => state.wet,
            Condition::Vibrating => state.engine == Engine::Running,
            Condition::Moved => {
                let harness = |place| match place {
                    Place::Conductor(n) => circuit.conductors[n].harness.as_deref(),
                    Place::Part(_) | Place::Pin(..) => None,
                };
                let moves = |place: Place, what: &str| {
                    what == circuit.place_id(place) || Some(what) == harness(place)
                };
                let mut moved = state.moved.iter();
                moved.any(|m| m == EVERYTHING || self.places().any(|p| moves(p, m)))
            }
        }
    }

    /// The fault in words: "W8 open", "G4 high resistance, 2.00 Ω", "C12.4 crossed with C12.1".
    pub fn about(&self, circuit: &Circuit) -> String {
        let mut text = format!(
            "{} {}",
            circuit.place_id(self.place),
            self.mode.name().replace('_', " ")
        );
        if let Some(other) = self.places().nth(1) {
            text += &format!(" with {}", circuit.place_id(other));
        }
        if let Some(severity) = self.mode.severity() {
            let ohms = crate::units::Quantity::Number(severity);
            text += &match self.unit(circuit) {
                SeverityUnit::Share => format!(", {:.0} %", severity * 100.0),
                SeverityUnit::Ampere => format!(", {severity} A"),
                SeverityUnit::Millimetre => format!(", {severity:.2} mm"),
                SeverityUnit::Ohm => format!(", {}", ohms.text(crate::units::Unit::Ohm)),
            };
        }
        if self.when != Condition::Always {
            text += &format!(", when {}", self.when.name());
        }
        text
    }

    /// What its severity is counted in.
    fn unit(&self, circuit: &Circuit) -> SeverityUnit {
        let specs = circuit.modes(self.place);
        let spec = specs.iter().find(|m| m.name == self.mode.name());
        let severity = spec.and_then(|s| s.severity);
        severity.map_or(SeverityUnit::Ohm, |s| s.unit)
    }

    /// Reads a fault document against a circuit.
    ///
    /// # Errors
    /// A [`Problem`] with the path and what was expected.
    pub fn read(circuit: &Circuit, doc: &FaultDoc, path: &str) -> Result<Self, Problem> {
        document::read(circuit, doc, path)
    }

    /// The fault as a document.
    pub fn doc(&self, circuit: &Circuit) -> FaultDoc {
        document::write(circuit, self)
    }
}

/// The metal that a short at a conductor touches unless it is said otherwise.
pub(crate) fn default_metal(circuit: &Circuit, conductor: usize) -> Option<usize> {
    let c = &circuit.conductors[conductor];
    match c.kind {
        ConductorKind::Ground | ConductorKind::Mount => None,
        _ => c.near_metal,
    }
}
