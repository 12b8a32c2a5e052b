//! What is to be chosen when a place is repaired.

use std::collections::BTreeMap;

use cimento_model::circuit::{Circuit, ConductorKind, Place, WireDoc};
use cimento_model::units::awg_area_mm2;
use serde::Serialize;
use utoipa::ToSchema;

use crate::repairs::RepairKind;

/// What was chosen, by the word of its question.
pub type Choices = BTreeMap<String, String>;

/// Something to be chosen.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[schema(as = CraftQuestion)]
pub struct Question {
    /// As steps spell it.
    pub word: &'static str,
    /// "Joined by".
    pub asks: &'static str,
    pub options: Vec<Choice>,
    /// What lasts.
    #[serde(skip)]
    lasts: String,
}

/// One way to do it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[schema(as = CraftChoice)]
pub struct Choice {
    /// As steps spell it.
    pub word: String,
    pub text: String,
    /// What one is warned of before doing it so.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub caution: Option<&'static str>,
}

pub(super) const METHOD: &str = "method";
pub(super) const SLEEVE: &str = "sleeve";
pub(super) const AREA: &str = "area_mm2";
pub(super) const COLOR: &str = "color";
pub(super) const ROUTE: &str = "route";
pub(super) const TERMINAL: &str = "terminal";
pub(super) const SEAL: &str = "seal";
pub(super) const GREASE: &str = "grease";
pub(super) const LOCK: &str = "lock";
pub(super) const SURFACE: &str = "surface";
pub(super) const BOLT: &str = "bolt";
pub(super) const COAT: &str = "coat";

/// A question that is the same at every place: word, words, what lasts, and the options with their words.
type Usual = (
    &'static str,
    &'static str,
    &'static str,
    &'static [(&'static str, &'static str)],
);

const USUAL: [Usual; 10] = [
    (
        METHOD,
        "Joined by",
        "sealed",
        &[
            ("twist", "twisting and tape"),
            ("tap", "a tap connector pressed on"),
            ("crimp", "a butt connector, crimped"),
            ("solder", "soldering"),
            ("sealed", "a weatherproof splice, crimped and shrunk"),
        ],
    ),
    (
        SLEEVE,
        "Over it",
        "lined",
        &[
            ("none", "nothing"),
            ("tape", "insulating tape"),
            ("shrink", "a heat-shrink sleeve"),
            ("lined", "a heat-shrink sleeve with adhesive"),
        ],
    ),
    (
        ROUTE,
        "Laid",
        "clear",
        &[
            ("as_it_lay", "as it lay"),
            ("clear", "clipped clear, in conduit"),
        ],
    ),
    (
        TERMINAL,
        "Terminal",
        "fits",
        &[
            ("bent", "the old one, bent into shape"),
            ("larger", "a new one a size larger"),
            ("fits", "a new one of the wire's size"),
        ],
    ),
    (
        SEAL,
        "Seal",
        "fitted",
        &[("left_out", "left out"), ("fitted", "fitted, and whole")],
    ),
    (
        GREASE,
        "In the contact",
        "dielectric",
        &[
            ("none", "nothing"),
            ("conductive", "conductive paste"),
            ("dielectric", "dielectric grease"),
        ],
    ),
    (
        LOCK,
        "Put in",
        "locked",
        &[
            ("pushed", "until it stops"),
            (
                "locked",
                "until it clicks, pulled at, and its lock is closed",
            ),
        ],
    ),
    (
        SURFACE,
        "Face",
        "bright",
        &[
            ("wiped", "wiped with a cloth"),
            ("bright", "ground to bright metal"),
        ],
    ),
    (
        BOLT,
        "Bolted",
        "torque",
        &[
            ("by_hand", "hand-tight"),
            ("torque", "to its torque, with a lock washer"),
        ],
    ),
    (
        COAT,
        "After that",
        "coated",
        &[("bare", "left bare"), ("coated", "coated against water")],
    ),
];

/// Areas that wires are sold in, in mm². Source: ISO 6722-1, from memory.
const AREAS_MM2: [f64; 15] = [
    0.35, 0.5, 0.75, 1.0, 1.5, 2.5, 4.0, 6.0, 10.0, 16.0, 25.0, 35.0, 50.0, 70.0, 95.0,
];
/// Areas that are offered are at most so many times the wire's own.
const OFFERED: f64 = 4.5;
/// Colours that a drawer holds. Source: IEC 60757.
const DRAWER: [&str; 6] = ["BK", "RD", "BU", "YE", "GN", "WH"];

/// What is to be chosen when a place is repaired in some way; nothing where it is exchanged as it comes.
pub fn questions(circuit: &Circuit, place: Place, how: RepairKind) -> Vec<Question> {
    let Place::Conductor(n) = place else {
        return Vec::new();
    };
    let conductor = &circuit.conductors[n];
    let words: &[&str] = match (conductor.kind, how) {
        (ConductorKind::Wire, _) if conductor.ignition_lead.is_some() => &[],
        (ConductorKind::Wire, RepairKind::Join) => &[METHOD, AREA, COLOR, SLEEVE, ROUTE],
        (ConductorKind::Wire, RepairKind::Renew) => &[AREA, COLOR, ROUTE, LOCK],
        (ConductorKind::Splice, RepairKind::Join) => &[METHOD, SLEEVE],
        (ConductorKind::Cavity, RepairKind::Renew) => &[TERMINAL, SEAL, GREASE, LOCK],
        (ConductorKind::Cavity, RepairKind::Clean) => &[SEAL, GREASE, LOCK],
        (ConductorKind::Ground | ConductorKind::Mount, RepairKind::Clean) => &[SURFACE, BOLT, COAT],
        _ => &[],
    };
    let wire = circuit.doc.wires.iter().find(|w| w.id == conductor.id);
    let asked = words.iter().filter_map(|word| match *word {
        AREA => area(wire?),
        COLOR => color(wire?),
        word => usual(word),
    });
    asked.collect()
}

fn usual(word: &str) -> Option<Question> {
    let (word, asks, lasts, options) = USUAL.iter().find(|(known, ..)| *known == word)?;
    let choice = |(word, text): &(&str, &str)| Choice {
        word: (*word).to_owned(),
        text: (*text).to_owned(),
        caution: caution(word),
    };
    Some(Question {
        word,
        asks,
        options: options.iter().map(choice).collect(),
        lasts: (*lasts).to_owned(),
    })
}

/// What is hot is said before it is used; common practice.
fn caution(word: &str) -> Option<&'static str> {
    match word {
        "solder" => Some(
            "The iron and what it drips burn skin and set fire to fuel vapour: battery off, nothing near that burns, eyes covered.",
        ),
        "shrink" | "lined" | "sealed" => {
            Some("Hot air sets fire to fuel vapour, and the sleeve burns the fingers.")
        }
        _ => None,
    }
}

/// The area of a wire, in mm²; none where its resistance is said instead.
pub(super) fn area_mm2(wire: &WireDoc) -> Option<f64> {
    wire.area_mm2.or(wire.awg.map(awg_area_mm2))
}

/// Of a wire with a gauge number, the areas are offered that stand beside it; its own is said as it is.
fn area(wire: &WireDoc) -> Option<Question> {
    let own = area_mm2(wire)?;
    let round = (own * 100.0).round() / 100.0;
    let mut all: Vec<f64> = AREAS_MM2.to_vec();
    all.retain(|a| *a < own * OFFERED && (a / own - 1.0).abs() > 0.1);
    all.push(round);
    all.sort_by(f64::total_cmp);
    let choice = |a: &f64| Choice {
        word: a.to_string(),
        text: match wire.awg {
            Some(no) if *a == round => format!("{a} mm² (AWG {no})"),
            _ => format!("{a} mm²"),
        },
        caution: None,
    };
    Some(Question {
        word: AREA,
        asks: "Area",
        options: all.iter().map(choice).collect(),
        lasts: round.to_string(),
    })
}

fn color(wire: &WireDoc) -> Option<Question> {
    let own = String::from(wire.color.clone()?);
    let mut all: Vec<&str> = DRAWER.to_vec();
    if !all.contains(&own.as_str()) {
        all.push(&own);
    }
    all.sort_unstable();
    let choice = |word: &&str| Choice {
        word: (*word).to_owned(),
        text: (*word).to_owned(),
        caution: None,
    };
    Some(Question {
        word: COLOR,
        asks: "Colour",
        options: all.iter().map(choice).collect(),
        lasts: own.clone(),
    })
}

/// Checks that each question is answered, and with one of its options.
///
/// # Errors
/// A sentence that says what was expected.
pub fn check(questions: &[Question], chosen: &Choices) -> Result<(), String> {
    for question in questions {
        let words = || {
            let words: Vec<&str> = question.options.iter().map(|o| o.word.as_str()).collect();
            words.join(", ")
        };
        match chosen.get(question.word) {
            None => {
                return Err(format!(
                    "choose how it is done: {} is missing, expected one of {}",
                    question.word,
                    words()
                ));
            }
            Some(said) if !question.options.iter().any(|o| o.word == *said) => {
                return Err(format!(
                    "{}: “{said}” is not to be had, expected one of {}",
                    question.word,
                    words()
                ));
            }
            Some(_) => {}
        }
    }
    let known = |word: &String| questions.iter().any(|q| q.word == word);
    match chosen.keys().find(|word| !known(word)) {
        Some(word) => Err(format!("{word} is not asked for there: leave it out")),
        None => Ok(()),
    }
}

/// What lasts at a place, whatever is around it.
pub fn lasting(circuit: &Circuit, place: Place, how: RepairKind) -> Choices {
    let all = questions(circuit, place, how).into_iter();
    all.map(|q| (q.word.to_owned(), q.lasts)).collect()
}

/// "joined by soldering, area 1.5 mm², …".
pub fn in_words(questions: &[Question], chosen: &Choices) -> String {
    let said = questions.iter().filter_map(|q| {
        let word = chosen.get(q.word)?;
        let option = q.options.iter().find(|o| o.word == *word)?;
        Some(format!("{} {}", q.asks.to_lowercase(), option.text))
    });
    let said: Vec<String> = said.collect();
    said.join(", ")
}
