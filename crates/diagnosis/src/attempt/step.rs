//! A step of an attempt: an action and what the bench answered.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::actions::{Action, Evidence};
use cimento_bench::Complaint;
use cimento_bench::instruments::{Capture, Reading};
use cimento_model::part::Notice;

/// A fault that a student supposes, to say what a meter would show with it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Supposed {
    pub place: String,
    pub mode: String,
}

impl Supposed {
    /// "W8 open".
    pub fn text(&self) -> String {
        format!("{} {}", self.place, self.mode.replace('_', " "))
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
    /// A screen that is not as it should be.
    Abnormal,
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
            Self::Abnormal => "not normal",
            Self::TellsNothing => "inconclusive",
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
    Captured {
        capture: Capture,
    },
    Noted,
    /// What there is to see at a place.
    Seen {
        text: String,
    },
    /// The fuse in the lead went, and the lead joins nothing.
    LeadBlew {
        notices: Vec<Notice>,
    },
    Repaired {
        text: String,
    },
    /// It was tried and came to nothing, which is as much an answer of the machine as any other: it stands as it did.
    CameToNothing {
        text: String,
    },
    /// What somebody says of the machine.
    Told {
        text: String,
    },
    /// The machine some weeks after it was given back.
    SeenAgain {
        came_back: bool,
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
    /// The other of two at one bench did it.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub by_partner: bool,
}

/// Memory of a step beside the points of its screens, in bytes: resident memory of a thousand sessions of 30
/// steps beside those of one.
const STEP_BYTES: usize = 500;

impl Step {
    /// Roughly the memory it takes, in bytes.
    pub(super) fn bytes(&self) -> usize {
        let points: usize = match &self.answer {
            Answer::Captured { capture } => capture.traces.iter().map(|t| t.columns.len()).sum(),
            _ => 0,
        };
        STEP_BYTES + points * size_of::<[f64; 2]>()
    }

    /// What it says about the machine.
    pub(crate) fn evidence(&self) -> Evidence<'_> {
        match self.answer {
            // True of the machine, and of no use to tell others from it.
            Answer::CameToNothing { .. } => Evidence::Nothing,
            _ => self.action.kind().evidence(&self.answer),
        }
    }

    /// In words, with what the bench answered.
    pub fn said(&self) -> String {
        let mut said = self.action.kind().said(&self.answer);
        if self.by_partner {
            said = format!("Partner: {said}");
        }
        match &self.answer {
            Answer::CameToNothing { text } => format!("{said}: {text}"),
            _ => said,
        }
    }
}
