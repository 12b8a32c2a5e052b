//! The circuit: its document, and the checked form everything else works with.

mod cautions;
mod document;
mod drawing;
mod findings;
mod harness;
mod mend;
mod paths;
mod place;
mod problem;
mod reach;
mod wire_list;

use std::collections::HashMap;
use std::sync::OnceLock;

pub use cautions::{Caution, DEFER, Danger, DangerousAct};
pub use document::{
    CircuitDoc, ConnectorDoc, FORMAT, GroundDoc, LeadKind, PartDoc, SpliceDoc, SpliceJoint,
    VERSION, WireDoc,
};
pub use drawing::{
    Drawing, DrawnCavity, DrawnConnector, DrawnGround, DrawnPart, DrawnPoint, DrawnTerminal,
    DrawnWire,
};
pub use harness::{HarnessRun, write_harness_sheet};
pub use mend::{Mend, Offer};
pub use paths::{CurrentPath, PathStop};
pub use place::{Conductor, ConductorKind, ModeInfo, Place, PlaceInfo, SeverityInfo, SeverityUnit};
pub use problem::{Problem, Refused, Severity, read_json};
pub use wire_list::{read_wire_list, write_wire_list};

use crate::part::{Params, PartKind, Terminal};

/// A checked circuit. Nodes are numbered; node 0 is the first battery's negative post.
pub struct Circuit {
    pub doc: CircuitDoc,
    /// Names of the nodes, by number.
    pub nodes: Vec<String>,
    node_of: HashMap<String, usize>,
    /// The test point of each node, by position in `test_points`.
    point_of: Vec<Option<usize>>,
    paths: OnceLock<Vec<CurrentPath>>,
    pub parts: Vec<Part>,
    /// Wires, cavities, splices, grounds and mounts: everything that only conducts.
    pub conductors: Vec<Conductor>,
    pub test_points: Vec<TestPoint>,
    /// What an instructor should look at; never a reason to refuse.
    pub warnings: Vec<Problem>,
}

/// What a document was found to say, before it is a circuit.
pub struct Skeleton {
    pub nodes: Vec<String>,
    pub node_of: HashMap<String, usize>,
    pub parts: Vec<Part>,
    pub conductors: Vec<Conductor>,
    pub test_points: Vec<TestPoint>,
}

/// A part of a checked circuit.
pub struct Part {
    pub id: String,
    pub name: String,
    /// Another part has the same name.
    pub shares_name: bool,
    pub kind: &'static dyn PartKind,
    pub params: Params,
    /// Node of each terminal, in the kind's order.
    pub nodes: Vec<usize>,
    /// Whether a wire, cavity or mounting face meets each terminal.
    pub wired: Vec<bool>,
    /// Name of its knob or lever, if the document gives one.
    pub control: Option<String>,
    pub reach_minutes: f64,
}

/// A place a probe can reach.
#[derive(Debug, Clone, PartialEq)]
pub struct TestPoint {
    /// `K3.86`, `C12.4f`, `G1`, `metal:engine`.
    pub id: String,
    pub node: usize,
    /// What the probe touches: "post", "back of cavity".
    pub about: String,
    /// Minutes to reach it.
    pub reach_minutes: f64,
}

impl Part {
    /// Its name, with its id where another part has the same.
    pub fn title(&self) -> String {
        self.with_id(&self.name)
    }

    /// The same within a sentence.
    pub fn called(&self) -> String {
        self.with_id(&self.name.to_lowercase())
    }

    fn with_id(&self, name: &str) -> String {
        match self.shares_name {
            true => format!("{name} {}", self.id),
            false => name.to_owned(),
        }
    }

    /// Whether another is of its kind and rating, wherever either sits.
    pub fn is_like(&self, other: &Self) -> bool {
        let kind = self.kind;
        kind.kind() == other.kind.kind() && self.params.same_but_for(&other.params, kind.sits_by())
    }

    /// Whether there is a known-good one on the shelf to try in its place.
    pub fn is_tried_by_another(&self) -> bool {
        self.kind.mechanics().is_none()
    }

    /// Whether something meets a terminal, by position.
    pub fn is_wired(&self, terminal: usize) -> bool {
        self.wired[terminal]
    }

    /// The terminals that the part has, with their nodes.
    pub fn terminals(&self) -> impl Iterator<Item = (&'static Terminal, usize)> + '_ {
        let all = self.kind.terminals().iter().zip(&self.nodes).enumerate();
        let there = all.filter(|(n, _)| self.kind.has_terminal(&self.params, *n));
        there.map(|(_, (t, node))| (t, *node))
    }

    /// Pairs of terminals between which it consumes, by position and with their names.
    pub fn loads(&self) -> Vec<(usize, usize)> {
        let at = |name: &str| self.kind.terminals().iter().position(|t| t.name == name);
        let pairs = self.kind.loads().iter();
        let named = pairs.filter_map(|(a, b)| Some((at(a)?, at(b)?)));
        named.chain(self.kind.own_load(&self.params)).collect()
    }
}

impl Circuit {
    /// Puts together what a document was found to say.
    pub fn assembled(doc: CircuitDoc, skeleton: Skeleton) -> Self {
        let Skeleton {
            nodes,
            node_of,
            parts,
            conductors,
            test_points,
        } = skeleton;
        let point_of = (0..nodes.len())
            .map(|node| test_points.iter().position(|p| p.node == node))
            .collect();
        let mut circuit = Self {
            test_points,
            point_of,
            paths: OnceLock::new(),
            nodes,
            node_of,
            doc,
            parts,
            conductors,
            warnings: Vec::new(),
        };
        circuit.warnings = findings::findings(&circuit);
        circuit
    }

    /// The node a name stands for: a terminal, a cavity side, a splice, a ground or a metal.
    pub fn node(&self, name: &str) -> Option<usize> {
        self.node_of.get(name).copied()
    }

    /// The part with an id.
    pub fn part(&self, id: &str) -> Option<usize> {
        self.parts.iter().position(|p| p.id == id)
    }

    /// The test point with an id.
    pub fn test_point(&self, id: &str) -> Option<&TestPoint> {
        self.test_points.iter().find(|t| t.id == id)
    }

    /// The test point at a node, if a probe can reach it.
    pub fn point_at(&self, node: usize) -> Option<&TestPoint> {
        self.point_of[node].map(|n| &self.test_points[n])
    }

    /// Positive post of the first battery, by node.
    pub fn positive(&self) -> usize {
        let battery = self.parts.iter().find(|p| p.kind.is_source());
        battery.map_or(0, |b| b.nodes[0])
    }

    /// Name of the positive post of the first battery.
    pub fn positive_name(&self) -> &str {
        &self.nodes[self.positive()]
    }
}
