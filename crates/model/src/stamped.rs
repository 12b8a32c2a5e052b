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

/// Netlist and lines of one circuit in one state.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct StampedNetlist {
    pub net: Netlist,
    /// Shared with other netlists that have the same.
    pub tags: Arc<Vec<ElementTag>>,
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
            tags: Arc::new(Vec::with_capacity(2 * circuit.conductors.len())),
            motion: Motion::default(),
            starts: Vec::with_capacity(circuit.parts.len()),
        };
        out.net.reserve_nodes(circuit.nodes.len());
        out.net.reserve(2 * circuit.conductors.len());
        out
    }

    /// Gives back the room that was made for more.
    pub fn shrink_to_fit(&mut self) {
        self.net.shrink_to_fit();
        if let Some(own) = Arc::get_mut(&mut self.tags) {
            own.shrink_to_fit();
        }
        self.starts.shrink_to_fit();
    }

    /// Has it share what its elements are with the netlist before it that had the same, one of the last few.
    pub fn share(&mut self, kept: &mut VecDeque<Arc<Vec<ElementTag>>>) {
        match kept.iter().position(|tags| **tags == *self.tags) {
            Some(at) => {
                self.tags = Arc::clone(&kept[at]);
                kept.swap(0, at);
            }
            None => {
                kept.truncate(KEPT_TAGS - 1);
                kept.push_front(Arc::clone(&self.tags));
            }
        }
    }

    /// What is added from here on belongs to the next part.
    pub fn begin_part(&mut self) {
        self.starts.push(self.tags.len());
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
        Arc::make_mut(&mut self.tags).push(ElementTag {
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
        Arc::make_mut(&mut self.tags).push(ElementTag {
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
        let mut tags = self.tags[from..].iter();
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
