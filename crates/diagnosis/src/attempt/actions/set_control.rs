//! Turning the key or moving a lever.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session, bad};
use super::super::step::Answer;
use super::near::open_spark;
use super::{Act, Danger, HAND_MINUTES, TRIAL_MINUTES};
use cimento_bench::Bench;
use cimento_model::state::{ENGINE, ENGINE_POSITIONS, OperatingState};

/// Turn the key or move a lever.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SetControl {
    pub control: String,
    pub position: String,
}

impl Act for SetControl {
    fn said(&self, _: &Answer) -> String {
        format!("Put the {} to {}", self.control, self.position)
    }

    fn is_at_the_meter(&self) -> bool {
        true
    }

    fn asks_for(&self, bench: &Bench) -> Option<OperatingState> {
        let mut state = bench.state().clone();
        state.set_control(&self.control, self.position.clone());
        Some(state)
    }

    /// The turn of the key that makes it spark, not what comes after it.
    fn dangers(&self, bench: &Bench, _: &Answer) -> Vec<Danger> {
        open_spark(bench).into_iter().collect()
    }

    fn minutes_in_vain(&self, _: &Session) -> Result<f64, Refusal> {
        Ok(match self.control.as_str() {
            ENGINE => TRIAL_MINUTES,
            _ => HAND_MINUTES,
        })
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        session.may_change(self)?;
        // The other controls' positions are the state's to check; an engine stands still in any that it does not have.
        if self.control == ENGINE && !ENGINE_POSITIONS.contains(&self.position.as_str()) {
            return bad(format!(
                "the engine has no position {}: choose one of {}",
                self.position,
                ENGINE_POSITIONS.join(", ")
            ));
        }
        if self.control == ENGINE
            && self.position != "stopped"
            && !session.bench().starts_when_tried()?
        {
            let text = "the engine does not start".to_owned();
            return Ok((
                Answer::CameToNothing { text },
                self.minutes_in_vain(session)?,
            ));
        }
        Ok((session.change_machine(self)?, HAND_MINUTES))
    }
}
