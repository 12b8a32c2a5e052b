//! Clearing: what was ruled out, how soon, and whether the evidence bore it out.

use std::collections::{BTreeMap, BTreeSet};

use super::case::Case;
use super::claims::{Claim, ClaimKind};
use super::sheet::Detail;
use super::{Criterion, Judgement};
use cimento_bench::BenchError;
use cimento_model::circuit::Place;

/// What an unjustified clearance of the likeliest place takes, as a share.
const UNJUSTIFIED: f64 = 0.25;
/// Marks of the criterion as its details count them.
const WHOLE: f64 = 20.0;

pub(super) struct Clearing;

impl Criterion for Clearing {
    fn name(&self) -> &'static str {
        "clearing"
    }

    fn title(&self) -> &'static str {
        "Clearing"
    }

    fn judge(&self, case: &Case<'_>) -> Result<Judgement, BenchError> {
        let circuit = &case.lesson.circuit;
        let n_ref = case.n_ref;
        let n0 = case.reference.after_complaint.places().len();
        if n0 <= n_ref {
            let text = "The complaint alone leaves no more than can be told apart: there was nothing to clear.";
            return Ok(Judgement {
                share: None,
                details: vec![Detail::new(None, text.to_owned(), 0.0, 0.0)],
            });
        }
        let tally = Tally::of(case);
        let mut details: Vec<Detail> = Vec::new();
        let cleared = |places: &BTreeSet<Place>| -> String {
            let ids: Vec<&str> = places.iter().map(|p| circuit.place_id(*p)).collect();
            ids.join(", ")
        };
        let earned = WHOLE * cleared_share(case, &tally, 0.0);
        let late: BTreeSet<Place> = tally.all.difference(&tally.soon).copied().collect();
        let mut text = format!("{} of {n0} places ruled out with reason", tally.all.len(),);
        if !tally.soon.is_empty() {
            text += &format!("; in time: {}", cleared(&tally.soon));
        }
        if !late.is_empty() {
            text += &format!("; later, which counts half: {}", cleared(&late));
        }
        text += match tally.all.is_empty() {
            true => ": after each reading, say what it rules out.",
            false => ".",
        };
        details.push(Detail::new(None, text, earned, WHOLE));
        for (step, text, belief) in &tally.unjustified {
            let takes = -UNJUSTIFIED * WHOLE * belief;
            details.push(Detail::new(Some(*step), text.clone(), takes, 0.0));
        }
        for claim in case
            .claims
            .iter()
            .filter(|c| c.kind == ClaimKind::Suspected)
        {
            let id = circuit.place_id(claim.place);
            let text = match claim.justified {
                true => format!("{id} kept as suspect: correct, it was still possible."),
                false => format!("{id} kept as suspect. {}", claim.overlooks),
            };
            details.push(Detail::new(Some(claim.step), text, 0.0, 0.0));
        }
        let unjustified = tally.unjustified.iter().map(|(.., belief)| belief).sum();
        let share = cleared_share(case, &tally, unjustified);
        if let Some((step, id)) = tally.guilty {
            let text = format!("{id}, where the fault is, was ruled out: nothing is left of this.");
            details.push(Detail::new(Some(step), text, -WHOLE, 0.0));
            return Ok(Judgement {
                share: Some(0.0),
                details,
            });
        }
        Ok(Judgement {
            share: Some(share),
            details,
        })
    }
}

/// What was cleared as a share. On a sound machine a place counts by how likely it was to be at fault: nobody rules every
/// far-fetched one out.
fn cleared_share(case: &Case<'_>, tally: &Tally, unjustified: f64) -> f64 {
    let first = &case.reference.after_complaint;
    if !case.lesson.faults.is_empty() {
        let n0 = first.places().len();
        return share(
            n0,
            case.n_ref,
            tally.soon.len(),
            tally.all.len(),
            unjustified,
        );
    }
    let belief = first.belief();
    let of = |places: &BTreeSet<Place>| -> f64 {
        let held = belief.iter().filter(|(p, _)| places.contains(p));
        held.map(|(_, share)| share).sum()
    };
    let whole: f64 = belief.iter().map(|(_, share)| share).sum();
    let cleared = 0.5 * (of(&tally.soon) + of(&tally.all)) / whole;
    (cleared - UNJUSTIFIED * unjustified).max(0.0)
}

/// What a clearance without reason overlooked.
pub(super) fn too_soon(case: &Case<'_>, claim: &Claim) -> String {
    let id = case.lesson.circuit.place_id(claim.place);
    format!("You ruled out {id} too soon: {}", claim.overlooks)
}

/// `max(0, R − ¼·unjustified)` with `R = ½·(r(soon) + r(all))`, at most 1, and
/// `r(c) = log₂(n0 ÷ (n0 − c)) ÷ log₂(n0 ÷ nRef)`; what was cleared without reason counts by the belief that was in it.
pub fn share(n0: usize, n_ref: usize, soon: usize, all: usize, unjustified: f64) -> f64 {
    let (n0, n_ref) = (n0 as f64, n_ref.max(1) as f64);
    let r = |c: usize| {
        let left = (n0 - c as f64).max(n_ref);
        (n0 / left).log2() / (n0 / n_ref).log2()
    };
    let whole = (0.5 * (r(soon) + r(all))).min(1.0);
    (whole - UNJUSTIFIED * unjustified).max(0.0)
}

/// What was cleared, among the places that were possible after the complaint.
struct Tally {
    /// With reason, before the next reading; or named as ruled out by the readings that prove the fault.
    soon: BTreeSet<Place>,
    /// With reason, sooner or later.
    all: BTreeSet<Place>,
    /// Step, reason, and the belief that was in it beside that in the likeliest place; of a place the time at which most
    /// was believed of it.
    unjustified: Vec<(usize, String, f64)>,
    /// Where in that list each place is.
    too_soon: BTreeMap<Place, usize>,
    /// The guilty place, if it was cleared, with the step.
    guilty: Option<(usize, String)>,
}

impl Tally {
    fn of(case: &Case<'_>) -> Self {
        let circuit = &case.lesson.circuit;
        let first = case.reference.after_complaint.places();
        let gone_at = case.gone_at();
        let mut out = Self {
            soon: BTreeSet::new(),
            all: BTreeSet::new(),
            unjustified: Vec::new(),
            too_soon: BTreeMap::new(),
            guilty: None,
        };
        let own = |p: Place| {
            case.lesson
                .faults
                .iter()
                .any(|f| f.places().any(|at| at == p))
        };
        for claim in case.claims.iter().filter(|c| c.kind == ClaimKind::Cleared) {
            let id = circuit.place_id(claim.place).to_owned();
            if claim.justified {
                out.clear(case, &first, &gone_at, claim.place, claim.step);
            } else {
                let entry = (claim.step, too_soon(case, claim), claim.belief);
                match out
                    .too_soon
                    .get(&claim.place)
                    .map(|at| &mut out.unjustified[*at])
                {
                    Some(known) if known.2 >= claim.belief => {}
                    Some(known) => *known = entry,
                    None => {
                        out.too_soon.insert(claim.place, out.unjustified.len());
                        out.unjustified.push(entry);
                    }
                }
            }
            let withdrawn = case.claims.iter().any(|c| {
                c.kind == ClaimKind::Suspected && c.place == claim.place && c.step > claim.step
            });
            if own(claim.place) && !withdrawn {
                out.guilty = Some((claim.step, id));
            }
        }
        out.name(case, &first, &gone_at);
        out
    }

    /// Naming the fault clears all other places: with reason those that had been ruled out, in time those that the
    /// readings ruled out which are said to prove it; and in one claim the rest, by the belief that lay there.
    fn name(&mut self, case: &Case<'_>, first: &BTreeSet<Place>, gone_at: &BTreeMap<Place, usize>) {
        let Some(step) = case.named.last().map(|n| n.step).or(case.no_fault) else {
            return;
        };
        let circuit = &case.lesson.circuit;
        let places: Vec<Place> = case.named.iter().filter_map(|n| n.place).collect();
        let right = places.iter().any(|p| case.is_guilty(*p));
        let spared = |p: Place| {
            let own = places.iter().any(|n| super::case::same_unit(*n, p));
            own || right && case.group().contains(&p)
        };
        let left = case.track.iter().find(|t| t.step == step);
        let left = left.map_or(&[][..], |t| &t.left);
        let because: BTreeSet<usize> = case
            .named
            .iter()
            .flat_map(|n| &n.because)
            .copied()
            .collect();
        for (place, gone) in gone_at.iter().filter(|(p, _)| !spared(**p)) {
            self.clear(case, first, gone_at, *place, step);
            if because.contains(gone) && self.all.contains(place) {
                self.soon.insert(*place);
            }
        }
        let open: Vec<&(Place, f64)> = left.iter().filter(|(p, _)| !spared(*p)).collect();
        if !open.is_empty() {
            let ids: Vec<&str> = open.iter().map(|(p, _)| circuit.place_id(*p)).collect();
            let said = match case.no_fault {
                None => "Naming the fault",
                Some(_) => "Saying that nothing is wrong",
            };
            let text = format!(
                "{said} ruled out what your readings up to then had not ruled out: {}.",
                ids.join(", ")
            );
            let elsewhere = open.iter().map(|(_, share)| share).sum();
            self.unjustified.push((step, text, elsewhere));
        }
    }

    /// A place cleared with reason.
    fn clear(
        &mut self,
        case: &Case<'_>,
        first: &BTreeSet<Place>,
        gone_at: &BTreeMap<Place, usize>,
        place: Place,
        step: usize,
    ) {
        let Some(gone) = gone_at.get(&place) else {
            return;
        };
        // What the complaint itself excludes was no suspect and earns nothing.
        if !first.contains(&place) || !self.all.insert(place) {
            return;
        }
        if case.readings_between(*gone, step) == 0 {
            self.soon.insert(place);
        }
    }
}
