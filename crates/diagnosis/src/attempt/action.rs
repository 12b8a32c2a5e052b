//! What a student does, and what the bench answers.

use crate::lesson::Means;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::repair::RepairKind;
use super::touch::Touch;
use cimento_bench::Complaint;
use cimento_bench::instruments::{Capture, Function, Looks, Reading, Scope};
use cimento_model::part::Notice;

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
    /// Join two test points with a lead, with or without a fuse in it.
    Join {
        from: String,
        to: String,
        fused: bool,
    },
    /// Take that lead off.
    Unjoin {
        from: String,
        to: String,
    },
    /// Put a jump pack between two test points.
    Support {
        plus: String,
        minus: String,
    },
    /// Take it off.
    Unsupport,
    /// Move a place or a whole harness, and keep it moving.
    Wiggle {
        what: String,
    },
    /// Let everything rest again.
    Rest,
    /// Let time pass.
    Wait {
        minutes: f64,
    },
    /// Warm the machine to its working heat, or let it cool.
    WarmUp,
    CoolDown,
    /// Wet the machine, or dry it.
    Wet,
    Dry,
    /// Look closely at a place.
    Inspect {
        place: String,
    },
    /// Exchange two parts of one kind.
    Swap {
        a: String,
        b: String,
    },
    /// Fit a part that is known to be good, as a test.
    FitKnownGood {
        part: String,
    },
    /// Put the machine's own part back.
    FitOwn {
        part: String,
    },
    /// Clear the codes of a control module.
    ClearCodes {
        module: String,
    },
    /// Touch the leads together and take their resistance off.
    ZeroLeads,
    /// Renew the fuse of the meter's current input.
    RenewMeterFuse,
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
        /// The fault with which that is expected; a healthy circuit when absent.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        supposing: Option<Supposed>,
        #[serde(default, skip_serializing_if = "Touch::is_back_probe")]
        touch: Touch,
    },
    /// Close the hole that a needle left in a wire's insulation.
    Seal {
        wire: String,
    },
    /// Look at up to four channels of the oscilloscope.
    Capture {
        scope: Scope,
        /// What each channel of a healthy machine shows, as the student says.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        expected: Vec<Looks>,
    },
    /// A verdict on the reading or the screen of an earlier step.
    Judge {
        step: usize,
        verdict: Verdict,
    },
    /// The fault cannot sit at these places, the student says.
    Clear {
        places: Vec<String>,
    },
    /// The fault may well sit at these places.
    Suspect {
        places: Vec<String>,
    },
    /// A note in the student's own words, on a reading or on none.
    Note {
        #[serde(default, skip_serializing_if = "Option::is_none")]
        step: Option<usize>,
        text: String,
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
    /// A hint that was given in practice; the program writes it down.
    Hint {
        level: u8,
        text: String,
    },
}

impl Action {
    /// What it needs, if a lesson may forbid that. What undoes something is always allowed.
    pub fn means(&self) -> Option<Means> {
        Some(match self {
            Self::TakeApart { .. } => Means::TakingApart,
            Self::Join { .. } => Means::Leads,
            Self::Support { .. } => Means::JumpPack,
            Self::Wiggle { .. } => Means::Moving,
            Self::WarmUp | Self::CoolDown | Self::Wet | Self::Dry => Means::Climate,
            Self::Inspect { .. } => Means::LookingClosely,
            Self::Swap { .. } => Means::Swapping,
            Self::FitKnownGood { .. } => Means::KnownGood,
            Self::TakeReading {
                touch: Touch::Pierce,
                ..
            } => Means::Piercing,
            _ => return None,
        })
    }
}

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
