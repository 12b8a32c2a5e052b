//! Skills of the trade: what a lesson practises, and which others each of them stands on.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A skill of the trade.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    PartialOrd,
    Ord,
    Hash,
    Serialize,
    Deserialize,
    JsonSchema,
    ToSchema,
)]
#[serde(rename_all = "snake_case")]
pub enum Skill {
    Instruments,
    CurrentPath,
    SupplyDropGround,
    PredictFirst,
    Halving,
    UnderLoad,
    SharedGround,
    ShortFirst,
    Interlocks,
    Chatter,
    DropSurvey,
    Clamp,
    CaseGrounds,
    ContactTables,
    Excitation,
    Ripple,
    Drain,
    BothEnds,
    Dividers,
    Sensors,
    ScanData,
    ModulePins,
    Intermittent,
    Windings,
    Ignition,
    Patterns,
    Exchange,
    Proof,
}

/// What is known of a skill.
struct Entry {
    skill: Skill,
    name: &'static str,
    about: &'static str,
    needs: &'static [Skill],
}

const fn entry(
    skill: Skill,
    name: &'static str,
    about: &'static str,
    needs: &'static [Skill],
) -> Entry {
    Entry {
        skill,
        name,
        about,
        needs,
    }
}

/// Every skill, those that others stand on first.
static SKILLS: &[Entry] = &[
    entry(
        Skill::Instruments,
        "what each instrument proves",
        "Volts, ohms, a lamp and a beep prove different things.",
        &[],
    ),
    entry(
        Skill::CurrentPath,
        "current path",
        "Follows one path from battery positive through the load and back.",
        &[Skill::Instruments],
    ),
    entry(
        Skill::SupplyDropGround,
        "supply, drop, ground",
        "Measures the supply, the drop over the load and the ground apart from each other.",
        &[Skill::CurrentPath],
    ),
    entry(
        Skill::PredictFirst,
        "predict before measuring",
        "Says what a good circuit would show before the lead touches.",
        &[Skill::SupplyDropGround],
    ),
    entry(
        Skill::Halving,
        "halving a path",
        "Measures where half of what is left lies on each side.",
        &[Skill::CurrentPath],
    ),
    entry(
        Skill::UnderLoad,
        "under load",
        "Measures while current flows: a weak joint shows then and not before.",
        &[Skill::SupplyDropGround],
    ),
    entry(
        Skill::SharedGround,
        "shared ground and feeding back",
        "Sees that circuits with one ground feed into each other when it is lost.",
        &[Skill::SupplyDropGround],
    ),
    entry(
        Skill::ShortFirst,
        "short: find before a new fuse",
        "Finds what takes the fuse before another one is put in.",
        &[Skill::CurrentPath],
    ),
    entry(
        Skill::Interlocks,
        "interlocks and safety",
        "Knows that neutral, clutch and lanyard switches are part of the circuit, and does not bridge them.",
        &[Skill::CurrentPath],
    ),
    entry(
        Skill::Chatter,
        "chatter and wandering figures",
        "Reads a figure that will not stand still for what it says.",
        &[Skill::UnderLoad],
    ),
    entry(
        Skill::DropSurvey,
        "drop survey",
        "Goes over a heavy circuit drop by drop: keep, clean, renew.",
        &[Skill::UnderLoad],
    ),
    entry(
        Skill::Clamp,
        "clamp and relative current",
        "Compares currents without opening the circuit.",
        &[Skill::CurrentPath],
    ),
    entry(
        Skill::CaseGrounds,
        "case and strap grounds",
        "Measures the metal that a part sits on, not only its wires.",
        &[Skill::UnderLoad],
    ),
    entry(
        Skill::ContactTables,
        "contact table of a switch",
        "Checks a switch position by position against its table.",
        &[Skill::CurrentPath],
    ),
    entry(
        Skill::Excitation,
        "excitation and sensing",
        "Knows what an alternator needs in order to begin and to regulate.",
        &[Skill::SupplyDropGround],
    ),
    entry(
        Skill::Ripple,
        "ripple",
        "Measures the alternating part of a charging voltage.",
        &[Skill::UnderLoad],
    ),
    entry(
        Skill::Drain,
        "drain",
        "Finds what draws current while everything is off.",
        &[Skill::Clamp],
    ),
    entry(
        Skill::BothEnds,
        "both ends of a wire",
        "Tests a wire between its two ends, unplugged, and to its neighbours.",
        &[Skill::Instruments],
    ),
    entry(
        Skill::Dividers,
        "dividers and coded resistance",
        "Works out what two resistances in series leave between them.",
        &[Skill::SupplyDropGround],
    ),
    entry(
        Skill::Sensors,
        "sensors of two and three wires",
        "Proves supply, ground and signal of a sensor apart from each other.",
        &[Skill::SupplyDropGround],
    ),
    entry(
        Skill::ScanData,
        "codes and live values as clues",
        "Takes a code as a clue to where to measure, not as a verdict.",
        &[Skill::PredictFirst],
    ),
    entry(
        Skill::ModulePins,
        "module feeds, grounds, drivers",
        "Proves a module's feeds, grounds and drivers before the module is doubted.",
        &[Skill::SupplyDropGround],
    ),
    entry(
        Skill::Intermittent,
        "intermittent: bring it about",
        "Brings heat, water or movement about, and proves the repair in the same way.",
        &[Skill::PredictFirst],
    ),
    entry(
        Skill::Windings,
        "identification of windings",
        "Tells windings by their resistance and by turning.",
        &[Skill::Instruments],
    ),
    entry(
        Skill::Ignition,
        "primary and secondary ignition",
        "Decides between primary side, secondary side and trigger by measurement.",
        &[Skill::SupplyDropGround],
    ),
    entry(
        Skill::Patterns,
        "patterns on the oscilloscope",
        "Reads a trace for level, time and shape.",
        &[Skill::PredictFirst],
    ),
    entry(
        Skill::Exchange,
        "exchange as a test",
        "Swaps two like parts to see whether the trouble moves.",
        &[Skill::CurrentPath],
    ),
    entry(
        Skill::Proof,
        "proof after repair",
        "Shows under the same conditions that the complaint is gone.",
        &[],
    ),
];

/// A skill as it is told.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct SkillCard {
    pub id: Skill,
    pub name: &'static str,
    pub about: &'static str,
    pub needs: Vec<Skill>,
}

impl Skill {
    /// Every skill, those that others stand on first.
    pub fn all() -> impl Iterator<Item = Self> {
        SKILLS.iter().map(|e| e.skill)
    }

    fn entry(self) -> &'static Entry {
        // A test walks every skill, so that there is one.
        &SKILLS[self as usize]
    }

    /// "halving a path".
    pub fn name(self) -> &'static str {
        self.entry().name
    }

    /// What it stands on.
    pub fn needs(self) -> &'static [Self] {
        self.entry().needs
    }

    /// It as it is told.
    pub fn card(self) -> SkillCard {
        let entry = self.entry();
        SkillCard {
            id: self,
            name: entry.name,
            about: entry.about,
            needs: entry.needs.to_vec(),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_skill_is_told_and_stands_on_those_before_it() {
        for (n, skill) in Skill::all().enumerate() {
            assert_eq!(skill as usize, n, "{}", skill.name());
            for needed in skill.needs() {
                assert!(
                    (*needed as usize) < n,
                    "{} stands on a later one",
                    skill.name()
                );
            }
        }
        // The last of the list is the last there is: whoever adds a skill adds its entry.
        assert_eq!(Skill::Proof as usize + 1, SKILLS.len());
    }
}
