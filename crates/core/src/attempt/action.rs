//! What a student does, and what the bench answers.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::repair::RepairKind;
use crate::bench::{Complaint, OperatingState};
use crate::circuit::Circuit;
use crate::instruments::{Function, Reading};
use crate::parts::Notice;

/// One action.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "do", rename_all = "snake_case", deny_unknown_fields)]
pub enum Action {
    /// Turn the key or move a lever.
    SetControl {
        control: String,
        position: String,
    },
    /// Unplug a connector, or pull a fuse or relay out of its socket.
    TakeApart {
        what: String,
    },
    /// Plug it in again.
    PutBack {
        what: String,
    },
    /// Work the machine as the work order says and see what it does.
    TryComplaint,
    TakeReading {
        function: Function,
        /// Full scale of a range; automatic when absent.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        range: Option<f64>,
        #[serde(default, skip_serializing_if = "Option::is_none")]
        red: Option<String>,
        #[serde(default, skip_serializing_if = "Option::is_none")]
        black: Option<String>,
        /// What a healthy circuit should read, in the student's hand.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        expected: Option<String>,
    },
    /// A verdict on the reading of an earlier step.
    Judge {
        step: usize,
        verdict: Verdict,
    },
    NameFault {
        place: String,
        mode: String,
        /// Steps that prove it.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        because: Vec<usize>,
    },
    Repair {
        place: String,
        how: RepairKind,
    },
    HandIn,
}

impl Action {
    /// The operating state after the action, for those that change it.
    pub(crate) fn moves(
        &self,
        circuit: &Circuit,
        state: &OperatingState,
    ) -> Option<OperatingState> {
        let mut next = state.clone();
        match self {
            Self::SetControl { control, position } => next.set_control(control, position.clone()),
            Self::TakeApart { what } => next.take_apart(circuit, what),
            Self::PutBack { what } => next.put_back(what),
            _ => return None,
        }
        Some(next)
    }
}

/// What a student makes of a reading.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    Normal,
    Borderline,
    TooLow,
    TooHigh,
    /// It says nothing about the complaint.
    TellsNothing,
}

impl Verdict {
    /// As the bench writes it.
    pub fn text(self) -> &'static str {
        match self {
            Self::Normal => "normal",
            Self::Borderline => "borderline",
            Self::TooLow => "too low",
            Self::TooHigh => "too high",
            Self::TellsNothing => "not telling",
        }
    }
}

/// What the bench answers.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "is", rename_all = "snake_case")]
pub enum Answer {
    /// What is noticed after a control was moved.
    Noticed {
        notices: Vec<Notice>,
    },
    Complaint {
        complaint: Complaint,
    },
    Reading {
        reading: Reading,
    },
    Noted,
    Repaired {
        text: String,
    },
    HandedIn,
}

/// An action with its answer, numbered from 1.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Step {
    pub no: usize,
    pub action: Action,
    pub answer: Answer,
    /// Minutes it took at the machine.
    pub minutes: f64,
}
