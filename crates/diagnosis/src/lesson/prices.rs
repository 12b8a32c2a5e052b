//! What minutes and parts cost the customer. The usual prices are made up.

use std::collections::BTreeMap;

use cimento_model::circuit::{Circuit, Place, Problem};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Most that anything costs.
const MOST: f64 = 1e6;
/// Longest name of the money, in characters.
const LONGEST: usize = 20;

/// Prices of a lesson.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Prices {
    /// What the money is called.
    pub money: String,
    /// An hour of work.
    pub hour: f64,
    /// Copper, terminals and sleeves of a repair.
    pub material: f64,
    /// A part that is not named below.
    pub part: f64,
    /// Parts, by their kind or their id.
    #[serde(default)]
    pub parts: BTreeMap<String, f64>,
}

/// Made up, like the money.
const USUAL: [(&str, f64); 9] = [
    ("fuse", 1.0),
    ("lamp", 3.0),
    ("relay", 14.0),
    ("key_switch", 38.0),
    ("battery", 95.0),
    ("starter", 210.0),
    ("alternator", 260.0),
    ("ignition_coil", 55.0),
    ("control_module", 420.0),
];

impl Default for Prices {
    fn default() -> Self {
        let usual = USUAL.iter();
        Self {
            money: "crowns".to_owned(),
            hour: 72.0,
            material: 4.0,
            part: 25.0,
            parts: usual.map(|(kind, of)| ((*kind).to_owned(), *of)).collect(),
        }
    }
}

impl Prices {
    /// Checks names and numbers for a circuit.
    ///
    /// # Errors
    /// [`Problem`] with the path of what is wrong.
    pub fn check(&self, circuit: &Circuit) -> Result<(), Problem> {
        let money = self.money.trim();
        if money.is_empty() || money.chars().count() > LONGEST {
            let text = format!("expected a name of 1 to {LONGEST} characters");
            return Err(Problem::refused("prices.money", text));
        }
        let named = self.parts.iter().map(|(of, price)| (of.as_str(), *price));
        let all = [
            ("hour", self.hour),
            ("material", self.material),
            ("part", self.part),
        ];
        for (of, price) in all.into_iter().chain(named) {
            if !(0.0..=MOST).contains(&price) {
                let text = format!("expected 0 to {MOST}");
                return Err(Problem::refused(format!("prices.{of}"), text));
            }
        }
        let known = |of: &str| cimento_parts::kind(of).is_some() || circuit.part(of).is_some();
        match self.parts.keys().find(|of| !known(of)) {
            Some(of) => Err(Problem::refused(
                format!("prices.parts.{of}"),
                "expected a kind of part, or a part of this circuit",
            )),
            None => Ok(()),
        }
    }

    /// What is fitted when a place is renewed, or mended.
    pub fn of(&self, circuit: &Circuit, place: Place) -> f64 {
        match place {
            Place::Part(n) | Place::Pin(n, _) => {
                let part = &circuit.parts[n];
                let own = self.parts.get(&part.id);
                let own = own.or_else(|| self.parts.get(part.kind.kind()));
                own.copied().unwrap_or(self.part)
            }
            Place::Conductor(_) => self.material,
        }
    }
}
