//! Cautions chosen from what a circuit contains, for the work order. Common practice; the maker's
//! service information, the shop's rules and local law come first.

use super::Circuit;

/// Where every work order ends.
pub const DEFER: &str = "This bench trains. It does not replace the maker's service information, the shop's rules, local law or licensed practice.";

impl Circuit {
    /// The cautions that apply, most dangerous first.
    pub fn cautions(&self) -> Vec<String> {
        let has = |kind: &str| self.parts.iter().any(|p| p.kind.kind() == kind);
        let mut out = Vec::new();
        if self.sparks() {
            out.push("Ignition: tens of kilovolts, which can injure and can upset an implanted device. Never hold a lead or plug while the engine turns; give every spark a gap to ground, away from fuel vapour.");
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
}
