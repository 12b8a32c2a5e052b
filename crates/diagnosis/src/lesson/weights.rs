//! What each criterion counts, by lesson.

use indexmap::IndexMap;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Marks by criterion; 0 switches one off. "safety" is the most that dangerous acts take off.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Weights(pub IndexMap<String, f64>);

/// What the most that safety takes off is called among the weights; it is no part of the 100.
const SAFETY: &str = "safety";
/// Defaults of the criteria, out of 100.
const DEFAULTS: [(&str, f64); 11] = [
    ("approach", 5.0),
    ("prediction", 15.0),
    ("technique", 10.0),
    ("verdicts", 10.0),
    ("clearing", 20.0),
    ("efficiency", 10.0),
    ("conclusion", 20.0),
    ("repair", 10.0),
    ("craft", 15.0),
    ("written", 0.0),
    (SAFETY, 20.0),
];

impl Default for Weights {
    fn default() -> Self {
        Self(
            DEFAULTS
                .iter()
                .map(|(name, w)| ((*name).to_owned(), *w))
                .collect(),
        )
    }
}

impl Weights {
    /// Marks of a criterion.
    pub fn of(&self, name: &str) -> f64 {
        self.0.get(name).copied().unwrap_or(0.0)
    }

    /// The most that dangerous acts take off.
    pub fn safety(&self) -> f64 {
        self.of(SAFETY)
    }

    /// Checks names and numbers.
    ///
    /// # Errors
    /// A sentence that says what was expected.
    pub fn check(&self) -> Result<(), String> {
        for (name, weight) in &self.0 {
            if !DEFAULTS.iter().any(|(known, _)| known == name) {
                let known: Vec<_> = DEFAULTS.iter().map(|(n, _)| *n).collect();
                return Err(format!(
                    "{name} is no criterion: expected {}",
                    known.join(", ")
                ));
            }
            if !(0.0..=100.0).contains(weight) {
                return Err(format!("{name} counts {weight}: expected 0 to 100"));
            }
        }
        let criteria = self.0.iter().filter(|(name, _)| *name != SAFETY);
        if criteria.map(|(_, w)| w).sum::<f64>() <= 0.0 {
            return Err(
                "every criterion is switched off: expected at least one above 0".to_owned(),
            );
        }
        Ok(())
    }
}
