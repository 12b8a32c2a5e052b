//! A hint in practice.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step};
use super::super::view::{BenchView, HintAt};
use super::{Act, Evidence};
use crate::lesson::Purpose;

/// What a hint costs in minutes, by its level.
const MINUTES: [f64; 3] = [1.0, 2.0, 5.0];

/// A hint that was given in practice; the program writes it down.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Hint {
    pub level: u8,
    pub text: String,
}

impl Act for Hint {
    fn said(&self, _: &Answer) -> String {
        format!("Asked for a hint: {}", self.text)
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        if session.lesson.purpose != Purpose::Practice {
            return bad("hints are for practice".to_owned());
        }
        let cost = MINUTES.get(usize::from(self.level.saturating_sub(1)));
        match cost {
            Some(minutes) => Ok((Answer::Noted, *minutes)),
            None => bad(format!("there is no hint of level {}", self.level)),
        }
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        view.hints.push(HintAt {
            step: step.no,
            level: self.level,
            text: self.text.clone(),
            minutes: step.minutes,
        });
    }
}
