//! Clearing the codes of a control module.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::perform::Outcome;
use super::super::session::{Refusal, Session, bad};
use super::super::step::Answer;
use super::{Act, HAND_MINUTES};
use cimento_bench::{Bench, BenchError};
use cimento_model::part::{Look, Notice, NoticeKind};

/// Clear the codes of a control module.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ClearCodes {
    pub module: String,
}

impl Act for ClearCodes {
    fn said(&self, _: &Answer) -> String {
        format!("Cleared the codes of {}", self.module)
    }

    fn minutes(&self, session: &Session) -> Result<f64, Refusal> {
        match session.part(&self.module)?.kind.module() {
            Some(_) => Ok(HAND_MINUTES),
            None => bad(format!("{} is no control module", self.module)),
        }
    }

    /// A module without a supply clears nothing, and says nothing: the scan tool says so.
    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        let minutes = self.minutes(session)?;
        let mut answer = session.change_machine(self)?;
        let part = session.part(&self.module)?.id.clone();
        let bench = &session.bench;
        let at = bench.circuit.part(&part);
        let module = |l: &Look<'_>| l.part.kind.module().and_then(|m| m.codes(l)).is_some();
        let answers = at.and_then(|at| bench.look(at, module)) == Some(true);
        if let (false, Answer::Noticed { notices }) = (answers, &mut answer) {
            notices.insert(
                0,
                Notice {
                    kind: NoticeKind::Light,
                    text: format!("{part} does not answer the scan tool: no codes were cleared"),
                    sign: "silent".to_owned(),
                    part,
                    hidden: false,
                },
            );
        }
        Ok((answer, minutes))
    }

    fn perform(&self, bench: &mut Bench) -> Result<Outcome, BenchError> {
        if let Some(part) = bench.circuit.part(&self.module) {
            bench.clear_codes(part)?;
        }
        Ok(Outcome::done())
    }
}
