//! What a placement costs: what may not be, what reads badly, and the size.
//!
//! All of it in whole numbers, so that every machine finds the same placement. One unit of cost is 100.

use std::collections::HashMap;

use crate::geometry::{Fixed, Geometry, hub_ends};
use crate::pieces::{BELOW, Kind, Piece};
use crate::placement::Placement;
use crate::plan::{End, HubKind, Plan, RAIL, Way, What};
use crate::{LEGIBLE_HEIGHT, LEGIBLE_WIDTH};

/// A diagram much smaller than it may be is no better: share of the legible size, in thousandths.
const SMALL: i64 = 920;

/// One that is too small to be read at all costs this much more.
const HARD_TO_READ: i64 = 3000;

/// Two things in one place, a wire through a box and its like may not be.
const OVERLAP: i64 = 8000;
const THROUGH_BOX: i64 = 6000;
const TERMINAL_ON_TWO_EDGES: i64 = 8000;
const BETWEEN_ITS_WIRES: i64 = 6000;
const JUMPER_APART: i64 = 8000;
const INSIDE_STRAP: i64 = 6000;
/// What reads badly.
const CROSSING: i64 = 1200;
const CUT: i64 = 7350;
const WRONG_EDGE: i64 = 1000;
const UPSIDE_DOWN_BOX: i64 = 12_000;
const UPSIDE_DOWN: i64 = 6000;
const UPWARD: i64 = 300;
const CONTACT_ASKEW: i64 = 700;
const GROUND_AGAIN: i64 = 200;
const METAL_AGAIN: i64 = 300;
const BAR_SPAN: i64 = 45;
const ONE_LINE: i64 = 30;
const CASE_IN_PLACE: i64 = 160;

/// A terminal of a box with its column and edge.
#[derive(Clone, Copy)]
struct Terminal {
    hub: usize,
    /// The number of its test point.
    point: usize,
    column: usize,
    edge: i32,
}

/// What an end of a track is to the costs, in numbers.
#[derive(Clone, Copy)]
struct EndNumbers {
    point: usize,
    /// Several tracks end at the point.
    shared: bool,
    belongs: i32,
    telling: bool,
    /// The metal at the foot, and the ground point on it.
    foot: Option<(usize, Option<usize>)>,
}

/// Costs placements of a plan, with room that is used again.
pub struct Costing<'p, 'd> {
    pub plan: &'p Plan<'d>,
    pub fixed: Fixed,
    pub geometry: Geometry,
    pub pieces: Vec<Piece>,
    rank: Vec<i32>,
    terminals: Vec<Terminal>,
    ends: Vec<[EndNumbers; 2]>,
    feet: Vec<EndNumbers>,
    by_column: Vec<u16>,
    starts: Vec<u16>,
    /// Of each box the pairs of terminals that belong over one another: a coil, a contact.
    straight: Vec<(usize, [usize; 2])>,
    /// Of each track where on it parts stand that current does something in.
    loads: Vec<Vec<usize>>,
    flat: Vec<bool>,
    columns: usize,
    /// How large the diagram may be before it is hard to read, in thousandths.
    legible: i64,
    /// What it costs besides that something stands on its head.
    pub upright: i64,
    /// What it costs besides that a wire is cut.
    pub whole: i64,
    /// So many pieces were costed, each once for each thing that was looked at: how long it took, on any machine.
    pub costed: u64,
}

/// What a placement costs, and what of it may not be.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Cost {
    pub total: i64,
    pub forbidden: i64,
    pub crossings: i64,
    /// Parts upside down, and ends of parts that current does something in on the wrong edge.
    pub turned: i64,
    /// How large the diagram is, and how large it may be before it is hard to read, in thousandths.
    pub size: [i64; 2],
}

impl Cost {
    /// The diagram is easy to read, or no larger than the other.
    pub fn reads_as_well_as(&self, other: &Self) -> bool {
        let [size, most] = self.size;
        size <= most || size <= other.size[0]
    }
}

impl<'p, 'd> Costing<'p, 'd> {
    pub fn new(plan: &'p Plan<'d>) -> Self {
        let mut points = Points::of(plan);
        let ends = plan
            .tracks
            .iter()
            .map(|t| t.ends.map(|e| points.numbers(&e)))
            .collect();
        let feet = plan.feet.iter().map(|f| points.numbers(&f.end)).collect();
        let straight = plan.hubs.iter().enumerate().flat_map(|(hub, h)| {
            let HubKind::Box(part) = h.kind else {
                return Vec::new();
            };
            if !part.kind.ends_with("relay") {
                return Vec::new();
            }
            let points = &points;
            let point = |label: &str| {
                part.terminals
                    .iter()
                    .find(|t| t.label == label)
                    .map(|t| points.known(&t.point))
            };
            let pairs = [["86", "85"], ["30", "87"]];
            let pairs = pairs
                .iter()
                .filter_map(|[a, b]| Some((hub, [point(a)?, point(b)?])));
            pairs.collect()
        });
        let straight = straight.collect();
        let loads = plan.tracks.iter().map(|t| {
            let upright = |w: &What<'_>| matches!(w, What::Part(part) if !part.is_fuse);
            let items = t.items.iter().enumerate();
            items
                .filter(|(_, i)| upright(&i.what))
                .map(|(n, _)| n)
                .collect()
        });
        Self {
            plan,
            fixed: Fixed::new(plan),
            geometry: Geometry::default(),
            pieces: Vec::new(),
            rank: vec![0; plan.hubs.len()],
            terminals: Vec::new(),
            by_column: Vec::new(),
            straight,
            ends,
            feet,
            loads: loads.collect(),
            flat: Vec::new(),
            columns: 0,
            legible: legible(plan),
            upright: 0,
            whole: 0,
            costed: 0,
            starts: Vec::new(),
        }
    }

    /// The rank of each hub, doubled.
    pub fn ranks(&self) -> &[i32] {
        &self.rank
    }

    /// The labels of a track are in one line.
    pub fn flat(&self, track: usize) -> bool {
        self.flat.get(track).copied().unwrap_or(false)
    }

    /// Sizes of a placement with wires longer by a factor, in thousandths.
    pub fn measure(&mut self, placement: &Placement, stretch: i64) {
        self.rank(placement);
        self.flat.clone_from(&placement.flat);
        self.across(placement);
        self.along(placement, stretch);
    }

    fn across(&mut self, placement: &Placement) {
        self.geometry
            .across(self.plan, &self.fixed, placement, &self.rank, &self.pieces);
    }

    fn along(&mut self, placement: &Placement, stretch: i64) {
        self.geometry
            .along(self.plan, &self.fixed, placement, &self.pieces, stretch);
    }

    /// Ranks the hubs, and takes the tracks apart into pieces.
    fn rank(&mut self, placement: &Placement) {
        for (rank, hub) in (0..).zip(&placement.order) {
            self.rank[*hub] = 2 * rank;
        }
        self.columns = placement.columns;
        self.fixed
            .rooms
            .pieces(self.plan, placement, &self.rank, &mut self.pieces);
    }

    /// Costs a placement.
    pub fn cost(&mut self, placement: &Placement) -> Cost {
        self.cost_below(placement, i64::MAX).unwrap_or_default()
    }

    /// Costs a placement; nothing where it costs more than a limit, which is found before all of it is worked out.
    pub fn cost_below(&mut self, placement: &Placement, limit: i64) -> Option<Cost> {
        self.rank(placement);
        let pieces = self.pieces.len() as u64;
        self.costed += pieces;
        let mut cost = Cost {
            total: 9 * SMALL,
            ..Cost::default()
        };
        let goes_on = |cost: &Cost| (cost.total + cost.forbidden <= limit).then_some(());
        self.overlaps(&mut cost);
        goes_on(&cost)?;
        self.directions(&mut cost);
        for (n, track) in self.plan.tracks.iter().enumerate() {
            cost.total += match placement.cut[n] {
                Some(_) if track.is_case_alone() => CASE_IN_PLACE,
                Some(_) if track.may_be_cut() => CUT + self.whole,
                _ if placement.flat[n] && !track.wires.is_empty() => ONE_LINE,
                _ => 0,
            };
        }
        goes_on(&cost)?;
        self.terminals(&mut cost);
        cost.total += cost.turned * self.upright;
        goes_on(&cost)?;
        self.costed += 2 * pieces;
        self.across(placement);
        self.hubs(&mut cost);
        goes_on(&cost)?;
        self.feet(&mut cost);
        goes_on(&cost)?;
        self.costed += 2 * pieces;
        self.along(placement, 1000);
        let share = |have, wanted| i64::from(have) * 1000 / i64::from(wanted);
        let wide = share(self.geometry.width, LEGIBLE_WIDTH);
        let high = share(self.geometry.height, LEGIBLE_HEIGHT);
        let most = wide.max(high);
        cost.size = [most, self.legible];
        let over = |limit: i64, each: i64| (most - limit).max(0) * each;
        cost.total +=
            over(SMALL, 9) + (wide + high) * 7 / 10 + over(960, 18) + over(self.legible, 60);
        if most > self.legible {
            cost.total += HARD_TO_READ;
        }
        cost.total += cost.forbidden;
        Some(cost)
    }

    /// The slots of what lies on another, goes through a box, or stands between the wires of a terminal.
    pub fn offenders(&mut self, placement: &Placement) -> Vec<usize> {
        self.cost(placement);
        let g = &self.geometry;
        let mut found = Vec::new();
        for (n, piece) in self.pieces.iter().enumerate() {
            let shares = |other: &Piece| other.column == piece.column && piece.lies_on(other);
            let through = |hub: usize| {
                let columns = g.first[hub]..=g.last[hub];
                self.fixed.hubs[hub].is_box
                    && columns.contains(&piece.column)
                    && piece.goes_through(self.rank[hub])
            };
            let boxed = (1..self.plan.hubs.len()).any(through);
            if self.pieces[..n].iter().any(shares) || boxed || piece.kind == Kind::Jumper {
                found.push(self.slot_of(piece));
            }
        }
        // A terminal with several wires, and what stands beside a strap, may be what is wrong.
        for piece in &self.pieces {
            let shared = |(_, end, _): (usize, usize, i32)| self.ends[piece.track][end].shared;
            let several = !piece.is_foot() && hub_ends(piece).any(shared);
            let slot = self.slot_of(piece);
            if (several || piece.footed) && !found.contains(&slot) {
                found.push(slot);
            }
        }
        found
    }

    /// The hubs and tracks at which something stands on its head: a box that current does something in with a track on
    /// the wrong edge, a part on a track that is read upward.
    pub fn upside_down(&mut self, placement: &Placement) -> Vec<(usize, usize)> {
        self.measure(placement, 1000);
        let source = self.plan.source;
        let mut found = Vec::new();
        for piece in self.pieces.iter().filter(|p| !p.is_foot()) {
            let upward = self.loads_upward(piece).is_some_and(|loads| loads > 0);
            for (hub, end, edge) in hub_ends(piece) {
                let EndNumbers {
                    belongs, telling, ..
                } = self.ends[piece.track][end];
                let wrong = telling && belongs != 0 && belongs != edge;
                let moves = hub != RAIL && Some(hub) != source;
                if moves && (wrong || upward) {
                    found.push((hub, piece.track));
                }
            }
        }
        found
    }

    fn slot_of(&self, piece: &Piece) -> usize {
        let tracks = self.plan.tracks.len();
        match piece.kind {
            Kind::Foot(n) => 2 * tracks + n,
            Kind::Half { end: 1, .. } => tracks + piece.track,
            _ => piece.track,
        }
    }

    /// One column holds one thing at a time.
    fn overlaps(&mut self, cost: &mut Cost) {
        // Sorted by counting: pieces of a column keep their order.
        let Self {
            by_column,
            starts,
            pieces,
            columns,
            ..
        } = self;
        starts.clear();
        starts.resize(*columns + 1, 0);
        for piece in pieces.iter() {
            starts[piece.column + 1] += 1;
        }
        for k in 0..*columns {
            starts[k + 1] += starts[k];
        }
        by_column.clear();
        by_column.resize(pieces.len(), 0);
        for (n, piece) in (0..).zip(pieces.iter()) {
            let at = &mut starts[piece.column];
            by_column[usize::from(*at)] = n;
            *at += 1;
        }
        let same = by_column
            .chunk_by(|a, b| pieces[usize::from(*a)].column == pieces[usize::from(*b)].column);
        for column in same {
            for (n, a) in column.iter().enumerate() {
                let a = &pieces[usize::from(*a)];
                for b in &column[n + 1..] {
                    let b = &pieces[usize::from(*b)];
                    if a.lies_on(b) {
                        cost.forbidden += OVERLAP;
                    }
                }
            }
        }
    }

    /// Nothing goes through a box, little through a bar.
    fn hubs(&self, cost: &mut Cost) {
        let g = &self.geometry;
        for hub in 1..self.plan.hubs.len() {
            if g.first[hub] >= g.last[hub] {
                continue;
            }
            cost.total += i64::try_from(g.last[hub] - g.first[hub]).unwrap_or(0) * BAR_SPAN;
            if self.fixed.hubs[hub].is_box {
                let at = self.rank[hub];
                let columns = g.first[hub]..=g.last[hub];
                let through = self
                    .pieces
                    .iter()
                    .filter(|p| columns.contains(&p.column) && p.goes_through(at));
                cost.forbidden += i64::try_from(through.count()).unwrap_or(0) * THROUGH_BOX;
            }
        }
        cost.crossings = i64::try_from(g.passes.len()).unwrap_or(0);
        cost.total += cost.crossings * CROSSING;
    }

    fn terminals(&mut self, cost: &mut Cost) {
        self.terminals.clear();
        let Self {
            terminals,
            pieces,
            ends,
            fixed,
            ..
        } = self;
        let mut shared = false;
        for piece in pieces
            .iter()
            .filter(|p| !p.is_foot() && p.kind != Kind::Perch)
        {
            let track = &ends[piece.track];
            for (hub, end, edge) in hub_ends(piece) {
                if fixed.hubs[hub].is_box {
                    let EndNumbers {
                        point,
                        belongs,
                        telling,
                        shared: several,
                        ..
                    } = track[end];
                    terminals.push(Terminal {
                        hub,
                        point,
                        column: piece.column,
                        edge,
                    });
                    shared |= several;
                    if belongs != 0 && belongs != edge {
                        cost.total += if telling { UPSIDE_DOWN_BOX } else { WRONG_EDGE };
                        cost.turned += i64::from(telling);
                    }
                }
            }
        }
        let all = &self.terminals;
        for (n, a) in all.iter().enumerate().filter(|_| shared) {
            for b in all[n + 1..].iter().filter(|b| b.point == a.point) {
                if a.edge != b.edge {
                    cost.forbidden += TERMINAL_ON_TWO_EDGES;
                } else {
                    cost.forbidden +=
                        BETWEEN_ITS_WIRES * between(all, a, b, |t| t.point != a.point);
                }
            }
        }
        for (hub, [upper, lower]) in &self.straight {
            let find = |point: usize| all.iter().find(|t| t.hub == *hub && t.point == point);
            if let (Some(a), Some(b)) = (find(*upper), find(*lower))
                && (a.column != b.column || a.edge == b.edge)
            {
                cost.total += CONTACT_ASKEW;
            }
        }
        for piece in self.pieces.iter().filter(|p| p.kind == Kind::Jumper) {
            let far = self.fixed.rooms.far[piece.track];
            let [far, near] = [far, 1 - far].map(|end| self.ends[piece.track][end].point);
            let near = all.iter().find(|t| t.point == near);
            let own = all
                .iter()
                .find(|t| t.point == far && t.column == piece.column);
            if let (Some(near), Some(own)) = (near, own) {
                if near.edge != own.edge {
                    cost.forbidden += JUMPER_APART;
                }
                cost.forbidden += BETWEEN_ITS_WIRES * between(all, near, own, |_| true);
            }
        }
    }

    /// Runs of one ground and of one metal at the foot, and straps between two grounds that stand side by side.
    fn feet(&self, cost: &mut Cost) {
        let mut last: Option<(usize, Option<usize>)> = None;
        let mut seen = (0_u128, 0_u128);
        for n in &self.by_column {
            let piece = &self.pieces[usize::from(*n)];
            let end = match piece.kind {
                Kind::Foot(n) => self.feet[n],
                _ if piece.footed => self.ends[piece.track][1 - piece.end_up],
                _ => continue,
            };
            let Some((metal, ground)) = end.foot else {
                continue;
            };
            if let Some(ground) = ground
                && last.and_then(|(_, g)| g) != Some(ground)
                && again(&mut seen.0, ground)
            {
                cost.total += GROUND_AGAIN;
            }
            if last.map(|(m, _)| m) != Some(metal) && again(&mut seen.1, metal) {
                cost.total += METAL_AGAIN;
            }
            last = Some((metal, ground));
        }
        let foot_at = |foot: usize| {
            self.pieces
                .iter()
                .find(|p| p.kind == Kind::Foot(foot))
                .map(|p| p.column)
        };
        for (n, foot) in self.plan.feet.iter().enumerate() {
            let Some((_, false)) = foot.strap else {
                continue;
            };
            let (Some(a), Some(b)) = (foot_at(n), foot_at(n + 1)) else {
                continue;
            };
            let (low, high) = (a.min(b), a.max(b));
            let inside = self
                .pieces
                .iter()
                .filter(|p| p.to_rank >= BELOW && p.column > low && p.column < high);
            cost.forbidden += i64::try_from(inside.count()).unwrap_or(0) * INSIDE_STRAP;
            cost.total += i64::try_from((high - low).saturating_sub(1)).unwrap_or(0) * 50;
            if a > b {
                cost.forbidden += 1000;
            }
        }
        // The battery stands on the left.
        if let Some(source) = self.plan.source {
            let (first, last) = (self.geometry.first[source], self.geometry.last[source]);
            if first <= last {
                let [first, span] = [first, last - first].map(|n| i64::try_from(n).unwrap_or(0));
                cost.total += first * 70 + span * 250;
            }
        }
    }

    /// Current goes down through what it does something in.
    fn directions(&self, cost: &mut Cost) {
        for piece in &self.pieces {
            if let Some(loads) = self.loads_upward(piece) {
                let loads = i64::try_from(loads).unwrap_or(0);
                cost.turned += loads;
                cost.total += loads * UPSIDE_DOWN + UPWARD;
            }
        }
    }

    /// The parts on a piece that current goes upward in; nothing where it goes down, or is not known.
    fn loads_upward(&self, piece: &Piece) -> Option<usize> {
        let (from, to) = match piece.kind {
            Kind::Whole => (0, usize::MAX),
            Kind::Half { end: 0, cut } => (0, cut + 1),
            Kind::Half { cut, .. } => (cut, usize::MAX),
            _ => return None,
        };
        let track = &self.plan.tracks[piece.track];
        let down = if piece.end_up == 0 { 1 } else { -1 };
        if track.way != Way::Run || track.flow == 0 || track.flow == down {
            return None;
        }
        let loads = self.loads[piece.track].iter();
        Some(loads.filter(|at| (from..to).contains(at)).count())
    }
}

/// A diagram with more on it may have text of nine tenths.
const MANY: usize = 65;

fn legible(plan: &Plan<'_>) -> i64 {
    let drawing = plan.drawing;
    let things = drawing.wires.len()
        + drawing.cavities.len()
        + drawing.parts.len()
        + drawing.splices.len()
        + drawing.grounds.len();
    if things > MANY { 1105 } else { 995 }
}

/// What stands at the foot of a piece.
pub fn foot_end<'a, 'd>(plan: &'a Plan<'d>, piece: &Piece) -> Option<&'a End<'d>> {
    match piece.kind {
        Kind::Foot(n) => Some(&plan.feet[n].end),
        _ if piece.footed => Some(&plan.tracks[piece.track].ends[1 - piece.end_up]),
        _ => None,
    }
}

fn between(
    all: &[Terminal],
    a: &Terminal,
    b: &Terminal,
    counts: impl Fn(&Terminal) -> bool,
) -> i64 {
    let (low, high) = (a.column.min(b.column), a.column.max(b.column));
    let inside = all.iter().filter(|t| {
        t.hub == a.hub && t.edge == a.edge && t.column > low && t.column < high && counts(t)
    });
    i64::try_from(inside.count()).unwrap_or(0)
}

/// Whether a number has been there before; notes it. Numbers past the last bit count as new.
fn again(seen: &mut u128, number: usize) -> bool {
    let bit = u32::try_from(number)
        .ok()
        .and_then(|n| 1_u128.checked_shl(n))
        .unwrap_or(0);
    let before = *seen & bit != 0;
    *seen |= bit;
    before
}

/// Numbers of test points, grounds and metals.
struct Points<'d> {
    points: HashMap<&'d str, usize>,
    /// How many tracks end at each point.
    ends: HashMap<&'d str, usize>,
    names: HashMap<&'d str, usize>,
}

impl<'d> Points<'d> {
    fn of(plan: &Plan<'d>) -> Self {
        let mut points = HashMap::new();
        let mut ends = HashMap::new();
        for end in plan.tracks.iter().flat_map(|t| t.ends) {
            *ends.entry(end.point).or_insert(0) += 1;
            let next = points.len();
            points.entry(end.point).or_insert(next);
        }
        Self {
            points,
            ends,
            names: HashMap::new(),
        }
    }

    fn known(&self, point: &str) -> usize {
        self.points.get(point).copied().unwrap_or(usize::MAX)
    }

    fn numbers(&mut self, end: &End<'d>) -> EndNumbers {
        let mut name = |name: &'d str| {
            let next = self.names.len();
            *self.names.entry(name).or_insert(next)
        };
        let foot = end
            .foot()
            .map(|(metal, ground)| (name(metal), ground.map(&mut name)));
        EndNumbers {
            point: self.known(end.point),
            shared: self.ends.get(end.point).is_some_and(|n| *n > 1),
            belongs: end.edge,
            telling: end.telling,
            foot,
        }
    }
}
