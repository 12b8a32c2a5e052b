//! Parameters of a part: read from the document, checked against the kind's table.

use std::any::Any;
use std::fmt::Debug;
use std::sync::Arc;

use serde_json::Value;

use super::PartKind;

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
    /// Something of the kind's own, read by the kind from all that is given.
    Table(ReadTable),
    /// Read by the kind together with its table.
    InTable,
}

/// Reads a kind's own table from the parameters that are given; what is wrong comes with its path within
/// them.
pub type ReadTable =
    fn(&serde_json::Map<String, Value>) -> Result<Arc<dyn Table>, (String, String)>;

/// A table that only one kind of part knows how to read.
pub trait Table: Any + Debug + Send + Sync {
    /// Whether another is the same.
    fn is_same(&self, other: &dyn Table) -> bool;
}

impl<T: Any + Debug + Send + Sync + PartialEq> Table for T {
    fn is_same(&self, other: &dyn Table) -> bool {
        let other: &dyn Any = other;
        other.downcast_ref::<T>() == Some(self)
    }
}

/// A parameter of a kind.
pub struct ParamSpec {
    pub name: &'static str,
    pub about: &'static str,
    pub kind: ParamKind,
}

/// Shorthand for the tables in the part files.
pub const fn number(
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
#[derive(Debug, Clone, Default)]
pub struct Params {
    numbers: Vec<(&'static str, f64)>,
    table: Option<Arc<dyn Table>>,
}

impl PartialEq for Params {
    fn eq(&self, other: &Self) -> bool {
        let tables = match (&self.table, &other.table) {
            (Some(a), Some(b)) => a.is_same(&**b),
            (a, b) => a.is_none() && b.is_none(),
        };
        self.numbers == other.numbers && tables
    }
}

impl Params {
    /// Whether others are the same but for some of them, by name.
    pub fn same_but_for(&self, other: &Self, names: &[&str]) -> bool {
        let without = |params: &Self| Self {
            numbers: params
                .numbers
                .iter()
                .copied()
                .filter(|(name, _)| !names.contains(name))
                .collect(),
            table: params.table.clone(),
        };
        without(self) == without(other)
    }

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
                    let fits = n >= least && n <= most;
                    // Whoever looks for more mistakes may ask for any number of the table.
                    out.numbers
                        .push((spec.name, if fits { n } else { default }));
                    if !fits {
                        let shown = value.map_or(String::new(), Value::to_string);
                        problems.push(Problem::refused(
                            at,
                            format!(
                                "{shown} cannot be: expected a number from {least} to {most} {unit}"
                            ),
                        ));
                    }
                }
                ParamKind::Table(read) => match read(given) {
                    Ok(table) => out.table = Some(table),
                    Err((at, message)) => {
                        problems.push(Problem::refused(format!("{path}.{at}"), message));
                    }
                },
                ParamKind::InTable => {}
            }
        }
        out
    }

    /// The table of the kind's own.
    pub fn table<T: Table>(&self) -> Option<&T> {
        let table: &dyn Any = &**self.table.as_ref()?;
        table.downcast_ref()
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
