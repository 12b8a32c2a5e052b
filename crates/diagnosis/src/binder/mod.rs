//! The binder that a machine comes with: sheets that are looked for in its contents and opened one by one, all of them made
//! of the circuit as it should be. Beside the machine's own diagram lie those of its other circuits.

mod connectors;
mod fuses;
mod healthy;
mod locations;
mod pins;
mod specifications;

use std::sync::Arc;

use cimento_bench::BenchError;
use cimento_model::circuit::{Circuit, CircuitDoc, Problem, Refused, WireDoc};
use cimento_parts::build_circuit;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

pub use healthy::{HealthySheet, healthy_sheets};

pub use locations::{Hanging, HangsOn, Loom};

use connectors::CONNECTORS;

/// What sheets with a diagram begin with.
const DIAGRAM: &str = "diagram-";
/// Most other circuits of a machine.
const MOST: usize = 8;

/// What lies in a machine's binder beside what is made of its circuit.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct BinderDoc {
    /// Other circuits of the machine.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub others: Vec<CircuitDoc>,
    /// A connector of which the sheet shows another variant's: two of its wires are in each other's cavities. Students are to
    /// notice.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub variant: Option<String>,
}

/// A binder whose circuits have been checked.
#[derive(Clone)]
pub struct Binder {
    own: Arc<Circuit>,
    /// Whether the diagram of its own circuit lies in it.
    with_diagram: bool,
    others: Vec<Arc<Circuit>>,
    /// The connector that is another variant's.
    pub variant: Option<String>,
}

/// An entry of the contents.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct SheetTitle {
    /// `diagram-2`, `connectors`.
    pub sheet: String,
    pub title: String,
}

/// A sheet of tables.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct BinderSheet {
    pub title: String,
    /// What holds for all of it.
    pub about: String,
    pub tables: Vec<SheetTable>,
    /// What hangs on each harness, to be sketched.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub looms: Vec<Loom>,
}

/// A table of a sheet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SheetTable {
    pub title: String,
    /// The connector that it is of, which may be said to be another variant's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub connector: Option<String>,
    pub head: Vec<String>,
    pub rows: Vec<Vec<String>>,
}

/// A kind of sheet that is made of the circuit.
struct Kind {
    sheet: &'static str,
    title: &'static str,
    about: &'static str,
    make: fn(&Binder) -> Result<Vec<SheetTable>, BenchError>,
    /// Whether a circuit has anything to put on it.
    has: fn(&Circuit) -> bool,
}

/// The sheets after the diagrams.
static KINDS: &[&Kind] = &[
    &connectors::SHEET,
    &locations::SHEET,
    &specifications::SHEET,
    &pins::SHEET,
    &fuses::SHEET,
];

/// A wire's colour, where it has one.
fn color(wire: &WireDoc) -> Option<String> {
    wire.color.clone().map(String::from)
}

impl SheetTable {
    fn new(title: impl Into<String>, head: &[&str], rows: Vec<Vec<String>>) -> Self {
        Self {
            title: title.into(),
            connector: None,
            head: head.iter().map(|h| (*h).to_owned()).collect(),
            rows,
        }
    }
}

impl BinderDoc {
    /// Checks its circuits, and that two wires can be told apart in the connector that is another variant's.
    ///
    /// # Errors
    /// [`Refused`] with the path of what is wrong.
    pub fn checked(self, circuit: &Arc<Circuit>, with_diagram: bool) -> Result<Binder, Refused> {
        let refuse = |path: String, text: String| Refused(vec![Problem::refused(path, text)]);
        if self.others.len() > MOST {
            let text = format!("expected at most {MOST} circuits");
            return Err(refuse("binder.others".to_owned(), text));
        }
        let mut others = Vec::new();
        for (n, doc) in self.others.into_iter().enumerate() {
            let title = doc.title.clone();
            let titles = others.iter().map(|c: &Arc<Circuit>| &c.doc.title);
            if titles.chain([&circuit.doc.title]).any(|t| *t == title) {
                let text = format!("there are two circuits called “{title}” in the binder");
                return Err(refuse(format!("binder.others[{n}].title"), text));
            }
            let built = build_circuit(doc).map_err(|Refused(problems)| {
                let within = problems.into_iter().map(|p| Problem {
                    path: format!("binder.others[{n}].{}", p.path),
                    ..p
                });
                Refused(within.collect())
            })?;
            others.push(built);
        }
        if let Some(id) = &self.variant
            && connectors::exchanged(circuit, id).is_none()
        {
            let text = format!("{id} is no connector with two wires of different colours");
            return Err(refuse("binder.variant".to_owned(), text));
        }
        Ok(Binder {
            own: Arc::clone(circuit),
            with_diagram,
            others,
            variant: self.variant,
        })
    }

    /// The connectors that can be shown as another variant's.
    pub fn variants(circuit: &Circuit) -> Vec<String> {
        let all = circuit.doc.connectors.keys();
        let told_apart = all.filter(|id| connectors::exchanged(circuit, id).is_some());
        told_apart.cloned().collect()
    }
}

impl Binder {
    /// The circuits whose diagrams lie in it, by title: where the machine's own is has to be found.
    fn diagrams(&self) -> Vec<&Arc<Circuit>> {
        let mut all: Vec<_> = self.others.iter().chain([&self.own]).collect();
        all.sort_by(|a, b| a.doc.title.cmp(&b.doc.title));
        // Who works without a diagram finds the others' alone.
        all.retain(|c| self.with_diagram || !Arc::ptr_eq(c, &self.own));
        all
    }

    /// Its contents.
    pub fn contents(&self) -> Vec<SheetTitle> {
        let diagrams = self.diagrams().into_iter().enumerate();
        let diagrams = diagrams.map(|(n, circuit)| SheetTitle {
            sheet: format!("{DIAGRAM}{}", n + 1),
            title: circuit.doc.title.clone(),
        });
        let made = KINDS.iter().filter(|kind| (kind.has)(&self.own));
        let made = made.map(|kind| SheetTitle {
            sheet: kind.sheet.to_owned(),
            title: kind.title.to_owned(),
        });
        diagrams.chain(made).collect()
    }

    /// The circuit whose diagram is on a sheet.
    pub fn diagram(&self, sheet: &str) -> Option<&Arc<Circuit>> {
        let n: usize = sheet.strip_prefix(DIAGRAM)?.parse().ok()?;
        self.diagrams().get(n.checked_sub(1)?).copied()
    }

    /// Whether a sheet has the diagram of the machine's own circuit.
    pub fn is_own_diagram(&self, sheet: &str) -> bool {
        self.diagram(sheet)
            .is_some_and(|c| Arc::ptr_eq(c, &self.own))
    }

    /// The tables of a sheet; nothing for what is no such sheet.
    ///
    /// # Errors
    /// [`BenchError`] when the circuit has no solution in a state that is tabled.
    pub fn tables(&self, sheet: &str) -> Result<Option<BinderSheet>, BenchError> {
        let Some(kind) = KINDS.iter().find(|kind| kind.sheet == sheet) else {
            return Ok(None);
        };
        Ok(Some(BinderSheet {
            title: kind.title.to_owned(),
            about: kind.about.to_owned(),
            tables: (kind.make)(self)?,
            looms: match kind.sheet == locations::SHEET.sheet {
                true => locations::looms(&self.own),
                false => Vec::new(),
            },
        }))
    }

    /// In what the sheet of another variant differs from the machine.
    pub fn differs(&self) -> Option<String> {
        let id = self.variant.as_ref()?;
        let [a, b] = connectors::exchanged(&self.own, id)?;
        Some(format!(
            "on it the wires of cavities {a} and {b} of {id} are the other way round than on this machine"
        ))
    }

    /// Whether what a sheet shows of something is another variant's.
    pub fn is_foreign(&self, sheet: &str, at: &str) -> bool {
        sheet == CONNECTORS && self.variant.as_deref() == Some(at)
    }
}
