//! Where tracks and hubs stand: whole numbers, without a size.

use cimento_model::circuit::Drawing;
use serde::{Deserialize, Serialize};

use crate::Flow;
use crate::plan::{Plan, Way};

/// An order of the hubs from feed to ground and a column for each track.
#[derive(Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Placement {
    /// Hubs from feed to ground.
    pub(crate) order: Vec<usize>,
    /// How many columns there are.
    pub(crate) columns: usize,
    /// The column of each slot: of each track, of the second half of each track where it is cut, of what stands at
    /// the foot by itself.
    pub(crate) column: Vec<usize>,
    /// Where each track is cut, by number of its wire; a case that stands alone is marked in place where it is `Some`.
    pub(crate) cut: Vec<Option<usize>>,
    /// A half track, a jumper or a perch of each slot goes downward from its hub.
    pub(crate) down: Vec<bool>,
    /// Tracks whose labels are in one line.
    pub(crate) flat: Vec<bool>,
}

impl Clone for Placement {
    fn clone(&self) -> Self {
        Self {
            order: self.order.clone(),
            columns: self.columns,
            column: self.column.clone(),
            cut: self.cut.clone(),
            down: self.down.clone(),
            flat: self.flat.clone(),
        }
    }

    /// In the room that is there: a search does it some hundred thousand times.
    fn clone_from(&mut self, from: &Self) {
        self.order.clone_from(&from.order);
        self.columns = from.columns;
        self.column.clone_from(&from.column);
        self.cut.clone_from(&from.cut);
        self.down.clone_from(&from.down);
        self.flat.clone_from(&from.flat);
    }
}

impl Placement {
    /// One track a column, hubs by their distance from the rail.
    pub(crate) fn first(plan: &Plan<'_>) -> Self {
        let tracks = plan.tracks.len();
        let mut order: Vec<usize> = (0..plan.hubs.len()).collect();
        let depth = depths(plan);
        order.sort_by_key(|h| (Some(*h) != plan.source && *h != 0, depth[*h], *h));
        order.sort_by_key(|h| *h != 0);
        let own = 0..tracks;
        let feet = tracks..tracks + plan.feet.len();
        let down = plan.tracks.iter().map(|t| t.ends[0].edge >= 0);
        let second = plan.tracks.iter().map(|t| t.ends[1].edge >= 0);
        Self {
            order,
            columns: tracks + plan.feet.len() + 4,
            column: own.clone().chain(own).chain(feet).collect(),
            cut: vec![None; tracks],
            down: down.chain(second).collect(),
            flat: vec![false; tracks],
        }
    }

    /// The first hub in the order that may be moved.
    pub(crate) fn fixed(plan: &Plan<'_>) -> usize {
        1 + usize::from(plan.source.is_some())
    }

    /// Whether a slot is in use.
    pub(crate) fn uses(&self, plan: &Plan<'_>, slot: usize) -> bool {
        let tracks = plan.tracks.len();
        let second = (tracks..2 * tracks).contains(&slot);
        !second || (self.cut[slot - tracks].is_some() && plan.tracks[slot - tracks].may_be_cut())
    }

    /// Takes out columns that hold nothing.
    pub(crate) fn compact(&mut self, plan: &Plan<'_>) {
        let mut number = vec![0_usize; self.columns];
        for slot in (0..self.column.len()).filter(|slot| self.uses(plan, *slot)) {
            number[self.column[slot]] = 1;
        }
        let mut next = 0;
        for used in &mut number {
            next += *used;
            *used = next;
        }
        for column in &mut self.column {
            *column = number[*column].saturating_sub(1);
        }
        self.columns = next;
    }

    /// Gives a slot a column of its own before another.
    pub(crate) fn set_apart(&mut self, slot: usize, before: usize) {
        for column in self.column.iter_mut().filter(|k| **k >= before) {
            *column += 1;
        }
        self.column[slot] = before;
        self.columns += 1;
    }

    /// The same with a track cut in two at its middle wire, each half beside where it stood, going down from its hub
    /// or up.
    pub(crate) fn cut_in_two(&self, plan: &Plan<'_>, track: usize, down: [bool; 2]) -> Self {
        let tracks = plan.tracks.len();
        let mut cut = self.clone();
        cut.cut[track] = Some(plan.tracks[track].wires.len() / 2);
        cut.set_apart(tracks + track, self.column[track] + 1);
        cut.set_apart(track, self.column[track]);
        [cut.down[track], cut.down[tracks + track]] = down;
        cut
    }

    /// Whether it is of a drawing: one that was stored may be of another.
    pub fn fits(&self, drawing: &Drawing, flow: &Flow) -> bool {
        let plan = Plan::new(drawing, flow);
        let (tracks, hubs) = (plan.tracks.len(), plan.hubs.len());
        let mut order = self.order.clone();
        order.sort_unstable();
        order.into_iter().eq(0..hubs)
            && self.column.len() == 2 * tracks + plan.feet.len()
            && self.column.iter().all(|column| *column < self.columns)
            && self.cut.len() == tracks
            && self.flat.len() == tracks
            && self.down.len() == 2 * tracks
    }

    /// How many wires are cut in two.
    pub fn cuts(&self, plan: &Plan<'_>) -> usize {
        let cut = self.cut.iter().zip(&plan.tracks);
        cut.filter(|(cut, track)| cut.is_some() && track.may_be_cut())
            .count()
    }
}

/// Steps of each hub from the rail, with the current where it is known.
fn depths(plan: &Plan<'_>) -> Vec<usize> {
    let far = plan.hubs.len();
    let mut depth = vec![far; far];
    depth[0] = 0;
    let mut queue = vec![0];
    let mut next = 0;
    while let Some(hub) = queue.get(next).copied() {
        next += 1;
        for track in plan.tracks.iter().filter(|t| t.way == Way::Run) {
            for (here, there) in [(0, 1), (1, 0)] {
                let (Some(a), Some(b)) = (track.ends[here].hub(), track.ends[there].hub()) else {
                    continue;
                };
                if a == hub && depth[b] == far {
                    depth[b] = depth[hub] + 1;
                    queue.push(b);
                }
            }
        }
    }
    depth
}
