//! How wide and how high a placement is: columns as wide as what stands in them, hubs as high as what lies
//! above them allows.

use crate::Length;
use crate::pieces::{Kind, Piece, Rooms};
use crate::placement::Placement;
use crate::plan::{HubKind, Plan, What};
use crate::text::width;

/// Between two columns, and between what stands one below the other.
pub const BETWEEN: Length = 300;
const GAP: Length = 500;
/// Margins of the sheet.
pub const MARGIN: Length = 600;
pub const RAIL_HEIGHT: Length = 500;
/// From the grounds to the lower edge.
pub const FOOT: Length = 2600;
/// Above the rail stands its name.
pub const OVER_RAIL: Length = 1000;
/// A bar with its name, and what a track needs to pass through it.
const BAR: Length = 1400;
pub const PASSING: Length = 1700;
/// A box with its name, and with the labels of terminals on an edge.
const BOX: Length = 2500;
pub const LABELS: Length = 900;
/// Between two terminals on one edge.
pub const PITCH: Length = 1700;
/// From the outer terminals to the edges of a box.
pub const SHOULDER: Length = 1400;
/// A symbol in a box with the space beside it.
pub const SYMBOL: Length = 3000;
/// What a jumper's bracket takes from the track that it stands beside.
pub const BRACKET: Length = 1300;

/// What a hub is to the sizes, worked out once.
pub struct HubSize {
    pub is_box: bool,
    /// Least width of a box: its name, and terminals that no wire goes to.
    pub least: Length,
    pub idle: Length,
}

/// The sizes of hubs.
pub fn hub_sizes(plan: &Plan<'_>) -> Vec<HubSize> {
    let wired: std::collections::HashSet<&str> = plan
        .tracks
        .iter()
        .flat_map(|t| t.ends.iter().filter(|e| e.hub().is_some()).map(|e| e.point))
        .collect();
    let sizes = plan.hubs.iter().map(|hub| match hub.kind {
        HubKind::Box(part) => {
            let first = width(&part.id, true) + width("  ", false) + width(&part.rating, false);
            // A perch is no wire.
            let perched = plan
                .tracks
                .iter()
                .any(|t| t.way == crate::plan::Way::Perch && t.ends[0].point == part.id);
            let idle = part
                .terminals
                .iter()
                .filter(|t| perched || !wired.contains(t.point.as_str()));
            HubSize {
                is_box: true,
                least: SYMBOL + first.max(width(&part.name, false)) + 600,
                idle: Length::try_from(idle.count()).unwrap_or(0),
            }
        }
        HubKind::Rail | HubKind::Bar => HubSize {
            is_box: false,
            least: 0,
            idle: 0,
        },
    });
    sizes.collect()
}

/// Sizes of a placement.
#[derive(Default, Clone)]
pub struct Geometry {
    /// The first and the last column of each hub; the first is beyond the last where nothing ends at it.
    pub first: Vec<usize>,
    pub last: Vec<usize>,
    /// Room left and right of the track of each column; nothing stands in it where there is none to the right.
    pub left: Vec<Length>,
    pub right: Vec<Length>,
    /// Upper and lower edge of each hub.
    pub top: Vec<Length>,
    pub bottom: Vec<Length>,
    pub has_top: Vec<bool>,
    pub has_bottom: Vec<bool>,
    pub width: Length,
    pub height: Length,
    /// Where the grounds stand.
    pub ground: Length,
    /// Length of each piece with what it needs besides, and the bars that it passes.
    pub length: Vec<Length>,
    pub passes: Vec<(usize, usize)>,
    /// Of a jumper the piece that it stands beside.
    pub beside: Vec<Option<usize>>,
    sky: Vec<Length>,
    extra: Vec<Length>,
    /// What stands on each hub, and what hangs free from it: heads of lists, and for each piece the next.
    above: Vec<u16>,
    hanging: Vec<u16>,
    next: Vec<u16>,
}

/// The end of a list of pieces.
const NONE: u16 = u16::MAX;

/// How low what stands below a bar has to reach, from the last wire of each end of a track.
pub fn tails(plan: &Plan<'_>) -> Vec<[Length; 2]> {
    let below = |items: &mut dyn Iterator<Item = &crate::plan::Item<'_>>| {
        items
            .take_while(|i| !matches!(i.what, What::Wire(_)))
            .map(|i| i.height)
            .sum()
    };
    let tracks = plan.tracks.iter();
    let both = tracks.map(|t| [below(&mut t.items.iter().rev()), below(&mut t.items.iter())]);
    both.collect()
}

/// What of a plan does not change from one placement to the next.
pub struct Fixed {
    pub hubs: Vec<HubSize>,
    pub rooms: Rooms,
    tails: Vec<[Length; 2]>,
}

impl Fixed {
    pub fn new(plan: &Plan<'_>) -> Self {
        Self {
            hubs: hub_sizes(plan),
            rooms: Rooms::new(plan),
            tails: tails(plan),
        }
    }
}

impl Geometry {
    /// Works out what stands where across the sheet.
    pub fn across(
        &mut self,
        plan: &Plan<'_>,
        fixed: &Fixed,
        placement: &Placement,
        rank: &[i32],
        pieces: &[Piece],
    ) {
        self.columns(plan, placement, pieces);
        self.passes(fixed, rank, pieces);
    }

    /// Works out how high it gets, with wires longer than they need to be by a factor, in thousandths.
    pub fn along(
        &mut self,
        plan: &Plan<'_>,
        fixed: &Fixed,
        placement: &Placement,
        pieces: &[Piece],
        stretch: i64,
    ) {
        self.widen(fixed, placement);
        self.beside(plan, fixed, pieces);
        self.length.clear();
        let lengths = pieces
            .iter()
            .zip(&self.extra)
            .map(|(p, extra)| p.room.length(stretch) + extra);
        self.length.extend(lengths);
        self.heights(plan, fixed, placement, pieces);
    }

    fn columns(&mut self, plan: &Plan<'_>, placement: &Placement, pieces: &[Piece]) {
        let hubs = plan.hubs.len();
        reset(&mut self.first, hubs, usize::MAX);
        reset(&mut self.last, hubs, 0);
        reset(&mut self.has_top, hubs, false);
        reset(&mut self.has_bottom, hubs, false);
        reset(&mut self.left, placement.columns, 0);
        reset(&mut self.right, placement.columns, 0);
        for piece in pieces {
            let column = piece.column;
            for hub in [piece.upper, piece.lower].into_iter().flatten() {
                self.first[hub] = self.first[hub].min(column);
                self.last[hub] = self.last[hub].max(column);
            }
            if piece.kind != Kind::Perch {
                if let Some(hub) = piece.upper {
                    self.has_bottom[hub] = true;
                }
                if let Some(hub) = piece.lower {
                    self.has_top[hub] = true;
                }
            }
            self.left[column] = self.left[column].max(piece.room.left);
            self.right[column] = self.right[column].max(piece.room.right);
        }
    }

    /// Widens columns until boxes have room for what is written in them.
    fn widen(&mut self, fixed: &Fixed, placement: &Placement) {
        for (hub, size) in fixed.hubs.iter().enumerate().skip(1) {
            let (first, last) = (self.first[hub], self.last[hub]);
            if first > last {
                continue;
            }
            if size.is_box {
                self.left[first] = self.left[first].max(SHOULDER);
                self.right[last] = self.right[last].max(SHOULDER);
            } else {
                self.left[first] = self.left[first].max(600);
            }
        }
        for (hub, size) in fixed.hubs.iter().enumerate().skip(1) {
            let (first, last) = (self.first[hub], self.last[hub]);
            if !size.is_box || first > last {
                continue;
            }
            let have: Length = (first..=last)
                .filter(|k| self.right[*k] > 0)
                .map(|k| self.left[k] + self.right[k] + BETWEEN)
                .sum();
            let want = least_width(size, first, last);
            self.right[last] += (want - have + BETWEEN).max(0);
        }
        let used = (0..placement.columns).filter(|k| self.right[*k] > 0);
        let wide: Length = used.map(|k| self.left[k] + self.right[k] + BETWEEN).sum();
        self.width = wide + 2 * MARGIN;
    }

    /// Tracks that go through the bar of another.
    fn passes(&mut self, fixed: &Fixed, rank: &[i32], pieces: &[Piece]) {
        self.passes.clear();
        reset(&mut self.extra, pieces.len(), 0);
        for (hub, at) in rank.iter().copied().enumerate().skip(1) {
            if fixed.hubs[hub].is_box || self.first[hub] >= self.last[hub] {
                continue;
            }
            let (first, last) = (self.first[hub], self.last[hub]);
            for (n, piece) in pieces.iter().enumerate() {
                let there = (first..=last).contains(&piece.column);
                if there && piece.goes_through(at) && !piece.is_foot() {
                    self.passes.push((n, hub));
                    self.extra[n] += PASSING;
                }
            }
        }
    }

    fn beside(&mut self, plan: &Plan<'_>, fixed: &Fixed, pieces: &[Piece]) {
        reset(&mut self.beside, pieces.len(), None);
        for (n, jumper) in pieces.iter().enumerate() {
            if jumper.kind != Kind::Jumper {
                continue;
            }
            let near = plan.tracks[jumper.track].ends[1 - fixed.rooms.far[jumper.track]].point;
            let found = pieces.iter().enumerate().position(|(m, p)| {
                m != n && !p.is_foot() && ends_at(plan, p).any(|(_, point, _)| point == near)
            });
            self.beside[n] = found;
            if let Some(found) = found
                && pieces[found].column < jumper.column
            {
                self.extra[found] += BRACKET;
            }
        }
    }

    fn heights(&mut self, plan: &Plan<'_>, fixed: &Fixed, placement: &Placement, pieces: &[Piece]) {
        let hubs = plan.hubs.len();
        reset(&mut self.sky, placement.columns, RAIL_HEIGHT);
        reset(&mut self.top, hubs, 0);
        reset(&mut self.bottom, hubs, 0);
        self.bottom[0] = RAIL_HEIGHT;
        reset(&mut self.above, hubs, NONE);
        reset(&mut self.hanging, hubs, NONE);
        reset(&mut self.next, pieces.len(), NONE);
        for (n, piece) in (0..).zip(pieces) {
            let list = match (piece.lower, piece.upper) {
                (Some(lower), _) => &mut self.above[lower],
                (None, Some(upper)) if !piece.footed && piece.kind != Kind::Perch => {
                    &mut self.hanging[upper]
                }
                _ => continue,
            };
            self.next[usize::from(n)] = std::mem::replace(list, n);
        }
        for hub in placement.order.iter().copied() {
            if hub == 0 || self.first[hub] > self.last[hub] {
                continue;
            }
            let columns = self.first[hub]..=self.last[hub];
            let mut top = columns
                .clone()
                .map(|k| self.sky[k] + GAP)
                .max()
                .unwrap_or(0);
            let mut at = self.above[hub];
            while at != NONE {
                let n = usize::from(at);
                top = top.max(self.end_of(fixed, n, &pieces[n]));
                at = self.next[n];
            }
            let size = &fixed.hubs[hub];
            let lower = self.has_bottom[hub] || size.idle > 0;
            let height = match size.is_box {
                true => BOX + LABELS * (Length::from(self.has_top[hub]) + Length::from(lower)),
                false => BAR,
            };
            self.top[hub] = top;
            self.bottom[hub] = top + height;
            for k in columns {
                self.sky[k] = self.bottom[hub];
            }
            let mut at = self.hanging[hub];
            while at != NONE {
                let n = usize::from(at);
                let end = self.bottom[hub] + self.length[n] + 800;
                let column = pieces[n].column;
                self.sky[column] = self.sky[column].max(end);
                at = self.next[n];
            }
        }
        let mut ground = self.sky.iter().copied().max().unwrap_or(0) + 1000;
        for (n, piece) in pieces.iter().enumerate().filter(|(_, p)| p.footed) {
            ground = ground.max(match piece.is_foot() {
                true => self.sky[piece.column] + self.length[n] + 600,
                false => self.end_of(fixed, n, piece),
            });
        }
        self.ground = ground;
        self.height = OVER_RAIL + ground + FOOT;
    }

    /// How far down a piece comes.
    fn end_of(&self, fixed: &Fixed, n: usize, piece: &Piece) -> Length {
        let Some(upper) = piece.upper else {
            return self.sky[piece.column] + self.length[n] + GAP;
        };
        let tail = fixed.tails[piece.track][piece.end_up] + if piece.footed { -900 } else { 400 };
        let passed = self.passes.iter().filter(|(p, _)| *p == n);
        let below_bars = passed.map(|(_, bar)| self.bottom[*bar] + tail);
        below_bars.fold(self.bottom[upper] + self.length[n], Length::max)
    }
}

/// The least width of a box on its columns.
pub fn least_width(size: &HubSize, first: usize, last: usize) -> Length {
    let columns = Length::try_from(last - first + 1).unwrap_or(Length::MAX / PITCH / 2);
    size.least.max(PITCH * (size.idle + 1 + columns))
}

/// The hubs that a piece goes to: hub, end of the track, and 1 where it leaves downward, −1 where it comes from above.
pub fn hub_ends(piece: &Piece) -> impl Iterator<Item = (usize, usize, i32)> {
    let upper = piece.upper.map(|hub| (hub, piece.end_up, 1));
    let lower = piece.lower.map(|hub| (hub, 1 - piece.end_up, -1));
    upper.into_iter().chain(lower)
}

/// The same with the test points.
pub fn ends_at<'a, 'd>(
    plan: &'a Plan<'d>,
    piece: &'a Piece,
) -> impl Iterator<Item = (usize, &'d str, i32)> + 'a {
    hub_ends(piece).map(|(hub, end, edge)| (hub, plan.tracks[piece.track].ends[end].point, edge))
}

fn reset<T: Clone>(list: &mut Vec<T>, len: usize, value: T) {
    list.clear();
    list.resize(len, value);
}
