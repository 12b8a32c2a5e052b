//! How a way to fail is described: its name, its words, its range of severity, how often it happens, what a close
//! look shows of it, and what cures it.

use super::modes::ConductorMode;
use crate::circuit::{ModeInfo, SeverityInfo, SeverityUnit};

/// One way a place can fail.
pub struct ModeSpec {
    /// As documents spell it.
    pub name: &'static str,
    pub about: &'static str,
    pub severity: Option<SeverityInfo>,
    /// How often it happens beside a wire's break in mid-run (1.0); common practice.
    pub prior: f64,
    /// What a close look at the part shows; inside, it shows nothing.
    pub looks: Option<&'static str>,
    /// Setting the part right cures it: a gap, a tension, a position.
    pub adjustable: bool,
    /// All else about it, for what fails in a conductor.
    pub conductor: Option<&'static ConductorMode>,
}

impl ModeSpec {
    /// A mode whose close look shows something.
    pub const fn seen(mut self, looks: &'static str) -> Self {
        self.looks = Some(looks);
        self
    }

    /// A mode that is cured by setting the part right.
    pub const fn adjustable(mut self) -> Self {
        self.adjustable = true;
        self
    }

    /// Whether it is between its place and another, which has to be said.
    pub fn needs_other(&self) -> bool {
        self.conductor.is_some_and(ConductorMode::is_between)
    }

    /// The mode as shown to people.
    pub fn info(&self) -> ModeInfo {
        ModeInfo {
            mode: self.name.to_owned(),
            about: self.about.to_owned(),
            severity: self.severity,
            needs_other: self.needs_other(),
        }
    }
}

/// A mode without severity.
pub const fn mode(name: &'static str, about: &'static str, prior: f64) -> ModeSpec {
    ModeSpec {
        name,
        about,
        severity: None,
        prior,
        looks: None,
        adjustable: false,
        conductor: None,
    }
}

/// A mode with a resistance, least and most in ohms.
pub const fn graded(
    name: &'static str,
    about: &'static str,
    prior: f64,
    range: (f64, f64, f64),
) -> ModeSpec {
    graded_in(SeverityUnit::Ohm, name, about, prior, range)
}

/// A mode whose severity is counted in something else than ohms: least, usual and most.
pub const fn graded_in(
    unit: SeverityUnit,
    name: &'static str,
    about: &'static str,
    prior: f64,
    (least, usual, most): (f64, f64, f64),
) -> ModeSpec {
    ModeSpec {
        severity: Some(SeverityInfo {
            least,
            most,
            usual,
            unit,
        }),
        ..mode(name, about, prior)
    }
}

impl PartialEq for ModeSpec {
    fn eq(&self, other: &Self) -> bool {
        self.name == other.name
    }
}

impl std::fmt::Debug for ModeSpec {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(self.name)
    }
}
