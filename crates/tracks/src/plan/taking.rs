//! Takes a drawing apart into tracks and hubs.

use std::collections::{BTreeSet, HashMap, HashSet};

use cimento_model::circuit::{Drawing, DrawnPart};

use super::{At, End, FootEnd, Hub, HubKind, Item, Plan, RAIL, Track, Way, What};
use crate::Flow;

/// An edge of the circuit between two points.
#[derive(Clone, Copy)]
struct Edge<'d> {
    what: What<'d>,
    points: [&'d str; 2],
}

/// Where a point belongs.
#[derive(Clone, Copy)]
enum Owner<'d> {
    Box(usize),
    Rail,
    Ground(&'d str, &'d str),
    Metal(&'d str),
    Case(&'d str),
    Open,
}
/// A drawing while it is taken apart.
pub(super) struct Taking<'d> {
    drawing: &'d Drawing,
    owners: HashMap<&'d str, Owner<'d>>,
    edges: Vec<Edge<'d>>,
    /// Edges at a point, by position.
    at: HashMap<&'d str, Vec<usize>>,
    /// Points that a track ends at although it could go on.
    ends_here: HashSet<&'d str>,
    /// Terminals that are drawn as a bar above their box.
    studs: HashSet<&'d str>,
    splices: HashSet<&'d str>,
}

/// A part stands on its track when current has one way through it.
fn is_inline(part: &DrawnPart) -> bool {
    !part.is_source && part.terminals.len() == 2
}

impl<'d> Taking<'d> {
    pub(super) fn new(drawing: &'d Drawing) -> Self {
        let mut owners: HashMap<&'d str, Owner<'d>> = HashMap::new();
        let mut edges = Vec::new();
        let source = drawing.parts.iter().position(|p| p.is_source);
        for (n, part) in drawing.parts.iter().enumerate() {
            for terminal in &part.terminals {
                let owner = match is_inline(part) {
                    true => Owner::Open,
                    false => Owner::Box(n),
                };
                owners.insert(&terminal.point, owner);
            }
            if is_inline(part) {
                let points = [0, 1].map(|n| part.terminals[n].point.as_str());
                edges.push(Edge {
                    what: What::Part(part),
                    points,
                });
            }
        }
        let post = source.and_then(|n| drawing.parts[n].terminals.first());
        if let Some(post) = post {
            owners.insert(&post.point, Owner::Rail);
        }
        for ground in &drawing.grounds {
            owners.insert(&ground.id, Owner::Ground(&ground.id, &ground.metal));
        }
        for point in &drawing.points {
            if let Some(metal) = point.id.strip_prefix("metal:") {
                owners.insert(&point.id, Owner::Metal(metal));
            }
        }
        let is_foot =
            |point: &str| matches!(owners.get(point), Some(Owner::Ground(..) | Owner::Metal(_)));
        for wire in &drawing.wires {
            if !(is_foot(&wire.from) && is_foot(&wire.to)) {
                edges.push(Edge {
                    what: What::Wire(wire),
                    points: [&wire.from, &wire.to],
                });
            }
        }
        for cavity in &drawing.cavities {
            edges.push(Edge {
                what: What::Cavity(cavity),
                points: [&cavity.male, &cavity.female],
            });
        }
        let mut taking = Self {
            drawing,
            owners,
            edges,
            at: HashMap::new(),
            ends_here: HashSet::new(),
            studs: HashSet::new(),
            splices: drawing.splices.iter().map(String::as_str).collect(),
        };
        for part in &drawing.parts {
            let case = part.terminals.iter().find(|t| t.is_case);
            if let (Some(case), Some(metal)) = (case, &part.mount) {
                // The far end of a mount has no test point of its own: the place stands for it.
                let far = part.id.as_str();
                taking.owners.insert(far, Owner::Case(metal));
                taking.edges.push(Edge {
                    what: What::Mount(part),
                    points: [&case.point, far],
                });
            }
        }
        for (n, edge) in taking.edges.iter().enumerate() {
            for point in edge.points {
                taking.at.entry(point).or_default().push(n);
            }
        }
        taking
    }

    fn owner(&self, point: &str) -> Owner<'d> {
        self.owners.get(point).copied().unwrap_or(Owner::Open)
    }

    fn degree(&self, point: &str) -> usize {
        self.at.get(point).map_or(0, Vec::len)
    }

    /// A track goes through a point that just two things meet at.
    fn goes_through(&self, point: &str) -> bool {
        matches!(self.owner(point), Owner::Open)
            && self.degree(point) == 2
            && !self.ends_here.contains(point)
    }

    /// All runs: from each end along what follows, and what is left in rings. Points where a run that comes back to
    /// where it began has to be broken are noted, and everything is walked again.
    fn runs(&mut self) -> Vec<Vec<(usize, bool)>> {
        loop {
            let mut seen = vec![false; self.edges.len()];
            let mut runs = Vec::new();
            for from_hub in [true, false] {
                for n in 0..self.edges.len() {
                    for end in [0, 1] {
                        let point = self.edges[n].points[end];
                        let foot = matches!(
                            self.owner(point),
                            Owner::Ground(..) | Owner::Metal(_) | Owner::Case(_)
                        );
                        if !seen[n] && !self.goes_through(point) && foot != from_hub {
                            runs.push(self.walk(n, end == 1, &mut seen));
                        }
                    }
                }
            }
            let ring = (0..self.edges.len()).find(|n| !seen[*n]);
            let broken = match ring {
                Some(n) => Some(self.edges[n].points[0]),
                None => runs.iter().find_map(|run| self.to_be_broken(run)),
            };
            match broken {
                Some(point) => self.ends_here.insert(point),
                None => return runs,
            };
        }
    }

    fn walk(&self, mut edge: usize, mut turned: bool, seen: &mut [bool]) -> Vec<(usize, bool)> {
        let mut run = Vec::new();
        loop {
            seen[edge] = true;
            run.push((edge, turned));
            let far = self.edges[edge].points[usize::from(!turned)];
            if !self.goes_through(far) {
                return run;
            }
            let next = self.at[far].iter().find(|n| !seen[**n]);
            let Some(next) = next else { return run };
            edge = *next;
            turned = self.edges[edge].points[1] == far;
        }
    }

    /// Where a run that ends at what it began at is broken: behind the part in its middle.
    fn to_be_broken(&self, run: &[(usize, bool)]) -> Option<&'d str> {
        if run.len() < 2 {
            return None;
        }
        let end = |(edge, turned): (usize, bool), last: bool| {
            self.edges[edge].points[usize::from(turned != last)]
        };
        let (first, last) = (end(run[0], false), end(run[run.len() - 1], true));
        let alike = match (self.owner(first), self.owner(last)) {
            (Owner::Box(a), Owner::Box(b)) => a == b,
            (Owner::Open, Owner::Open) => first == last,
            (Owner::Rail, Owner::Rail) => true,
            (a, b) => is_at_foot(a) && is_at_foot(b),
        };
        if !alike {
            return None;
        }
        let inner = || run[..run.len() - 1].iter();
        let parts: Vec<_> = inner()
            .filter(|(e, _)| matches!(self.edges[*e].what, What::Part(_)))
            .collect();
        let behind = match parts.get(parts.len() / 2) {
            Some(part) => **part,
            None => run[(run.len() - 1) / 2],
        };
        Some(end(behind, true))
    }

    /// Terminals that feed, through another box, a terminal of their own box: read downward, what goes on from there has
    /// to begin above the box. A starter's post that the key switch hangs on is one.
    fn studs(&self, runs: &[Vec<(usize, bool)>], flow: &Flow) -> HashSet<&'d str> {
        // From which point to which current goes on each run.
        let goes: Vec<[&'d str; 2]> = runs
            .iter()
            .filter_map(|run| {
                let items = self.items(run);
                let (first, last) = (items.first()?, items.last()?);
                let ends = [first.points[0], last.points[1]];
                match along(&items, flow) {
                    1 => Some(ends),
                    -1 => Some([ends[1], ends[0]]),
                    _ => None,
                }
            })
            .collect();
        let box_of = |point: &str| match self.owner(point) {
            Owner::Box(n) if !self.drawing.parts[n].is_source => Some(n),
            _ => None,
        };
        let mut found = HashSet::new();
        for [point, first] in &goes {
            let Some(own) = box_of(point) else { continue };
            if !goes.iter().any(|[_, to]| to == point) {
                continue;
            }
            let (mut seen, mut next) = (HashSet::new(), vec![*first]);
            while let Some(at) = next.pop() {
                let here = box_of(at);
                if here == Some(own) {
                    if at != *point {
                        found.insert(*point);
                    }
                    continue;
                }
                for [from, to] in &goes {
                    let same = match here {
                        Some(n) => box_of(from) == Some(n),
                        None => *from == at,
                    };
                    if same && seen.insert(*to) {
                        next.push(to);
                    }
                }
            }
        }
        found
    }

    pub(super) fn plan(mut self, flow: &Flow) -> Plan<'d> {
        let runs = self.runs();
        self.studs = self.studs(&runs, flow);
        let mut hubs = Hubs {
            list: vec![Hub {
                id: "",
                kind: HubKind::Rail,
            }],
            by: HashMap::new(),
        };
        let drawing = self.drawing;
        let source = drawing.parts.iter().find(|p| p.is_source);
        let source = source.map(|part| (part, hubs.of_part(part)));
        let mut tracks = Vec::new();
        for run in runs {
            let items: Vec<Item<'d>> = self.items(&run);
            let (Some(first), Some(last)) = (items.first(), items.last()) else {
                continue;
            };
            let ends = [first.points[0], last.points[1]];
            let ends = ends.map(|point| End {
                point,
                at: self.end_at(point, &mut hubs),
                edge: 0,
                telling: false,
            });
            let jumps = items.len() == 1 && ends[0].hub().is_some() && ends[0].at == ends[1].at;
            let wires = items
                .iter()
                .enumerate()
                .filter(|(_, i)| matches!(i.what, What::Wire(_)));
            let mut track = Track {
                way: if jumps { Way::Jumper } else { Way::Run },
                wires: wires.map(|(n, _)| n).collect(),
                flow: 0,
                items,
                ends,
            };
            track.flow = flow_of(&track, flow);
            for end in 0..2 {
                let (edge, telling) = edge_of(&hubs.list, &track, end);
                track.ends[end] = End {
                    edge,
                    telling,
                    ..track.ends[end]
                };
            }
            tracks.push(track);
        }
        if let Some((part, hub)) = source
            && let Some(post) = part.terminals.first()
        {
            let end = |at| End {
                point: post.point.as_str(),
                at,
                edge: 0,
                telling: false,
            };
            tracks.push(Track {
                way: Way::Link,
                items: vec![Item::new(What::Link, [&post.point; 2])],
                ends: [end(At::Hub(RAIL)), end(At::Hub(hub))],
                flow: 0,
                wires: Vec::new(),
            });
        }
        // From a bar above its box a line leads to the terminal that it stands for.
        for terminal in drawing.parts.iter().flat_map(|p| &p.terminals) {
            let point = terminal.point.as_str();
            let Owner::Box(part) = self.owner(point) else {
                continue;
            };
            if !self.studs.contains(point) {
                continue;
            }
            let end = |at, edge| End {
                point,
                at,
                edge,
                telling: edge != 0,
            };
            let hub = hubs.of_part(&drawing.parts[part]);
            tracks.push(Track {
                way: Way::Link,
                items: vec![Item::new(What::Link, [point; 2])],
                ends: [end(At::Hub(hubs.of_point(point)), 0), end(At::Hub(hub), -1)],
                flow: 1,
                wires: Vec::new(),
            });
        }
        one_edge(&mut tracks);
        self.perches(&mut hubs, &mut tracks);
        let feet = self.feet(&tracks);
        Plan {
            drawing,
            hubs: hubs.list,
            tracks,
            feet,
            source: source.map(|(_, hub)| hub),
        }
    }

    fn end_at(&self, point: &'d str, hubs: &mut Hubs<'d>) -> At<'d> {
        match self.owner(point) {
            Owner::Box(_) if self.studs.contains(point) => At::Hub(hubs.of_point(point)),
            Owner::Box(part) => At::Hub(hubs.of_part(&self.drawing.parts[part])),
            Owner::Rail => At::Hub(RAIL),
            Owner::Ground(id, metal) => At::Ground { id, metal },
            Owner::Metal(metal) => At::Metal(metal),
            Owner::Case(metal) => At::Case(metal),
            Owner::Open => At::Hub(hubs.of_point(point)),
        }
    }

    /// The things of a run; a splice that a run goes through stands between its wires.
    fn items(&self, run: &[(usize, bool)]) -> Vec<Item<'d>> {
        let mut items = Vec::new();
        for (n, (edge, turned)) in run.iter().enumerate() {
            let Edge {
                what,
                points: [a, b],
            } = self.edges[*edge];
            let points = if *turned { [b, a] } else { [a, b] };
            items.push(Item::new(what, points));
            if n + 1 < run.len() && self.splices.contains(points[1]) {
                items.push(Item::new(What::Splice(points[1]), [points[1]; 2]));
            }
        }
        items
    }

    /// Room for what nothing is joined to.
    fn perches(&self, hubs: &mut Hubs<'d>, tracks: &mut Vec<Track<'d>>) {
        let mut alone: Vec<(&'d str, usize)> = Vec::new();
        let has = |hub: usize, tracks: &[Track<'d>]| {
            tracks
                .iter()
                .any(|t| t.ends.iter().any(|e| e.hub() == Some(hub)))
        };
        for part in self.drawing.parts.iter().filter(|p| !is_inline(p)) {
            let hub = hubs.of_part(part);
            if !has(hub, tracks) {
                alone.push((&part.id, hub));
            }
        }
        for splice in &self.drawing.splices {
            if self.degree(splice) == 0 {
                alone.push((splice, hubs.of_point(splice)));
            }
        }
        tracks.extend(alone.into_iter().map(|(point, hub)| Track {
            way: Way::Perch,
            items: Vec::new(),
            ends: [End {
                point,
                at: At::Hub(hub),
                edge: 0,
                telling: false,
            }; 2],
            flow: 0,
            wires: Vec::new(),
        }));
    }

    /// Straps between grounds, and the grounds and metals that nothing else shows.
    fn feet(&self, tracks: &[Track<'d>]) -> Vec<FootEnd<'d>> {
        let foot_end = |point: &'d str| {
            let at = match self.owner(point) {
                Owner::Ground(id, metal) => At::Ground { id, metal },
                Owner::Metal(metal) => At::Metal(metal),
                _ => return None,
            };
            Some(End {
                point,
                at,
                edge: 0,
                telling: false,
            })
        };
        let mut feet = Vec::new();
        for wire in &self.drawing.wires {
            if let (Some(a), Some(b)) = (foot_end(&wire.from), foot_end(&wire.to)) {
                feet.push(FootEnd {
                    end: a,
                    strap: Some((wire, false)),
                });
                feet.push(FootEnd {
                    end: b,
                    strap: Some((wire, true)),
                });
            }
        }
        let shown: BTreeSet<&str> = ends_of(tracks)
            .chain(feet.iter().map(|f| &f.end))
            .map(|e| e.point)
            .collect();
        let alone = |point: &'d str| {
            Some(FootEnd {
                end: foot_end(point)?,
                strap: None,
            })
        };
        let idle = self
            .drawing
            .grounds
            .iter()
            .filter(|g| !shown.contains(g.id.as_str()));
        let idle: Vec<FootEnd<'d>> = idle.filter_map(|g| alone(&g.id)).collect();
        feet.extend(idle);
        // A case may be marked where it stands, and its metal would then be nowhere.
        let firm = ends_of(tracks)
            .filter(|e| !matches!(e.at, At::Case(_)))
            .chain(feet.iter().map(|f| &f.end));
        let metals: BTreeSet<&str> = firm.filter_map(End::foot).map(|(metal, _)| metal).collect();
        let points = self.drawing.points.iter();
        let bare = points.filter(|p| {
            p.id.strip_prefix("metal:")
                .is_some_and(|m| !metals.contains(m))
        });
        let bare: Vec<FootEnd<'d>> = bare.filter_map(|p| alone(&p.id)).collect();
        feet.extend(bare);
        feet
    }
}
fn ends_of<'a, 'd>(tracks: &'a [Track<'d>]) -> impl Iterator<Item = &'a End<'d>> {
    tracks.iter().flat_map(|t| t.ends.iter())
}
fn is_at_foot(owner: Owner<'_>) -> bool {
    matches!(owner, Owner::Ground(..) | Owner::Metal(_) | Owner::Case(_))
}

struct Hubs<'d> {
    list: Vec<Hub<'d>>,
    by: HashMap<&'d str, usize>,
}

impl<'d> Hubs<'d> {
    fn of_part(&mut self, part: &'d DrawnPart) -> usize {
        self.one(&part.id, HubKind::Box(part))
    }

    fn of_point(&mut self, point: &'d str) -> usize {
        self.one(point, HubKind::Bar)
    }

    fn one(&mut self, id: &'d str, kind: HubKind<'d>) -> usize {
        if let Some(known) = self.by.get(id) {
            return *known;
        }
        self.list.push(Hub { id, kind });
        self.by.insert(id, self.list.len() - 1);
        self.list.len() - 1
    }
}

/// The direction of a track's current: that of the wire of it that is known.
fn flow_of(track: &Track<'_>, flow: &Flow) -> i32 {
    along(&track.items, flow)
}

fn along(items: &[Item<'_>], flow: &Flow) -> i32 {
    let mut known = items.iter().filter_map(|item| match item.what {
        What::Wire(wire) => {
            let along = if wire.from == item.points[0] { 1 } else { -1 };
            flow.get(&wire.id)
                .map(|forward| if *forward { along } else { -along })
        }
        _ => None,
    });
    if let Some(first) = known.next() {
        return first;
    }
    // Nothing flows that is known of: the way the parts on it are meant to stand.
    let meant = items.iter().filter_map(|item| match item.what {
        What::Part(part) => {
            let feed = |point: &str| {
                part.terminals
                    .iter()
                    .any(|t| t.point == point && t.feed_side)
            };
            match (feed(item.points[0]), feed(item.points[1])) {
                (true, false) => Some(1),
                (false, true) => Some(-1),
                _ => None,
            }
        }
        _ => None,
    });
    meant.sum::<i32>().signum()
}

/// Parts that make current stand as they can, and so do windings that it goes to and fro in.
const SOURCES: [&str; 5] = [
    "alternator",
    "stator",
    "magneto",
    "breaker_magneto",
    "magnetic_pickup",
];
/// At these, current that goes in or out says something, and does nothing.
const SIGNALS: [&str; 5] = ["module", "computer", "sensor", "potentiometer", "box"];

/// Which edge of its box an end belongs on, and whether current does something in the part.
fn edge_of(hubs: &[Hub<'_>], track: &Track<'_>, end: usize) -> (i32, bool) {
    let Some(HubKind::Box(part)) = track.ends[end].hub().map(|h| hubs[h].kind) else {
        return (0, false);
    };
    // A source is fed by nobody: its posts stand below, where its wires go down.
    if part.is_source {
        return (1, false);
    }
    if SOURCES.contains(&part.kind.as_str()) {
        return (0, false);
    }
    let telling = !SIGNALS.iter().any(|s| part.kind.contains(s));
    let into_hub = if end == 1 { track.flow } else { -track.flow };
    let point = track.ends[end].point;
    let edge = match into_hub {
        0 => {
            let upper = part.terminals.iter().filter(|t| t.feed_side).count();
            let says_nothing = upper == part.terminals.len() && upper > 2;
            match part.terminals.iter().find(|t| t.point == point) {
                Some(terminal) if !says_nothing => {
                    if terminal.feed_side {
                        -1
                    } else {
                        1
                    }
                }
                _ => 0,
            }
        }
        into => -into,
    };
    (edge, telling && into_hub != 0)
}

/// A terminal stands on one edge: where current comes in by one wire and goes on by another, it is fed from above, and
/// what goes on says nothing of the part.
fn one_edge(tracks: &mut [Track<'_>]) {
    let ends = tracks.iter().flat_map(|t| t.ends);
    let fed: HashSet<&str> = ends
        .filter(|e| e.telling && e.edge < 0)
        .map(|e| e.point)
        .collect();
    for end in tracks.iter_mut().flat_map(|t| &mut t.ends) {
        if end.telling && end.edge > 0 && fed.contains(end.point) {
            *end = End {
                edge: -1,
                telling: false,
                ..*end
            };
        }
    }
}

#[cfg(test)]
mod tests {
    use super::{SIGNALS, SOURCES};

    /// What is told apart by its kind is called so among the parts.
    #[test]
    fn kinds_are_called_as_the_parts_call_them() {
        for name in SOURCES.iter().chain(&["relay", "key_switch"]) {
            assert!(cimento_parts::kind(name).is_some(), "{name}");
        }
        for word in SIGNALS {
            let known = cimento_parts::ALL.iter().any(|k| k.kind().contains(word));
            assert!(known, "{word}");
        }
    }
}
