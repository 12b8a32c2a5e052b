//! Where schools of practice differ: the slip of who works by another one than the lesson asks for, and what the marks
//! would be by that other one.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::case::{Case, Taken, is_on_the_posts};
use super::sheet::{MarkLine, tenth};
use super::slips::{Slip, SlipKind, slips_by};
use super::technique::judged;
use crate::attempt::Action;
use crate::lesson::{Method, School};
use cimento_bench::instruments::PutOn;

/// The marks by a school that the lesson does not ask for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Elsewhere {
    /// What it asks for: "continuity with the circuit dead first".
    pub asks: String,
    /// Marks of technique, and in all, by it.
    pub technique: f64,
    pub total: f64,
}

/// The slip of who works against a school; none who has not measured.
pub(super) fn against(case: &Case<'_>, school: School) -> Option<Slip> {
    let circuit = &case.lesson.circuit;
    let posts = |t: &&Taken<'_>| is_on_the_posts(circuit, t.reading);
    let scans = |t: &&Taken<'_>| matches!(t.reading.function.put_on(), PutOn::Module | PutOn::Pin);
    let readings = || case.readings.iter();
    // The battery may be measured before anything else in every school.
    let begins = || readings().find(|t| !posts(t));
    let probes = || readings().find(|t| !posts(t) && !scans(t));
    let tried = || {
        let mut steps = case.steps.iter();
        let tried = steps.find(|s| matches!(s.action, Action::TryComplaint(_)));
        tried.map_or(usize::MAX, |s| s.no)
    };
    let slip = match school {
        School::LoadedFirst | School::ContinuityFirst | School::LampFirst | School::MeterFirst => {
            probes().filter(|t| !school.takes(t.reading.function))
        }
        School::ScanFirst | School::CircuitFirst => {
            begins().filter(|t| !school.takes(t.reading.function))
        }
        School::SymptomFirst => readings().next().filter(|t| t.step < tried()),
        School::SupplyFirst => readings().next().filter(|t| !posts(t) || t.step > tried()),
    }?;
    Some(Slip {
        step: slip.step,
        kind: SlipKind::AgainstMethod,
        text: format!("This lesson asks for {}.", school.text()),
    })
}

/// What the marks would be by the opposite of each school that the lesson asks for, where that differs: technique is
/// all that a school bears on. `line` is technique's as it stands, `total` what all lines come to before rounding.
pub(super) fn elsewhere(case: &Case<'_>, line: &MarkLine, total: f64) -> Vec<Elsewhere> {
    let method = &case.lesson.method;
    let share = |method: &Method| judged(case, slips_by(case, method)).share.unwrap_or(0.0);
    let now = share(method);
    let by = |school: School| {
        let other = share(&method.with(school));
        (other - now).abs().gt(&f64::EPSILON).then(|| Elsewhere {
            asks: school.text().to_owned(),
            technique: tenth(other * line.out_of),
            total: tenth((total + (other - now) * line.out_of).max(0.0)),
        })
    };
    method.schools().map(School::other).filter_map(by).collect()
}
