//! A lesson's test sheet as its students get it: what is to be measured, and nothing of what it comes to.

use cimento_bench::instruments::Function;
use cimento_diagnosis::test_sheet::{Choice, Row, TestSheet, Unmarked};
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
