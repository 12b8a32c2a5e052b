//! What is wrong with how a repair was made.

use std::sync::Arc;

use cimento_bench::BenchError;
use cimento_model::circuit::{Circuit, Place};

use super::area::{Thin, thin};
use super::questions::{
    AREA, BOLT, COAT, COLOR, GREASE, LOCK, METHOD, ROUTE, SEAL, SLEEVE, SURFACE, TERMINAL, area_mm2,
};
use super::{Around, Choices};

/// A choice that does not last, or that leads the next astray.
#[derive(Debug, Clone, PartialEq)]
pub struct Flaw {
    /// The word of its question.
    pub question: &'static str,
    /// "the bare joint rubs through".
    pub text: String,
    /// What becomes of it.
    pub comes_back: Option<ComesBack>,
}

/// What becomes of a poor repair.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum ComesBack {
    /// Water gets in, and resistance grows until it is noticed.
    Corrodes,
    /// It opens when it is moved.
    Opens,
    /// It touches metal when it is moved.
    Rubs,
    /// It touches metal when it is hot.
    Softens,
    /// Its resistance grows with its heat.
    Heats,
    /// The wire has this share of the area that it should have.
    TooThin(f64),
    /// What it carries burns its insulation.
    Burns,
}

impl ComesBack {
    /// What has to be around for it to come.
    fn needs(self) -> Option<Around> {
        match self {
            Self::Corrodes => Some(Around::Wet),
            Self::Opens | Self::Rubs => Some(Around::Moves),
            Self::Softens => Some(Around::Hot),
            Self::Heats | Self::TooThin(_) | Self::Burns => None,
        }
    }
}

/// More than this over a wire's area, and neither its terminal nor its seal takes it; common practice.
const TOO_THICK: f64 = 1.7;

/// What is wrong with what was chosen at a place, for what is around it.
///
/// # Errors
/// [`BenchError`] when the machine with another wire has no solution.
pub fn flaws(
    circuit: &Arc<Circuit>,
    place: Place,
    chosen: &Choices,
    around: &[Around],
) -> Result<Vec<Flaw>, BenchError> {
    use ComesBack::{Corrodes, Heats, Opens, Rubs, Softens};
    let is = |question: &str, word: &str| chosen.get(question).is_some_and(|w| w == word);
    let none = |question: &str| !chosen.contains_key(question);
    // A weatherproof splice brings its own sleeve.
    let sealed = is(METHOD, "sealed") || is(SLEEVE, "lined");
    let covered = is(METHOD, "sealed") || is(SLEEVE, "lined") || is(SLEEVE, "shrink");
    let mut out: Vec<Flaw> = Vec::new();
    let mut add = |found: bool, question, comes_back, text: &str| {
        if found {
            out.push(Flaw {
                question,
                text: text.to_owned(),
                comes_back,
            });
        }
    };
    let wrong = [
        (
            is(METHOD, "twist"),
            METHOD,
            Opens,
            "what is only twisted works loose",
        ),
        (
            is(METHOD, "twist"),
            METHOD,
            Heats,
            "what is only twisted gets hot",
        ),
        (
            is(METHOD, "tap"),
            METHOD,
            Corrodes,
            "a tap cuts into the copper, and water follows",
        ),
        (
            is(METHOD, "tap"),
            METHOD,
            Opens,
            "a tap holds by a few strands",
        ),
        (
            is(METHOD, "solder") && !covered,
            METHOD,
            Opens,
            "a soldered joint breaks beside the solder where nothing stiffens it",
        ),
        (
            is(SLEEVE, "none") && !covered,
            SLEEVE,
            Rubs,
            "a bare joint touches metal",
        ),
        (
            is(SLEEVE, "tape") && !covered,
            SLEEVE,
            Softens,
            "tape lets go where it gets hot",
        ),
        (
            !sealed && !none(SLEEVE),
            SLEEVE,
            Corrodes,
            "water gets into a joint that is not sealed",
        ),
        (
            is(ROUTE, "as_it_lay"),
            ROUTE,
            Rubs,
            "what rubbed it rubs on",
        ),
        (
            is(TERMINAL, "bent"),
            TERMINAL,
            Opens,
            "a terminal that was bent back has lost its spring",
        ),
        (
            is(TERMINAL, "larger"),
            TERMINAL,
            Opens,
            "a crimp too large for its wire lets it go",
        ),
        (
            is(SEAL, "left_out"),
            SEAL,
            Corrodes,
            "water gets to a contact without a seal",
        ),
        (
            is(GREASE, "conductive"),
            GREASE,
            Corrodes,
            "conductive paste bridges to its neighbours and feeds rust",
        ),
        (
            is(LOCK, "pushed"),
            LOCK,
            Opens,
            "a terminal that did not lock backs out",
        ),
        (
            is(SURFACE, "wiped"),
            SURFACE,
            Corrodes,
            "rust is left under the lug",
        ),
        (
            is(BOLT, "by_hand"),
            BOLT,
            Opens,
            "what is hand-tight shakes loose",
        ),
        (
            is(COAT, "bare"),
            COAT,
            Corrodes,
            "bright metal rusts where it is not coated",
        ),
    ];
    for (found, question, back, text) in wrong {
        let comes = back.needs().is_none_or(|needed| around.contains(&needed));
        add(found && comes, question, Some(back), text);
    }
    let Place::Conductor(n) = place else {
        return Ok(out);
    };
    let wire = circuit.conductors[n].id.as_str();
    let Some(wire) = circuit.doc.wires.iter().find(|w| w.id == wire) else {
        return Ok(out);
    };
    let own = area_mm2(wire);
    let area = chosen.get(AREA).and_then(|text| text.parse::<f64>().ok());
    if let (Some(area), Some(own)) = (area, own) {
        let text = |why: &str| format!("{area} mm² in place of {own:.2} mm² {why}");
        let share = area / own;
        let found = match share {
            s if s > TOO_THICK => around.contains(&Around::Wet).then(|| {
                (
                    Some(ComesBack::Corrodes),
                    text("goes through neither its seal nor its terminal"),
                )
            }),
            s if s < 0.95 => match thin(circuit, n, area)? {
                Thin::Burns => Some((Some(ComesBack::Burns), text("burns under its load"))),
                Thin::Unprotected => Some((
                    Some(ComesBack::TooThin(share)),
                    text("is not protected by its fuse"),
                )),
                Thin::Stands => Some((
                    Some(ComesBack::TooThin(share)),
                    text("is less than it should be"),
                )),
            },
            _ => None,
        };
        out.extend(found.map(|(comes_back, text)| Flaw {
            question: AREA,
            text,
            comes_back,
        }));
    }
    let color = wire.color.clone().map(String::from);
    if let (Some(said), Some(own)) = (chosen.get(COLOR), color)
        && *said != own
    {
        out.push(Flaw {
            question: COLOR,
            text: format!("{said} in a run of {own} leads the next one astray"),
            comes_back: None,
        });
    }
    Ok(out)
}
