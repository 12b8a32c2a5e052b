//! How a repair is made: what is chosen at a place, what is wrong with a choice, and what comes back of it.
//!
//! What lasts is common practice: a joint is crimped or soldered and sealed, a piece let in has the area and the colour of
//! its wire, what rubbed is taken out of its way, a contact is sealed, a terminal locks, a ground sits on bright metal and
//! is coated.

mod area;
mod flaws;
mod questions;

pub use flaws::{ComesBack, Flaw, flaws};
pub use questions::{Choice, Choices, Question, check, in_words, lasting, questions};

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A lesson in which it counts how a repair is made, and in which the machine is seen a second time.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Craft {
    /// What a repair has to stand until then.
    #[serde(default = "all")]
    pub around: Vec<Around>,
}

/// What a repair has to stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Around {
    Wet,
    Moves,
    Hot,
}

impl Around {
    /// "it gets wet"
    pub fn text(self) -> &'static str {
        match self {
            Self::Wet => "it gets wet",
            Self::Moves => "it shakes",
            Self::Hot => "it gets hot",
        }
    }
}

/// The cause of what a poor repair becomes, as faults name it.
pub(crate) const REPAIR: &str = "repair";

fn all() -> Vec<Around> {
    vec![Around::Wet, Around::Moves, Around::Hot]
}

impl Default for Craft {
    fn default() -> Self {
        Self { around: all() }
    }
}

impl Craft {
    /// Checks what it says.
    ///
    /// # Errors
    /// A sentence that says what was expected.
    pub fn check(&self) -> Result<(), String> {
        let twice = |n: usize| self.around[..n].contains(&self.around[n]);
        match (0..self.around.len()).any(twice) {
            true => Err("the same thing is said twice of what is around".to_owned()),
            false => Ok(()),
        }
    }

    /// "it gets wet, it shakes"; "it stays dry, still and cool".
    pub fn about(&self) -> String {
        let said: Vec<&str> = self.around.iter().map(|a| a.text()).collect();
        match said.is_empty() {
            true => "it stays dry, still and cool".to_owned(),
            false => said.join(", "),
        }
    }
}
