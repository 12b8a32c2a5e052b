//! Key switch: a table of contacts by position. Terminals after DIN 72552: 30 feed, 15 run, 50
//! start; ACC is the accessory output.

use std::sync::Arc;

use indexmap::IndexMap;
use serde_json::{Map, Value};

use cimento_model::circuit::Part;
use cimento_model::faults::{ModeSpec, graded, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Control, ParamKind, ParamSpec, Params, PartKind, Shelf, Stamp, Table, Terminal, terminal,
};

/// Output terminals in the order of [`KeySwitch::terminals`], after 30.
const OUTPUTS: [&str; 3] = ["ACC", "15", "50"];
/// Names of the elements and modes that belong to each output.
const CONTACTS: [&str; 3] = ["contact ACC", "contact 15", "contact 50"];
const OPEN: [&str; 3] = ["contact_acc_open", "contact_15_open", "contact_50_open"];
const WORN: [&str; 3] = ["contact_acc_worn", "contact_15_worn", "contact_50_worn"];

/// Which outputs are joined to 30, by position, in the order the key turns.
#[derive(Debug, Clone, PartialEq)]
pub struct ContactTable(pub IndexMap<String, Vec<String>>);

impl Default for ContactTable {
    fn default() -> Self {
        let row = |position: &str, outputs: &[&str]| {
            (
                position.to_owned(),
                outputs.iter().map(|o| (*o).to_owned()).collect(),
            )
        };
        Self(IndexMap::from([
            row("off", &[]),
            row("acc", &["ACC"]),
            row("run", &["ACC", "15"]),
            row("start", &["15", "50"]),
        ]))
    }
}

fn read_table(given: &Map<String, Value>) -> Result<Arc<dyn Table>, (String, String)> {
    let table = given.get("contacts").map(ContactTable::read);
    let table = table.transpose().map_err(|e| ("contacts".to_owned(), e))?;
    Ok(Arc::new(table.unwrap_or_default()))
}

impl ContactTable {
    /// Reads `{"off": [], "run": ["15"], …}`.
    ///
    /// # Errors
    /// A sentence that says what was expected.
    pub fn read(value: &Value) -> Result<Self, String> {
        let table: IndexMap<String, Vec<String>> =
            serde_json::from_value(value.clone()).map_err(|_| {
                "expected positions with lists of outputs, such as {\"off\": [], \"run\": [\"15\"]}"
                    .to_owned()
            })?;
        if table.is_empty() {
            return Err("expected at least one position".to_owned());
        }
        match table
            .values()
            .flatten()
            .find(|o| !OUTPUTS.contains(&o.as_str()))
        {
            Some(bad) => Err(format!(
                "{bad} is no output: expected {}",
                OUTPUTS.join(", ")
            )),
            None => Ok(Self(table)),
        }
    }
}

impl ContactTable {
    /// Outputs joined to 30 in a position, with what is wrong with the drive.
    fn closed(&self, position: &str, s: &Stamp<'_>) -> Vec<String> {
        let last = self.0.len().saturating_sub(1);
        let at = self.0.get_index_of(position);
        let at = if s.fault("stuck_in_last").is_some() {
            Some(last)
        } else if s.fault("stuck_off").is_some() {
            Some(0)
        } else if s.fault("set_one_on").is_some() {
            at.map(|n| n + 1)
        } else {
            at
        };
        let row = at.and_then(|n| self.0.get_index(n.min(last)));
        row.map(|(_, outputs)| outputs.clone()).unwrap_or_default()
    }
}

pub(super) struct KeySwitch;

impl PartKind for KeySwitch {
    fn kind(&self) -> &'static str {
        "key_switch"
    }

    fn title(&self) -> &'static str {
        "Key switch"
    }

    fn shelf(&self) -> Shelf {
        Shelf::Switches
    }

    fn letters(&self) -> &'static str {
        "S"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("30", "back of switch, feed", true),
                Terminal {
                    needed: false,
                    ..terminal("ACC", "back of switch, accessories", false)
                },
                Terminal {
                    needed: false,
                    ..terminal("15", "back of switch, run", false)
                },
                Terminal {
                    needed: false,
                    ..terminal("50", "back of switch, start", false)
                },
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const {
            &[
                number(
                    "contact_ohms",
                    "resistance of a closed contact",
                    "Ω",
                    (0.0, 0.005, 1.0),
                ),
                ParamSpec {
                    name: "contacts",
                    about: "outputs joined to 30 in each position",
                    kind: ParamKind::Table(read_table),
                },
            ]
        }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        const {
            &[
                mode("set_one_on", "drive set one position on", 0.7).adjustable(),
                mode("stuck_in_last", "sticks in its last position", 0.7),
                mode("stuck_off", "never leaves its first position", 0.7),
                mode(OPEN[0], "accessory contact open", 1.0),
                graded(WORN[0], "accessory contact worn", 1.5, (0.05, 1.0, 1e5)),
                mode(OPEN[1], "run contact open", 1.0),
                graded(WORN[1], "run contact worn", 1.5, (0.05, 1.0, 1e5)),
                mode(OPEN[2], "start contact open", 1.5),
                graded(WORN[2], "start contact worn", 2.0, (0.05, 20.0, 1e5)),
            ]
        }
    }

    fn contacts(&self, _: &Params) -> Vec<(usize, usize)> {
        vec![(0, 1), (0, 2), (0, 3)]
    }

    fn control(&self, part: &Part) -> Option<Control> {
        let table = part.params.table::<ContactTable>()?;
        let positions: Vec<String> = table.0.keys().cloned().collect();
        Some(Control {
            name: part.control.clone().unwrap_or_else(|| "key".to_owned()),
            rest: positions.first()?.clone(),
            worked: positions.last()?.clone(),
            positions,
            alone: false,
        })
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let position = s.control("key");
        let table = s.part.params.table::<ContactTable>();
        let closed = table.map(|t| t.closed(position, s)).unwrap_or_default();
        for n in 0..OUTPUTS.len() {
            let joined = closed.iter().any(|o| o == OUTPUTS[n]);
            let ohms = s.contact_ohms(joined, s.param("contact_ohms"), OPEN[n], WORN[n]);
            s.contact(CONTACTS[n], (0, n + 1), ohms);
        }
    }
}
