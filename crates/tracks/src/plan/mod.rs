//! What is drawn, as tracks and what joins them.
//!
//! A *track* is a run of wires, cavities and two-terminal parts that fits under one another: it has no other
//! way in or out than its two ends. A *hub* is what tracks end at: the supply rail, a bar (a splice, a point
//! with several wires, a loose end) or the box of a part with more than two terminals. Grounds and cases end
//! at the foot of the sheet.

mod item;
mod taking;

use std::collections::HashSet;

use cimento_model::circuit::{Drawing, DrawnCavity, DrawnPart, DrawnWire};

use crate::{Flow, Length};

pub use item::{BESIDE, cavity_name};

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
#[derive(Clone, Copy, PartialEq, Debug)]
pub enum HubKind<'d> {
    Rail,
    /// A point with several wires, or with none further.
    Bar,
    /// A part whose terminals stand on the edges of its box.
    Box(&'d DrawnPart),
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
impl<'d> Plan<'d> {
    /// Takes a drawing apart into tracks and hubs.
    pub fn new(drawing: &'d Drawing, flow: &Flow) -> Self {
        taking::Taking::new(drawing).plan(flow)
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
