//! Two at one bench: one record of what was done, and each sees it as their own. What a partner expected and how they
//! judged is theirs, and marked as theirs; everything else is done by both.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::actions::{Action, TakeCapture, TakeReading};
use super::step::{Step, Supposed, Verdict};

/// What a partner expected of a reading.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PartnerExpects {
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub expected: Option<String>,
    /// The fault with which that is expected; a healthy circuit when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub supposing: Option<Supposed>,
}

/// What one of a pair sees of the other's at a reading or a screen: how it was judged only once they have judged it
/// themselves.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PartnerSaid {
    #[serde(skip_serializing_if = "Option::is_none")]
    pub expected: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub supposing: Option<Supposed>,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub verdict: Option<Verdict>,
    /// Their verdict, while one's own is still to come.
    #[serde(skip)]
    pub(super) withheld: Option<Verdict>,
}

impl PartnerSaid {
    /// A verdict of theirs, shown where one has judged oneself.
    pub(super) fn judged(&mut self, verdict: Verdict, may_see: bool) {
        self.withheld = Some(verdict);
        if may_see {
            self.verdict = self.withheld;
        }
    }

    /// One has judged oneself.
    pub(super) fn may_be_seen(&mut self) {
        self.verdict = self.withheld;
    }
}

impl Action {
    /// The same as one's partner has it.
    pub fn of_partner(mut self) -> Self {
        match &mut self {
            Self::TakeReading(TakeReading {
                expected,
                supposing,
                partner,
                ..
            }) => {
                let theirs = partner.take().unwrap_or_default();
                let own = PartnerExpects {
                    expected: std::mem::replace(expected, theirs.expected),
                    supposing: std::mem::replace(supposing, theirs.supposing),
                };
                *partner = (own != PartnerExpects::default()).then_some(own);
            }
            Self::Capture(TakeCapture {
                expected,
                partner_expected,
                ..
            }) => std::mem::swap(expected, partner_expected),
            _ => {}
        }
        self
    }

    /// It says what somebody else expects, which only they can say.
    pub fn speaks_for_a_partner(&self) -> bool {
        match self {
            Self::TakeReading(reading) => reading.partner.is_some(),
            Self::Capture(capture) => !capture.partner_expected.is_empty(),
            _ => false,
        }
    }

    /// It asks for an expectation, which at a bench of two each writes before anything shows.
    pub fn asks_for_expectations(&self) -> bool {
        matches!(self, Self::TakeReading(_) | Self::Capture(_))
    }

    /// What is said of it to a partner who has still to write their own: everything but what was expected.
    pub fn without_expectations(mut self) -> Self {
        match &mut self {
            Self::TakeReading(reading) => {
                (reading.expected, reading.supposing, reading.partner) = (None, None, None);
            }
            Self::Capture(capture) => {
                capture.expected.clear();
                capture.partner_expected.clear();
            }
            _ => {}
        }
        self
    }
}

impl Step {
    /// The same as one's partner has it.
    pub fn of_partner(mut self) -> Self {
        self.action = self.action.of_partner();
        self.by_partner = !self.by_partner;
        self
    }
}
