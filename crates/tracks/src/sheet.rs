//! A placement on a sheet of some size: how large it can be drawn, and where columns and hubs stand then.

use crate::Length;
use crate::cost::Costing;
use crate::geometry::{BETWEEN, Geometry, MARGIN};
use crate::pieces::{Kind, Piece};
use crate::placement::Placement;
use crate::plan::{HubKind, What};
use crate::text::FONT;

/// Wires are stretched up to so much, in thousandths, and columns are set apart up to so far.
const LONGEST: i64 = 5_000;
const APART: Length = 4_600;
/// From the lower edge of a bar's room to its line.
pub const BELOW_BAR: Length = 300;
/// Under a metal that a case is on.
pub const METAL: Length = 1_300;
/// Room that a track keeps above and below a bar that it passes.
pub const CLEAR: Length = 600;
/// Room that a track keeps above a bar that it ends at, where the bar's name stands.
pub const OVER_BAR: Length = 1_100;

/// Where everything stands on a sheet.
pub struct Sheet {
    pub geometry: Geometry,
    pub pieces: Vec<Piece>,
    /// The track of each column.
    pub x: Vec<Length>,
    /// The edges of each column.
    pub cells: Vec<(Length, Length)>,
    pub width: Length,
    pub height: Length,
    /// Thousandths of a pixel a diagram unit.
    pub scale: i64,
}

/// A sheet of some size in pixels, with the largest text that is wanted on it, and the least that can be read: a
/// diagram that would come out much smaller gets a sheet as large as it takes. With none it is drawn as small as it has
/// to be.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Size {
    pub width: u32,
    pub height: u32,
    pub font: u32,
    pub least: u32,
}

/// Share of the least text, in percent, that is still put up with to have all of a diagram in view.
const PUT_UP_WITH: i64 = 86;

impl Sheet {
    pub fn new(costing: &mut Costing<'_, '_>, placement: &Placement, size: Size) -> Self {
        costing.measure(placement, 1000);
        let g = &costing.geometry;
        let fits =
            |pixels: u32, units: Length| i64::from(pixels) * 100_000 / i64::from(units.max(1));
        let largest = i64::from(size.font) * 100_000 / i64::from(FONT);
        let whole = fits(size.width, g.width)
            .min(fits(size.height, g.height))
            .min(largest)
            .max(1);
        let least = i64::from(size.least) * 100_000 / i64::from(FONT);
        let scale = if whole * 100 < least * PUT_UP_WITH {
            least
        } else {
            whole
        };
        let units = |pixels: u32| length(i64::from(pixels) * 100_000 / scale);
        let (width, height) = (
            units(size.width).max(g.width),
            units(size.height).max(g.height),
        );
        // Wires as long as the height allows.
        let (mut low, mut high) = (1000, LONGEST);
        while high - low > 10 {
            let middle = (low + high) / 2;
            costing.measure(placement, middle);
            if costing.geometry.height <= height {
                low = middle
            } else {
                high = middle
            }
        }
        costing.measure(placement, low);
        let mut geometry = costing.geometry.clone();
        geometry.ground += (height - geometry.height).max(0);
        let mut sheet = Self {
            geometry,
            pieces: costing.pieces.clone(),
            x: Vec::new(),
            cells: Vec::new(),
            width,
            height,
            scale,
        };
        sheet.columns(placement);
        sheet.lower_hubs(costing, placement);
        sheet.place_bars(costing);
        sheet
    }

    fn columns(&mut self, placement: &Placement) {
        let columns = length(placement.columns.max(1) as i64);
        let extra = ((self.width - self.geometry.width) / columns).max(0);
        let more = extra.min(APART);
        let mut at = MARGIN + (extra - more) * columns / 2;
        for k in 0..placement.columns {
            let (left, right) = (self.geometry.left[k], self.geometry.right[k]);
            let from = at;
            at += left + more / 4;
            self.x.push(at);
            at += right + more * 3 / 4;
            self.cells.push((from, at));
            at += BETWEEN;
        }
    }

    /// Height of the line of a bar.
    pub fn bar(&self, hub: usize) -> Length {
        self.geometry.bottom[hub] - BELOW_BAR
    }

    /// Bars that some track passes.
    fn is_passed(&self, hub: usize) -> bool {
        self.geometry.passes.iter().any(|(_, bar)| *bar == hub)
    }

    /// Hubs go down by half of what is free below them, so that wires above and below are about as long.
    fn lower_hubs(&mut self, costing: &Costing<'_, '_>, placement: &Placement) {
        let plan = costing.plan;
        let mut sky = vec![self.geometry.ground - 1000; placement.columns];
        for hub in placement.order.iter().copied().rev() {
            let (first, last) = (self.geometry.first[hub], self.geometry.last[hub]);
            if hub == 0 || Some(hub) == plan.source || first > last {
                continue;
            }
            let height = self.geometry.bottom[hub] - self.geometry.top[hub];
            let mut limit = (first..=last)
                .map(|k| sky[k] - 600)
                .min()
                .unwrap_or(Length::MAX);
            let hangs = |p: &Piece| p.upper == Some(hub);
            for (n, piece) in self.pieces.iter().enumerate().filter(|(_, p)| hangs(p)) {
                let end = match piece.lower {
                    Some(lower) => self.geometry.top[lower],
                    None if piece.footed => self.geometry.ground,
                    None => sky[piece.column] - 800,
                };
                limit = limit.min(end - self.geometry.length[n]);
            }
            // A bar that tracks pass, and what hangs on it, stays high.
            let on_passed = |p: &Piece| hangs(p) && p.lower.is_some_and(|l| self.is_passed(l));
            let still = self.is_passed(hub) || self.pieces.iter().any(on_passed);
            if !still {
                let down = (limit - height - self.geometry.top[hub]).max(0) / 2;
                self.geometry.top[hub] += down;
                self.geometry.bottom[hub] += down;
            }
            sky[first..=last].fill(self.geometry.top[hub]);
            for (n, piece) in self.pieces.iter().enumerate() {
                if piece.is_stub() && piece.lower == Some(hub) {
                    let top = self.geometry.top[hub] - self.geometry.length[n] - 800;
                    sky[piece.column] = sky[piece.column].min(top);
                }
            }
        }
    }

    /// From where to where a piece between two hubs, or down to the foot, goes.
    pub fn span(&self, costing: &Costing<'_, '_>, piece: &Piece) -> (Length, Length) {
        let bar = |hub: usize| costing.plan.hubs[hub].kind == HubKind::Bar;
        let g = &self.geometry;
        let top = match piece.upper {
            Some(0) => RAIL_LINE,
            Some(hub) if bar(hub) => self.bar(hub),
            Some(hub) => g.bottom[hub],
            None => 0,
        };
        let end = match piece.lower {
            Some(hub) if bar(hub) => self.bar(hub),
            Some(hub) => g.top[hub],
            None if on_ground(costing, piece) => g.ground,
            None => g.ground + METAL,
        };
        (top, end)
    }

    /// Sets bars that tracks pass where each of these tracks has room between a label and what comes next.
    fn place_bars(&mut self, costing: &Costing<'_, '_>) {
        let mut bars: Vec<usize> = self.geometry.passes.iter().map(|(_, bar)| *bar).collect();
        bars.sort_unstable();
        bars.dedup();
        for _ in 0..3 {
            for bar in bars.iter().copied() {
                self.place_bar(costing, bar);
            }
        }
    }

    fn place_bar(&mut self, costing: &Costing<'_, '_>, bar: usize) {
        let plan = costing.plan;
        let rank = costing.ranks();
        let (mut low, mut high) = (Length::MIN / 2, Length::MAX / 2);
        for piece in &self.pieces {
            let least = || -> Length { mins(costing, piece).iter().map(|(_, min)| min).sum() };
            let (top, end) = self.span(costing, piece);
            if piece.lower == Some(bar) {
                low = low.max(if piece.is_stub() {
                    self.bar(bar)
                } else {
                    top + least() + OVER_BAR
                });
            }
            if piece.upper == Some(bar) {
                high = high.min(if piece.is_stub() {
                    self.bar(bar)
                } else {
                    end - least()
                });
            }
        }
        let g = &self.geometry;
        for other in 1..plan.hubs.len() {
            if other == bar || g.first[other] > g.last[bar] || g.last[other] < g.first[bar] {
                continue;
            }
            if rank[other] < rank[bar] {
                low = low.max(g.bottom[other] + 1400);
            } else {
                let is_bar = plan.hubs[other].kind == HubKind::Bar;
                high = high.min(if is_bar {
                    self.bar(other) - 1400
                } else {
                    g.top[other] - 600
                });
            }
        }
        let was = self.bar(bar);
        let passing: Vec<usize> = g
            .passes
            .iter()
            .filter(|(_, b)| *b == bar)
            .map(|(n, _)| *n)
            .collect();
        let mut best = (i64::MIN, was);
        let tries = (low.max(0)..=high.min(self.height)).step_by(100);
        for y in std::iter::once(was).chain(tries) {
            self.move_bar(bar, y);
            let fits: i64 = passing
                .iter()
                .map(|n| i64::from(self.passing(costing, *n).0.min(100)))
                .sum();
            let outside = if y < low || y > high { 500 } else { 0 };
            let worth = fits * 1000 - i64::from((y - was).abs()) * 4 - outside * 1000;
            if worth > best.0 {
                best = (worth, y);
            }
        }
        self.move_bar(bar, best.1);
    }

    fn move_bar(&mut self, bar: usize, y: Length) {
        let by = y - self.bar(bar);
        self.geometry.top[bar] += by;
        self.geometry.bottom[bar] += by;
    }

    /// Where a piece passes its bars: how much room is left at the tightest of its stretches, and before which of its
    /// things each bar comes.
    pub fn passing(&self, costing: &Costing<'_, '_>, n: usize) -> (Length, Vec<(usize, usize)>) {
        let piece = &self.pieces[n];
        let things = mins(costing, piece);
        let mut bars: Vec<usize> = self
            .geometry
            .passes
            .iter()
            .filter(|(p, _)| *p == n)
            .map(|(_, b)| *b)
            .collect();
        bars.sort_by_key(|b| self.bar(*b));
        let mut sums = vec![0];
        for (_, min) in &things {
            sums.push(sums[sums.len() - 1] + min);
        }
        let gaps: Vec<usize> = (0..=things.len())
            .filter(|g| things.get(*g).is_some_and(|t| t.0) || (*g > 0 && things[g - 1].0))
            .collect();
        let (top, mut end) = if piece.is_stub() {
            self.stub_span(costing, n)
        } else {
            self.span(costing, piece)
        };
        if piece
            .lower
            .is_some_and(|l| costing.plan.hubs[l].kind == HubKind::Bar)
        {
            end -= OVER_BAR;
        }
        let mut search = Passing {
            sheet: self,
            bars: &bars,
            gaps: &gaps,
            sums: &sums,
            end,
            best: (Length::MIN, Vec::new()),
        };
        search.go(0, 0, top, Length::MAX, &mut Vec::new());
        let (slack, at) = search.best;
        (slack, at.into_iter().zip(bars).collect())
    }

    /// From where to where a piece that hangs free goes.
    pub fn stub_span(&self, costing: &Costing<'_, '_>, n: usize) -> (Length, Length) {
        let piece = &self.pieces[n];
        let (top, end) = self.span(costing, piece);
        let long = self.geometry.length[n];
        let on_bar = piece
            .lower
            .is_some_and(|hub| costing.plan.hubs[hub].kind == HubKind::Bar);
        let name = if on_bar { OVER_BAR } else { 0 };
        if piece.upper.is_some() {
            (top, top + long)
        } else {
            (end - name - long, end)
        }
    }
}

/// The best gaps for the bars that a track passes, found by going through all of them.
struct Passing<'a> {
    sheet: &'a Sheet,
    bars: &'a [usize],
    gaps: &'a [usize],
    sums: &'a [Length],
    end: Length,
    best: (Length, Vec<usize>),
}

impl Passing<'_> {
    fn go(&mut self, k: usize, from: usize, y: Length, slack: Length, at: &mut Vec<usize>) {
        if slack <= self.best.0 {
            return;
        }
        let Some(bar) = self.bars.get(k) else {
            let last = self.end - y - (self.sums[self.sums.len() - 1] - self.sums[from]);
            if slack.min(last) > self.best.0 {
                self.best = (slack.min(last), at.clone());
            }
            return;
        };
        let line = self.sheet.bar(*bar);
        for gap in self.gaps.iter().copied().filter(|g| *g >= from) {
            at.push(gap);
            let before = line - CLEAR - y - (self.sums[gap] - self.sums[from]);
            self.go(k + 1, gap, line + CLEAR, slack.min(before), at);
            at.pop();
        }
    }
}

/// A piece that goes down to a ground point, not to bare metal.
pub fn on_ground(costing: &Costing<'_, '_>, piece: &Piece) -> bool {
    let end = crate::cost::foot_end(costing.plan, piece);
    end.and_then(|e| e.foot())
        .is_some_and(|(_, ground)| ground.is_some())
}

/// The things of a piece from above: whether each is a wire, and its least length.
pub fn mins(costing: &Costing<'_, '_>, piece: &Piece) -> Vec<(bool, Length)> {
    let mut mins: Vec<(bool, Length)> = items(costing, piece)
        .map(|n| {
            let item = &costing.plan.tracks[piece.track].items[n];
            let flat = costing.flat(piece.track);
            let height = if flat { item.height_flat } else { item.height };
            (matches!(item.what, What::Wire(_)), height)
        })
        .collect();
    if matches!(piece.kind, Kind::Half { .. }) {
        let tag = (false, crate::pieces::TAG);
        if piece.upper.is_some() {
            mins.push(tag)
        } else {
            mins.insert(0, tag)
        }
    }
    mins
}

/// Which things of its track a piece has, from above.
pub fn items(costing: &Costing<'_, '_>, piece: &Piece) -> Box<dyn Iterator<Item = usize>> {
    let count = costing
        .plan
        .tracks
        .get(piece.track)
        .map_or(0, |t| t.items.len());
    let range = match piece.kind {
        Kind::Half { end: 0, cut } => 0..cut + 1,
        Kind::Half { cut, .. } => cut..count,
        Kind::Whole => 0..count,
        Kind::Jumper | Kind::Perch | Kind::Case | Kind::Foot(_) => 0..0,
    };
    if piece.end_up == 0 {
        Box::new(range)
    } else {
        Box::new(range.rev())
    }
}

/// The line of the rail.
pub const RAIL_LINE: Length = 200;

fn length(n: i64) -> Length {
    Length::try_from(n).unwrap_or(Length::MAX / 4)
}
