//! What can be wrong, where, how badly and when.

mod document;
mod mode_spec;
mod modes;

pub use document::{Amount, FaultDoc, read_short_form};
pub use mode_spec::{ModeSpec, graded, graded_in, mode};
pub use modes::{CONDUCTOR_MODES, ConductorMode, Damage, Effect, Jump, LeadsTo, conductor_modes};

use crate::circuit::{Circuit, Conductor, ConductorKind, Place, Problem, SeverityUnit};
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

/// How a place fails, how badly, and what lies at the other end of it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Mode {
    pub spec: &'static ModeSpec,
    severity: Option<f64>,
    target: Target,
}

/// What lies at the other end of a fault.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Target {
    Nothing,
    /// A metal, by node.
    Metal(usize),
    /// Another conductor, by position.
    Conductor(usize),
}

impl Mode {
    /// A mode with its severity, if it has one, and its other end.
    pub fn new(spec: &'static ModeSpec, severity: Option<f64>, target: Target) -> Self {
        Self {
            spec,
            severity,
            target,
        }
    }

    /// The name as documents spell it.
    pub fn name(&self) -> &'static str {
        self.spec.name
    }

    /// What is known of it, for what fails in a conductor.
    pub fn of_conductor(&self) -> Option<&'static ConductorMode> {
        self.spec.conductor
    }

    /// How bad it is, in the unit of its kind; absent for what has no degrees.
    pub fn severity(&self) -> Option<f64> {
        self.severity
    }

    /// The same mode with another severity, if it has one.
    #[must_use]
    pub fn with_severity(self, severity: f64) -> Self {
        Self {
            severity: self.severity.map(|_| severity),
            ..self
        }
    }

    pub fn target(&self) -> Target {
        self.target
    }

    /// The metal it leads to, by node.
    pub fn metal(&self) -> Option<usize> {
        match self.target {
            Target::Metal(node) => Some(node),
            Target::Nothing | Target::Conductor(_) => None,
        }
    }

    /// The other conductor, by position.
    pub fn other(&self) -> Option<usize> {
        match self.target {
            Target::Conductor(n) => Some(n),
            Target::Nothing | Target::Metal(_) => None,
        }
    }

    /// The conductor whose far side it is exchanged with.
    pub fn crossed_with(&self) -> Option<usize> {
        let crossed = |how: &&ConductorMode| how.leads_to == LeadsTo::Crossed;
        self.of_conductor().filter(crossed)?;
        self.other()
    }

    /// How it changes a conductor. What a spark has to jump is no path here.
    pub fn effect(&self, circuit: &Circuit, conductor: &Conductor, length_m: f64) -> Effect {
        let Some(how) = self.of_conductor() else {
            return Effect::default();
        };
        (how.effect)(&Damage {
            circuit,
            conductor,
            length_m,
            severity: self.severity.unwrap_or(0.0),
            to: match (how.leads_to, self.target) {
                (LeadsTo::Power, _) => Some(circuit.positive()),
                (_, Target::Metal(node)) => Some(node),
                (_, Target::Conductor(n)) => Some(circuit.conductors[n].a),
                (_, Target::Nothing) => None,
            },
        })
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
        let other = self.mode.other().map(Place::Conductor);
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
            text += &match self
                .mode
                .spec
                .severity
                .map_or(SeverityUnit::Ohm, |s| s.unit)
            {
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
