//! Heat and water: faults that come and go are made to come.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session};
use super::super::step::Answer;
use super::{Act, PLACING_MINUTES};
use crate::lesson::Means;
use cimento_bench::Bench;
use cimento_model::state::OperatingState;

/// Working heat under a cover and the heat of the shop, in °C, and minutes to come to each; common
/// practice.
const WARM_C: f64 = 90.0;
pub(in super::super) const SHOP_C: f64 = 20.0;
const WARM_MINUTES: f64 = 10.0;
const COOL_MINUTES: f64 = 30.0;

/// Warm the machine to its working heat.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WarmUp {}

/// Let it cool.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CoolDown {}

/// Wet the machine.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Wet {}

/// Dry it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Dry {}

/// An action that sets one thing about the machine's surroundings.
macro_rules! climate {
    ($($of:ident, $said:literal, $minutes:expr, $set:expr;)*) => {
        $(impl Act for $of {
            fn said(&self, _: &Answer) -> String {
                $said.to_owned()
            }

            fn needs() -> Option<Means> {
                Some(Means::Climate)
            }

            fn minutes(&self, _: &Session) -> Result<f64, Refusal> {
                Ok($minutes)
            }

            fn asks_for(&self, bench: &Bench) -> Option<OperatingState> {
                let mut state = bench.state().clone();
                let set: fn(&mut OperatingState) = $set;
                set(&mut state);
                Some(state)
            }
        })*
    };
}

climate! {
    WarmUp, "Warmed the machine up", WARM_MINUTES, |s| s.temperature_c = WARM_C;
    CoolDown, "Let the machine cool", COOL_MINUTES, |s| s.temperature_c = SHOP_C;
    Wet, "Wetted the machine", PLACING_MINUTES, |s| s.wet = true;
    Dry, "Dried the machine", PLACING_MINUTES, |s| s.wet = false;
}
