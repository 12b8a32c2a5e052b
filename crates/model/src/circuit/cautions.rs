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
    /// Taking a plug out, so that its spark is in the open.
    OpenSpark,
}

/// A dangerous act with its caution.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Danger {
    pub act: DangerousAct,
    pub text: String,
}

/// Where every work order ends.
pub const DEFER: &str = "This bench trains. It does not replace the maker's service information, the shop's rules, local law or licensed practice.";

impl Circuit {
    /// The cautions that apply, most dangerous first.
    pub fn cautions(&self) -> Vec<String> {
        let has = |kind: &str| self.parts.iter().any(|p| p.kind.kind() == kind);
        let mut out = Vec::new();
        if self.sparks() {
            out.push("Ignition: tens of kilovolts, which can injure and can upset an implanted device. Never hold a lead or plug while the engine turns; give every spark a gap to ground, away from fuel vapour: a coil that runs with nowhere to spark is harmed inside.");
        }
        if has("starter") {
            out.push("Before cranking: gear in neutral, brake on; hands, hair and leads clear of belts, fan and flywheel.");
            out.push("Never defeat a neutral or clutch switch on a machine in gear.");
        }
        if has("battery") {
            out.push("A battery gives off hydrogen. Take its negative off first, put it on last; no ring, watch or tool across the posts; never an ammeter across a source.");
        }
        out.push("A jumper lead carries a fuse.");
        out.push(DEFER);
        out.into_iter().map(str::to_owned).collect()
    }

    /// The acts that a person is warned of again before doing them.
    pub fn dangers(&self) -> Vec<Danger> {
        let mut out = vec![
            (
                DangerousAct::JoinUnfused,
                "A jumper lead carries a fuse. Without one a wrong point burns the lead and what it touches.",
            ),
            (
                DangerousAct::Amps,
                "The meter is a piece of wire now. Open the circuit and put it in series; across a source its fuse goes, and without a fuse it burns.",
            ),
            (
                DangerousAct::BatteryOff,
                "Negative off first, on last; no sparks: a battery gives off hydrogen.",
            ),
        ];
        if self.sparks() {
            out.push((
                DangerousAct::OpenSpark,
                "Ground the plug's shell, keep off it and its lead while the engine turns, and keep fuel vapour away: tens of kilovolts.",
            ));
        }
        let danger = |(act, text): (DangerousAct, &str)| Danger {
            act,
            text: text.to_owned(),
        };
        out.into_iter().map(danger).collect()
    }
}
