//! What a lesson calls normal: limits of drops and resistances.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Limits of a lesson, in volts and shares. The defaults are common practice.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(default, deny_unknown_fields)]
pub struct Limits {
    /// Along a wire or cable under load.
    pub wire_v: f64,
    /// Across a switch or relay contact.
    pub contact_v: f64,
    /// Along a ground.
    pub ground_v: f64,
    /// At a connection.
    pub connection_v: f64,
    /// Of a resistance, as a share.
    pub ohms_share: f64,
    /// The most that any high-voltage lead may have, in ohms. Without it the limit goes by its length.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub lead_ohms: Option<f64>,
}

impl Default for Limits {
    fn default() -> Self {
        Self {
            wire_v: 0.2,
            contact_v: 0.3,
            ground_v: 0.1,
            connection_v: 0.05,
            ohms_share: 0.1,
            lead_ohms: None,
        }
    }
}

impl Limits {
    /// Checks the numbers.
    ///
    /// # Errors
    /// A sentence that says what was expected.
    pub fn check(&self) -> Result<(), String> {
        let volts = [
            self.wire_v,
            self.contact_v,
            self.ground_v,
            self.connection_v,
        ];
        if volts.iter().any(|v| !(*v > 0.0 && *v <= MOST_V)) {
            return Err(format!("expected limits above 0 and up to {MOST_V} V"));
        }
        if !(self.ohms_share > 0.0 && self.ohms_share <= 1.0) {
            return Err("expected a share of the resistance above 0 and up to 1".to_owned());
        }
        if self
            .lead_ohms
            .is_some_and(|ohms| !(ohms > 0.0 && ohms <= MOST_LEAD_OHMS))
        {
            return Err(format!(
                "expected a limit of a lead above 0 and up to {MOST_LEAD_OHMS} Ω"
            ));
        }
        Ok(())
    }

    /// Tolerance of the resistance of a high-voltage lead that should have so many ohms.
    pub fn of_lead(&self, ohms: f64) -> f64 {
        match self.lead_ohms {
            Some(most) => (most - ohms).max(0.0),
            None => LEAD_SHARE * ohms,
        }
    }
}

/// More than this is no limit of a drop, in volts.
const MOST_V: f64 = 5.0;
/// No lead has more, in ohms.
const MOST_LEAD_OHMS: f64 = 1e5;
/// How far from the middle of its range a lead of its length may lie, as a share; common practice:
/// 10 kΩ to 16 kΩ per metre.
const LEAD_SHARE: f64 = 3.0 / 13.0;
