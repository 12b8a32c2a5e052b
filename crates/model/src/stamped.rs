//! A circuit in a state, written as a netlist whose elements can be found by place and name.

use std::collections::VecDeque;
use std::sync::Arc;

use cimento_solver::{Element, ElementId, Motion, Netlist, Node, Solution};

use crate::circuit::{Circuit, Place};
use crate::part::Alternation;

/// What an element is to the circuit.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Role {
    Source,
    /// Wire, cavity, splice, ground, mounting face.
    Conductor,
    /// Fuse, switch, relay contact.
    Contact,
    Load,
    /// A path that should not be there, or that somebody made.
    Stray,
}

/// An element with its place and name.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ElementTag {
    pub place: Place,
    pub name: &'static str,
    pub role: Role,
    pub element: ElementId,
}

/// Of so many netlists it is remembered what their elements are: more would take longer to look through.
const KEPT_TAGS: usize = 3;

/// What the elements of a netlist are: its own, or the same as another's.
#[derive(Debug, Clone)]
enum Tags {
    Own(Vec<ElementTag>),
    Shared(Arc<[ElementTag]>),
}

impl Default for Tags {
    fn default() -> Self {
        Self::Own(Vec::new())
    }
}

impl PartialEq for Tags {
    fn eq(&self, other: &Self) -> bool {
        self.list() == other.list()
    }
}

impl Tags {
    fn list(&self) -> &[ElementTag] {
        match self {
            Self::Own(own) => own,
            Self::Shared(shared) => shared,
        }
    }

    fn push(&mut self, tag: ElementTag) {
        match self {
            Self::Own(own) => own.push(tag),
            Self::Shared(shared) => {
                *self = Self::Own(shared.iter().copied().chain([tag]).collect())
            }
        }
    }
}

/// Netlist and lines of one circuit in one state.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct StampedNetlist {
    pub net: Netlist,
    tags: Tags,
    /// What changes by itself while time passes.
    pub motion: Motion,
    /// Where the lines of each part begin.
    starts: Vec<usize>,
}

impl StampedNetlist {
    /// A netlist with nodes for a circuit, and room for its conductors.
    pub fn of(circuit: &Circuit) -> Self {
        let mut out = Self {
            net: Netlist::new(),
            tags: Tags::Own(Vec::with_capacity(2 * circuit.conductors.len())),
            motion: Motion::default(),
            starts: Vec::with_capacity(circuit.parts.len()),
        };
        out.net.reserve_nodes(circuit.nodes.len());
        out.net.reserve(2 * circuit.conductors.len());
        out
    }

    /// What each element is to the circuit.
    pub fn tags(&self) -> &[ElementTag] {
        self.tags.list()
    }

    /// Makes it small, to be kept for long beside thousands of others: it gives back the room that was made for
    /// more, and shares what its elements are with one of the last few that had the same.
    pub fn keep(&mut self, last: &mut VecDeque<Arc<[ElementTag]>>) {
        self.net.shrink_to_fit();
        self.starts.shrink_to_fit();
        let tags = self.tags.list();
        match last.iter().position(|known| **known == *tags) {
            Some(at) => last.swap(0, at),
            None => {
                let new = Arc::from(tags);
                last.truncate(KEPT_TAGS - 1);
                last.push_front(new);
            }
        }
        self.tags = Tags::Shared(Arc::clone(&last[0]));
    }

    /// What is added from here on belongs to the next part.
    pub fn begin_part(&mut self) {
        self.starts.push(self.tags.list().len());
    }

    /// The solver's node for a circuit's node number.
    pub fn node(&self, index: usize) -> Node {
        self.net.node_at(index).unwrap_or_else(|| self.net.zero())
    }

    /// Adds an element that belongs to a place.
    pub fn add(
        &mut self,
        place: Place,
        name: &'static str,
        role: Role,
        element: Element,
    ) -> ElementId {
        let element = self.net.add(element);
        self.tags.push(ElementTag {
            place,
            name,
            role,
            element,
        });
        element
    }

    /// Attaches an element that belongs to a place, so that the structure stays what it was. Nothing
    /// can be added afterwards.
    pub fn attach(&mut self, place: Place, name: &'static str, element: Element) {
        let element = self.net.attach(element);
        self.tags.push(ElementTag {
            place,
            name,
            role: Role::Stray,
            element,
        });
    }

    /// The element of a place by name.
    pub fn tagged(&self, place: Place, name: &str) -> Option<&ElementTag> {
        let from = match place {
            Place::Part(n) => self.starts.get(n).copied().unwrap_or(0),
            _ => 0,
        };
        let mut tags = self.tags()[from..].iter();
        tags.find(|l| l.place == place && l.name == name)
    }
}

/// Names of the paths beside a conductor at its two ends.
pub const STRAYS: [&str; 2] = ["stray", "far stray"];

/// One constellation of the halves of what goes to and fro.
#[derive(Debug, Clone)]
pub struct Wave {
    /// Share of the time.
    pub share: f64,
    /// What goes to and fro, and whether it is in its upper half.
    pub halves: Vec<(Alternation, bool)>,
    pub op: Solution,
}
