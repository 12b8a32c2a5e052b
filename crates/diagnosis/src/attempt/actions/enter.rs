//! Saying on a test sheet what a row is.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step};
use super::super::view::{BenchView, EnteredAt};
use super::{Act, Evidence};

/// Say what a row of the lesson's test sheet is; the last word on it counts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Enter {
    /// The number of the row on the sheet, from 1.
    pub row: usize,
    /// One of the sheet's choices; absent takes back what was said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub is: Option<String>,
}

impl Act for Enter {
    fn said(&self, _: &Answer) -> String {
        match &self.is {
            Some(is) => format!("Entered in row {}: {is}", self.row),
            None => format!("Took back what row {} is", self.row),
        }
    }

    fn is_written(&self) -> bool {
        true
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        let Some(sheet) = &session.lesson.test_sheet else {
            return bad("this lesson has no test sheet: judge the reading".to_owned());
        };
        if !(1..=sheet.rows.len()).contains(&self.row) {
            return bad(format!(
                "there is no row {}: expected 1 to {}",
                self.row,
                sheet.rows.len()
            ));
        }
        match &self.is {
            Some(is) if sheet.choice(is).is_none() => {
                let words: Vec<&str> = sheet.choices.iter().map(|c| c.word.as_str()).collect();
                bad(format!(
                    "“{is}” is nothing to enter: choose one of {}",
                    words.join(", ")
                ))
            }
            _ => Ok((Answer::Noted, 0.0)),
        }
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        view.entered.retain(|e| e.row != self.row);
        if let Some(is) = &self.is {
            view.entered.push(EnteredAt {
                step: step.no,
                row: self.row,
                is: is.clone(),
            });
        }
        view.entered.sort_by_key(|e| e.row);
    }
}
