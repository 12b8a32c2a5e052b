//! Handles of what a netlist is made of.

/// A junction. Node 0 is zero volts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Node(pub(crate) usize);

impl Node {
    /// The node's position: 0 is zero volts, others count up in the order they were made.
    pub fn index(self) -> usize {
        self.0
    }
}

/// An element's position in its netlist.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct ElementId(pub(crate) usize);

impl ElementId {
    /// Position in [`Netlist::elements`].
    pub fn index(self) -> usize {
        self.0
    }
}
