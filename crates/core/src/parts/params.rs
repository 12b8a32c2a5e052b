//! Parameters of a part: read from the document, checked against the kind's table.

use serde_json::Value;

use super::PartKind;
use super::control_module::ModuleTable;
use super::key_switch::ContactTable;
use crate::circuit::Problem;

/// What a parameter may be.
pub enum ParamKind {
    /// A number in an SI unit within a range.
    Number {
        unit: &'static str,
        default: f64,
        least: f64,
        most: f64,
    },
    /// Which contacts a key switch closes in each position.
    Contacts,
    /// What each pin of a module is.
    Pins,
    /// The codes of a module, read together with its pins.
    Codes,
}

/// A parameter of a kind.
pub struct ParamSpec {
    pub name: &'static str,
    pub about: &'static str,
    pub kind: ParamKind,
}

/// Shorthand for the tables in the part files.
pub(super) const fn number(
    name: &'static str,
    about: &'static str,
    unit: &'static str,
    (least, default, most): (f64, f64, f64),
) -> ParamSpec {
    ParamSpec {
        name,
        about,
        kind: ParamKind::Number {
            unit,
            default,
            least,
            most,
        },
    }
}

/// The parameters of one part, defaults filled in.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Params {
    numbers: Vec<(&'static str, f64)>,
    pub contacts: Option<ContactTable>,
    pub pins: Option<ModuleTable>,
}

impl Params {
    /// Reads parameters; what is wrong is added to `problems` with its path.
    pub fn read(
        kind: &dyn PartKind,
        given: &serde_json::Map<String, Value>,
        path: &str,
        problems: &mut Vec<Problem>,
    ) -> Self {
        let mut out = Self::default();
        for name in given.keys() {
            if !kind.params().iter().any(|p| p.name == name) {
                let known: Vec<_> = kind.params().iter().map(|p| p.name).collect();
                problems.push(Problem::refused(
                    format!("{path}.{name}"),
                    format!(
                        "a {} has no parameter {name}: expected {}",
                        kind.kind(),
                        if known.is_empty() {
                            "none".to_owned()
                        } else {
                            known.join(", ")
                        }
                    ),
                ));
            }
        }
        for spec in kind.params() {
            let value = given.get(spec.name);
            let at = format!("{path}.{}", spec.name);
            match spec.kind {
                ParamKind::Number {
                    unit,
                    default,
                    least,
                    most,
                } => {
                    let n = match value {
                        None => default,
                        Some(v) => v.as_f64().unwrap_or(f64::NAN),
                    };
                    if n >= least && n <= most {
                        out.numbers.push((spec.name, n));
                    } else {
                        let shown = value.map_or(String::new(), Value::to_string);
                        problems.push(Problem::refused(
                            at,
                            format!(
                                "{shown} cannot be: expected a number from {least} to {most} {unit}"
                            ),
                        ));
                    }
                }
                ParamKind::Pins => match ModuleTable::read(value, given.get("codes")) {
                    Ok(table) => out.pins = Some(table),
                    Err((at, message)) => {
                        problems.push(Problem::refused(format!("{path}.{at}"), message));
                    }
                },
                ParamKind::Codes => {}
                ParamKind::Contacts => match value.map(ContactTable::read).transpose() {
                    Ok(table) => out.contacts = Some(table.unwrap_or_default()),
                    Err(message) => problems.push(Problem::refused(at, message)),
                },
            }
        }
        out
    }

    /// A number by name.
    ///
    /// # Panics
    /// For a name that is not in the kind's own table: a slip in that kind's file.
    pub fn number(&self, name: &str) -> f64 {
        let found = self.numbers.iter().find(|(n, _)| *n == name);
        assert!(found.is_some(), "{name} is not in the kind's table");
        found.map_or(f64::NAN, |(_, v)| *v)
    }
}
