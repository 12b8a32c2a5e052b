//! Nodes and elements: the circuit as the solver sees it.

use crate::elements::Element;
use crate::node::{ElementId, Node};

/// A circuit: a number of nodes and the elements between them.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Netlist {
    nodes: usize,
    elements: Vec<Element>,
    /// From here on, elements were attached.
    attached: Option<usize>,
    /// Pairs of inductors with the inductance they have in common, in henries.
    couplings: Vec<(ElementId, ElementId, f64)>,
    /// Nodes with an insulation that holds kilovolts.
    insulated: Vec<Node>,
}

impl Netlist {
    /// A netlist that holds the zero node and nothing else.
    pub fn new() -> Self {
        Self {
            nodes: 1,
            elements: Vec::new(),
            attached: None,
            couplings: Vec::new(),
            insulated: Vec::new(),
        }
    }

    /// The node at zero volts.
    pub fn zero(&self) -> Node {
        Node(0)
    }

    /// Makes a new node.
    pub fn node(&mut self) -> Node {
        self.nodes += 1;
        Node(self.nodes - 1)
    }

    /// Every node but the one at zero volts.
    pub fn nodes(&self) -> impl Iterator<Item = Node> + use<> {
        (1..self.nodes).map(Node)
    }

    /// Makes nodes up to and including position `last`, for callers that number their own.
    pub fn reserve_nodes(&mut self, count: usize) {
        self.nodes = self.nodes.max(count);
    }

    /// Makes room for elements that are going to be added.
    pub fn reserve(&mut self, elements: usize) {
        self.elements.reserve(elements);
    }

    /// Gives back the room that was made for more.
    pub fn shrink_to_fit(&mut self) {
        self.elements.shrink_to_fit();
    }

    /// The node at a position made before, or `None`.
    pub fn node_at(&self, index: usize) -> Option<Node> {
        (index < self.nodes).then_some(Node(index))
    }

    /// How many nodes there are, zero included.
    pub fn node_count(&self) -> usize {
        self.nodes
    }

    /// Adds an element and gives its handle.
    pub fn add(&mut self, element: Element) -> ElementId {
        self.elements.push(element);
        ElementId(self.elements.len() - 1)
    }

    /// Lets two inductors share a part of their flux: `coupling` is 0 to 1, positive when both currents
    /// that enter at the first node help each other. It matters in time only.
    pub fn couple(&mut self, first: ElementId, second: ElementId, coupling: f64) {
        if let (Element::Inductor { henries: one, .. }, Element::Inductor { henries: two, .. }) =
            (self.element(first), self.element(second))
        {
            let mutual = coupling * (one * two).sqrt();
            self.couplings.push((first, second, mutual));
        }
    }

    /// Pairs of inductors with the inductance they have in common, in henries.
    pub fn couplings(&self) -> &[(ElementId, ElementId, f64)] {
        &self.couplings
    }

    /// Marks a node whose insulation holds kilovolts: in time it leaks through
    /// [`crate::INSULATION_OHMS`] only.
    pub fn insulate(&mut self, node: Node) {
        self.insulated.push(node);
    }

    /// Nodes whose insulation holds kilovolts.
    pub fn insulated(&self) -> &[Node] {
        &self.insulated
    }

    /// Attaches an element between nodes that are there already, as one holds a meter to a circuit:
    /// the factorisation of what was there before is used again. Nothing can be added afterwards
    /// except by attaching. A branch needs some resistance to be attached.
    pub fn attach(&mut self, element: Element) -> ElementId {
        self.attached.get_or_insert(self.elements.len());
        self.elements.push(element);
        ElementId(self.elements.len() - 1)
    }

    /// The elements that make up the matrix and its ports, without what was attached.
    pub(crate) fn own(&self) -> &[Element] {
        &self.elements[..self.attached.unwrap_or(self.elements.len())]
    }

    /// Whether the element at a position lies at a port.
    pub(crate) fn is_port(&self, index: usize) -> bool {
        self.attached.is_some_and(|first| index >= first) || self.elements[index].is_port()
    }

    /// Replaces an element's values; its nodes may change too, at the cost of a new factorisation.
    pub fn set(&mut self, id: ElementId, element: Element) {
        self.elements[id.0] = element;
    }

    /// The element behind a handle.
    pub fn element(&self, id: ElementId) -> &Element {
        &self.elements[id.0]
    }

    /// The handle of the element at a position, or `None`.
    pub fn id_at(&self, index: usize) -> Option<ElementId> {
        (index < self.elements.len()).then_some(ElementId(index))
    }

    /// All elements in the order they were added.
    pub fn elements(&self) -> &[Element] {
        &self.elements
    }
}
