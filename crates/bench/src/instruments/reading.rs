//! What an instrument displays, with the state, function and leads it was taken in.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::function::Function;
use cimento_model::units::{Quantity, Swing};

/// A reading. It cannot be had without its state and leads.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Reading {
    /// "start · clutch down".
    pub state: String,
    pub function: Function,
    /// Test points; absent for a lead that hangs free.
    pub red: Option<String>,
    pub black: Option<String>,
    pub shown: Shown,
    /// The fuse of the meter's current input went.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub blew: bool,
}

impl Reading {
    /// As a sentence names it: "11.4 V at K3.86 to BAT.- in start · clutch down".
    pub fn about(&self) -> String {
        let unit = self.function.unit();
        let at = self.red.as_deref().unwrap_or("nothing");
        let black = self.black.as_deref();
        let to = black.map_or(String::new(), |b| format!(" to {b}"));
        let state = &self.state;
        format!("{} at {at}{to} in {state}", self.shown.value.text(unit))
    }
}

/// The display.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Shown {
    /// The figures: "12.48", "OL", "10.1 … 12.3".
    pub text: String,
    /// "V", "kΩ"; empty with OL.
    pub unit: String,
    /// "60 V".
    pub range: String,
    /// The value in volts or ohms; the middle when it wanders.
    pub value: Quantity,
    /// Least and most when the display wanders.
    pub wanders: Option<Swing>,
    /// The meter beeps.
    pub beeps: bool,
}
