//! A lesson's test sheet, or the machine that is to be wired, as its students get it: what is to be done, and nothing of
//! what it comes to.

use cimento_bench::instruments::Function;
use cimento_diagnosis::build::ToBuild;
use cimento_diagnosis::test_sheet::{Choice, Row, TestSheet, Unmarked};
use cimento_model::circuit::WireDoc;
use serde::Serialize;
use utoipa::ToSchema;

/// A test sheet to be filled in, without what its rows are.
#[derive(Serialize, ToSchema)]
pub(super) struct SheetToFill {
    /// What is to be done, in a sentence.
    about: String,
    /// What the rows are measured with.
    function: Function,
    /// The state that the machine is to be in; absent where it lies ready.
    state: Option<String>,
    /// What a row may be said to be.
    choices: Vec<ChoiceToMake>,
    rows: Vec<RowToFill>,
    /// Leads and marked points by themselves; empty where everything goes by its name.
    leads: Vec<String>,
}

/// Something that a row may be said to be.
#[derive(Serialize, ToSchema)]
struct ChoiceToMake {
    word: String,
    text: String,
    /// What the papers say of it.
    spec: String,
}

/// A row to be filled in.
#[derive(Serialize, ToSchema)]
struct RowToFill {
    /// Its number on the sheet, from 1.
    no: usize,
    title: String,
    about: String,
    /// Where the leads go; absent where that is to be found out.
    points: Option<[String; 2]>,
    /// What is still good.
    expects: String,
}

impl SheetToFill {
    pub(super) fn of(sheet: &TestSheet) -> Self {
        let choice = |c: &Choice| ChoiceToMake {
            word: c.word.clone(),
            text: c.text.clone(),
            spec: c.spec.clone(),
        };
        let row = |(n, row): (usize, &Row)| RowToFill {
            no: n + 1,
            title: row.title.clone(),
            about: row.about.clone(),
            points: row.points.clone(),
            expects: row.expects.clone(),
        };
        Self {
            about: sheet.about.clone(),
            function: sheet.function,
            state: (!sheet.laid_out).then(|| sheet.state.about()),
            choices: sheet.choices.iter().map(choice).collect(),
            rows: sheet.rows.iter().enumerate().map(row).collect(),
            leads: sheet.leads.as_ref().map_or_else(Vec::new, Unmarked::called),
        }
    }
}

/// A machine to be wired, without the wiring that was thought of.
#[derive(Serialize, ToSchema)]
pub(super) struct ToWire {
    /// The wires that are to be put in; empty where it goes by a wish.
    list: Vec<WireDoc>,
    /// What wires can end at: terminals, cavities, grounds.
    ends: Vec<String>,
    /// Wires that were there from the start.
    given: Vec<String>,
}

impl ToWire {
    pub(super) fn of(build: &ToBuild) -> Self {
        let points = build.start.test_points.iter().map(|p| p.id.clone());
        Self {
            list: build.list.clone(),
            // Metal is reached through its grounds.
            ends: points.filter(|id| !id.starts_with("metal:")).collect(),
            given: build.start.doc.wires.iter().map(|w| w.id.clone()).collect(),
        }
    }
}
