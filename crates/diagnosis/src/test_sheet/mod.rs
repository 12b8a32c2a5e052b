//! Test sheets: rows that are measured at the machine and judged one by one, and what each of them is.

mod check;
mod identify;
mod survey;

pub use check::CheckSheet;
pub use identify::{Half, Identify, Unmarked, shortest_way};
pub use survey::Survey;

pub(crate) use check::{check_sheet, runs};
pub(crate) use identify::{Between, Ways, between, identification, left_by_all, shows};
pub(crate) use survey::{beside_rest, drops, in_full, survey};

use cimento_bench::instruments::Function;
use cimento_model::state::OperatingState;

/// Most rows of a sheet.
pub const LONGEST: usize = 80;

/// A sheet with what each of its rows is.
#[derive(Debug, Clone, PartialEq)]
pub struct TestSheet {
    /// What is to be done, in a sentence.
    pub about: String,
    /// What a row may be said to be.
    pub choices: Vec<Choice>,
    pub rows: Vec<Row>,
    /// What the rows are measured with.
    pub function: Function,
    /// The state of the machine that the rows are measured in.
    pub state: OperatingState,
    /// The machine stands so when it is taken over, instead of at rest.
    pub laid_out: bool,
    /// Leads without a name, and what they are; nothing is known by its name then but what is marked.
    pub leads: Option<Unmarked>,
}

/// Something that a row may be said to be.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Choice {
    /// As steps spell it.
    pub word: String,
    pub text: String,
    /// What the papers say of it: "700 Ω from one to the other"; empty where they need not.
    pub spec: String,
    /// It says that a row is joined to what it should not be: a reading along the row alone does not show that.
    pub joined: bool,
}

/// A row.
#[derive(Debug, Clone, PartialEq)]
pub struct Row {
    /// What it is about: "W20", "C1.2f to U1.5", "a".
    pub title: String,
    /// Where its leads go; absent where that is for the student to find.
    pub points: Option<[String; 2]>,
    /// More of it: colour and size.
    pub about: String,
    /// What to expect: "up to 0.2 V".
    pub expects: String,
    /// What is still good, in the unit of what it is measured with.
    pub limit: f64,
    /// What it is, by position among the choices: one or more are right.
    pub is: Vec<usize>,
    /// Something is wrong there.
    pub faulty: bool,
    /// What it comes to: "0.85 V".
    pub reads: String,
    /// The points that it hangs together with where all is well; empty where only a reading along it counts.
    pub hangs_with: Vec<String>,
}

impl TestSheet {
    /// The position of a choice.
    pub fn choice(&self, word: &str) -> Option<usize> {
        self.choices.iter().position(|c| c.word == word)
    }

    /// What a row is, in words.
    pub fn truth(&self, row: &Row) -> String {
        let texts: Vec<&str> = row
            .is
            .iter()
            .map(|n| self.choices[*n].text.as_str())
            .collect();
        texts.join(" or ")
    }
}

fn choices(words: &[(&str, &str)]) -> Vec<Choice> {
    let choice = |(word, text): &(&str, &str)| Choice {
        word: (*word).to_owned(),
        text: (*text).to_owned(),
        spec: String::new(),
        joined: false,
    };
    words.iter().map(choice).collect()
}
