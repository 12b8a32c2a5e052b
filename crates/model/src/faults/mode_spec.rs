//! How a way to fail is described: its name, its words, its range of severity, how often it happens.

use crate::circuit::{ModeInfo, SeverityInfo, SeverityUnit};

/// One way a place can fail.
pub struct ModeSpec {
    /// As documents spell it.
    pub name: &'static str,
    pub about: &'static str,
    pub severity: Option<SeverityInfo>,
    /// How often it happens beside a wire's break in mid-run (1.0); common practice.
    pub prior: f64,
}

impl ModeSpec {
    /// Whether it is between its place and another, which has to be said.
    pub fn needs_other(&self) -> bool {
        matches!(self.name, "short_between" | "leak_between" | "crossed")
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
    }
}

/// A mode with a resistance, least and most in ohms.
pub const fn graded(
    name: &'static str,
    about: &'static str,
    prior: f64,
    (least, usual, most): (f64, f64, f64),
) -> ModeSpec {
    ModeSpec {
        name,
        about,
        severity: Some(SeverityInfo {
            least,
            most,
            usual,
            unit: SeverityUnit::Ohm,
        }),
        prior,
    }
}

/// A mode whose severity is counted in something else than ohms.
pub const fn graded_in(
    unit: SeverityUnit,
    name: &'static str,
    about: &'static str,
    prior: f64,
    (least, usual, most): (f64, f64, f64),
) -> ModeSpec {
    ModeSpec {
        name,
        about,
        severity: Some(SeverityInfo {
            least,
            most,
            usual,
            unit,
        }),
        prior,
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
