//! What a machine can be asked: an instrument at its leads, a screen of the oscilloscope, a part exchanged for
//! its like and the complaint tried again.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::attempt::Action;
use crate::attempt::actions::{FitKnownGood, Swap, TryComplaint};
use cimento_bench::instruments::{Function, Probe, Reading, Scope};

/// A question to a machine in some state.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(untagged)]
pub enum Question {
    /// An instrument at its leads.
    Reading {
        function: Function,
        red: String,
        black: Option<String>,
    },
    /// What one channel of the oscilloscope shows.
    Screen { scope: Scope },
    /// A part exchanged, for another of the machine that is like it or for one that is known to be good, and the
    /// complaint tried again.
    Exchange { part: String, like: Option<String> },
}

/// What is set on the meter, and where its leads are.
pub type Held<'a> = (Function, Option<&'a str>, Option<&'a str>);

impl Question {
    pub(super) fn reading(function: Function, red: &str, black: Option<&str>) -> Self {
        Self::Reading {
            function,
            red: red.to_owned(),
            black: black.map(str::to_owned),
        }
    }

    /// The instrument and its leads, where it is a reading.
    pub fn held(&self) -> Option<Held<'_>> {
        match self {
            Self::Reading {
                function,
                red,
                black,
            } => Some((*function, Some(red), black.as_deref())),
            _ => None,
        }
    }

    /// Whether a reading is its answer, in the right state.
    pub(super) fn is(&self, reading: &Reading) -> bool {
        self.held()
            == Some((
                reading.function,
                reading.red.as_deref(),
                reading.black.as_deref(),
            ))
    }

    /// What is done to the machine, for an exchange.
    pub fn actions(&self) -> Vec<Action> {
        let Self::Exchange { part, like } = self else {
            return Vec::new();
        };
        let exchange = match like {
            Some(like) => Action::Swap(Swap {
                a: part.clone(),
                b: like.clone(),
            }),
            None => Action::FitKnownGood(FitKnownGood { part: part.clone() }),
        };
        vec![exchange, Action::TryComplaint(TryComplaint {})]
    }

    /// "DC volts at K3.86 to BAT.-".
    pub fn text(&self) -> String {
        match self {
            Self::Reading {
                function,
                red,
                black,
            } => {
                let to = black
                    .as_deref()
                    .map_or(String::new(), |b| format!(" to {b}"));
                format!("{} at {red}{to}", function.title())
            }
            Self::Screen { scope } => {
                let channel = |probe: &Probe| match probe {
                    Probe::Leads { red, black } => format!("{red} to {black}"),
                    Probe::Pickup { lead } => format!("the clip on {lead}"),
                    Probe::Clamp { wire } => format!("the clamp on {wire}"),
                };
                let all: Vec<String> = scope.channels.iter().map(channel).collect();
                format!("the oscilloscope, {}", all.join(", "))
            }
            Self::Exchange { part, like } => match like {
                Some(like) => format!("{part} and {like} exchanged and the complaint tried"),
                None => format!("a known-good {part} fitted and the complaint tried"),
            },
        }
    }
}
