//! Asking the customer.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session, bad};
use super::super::step::{Answer, Step};
use super::super::view::{BenchView, ToldAt};
use super::{Act, Action, Evidence};
use crate::lesson::CustomerQuestion;

/// Minutes of a question and its answer; common practice.
pub(super) const MINUTES: f64 = 1.0;

/// Ask the customer something. What is answered are words: they may be wrong, and rule nothing out.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AskCustomer {
    pub question: CustomerQuestion,
}

impl Act for AskCustomer {
    fn said(&self, answer: &Answer) -> String {
        match answer {
            Answer::Told { text } => format!("Asked: {} “{text}”", self.question.text()),
            _ => format!("Asked: {}", self.question.text()),
        }
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        if !session.lesson.seeks_fault() {
            return bad("nobody has brought this machine in: there is no one to ask".to_owned());
        }
        let same = |s: &Step| s.action == Action::AskCustomer(self.clone());
        if session.steps().iter().any(same) {
            return bad("the customer has answered that, and would say it again".to_owned());
        }
        let lesson = &session.lesson;
        let text = lesson.told.answer(self.question, lesson.condition());
        Ok((Answer::Told { text }, MINUTES))
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::Nothing
    }

    fn show(&self, step: &Step, view: &mut BenchView) {
        let told = ToldAt::of(step, Some(self.question), self.question.text());
        view.told.extend(told);
    }
}
