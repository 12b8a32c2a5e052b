//! The placement of a circuit that was edited: what was not touched stays in its order.

use std::collections::HashSet;

use crate::cost::Costing;
use crate::placement::Placement;
use crate::plan::{HubKind, Plan};
use crate::search::{FIRST_PIECES, Numbers, Schedule, anneal, place};

/// Steps for what was touched, and how hot: it finds its place, nothing else moves.
const STEPS_EACH: u64 = 4_000;
const STEPS: u64 = 40_000;
const HOT: i64 = 1500;
const COLD: i64 = 20;
/// An order that costs no more than this reads well whatever else there might be; another is kept unlooked at while an
/// edit makes it dearer by less than this, in percent.
const GOOD: i64 = 12_000;
const DEARER: i64 = 102;
/// An old order that costs so much more than a new one, in percent, is given up.
const WORTH: i64 = 125;

/// A placement that follows an old one.
pub(crate) fn follow(plan: &Plan<'_>, old: &Plan<'_>, from: &Placement) -> Placement {
    let mut costing = Costing::new(plan);
    let (first, touched) = carried(plan, old, from);
    let kept = settle(&mut costing, first, &touched);
    let held = costing.cost(&kept);
    let before = Costing::new(old).cost(from).total;
    if held.forbidden == 0 && (held.total <= GOOD || held.total * 100 <= before * DEARER) {
        return kept;
    }
    let fresh = place(plan);
    let new = costing.cost(&fresh);
    let good = held.forbidden <= new.forbidden && held.total * 100 <= new.total * WORTH;
    if good { kept } else { fresh }
}

/// What an edit touched: slots, and hubs.
struct Touched {
    slots: Vec<usize>,
    hubs: Vec<usize>,
}

/// The old order with what is new at its end.
fn carried(plan: &Plan<'_>, old: &Plan<'_>, from: &Placement) -> (Placement, Touched) {
    let mut at = Placement::first(plan);
    let (tracks, old_tracks) = (plan.tracks.len(), old.tracks.len());
    let mut touched = Touched {
        slots: Vec::new(),
        hubs: Vec::new(),
    };
    // Columns are set apart, so that what is new can stand between two that are there.
    let spread = |column: usize| 2 * column + 1;
    let mut columns = 2 * from.columns + 1;
    let names: Vec<HashSet<String>> = (0..old_tracks).map(|t| old.names_of(t)).collect();
    let mut taken = vec![false; old_tracks];
    for track in 0..tracks {
        let own = plan.names_of(track);
        let hub_of =
            |plan: &Plan<'_>, t: usize, end: usize| plan.tracks[t].ends[end].point.to_owned();
        let alike = |old_track: &usize| {
            let shared = own.intersection(&names[*old_track]).count();
            let ends = (0..2)
                .filter(|e| hub_of(plan, track, *e) == hub_of(old, *old_track, *e))
                .count();
            let empty = own.is_empty() && names[*old_track].is_empty() && ends == 2;
            (if empty { 1 } else { shared }, ends)
        };
        let best = (0..old_tracks)
            .filter(|t| !taken[*t] && alike(t).0 > 0)
            .max_by_key(alike);
        match best {
            Some(known) => {
                taken[known] = true;
                at.column[track] = spread(from.column[known]);
                at.column[tracks + track] = spread(from.column[old_tracks + known]);
                at.down[track] = from.down[known];
                at.down[tracks + track] = from.down[old_tracks + known];
                at.flat[track] = from.flat[known];
                let wires = plan.tracks[track].wires.len();
                at.cut[track] = from.cut[known].filter(|cut| *cut < wires.max(1));
                if own != names[known] {
                    touched.slots.push(track);
                }
            }
            None => {
                at.column[track] = columns;
                at.column[tracks + track] = columns;
                columns += 1;
                touched.slots.push(track);
            }
        }
    }
    for (n, foot) in plan.feet.iter().enumerate() {
        let alike = |other: &crate::plan::FootEnd<'_>| {
            let strap = |f: &crate::plan::FootEnd<'_>| {
                f.strap.map(|(wire, second)| (wire.id.clone(), second))
            };
            other.end.point == foot.end.point && strap(other) == strap(foot)
        };
        let slot = 2 * tracks + n;
        match old.feet.iter().position(alike) {
            Some(known) => at.column[slot] = spread(from.column[2 * old_tracks + known]),
            None => {
                at.column[slot] = columns;
                columns += 1;
                touched.slots.push(slot);
            }
        }
    }
    at.columns = columns + 1;
    let rank = |hub: usize| {
        let hub = &plan.hubs[hub];
        let is_box = |kind| matches!(kind, HubKind::Box(_));
        let known = old
            .hubs
            .iter()
            .position(|o| o.id == hub.id && is_box(o.kind) == is_box(hub.kind));
        known.and_then(|known| from.order.iter().position(|o| *o == known))
    };
    // A new hub begins behind the last of those that it is joined to.
    let neighbours = |hub: usize| {
        let joined = plan
            .tracks
            .iter()
            .filter(move |t| t.ends.iter().any(|e| e.hub() == Some(hub)));
        joined
            .flat_map(|t| t.ends.iter().filter_map(crate::plan::End::hub))
            .filter(move |h| *h != hub)
    };
    let place_of = |hub: usize| match rank(hub) {
        Some(rank) => (rank, 0),
        None => (
            neighbours(hub)
                .filter_map(rank)
                .max()
                .unwrap_or(from.order.len()),
            1,
        ),
    };
    let fixed = Placement::fixed(plan).min(at.order.len());
    at.order[fixed..].sort_by_key(|hub| place_of(*hub));
    touched.hubs = (0..plan.hubs.len())
        .filter(|h| rank(*h).is_none() && *h != 0 && Some(*h) != plan.source)
        .collect();
    (at, touched)
}

/// Finds a place for what was touched.
fn settle(costing: &mut Costing<'_, '_>, first: Placement, touched: &Touched) -> Placement {
    let plan = costing.plan;
    let things = (touched.slots.len() + touched.hubs.len()) as u64;
    let schedule = Schedule {
        steps: (things * STEPS_EACH).min(STEPS),
        hot: HOT,
        cold: COLD,
        pieces: FIRST_PIECES,
    };
    let mut best = match things {
        0 => first,
        _ => anneal(costing, first, &schedule, |at, numbers| {
            change(plan, touched, at, numbers)
        }),
    };
    best.compact(plan);
    best
}

/// One step of what was touched.
fn change(plan: &Plan<'_>, touched: &Touched, at: &mut Placement, numbers: &mut Numbers) {
    let tracks = plan.tracks.len();
    let hubs = touched.hubs.len();
    let which = numbers.below(touched.slots.len() + hubs);
    let Some(slot) = which.checked_sub(hubs).map(|n| touched.slots[n]) else {
        let fixed = Placement::fixed(plan);
        let free = at.order.len() - fixed;
        if let Some(now) = at.order.iter().position(|h| *h == touched.hubs[which]) {
            let hub = at.order.remove(now);
            at.order.insert(fixed + numbers.below(free), hub);
        }
        return;
    };
    match numbers.below(10) {
        0 if slot < tracks => at.flat[slot] = !at.flat[slot],
        1 if slot < tracks && plan.tracks[slot].is_case_alone() => {
            at.cut[slot] = at.cut[slot].map_or(Some(0), |_| None);
        }
        2 if slot < tracks => at.down[slot] = !at.down[slot],
        3 if slot < tracks && plan.tracks[slot].may_be_cut() => {
            at.cut[slot] = match at.cut[slot] {
                Some(_) => None,
                None => Some(numbers.below(plan.tracks[slot].wires.len())),
            };
        }
        4 if slot < tracks && at.cut[slot].is_some() => {
            at.column[tracks + slot] = numbers.below(at.columns)
        }
        _ => at.column[slot] = numbers.below(at.columns),
    }
}
