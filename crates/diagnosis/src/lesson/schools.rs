//! Where good practitioners differ, a lesson says which school it asks for; where it is silent either way is right.

use std::collections::BTreeSet;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use cimento_bench::instruments::{Function, PutOn};
use cimento_model::units::Unit;

/// A school of practice: what is to come first. They come in pairs that exclude each other.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema, ToSchema,
)]
#[serde(rename_all = "snake_case")]
pub enum School {
    /// Voltages while the circuit works.
    LoadedFirst,
    /// Resistance and continuity with the circuit dead.
    ContinuityFirst,
    LampFirst,
    MeterFirst,
    /// Codes and data of the modules.
    ScanFirst,
    /// The circuit itself.
    CircuitFirst,
    /// The complaint is seen.
    SymptomFirst,
    /// The battery is measured.
    SupplyFirst,
}

impl School {
    /// The pairs, each with what it is about.
    pub const PAIRS: [(&'static str, [Self; 2]); 4] = [
        (
            "how it is measured",
            [Self::LoadedFirst, Self::ContinuityFirst],
        ),
        ("with what", [Self::LampFirst, Self::MeterFirst]),
        ("where one begins", [Self::ScanFirst, Self::CircuitFirst]),
        (
            "what one begins with",
            [Self::SymptomFirst, Self::SupplyFirst],
        ),
    ];

    /// What it asks for, in words.
    pub fn text(self) -> &'static str {
        match self {
            Self::LoadedFirst => "voltage under load first",
            Self::ContinuityFirst => "continuity with the circuit dead first",
            Self::LampFirst => "the test lamp first",
            Self::MeterFirst => "the meter before the test lamp",
            Self::ScanFirst => "codes and scan data first",
            Self::CircuitFirst => "the circuit before codes and scan data",
            Self::SymptomFirst => "the complaint first, then the battery",
            Self::SupplyFirst => "the battery first, then the complaint",
        }
    }

    /// Whether it begins with such an instrument. What comes before every instrument is no matter of it.
    pub fn takes(self, function: Function) -> bool {
        let scans = matches!(function.put_on(), PutOn::Module | PutOn::Pin);
        match self {
            Self::LoadedFirst => !scans && !function.feeds(),
            Self::ContinuityFirst => function.feeds(),
            Self::LampFirst => function.unit() == Unit::Light,
            Self::MeterFirst => !scans && function.unit() != Unit::Light,
            Self::ScanFirst => scans,
            Self::CircuitFirst => !scans,
            Self::SymptomFirst | Self::SupplyFirst => true,
        }
    }

    /// The school that holds the opposite.
    pub fn other(self) -> Self {
        match self {
            Self::LoadedFirst => Self::ContinuityFirst,
            Self::ContinuityFirst => Self::LoadedFirst,
            Self::LampFirst => Self::MeterFirst,
            Self::MeterFirst => Self::LampFirst,
            Self::ScanFirst => Self::CircuitFirst,
            Self::CircuitFirst => Self::ScanFirst,
            Self::SymptomFirst => Self::SupplyFirst,
            Self::SupplyFirst => Self::SymptomFirst,
        }
    }
}

/// The schools that a lesson asks for, at most one of each pair. Documents list them; those that named one way of
/// measuring by a single word are read too.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(from = "Spelled", into = "Vec<School>")]
#[schemars(with = "Vec<School>")]
#[schema(value_type = Vec<School>)]
pub struct Method(BTreeSet<School>);

#[derive(Deserialize)]
#[serde(
    untagged,
    expecting = "expected a list of schools: loaded_first or continuity_first, lamp_first or meter_first, scan_first or circuit_first, symptom_first or supply_first"
)]
enum Spelled {
    List(Vec<School>),
    Word(Word),
}

#[derive(Deserialize)]
#[serde(rename_all = "snake_case")]
enum Word {
    Either,
    LoadedFirst,
    ContinuityFirst,
}

impl From<Spelled> for Method {
    fn from(spelled: Spelled) -> Self {
        match spelled {
            Spelled::List(schools) => schools.into_iter().collect(),
            Spelled::Word(Word::Either) => Self::default(),
            Spelled::Word(Word::LoadedFirst) => [School::LoadedFirst].into_iter().collect(),
            Spelled::Word(Word::ContinuityFirst) => [School::ContinuityFirst].into_iter().collect(),
        }
    }
}

impl From<Method> for Vec<School> {
    fn from(method: Method) -> Self {
        method.0.into_iter().collect()
    }
}

impl FromIterator<School> for Method {
    fn from_iter<I: IntoIterator<Item = School>>(schools: I) -> Self {
        Self(schools.into_iter().collect())
    }
}

impl Method {
    /// The schools, in the order of their pairs.
    pub fn schools(&self) -> impl Iterator<Item = School> {
        self.0.iter().copied()
    }

    /// The same with a school in the place of its opposite.
    #[must_use]
    pub fn with(&self, school: School) -> Self {
        let rest = self.schools().filter(|s| *s != school.other());
        rest.chain([school]).collect()
    }

    /// What it asks for, in words; empty when it asks for nothing.
    pub fn text(&self) -> String {
        let all: Vec<&str> = self.schools().map(School::text).collect();
        all.join("; ")
    }

    /// That no two schools of it exclude each other.
    ///
    /// # Errors
    /// A sentence that names the two.
    pub fn check(&self) -> Result<(), String> {
        let both = self.schools().find(|s| self.0.contains(&s.other()));
        match both {
            Some(school) => Err(format!(
                "“{}” and “{}” exclude each other: choose one",
                school.text(),
                school.other().text()
            )),
            None => Ok(()),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn pairs_exclude_each_other_and_say_different_things() {
        for (_, [a, b]) in School::PAIRS {
            assert_eq!((a.other(), b.other()), (b, a));
            assert_ne!(a.text(), b.text());
            let both: Method = [a, b].into_iter().collect();
            assert!(both.check().unwrap_err().contains(a.text()));
            assert_eq!(Method::default().with(a).with(b), [b].into_iter().collect());
        }
    }

    #[test]
    fn old_words_are_read_and_lists_written() {
        let read = |text: &str| serde_json::from_str::<Method>(text);
        assert_eq!(read("\"either\"").unwrap(), Method::default());
        let loaded = read("\"loaded_first\"").unwrap();
        assert_eq!(
            serde_json::to_string(&loaded).unwrap(),
            "[\"loaded_first\"]"
        );
        assert_eq!(read("[\"loaded_first\"]").unwrap(), loaded);
        for wrong in ["\"lamp\"", "[\"lamp\"]", "7"] {
            let said = read(wrong).unwrap_err().to_string();
            assert!(said.contains("lamp_first or meter_first"), "{said}");
        }
        assert!(loaded.check().is_ok());
    }
}
