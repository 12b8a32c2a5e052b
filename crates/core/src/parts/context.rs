//! What a part sees of the bench while it stamps, answers and is looked at.

use std::ops::Deref;

use cimento_solver::{Element, Node, Solution};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::PartState;
use crate::bench::{OperatingState, Role, Wiring};
use crate::circuit::{Part, Place};
use crate::faults::Fault;

/// A part in its present state, with the faults that are active in it.
#[derive(Clone, Copy)]
pub struct Context<'a> {
    pub index: usize,
    pub part: &'a Part,
    pub state: PartState,
    pub operating: &'a OperatingState,
    pub faults: &'a [Fault],
}

impl Context<'_> {
    /// A parameter, in the unit its name says.
    pub fn param(&self, name: &str) -> f64 {
        self.part.params.number(name)
    }

    /// The severity of a mode if it is active, 0 for a mode that has none.
    pub fn fault(&self, mode: &str) -> Option<f64> {
        let here = Place::Part(self.index);
        let found = self
            .faults
            .iter()
            .find(|f| f.place == here && f.mode.name() == mode);
        found.map(|f| f.mode.severity().unwrap_or(0.0))
    }

    /// Resistance of a contact: infinite when open by state or by the mode `open`, increased by
    /// the mode `worn`.
    pub fn contact_ohms(&self, closed: bool, healthy: f64, open: &str, worn: &str) -> f64 {
        if !closed || self.fault(open).is_some() {
            f64::INFINITY
        } else {
            healthy + self.fault(worn).unwrap_or(0.0)
        }
    }

    /// Position of the part's control, by the kind's own name for it.
    pub fn control(&self, kinds_own: &str) -> &str {
        self.operating
            .control(self.part.control.as_deref().unwrap_or(kinds_own))
    }
}

/// A part writing its elements.
pub struct Stamp<'a> {
    pub(crate) context: Context<'a>,
    pub(crate) wiring: &'a mut Wiring,
    /// Motors find their balance instead of holding their speed.
    pub(crate) balanced: bool,
}

impl<'a> Deref for Stamp<'a> {
    type Target = Context<'a>;

    fn deref(&self) -> &Context<'a> {
        &self.context
    }
}

impl Stamp<'_> {
    /// The node of a terminal, by its position in the kind's table.
    pub fn node(&self, terminal: usize) -> Node {
        self.wiring.node(self.context.part.nodes[terminal])
    }

    /// A node inside the part that no probe reaches.
    pub fn internal(&mut self) -> Node {
        self.wiring.net.node()
    }

    /// Adds an element under a name that [`Look`] finds again.
    pub fn add(&mut self, name: &'static str, role: Role, element: Element) {
        let place = Place::Part(self.context.index);
        self.wiring.add(place, name, role, element);
    }

    /// A contact between two terminals.
    pub fn contact(&mut self, name: &'static str, (a, b): (usize, usize), ohms: f64) {
        let element = Element::resistor(self.node(a), self.node(b), ohms);
        self.add(name, Role::Contact, element);
    }

    /// Whether motors find their balance in this solve.
    pub fn balanced(&self) -> bool {
        self.balanced
    }
}

/// A part looking at a solution.
#[derive(Clone, Copy)]
pub struct Look<'a> {
    pub(crate) context: Context<'a>,
    pub(crate) wiring: &'a Wiring,
    pub(crate) op: &'a Solution,
}

impl<'a> Deref for Look<'a> {
    type Target = Context<'a>;

    fn deref(&self) -> &Context<'a> {
        &self.context
    }
}

impl Look<'_> {
    /// Current through one of the part's elements, in amperes; 0 when it is not there.
    pub fn current(&self, name: &str) -> f64 {
        let place = Place::Part(self.context.index);
        let line = self.wiring.line(place, name);
        line.map_or(0.0, |line| self.op.current(line.element))
    }

    /// Speed of one of the part's motors, in rad/s.
    pub fn speed(&self, name: &str) -> f64 {
        let place = Place::Part(self.context.index);
        let line = self.wiring.line(place, name);
        line.map_or(0.0, |line| self.op.speed(line.element))
    }

    /// Voltage between two terminals, by position, in volts.
    pub fn voltage(&self, a: usize, b: usize) -> f64 {
        let node = |t: usize| self.wiring.node(self.context.part.nodes[t]);
        self.op.between(node(a), node(b))
    }
}

/// A change of state that a part will make if nothing stops it before.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Change {
    /// Seconds from now.
    pub after_s: f64,
    pub level: u8,
    /// Share of life used up per second while it waits, for what melts.
    pub wear_per_s: f64,
}

/// What a person notices, in an order of telling: how the machine cranks comes before a lamp.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum NoticeKind {
    Cranking,
    Sound,
    Light,
    Blown,
}

/// One thing noticed at the machine.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Notice {
    pub kind: NoticeKind,
    /// Id of the part.
    pub part: String,
    /// "cranks at 190 rpm", "one click from the starter".
    pub text: String,
    /// A word that stays the same while figures move: two machines with equal signs behave alike.
    pub sign: String,
    /// It can only be seen by looking closely at the part, not from the seat.
    pub hidden: bool,
}
