//! Caring for the meter: zeroing its leads, renewing its fuse.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::session::{Refusal, Session};
use super::super::step::Answer;
use super::{Act, Evidence, HAND_MINUTES};

/// Minutes of opening the meter; common practice.
const FUSE_MINUTES: f64 = 3.0;

/// Touch the leads together and take their resistance off.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ZeroLeads {}

/// Renew the fuse of the meter's current input.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RenewMeterFuse {}

impl Act for ZeroLeads {
    fn said(&self, _: &Answer) -> String {
        "Took the leads' resistance off".to_owned()
    }

    fn is_at_the_meter(&self) -> bool {
        true
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        session.meter.zeroed = true;
        Ok((Answer::Noted, HAND_MINUTES))
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::OfMeter(|meter| meter.zeroed = true)
    }
}

impl Act for RenewMeterFuse {
    fn said(&self, _: &Answer) -> String {
        "Renewed the meter's fuse".to_owned()
    }

    fn is_at_the_meter(&self) -> bool {
        true
    }

    fn act(&self, session: &mut Session) -> Result<(Answer, f64), Refusal> {
        session.meter.fuse_blown = false;
        Ok((Answer::Noted, FUSE_MINUTES))
    }

    fn evidence<'a>(&'a self, _: &'a Answer) -> Evidence<'a> {
        Evidence::OfMeter(|meter| meter.fuse_blown = false)
    }
}
