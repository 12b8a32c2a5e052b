//! Cautions chosen from what a circuit contains, for the work order. Common practice; the maker's
//! service information, the shop's rules and local law come first.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::Circuit;

/// What one is warned of once more before doing it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum DangerousAct {
    /// Joining two points with a lead that has no fuse.
    JoinUnfused,
    /// Measuring amperes through the meter.
    Amps,
    /// Taking the battery off.
    BatteryOff,
    /// Undoing the ring terminals of a ground.
    GroundOff,
    /// Taking a plug out, so that its spark is in the open.
    OpenSpark,
}

/// A dangerous act with its caution.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Danger {
    pub act: DangerousAct,
    pub text: String,
}

/// Where every work order ends.
pub const DEFER: &str = "This bench trains. It does not replace the maker's service information, the shop's rules, local law or licensed practice.";

/// A caution for the work order.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Caution {
    /// Its place on the list: the most dangerous has the least.
    pub rank: u8,
    pub text: &'static str,
}

/// What is asked of every lead, and what an ammeter is.
const FUSED: &str = "A jumper lead carries a fuse.";
const UNFUSED: &str =
    "A jumper lead carries a fuse. Without one a wrong point burns the lead and what it touches.";
const AMMETER: &str = "The meter is a piece of wire now. Open the circuit and put it in series; across a source its fuse goes, and without a fuse it burns.";

const GROUND: &str = "Take the battery's negative off first: a ground that is undone under current sparks, and what hung on it finds another way, through thin wires.";

impl Circuit {
    /// The cautions that apply, most dangerous first.
    pub fn cautions(&self) -> Vec<String> {
        let of_parts = self.parts.iter().flat_map(|p| p.kind.cautions());
        let mut parts: Vec<Caution> = of_parts.copied().collect();
        parts.sort();
        parts.dedup();
        let parts = parts.into_iter().map(|c| c.text);
        let all = parts.chain([FUSED, DEFER]);
        all.map(str::to_owned).collect()
    }

    /// The acts that a person is warned of again before doing them.
    pub fn dangers(&self) -> Vec<Danger> {
        let mut out = vec![
            (DangerousAct::JoinUnfused, UNFUSED),
            (DangerousAct::Amps, AMMETER),
        ];
        if self.undone().next().is_some() {
            out.push((DangerousAct::GroundOff, GROUND));
        }
        for danger in self.parts.iter().filter_map(|p| p.kind.danger()) {
            if !out.contains(&danger) {
                out.push(danger);
            }
        }
        let danger = |(act, text): (DangerousAct, &str)| Danger {
            act,
            text: text.to_owned(),
        };
        out.into_iter().map(danger).collect()
    }
}
