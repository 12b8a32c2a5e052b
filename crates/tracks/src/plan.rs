//! What is drawn, as tracks and what joins them.
//!
//! A *track* is a run of wires, cavities and two-terminal parts that fits under one another: it has no other
//! way in or out than its two ends. A *hub* is what tracks end at: the supply rail, a bar (a splice, a point
//! with several wires, a loose end) or the box of a part with more than two terminals. Grounds and cases end
//! at the foot of the sheet.

use std::collections::{BTreeSet, HashMap, HashSet};

use cimento_model::circuit::{Drawing, DrawnCavity, DrawnPart, DrawnWire};

use crate::text::{FONT, figures, width, wrap};
use crate::{Flow, Length};

/// The rail is the first hub.
pub const RAIL: usize = 0;

/// Everything that has to be placed.
pub struct Plan<'d> {
    pub drawing: &'d Drawing,
    pub hubs: Vec<Hub<'d>>,
    pub tracks: Vec<Track<'d>>,
    /// What stands at the foot by itself: both ends of a strap between two grounds, grounds without a wire.
    pub feet: Vec<FootEnd<'d>>,
    /// The hub of the part that feeds the rail.
    pub source: Option<usize>,
}

/// What tracks end at.
pub struct Hub<'d> {
    /// The part, the point that a bar stands for, or nothing for the rail.
    pub id: &'d str,
    pub kind: HubKind<'d>,
}

/// Kinds of hubs.
#[derive(Clone, Copy, PartialEq, Eq, Debug)]
pub enum HubKind<'d> {
    Rail,
    /// A point with several wires, or with none further.
    Bar,
    /// A part whose terminals stand on the edges of its box.
    Box(BoxOf<'d>),
}

/// A part in a box.
#[derive(Clone, Copy)]
pub struct BoxOf<'d>(pub &'d DrawnPart);

impl PartialEq for BoxOf<'_> {
    fn eq(&self, other: &Self) -> bool {
        self.0.id == other.0.id
    }
}

impl Eq for BoxOf<'_> {}

impl std::fmt::Debug for BoxOf<'_> {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.0.id)
    }
}

/// Where a track ends.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct End<'d> {
    /// The test point.
    pub point: &'d str,
    pub at: At<'d>,
    /// Which edge of a box the end belongs on by what flows there: −1 the upper, 1 the lower, 0 either.
    pub edge: i32,
    /// Current does something in the part: it is read from above to below.
    pub telling: bool,
}

/// What a track ends at.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum At<'d> {
    Hub(usize),
    /// A ground point.
    Ground {
        id: &'d str,
        metal: &'d str,
    },
    /// The metal itself.
    Metal(&'d str),
    /// The metal that a case is bolted to.
    Case(&'d str),
}

impl<'d> End<'d> {
    pub fn hub(&self) -> Option<usize> {
        match self.at {
            At::Hub(hub) => Some(hub),
            _ => None,
        }
    }

    /// The metal at the foot, and the ground point on it where there is one.
    pub fn foot(&self) -> Option<(&'d str, Option<&'d str>)> {
        match self.at {
            At::Hub(_) => None,
            At::Ground { id, metal } => Some((metal, Some(id))),
            At::Metal(metal) | At::Case(metal) => Some((metal, None)),
        }
    }
}

/// An end that stands at the foot by itself.
#[derive(Clone, Copy, Debug)]
pub struct FootEnd<'d> {
    pub end: End<'d>,
    /// The strap, and whether this is its second end.
    pub strap: Option<(&'d DrawnWire, bool)>,
}

/// How a track is drawn.
#[derive(Clone, Copy, PartialEq, Eq, Debug)]
pub enum Way {
    /// Down the sheet.
    Run,
    /// From the rail to the post of the battery.
    Link,
    /// A bracket between two terminals of one box.
    Jumper,
    /// Nothing but room for a hub that nothing is joined to.
    Perch,
}

/// A run from one end to the other.
pub struct Track<'d> {
    pub way: Way,
    pub items: Vec<Item<'d>>,
    pub ends: [End<'d>; 2],
    /// Current of a healthy machine: 1 from the first end to the second, −1 the other way, 0 not known.
    pub flow: i32,
    /// Items that are wires, by position.
    pub wires: Vec<usize>,
}

impl Track<'_> {
    /// A case that is bolted to metal right where it stands.
    pub fn is_case_alone(&self) -> bool {
        self.items.len() == 1
            && matches!(self.items[0].what, What::Mount(_))
            && self.way == Way::Run
    }

    /// A wire of it may be cut in two with matching tags.
    pub fn may_be_cut(&self) -> bool {
        let hubs = self.ends.iter().filter_map(End::hub);
        self.way == Way::Run && !self.wires.is_empty() && hubs.filter(|h| *h != RAIL).count() == 2
    }
}

/// What stands on a track.
#[derive(Clone, Copy)]
pub enum What<'d> {
    Wire(&'d DrawnWire),
    Cavity(&'d DrawnCavity),
    Part(&'d DrawnPart),
    Splice(&'d str),
    Mount(&'d DrawnPart),
    Link,
}

/// One thing on a track with its test points, in the order of the track's ends, and the room it takes.
pub struct Item<'d> {
    pub what: What<'d>,
    pub points: [&'d str; 2],
    /// To the left and to the right of the track.
    pub left: Length,
    pub right: Length,
    /// The same with its label in one line.
    pub right_flat: Length,
    pub height: Length,
    pub height_flat: Length,
    /// Lines of text of a part.
    pub lines: Vec<String>,
}

/// A wire's label in two lines and in one.
pub const WIRE: Length = 2200;
pub const WIRE_FLAT: Length = 1300;
/// From a track to the text beside it.
pub const BESIDE: Length = 500;
pub const CAVITY: Length = 1400;
pub const MOUNT: Length = 1400;
const FUSE: Length = 2400;
const PART: Length = 2800;
/// Names are broken into lines of about this width.
const NAME: Length = 4600;
/// Figures of a reading: the one at the upper end of a wire stands behind its number, the one at the lower end below.
const READING: Length = 5;

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

impl<'d> Plan<'d> {
    /// Takes a drawing apart into tracks and hubs.
    pub fn new(drawing: &'d Drawing, flow: &Flow) -> Self {
        Taking::new(drawing).plan(flow)
    }

    /// The tracks that end at a hub, with which end.
    pub fn at_hub(&self, hub: usize) -> impl Iterator<Item = (usize, usize)> + '_ {
        let tracks = self.tracks.iter().enumerate();
        tracks.flat_map(move |(t, track)| {
            let ends = (0..2).filter(move |e| track.ends[*e].hub() == Some(hub));
            ends.map(move |e| (t, e))
        })
    }

    /// What tells a track from others when the circuit is edited: the things on it.
    pub fn names_of(&self, track: usize) -> HashSet<String> {
        let items = self.tracks[track].items.iter();
        items
            .map(|i| i.what.name())
            .filter(|n| !n.is_empty())
            .collect()
    }
}

impl What<'_> {
    /// Its id; of a mount that of the place.
    pub fn name(&self) -> String {
        match self {
            Self::Wire(wire) => wire.id.clone(),
            Self::Cavity(cavity) => cavity.id.clone(),
            Self::Part(part) => part.id.clone(),
            Self::Splice(id) => (*id).to_owned(),
            Self::Mount(part) => format!("{}.mount", part.id),
            Self::Link => String::new(),
        }
    }
}

/// A drawing while it is taken apart.
struct Taking<'d> {
    drawing: &'d Drawing,
    owners: HashMap<&'d str, Owner<'d>>,
    edges: Vec<Edge<'d>>,
    /// Edges at a point, by position.
    at: HashMap<&'d str, Vec<usize>>,
    /// Points that a track ends at although it could go on.
    ends_here: HashSet<&'d str>,
    splices: HashSet<&'d str>,
}

/// A part stands on its track when current has one way through it.
fn is_inline(part: &DrawnPart) -> bool {
    !part.is_source && part.terminals.len() == 2
}

impl<'d> Taking<'d> {
    fn new(drawing: &'d Drawing) -> Self {
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

    fn plan(mut self, flow: &Flow) -> Plan<'d> {
        let runs = self.runs();
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
        self.one(&part.id, HubKind::Box(BoxOf(part)))
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
    let mut known = track.items.iter().filter_map(|item| match item.what {
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
    let meant = track.items.iter().filter_map(|item| match item.what {
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
    let Some(HubKind::Box(BoxOf(part))) = track.ends[end].hub().map(|h| hubs[h].kind) else {
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

impl<'d> Item<'d> {
    fn new(what: What<'d>, points: [&'d str; 2]) -> Self {
        let mut item = Self {
            what,
            points,
            left: 600,
            right: 600,
            right_flat: 600,
            height: 0,
            height_flat: 0,
            lines: Vec::new(),
        };
        item.measure();
        item.right_flat = item.right_flat.max(if matches!(what, What::Wire(_)) {
            0
        } else {
            item.right
        });
        item.height_flat = if matches!(what, What::Wire(_)) {
            WIRE_FLAT
        } else {
            item.height
        };
        item
    }

    fn measure(&mut self) {
        match self.what {
            What::Wire(wire) => {
                let number = width(&wire.id, true) + width(" ", true);
                let about = width(&wire.label, false);
                self.left = 400;
                self.right = BESIDE + about.max(number + figures(READING));
                self.right_flat = BESIDE + number + about.max(figures(2 * READING + 1));
                self.height = WIRE;
            }
            What::Cavity(cavity) => {
                self.left = 800;
                self.right = 1000 + width(&cavity_name(&cavity.id), false);
                self.height = CAVITY;
            }
            What::Splice(id) => {
                self.left = 500;
                self.right = 700 + width(id, true);
                self.height = 1200;
            }
            What::Mount(part) => {
                self.left = 400;
                self.right = 600 + width(&format!("{} case", part.id), false);
                self.height = MOUNT;
            }
            What::Part(part) if part.is_fuse => {
                self.lines = vec![part.id.clone(), part.rating.clone()];
                self.left = 700;
                self.right = 1000 + width(&part.id, true).max(width(&part.rating, false));
                self.height = FUSE;
            }
            What::Part(part) => {
                self.lines = vec![part.id.clone()];
                self.lines.extend(wrap(&part.name, NAME));
                self.lines
                    .extend(Some(part.rating.clone()).filter(|r| !r.is_empty()));
                let widest = self
                    .lines
                    .iter()
                    .enumerate()
                    .map(|(n, line)| width(line, n == 0));
                self.left = 1200;
                self.right = 1500 + widest.max().unwrap_or(0);
                let lines = Length::try_from(self.lines.len()).unwrap_or(Length::MAX / FONT);
                self.height = PART.max(lines * 1000 + 200);
            }
            What::Link => self.height = 800,
        }
    }
}

/// A cavity as it is written on a diagram.
pub fn cavity_name(id: &str) -> String {
    id.replace('.', "·")
}
