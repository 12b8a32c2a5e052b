//! A note in the student's own words.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step};
use super::super::view::BenchView;
use super::{Act, Evidence};

/// Longest note, in characters.
const LONGEST: usize = 2000;

/// A note in the student's own words, on a reading or on none.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Note {
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub step: Option<usize>,
    pub text: String,
}

impl Act for Note {
    fn said(&self, _: &Answer) -> String {
        format!("Noted: {}", self.text)
    }

    fn is_written(&self) -> bool {
        true
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        if let Some(step) = self.step
            && !session.is_capture(step)
        {
            session.reading(step)?;
        }
        let length = self.text.trim().chars().count();
        if length == 0 || length > LONGEST {
            return bad(format!("a note has 1 to {LONGEST} characters"));
        }
        Ok((Answer::Noted, 0.0))
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }

    fn show(&self, _: &Step, view: &mut BenchView) {
        let line = view.ledger.iter_mut().find(|l| Some(l.step) == self.step);
        let shot = view.captures.iter_mut().find(|c| Some(c.step) == self.step);
        match (line, shot) {
            (Some(line), _) => line.note = Some(self.text.clone()),
            (_, Some(shot)) => shot.note = Some(self.text.clone()),
            // A screen that has left the view takes its note with it.
            _ if self.step.is_some() => {}
            _ => view.notes.push(self.text.clone()),
        }
    }

    fn changes_line(&self, _: &Step, _: &BenchView) -> Option<usize> {
        self.step
    }
}
