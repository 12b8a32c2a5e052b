//! What a part sees of the bench while it stamps, answers and is looked at.

use std::ops::Deref;

use cimento_solver::{Element, ElementId, Node, Shape, Solution, Switch, Trigger};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::PartState;
use crate::circuit::{Part, Place};
use crate::faults::Fault;
use crate::stamped::{ElementTag, Role, StampedNetlist, Wave};
use crate::state::OperatingState;
use crate::strokes::Strokes;

/// A part in its present state, with the faults that are active in it.
#[derive(Clone, Copy)]
pub struct Context<'a> {
    pub index: usize,
    pub part: &'a Part,
    pub state: PartState,
    pub operating: &'a OperatingState,
    pub faults: &'a [Fault],
    /// Speed of the crankshaft, in revolutions per minute.
    pub rpm: f64,
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

    /// Whether what lies behind a terminal has failed in a mode.
    pub fn pin_fault(&self, terminal: usize, mode: &str) -> bool {
        let here = |place: Place| matches!(place, Place::Pin(part, t) if part == self.index && t == terminal);
        let mut faults = self.faults.iter();
        faults.any(|f| here(f.place) && f.mode.name() == mode)
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

/// The crankshaft turning while a machine is looked at in time. At 0° cylinder 1 fires.
#[derive(Debug, Clone, PartialEq)]
pub struct Turning {
    pub rpm: f64,
    /// Where it is at the start, in degrees.
    pub from_deg: f64,
    /// Length of the look, in seconds.
    pub until_s: f64,
    pub strokes: Strokes,
    /// Density of the gas in a sound cylinder as it fires, beside open air, and over its exhaust and
    /// intake.
    pub compression_density: f64,
    pub exhaust_density: f64,
    /// How well each cylinder squeezes its gas, in the order of firing: 1 for a sound one.
    pub compression: Vec<f64>,
}

/// A cylinder of the engine.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Cylinder {
    /// From 1.
    pub number: usize,
    /// 2 or 4.
    pub strokes: usize,
}

impl Turning {
    /// Seconds for so many degrees of the crankshaft.
    pub fn seconds(&self, degrees: f64) -> f64 {
        degrees / (6.0 * self.rpm)
    }

    /// The instants at which the crankshaft is at `at_deg`, and every `every_deg` from there, in
    /// seconds; the last before the start and the first after the end are among them.
    pub fn instants(&self, at_deg: f64, every_deg: f64) -> Vec<f64> {
        let first = (at_deg - self.from_deg).rem_euclid(every_deg) - every_deg;
        let count = (self.until_s / self.seconds(every_deg)) as usize + 3;
        (0..count)
            .map(|n| self.seconds(first + every_deg * n as f64))
            .collect()
    }

    /// A schedule of a contact that is closed over `closed_deg` before each opening at `open_deg` and
    /// every `every_deg` from there: whether it is closed at the start, and when it changes.
    pub fn contact(&self, open_deg: f64, every_deg: f64, closed_deg: f64) -> (bool, Vec<f64>) {
        let closed_s = self.seconds(closed_deg);
        let (mut closed, mut changes) = (false, Vec::new());
        for open_s in self.instants(open_deg, every_deg) {
            for (at_s, now_closed) in [(open_s - closed_s, true), (open_s, false)] {
                if at_s > 0.0 {
                    changes.push(at_s);
                } else {
                    closed = now_closed;
                }
            }
        }
        (closed, changes)
    }
}

/// A current on which the ripple of a generator rides.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Riding {
    /// What a generator sends in this solve; what a source takes on the mean.
    pub amps: f64,
    /// Mean distance of what a generator sends from its mean, in amperes; 0 of a source.
    pub ripple_a: f64,
    /// How often the ripple comes in a second.
    pub hz: f64,
}

/// A part writing its elements.
pub struct Stamp<'a> {
    pub context: Context<'a>,
    pub wiring: &'a mut StampedNetlist,
    /// Motors find their balance instead of holding their speed.
    pub balanced: bool,
    /// What goes to and fro is in the upper half of its period.
    pub up: bool,
    /// What the part carries while the ripple of a generator is looked at.
    pub riding: Option<Riding>,
    /// The machine is looked at in time.
    pub turning: Option<&'a Turning>,
}

impl<'a> Deref for Stamp<'a> {
    type Target = Context<'a>;

    fn deref(&self) -> &Context<'a> {
        &self.context
    }
}

impl<'a> Stamp<'a> {
    /// The node of a terminal, by its position in the kind's table.
    pub fn node(&self, terminal: usize) -> Node {
        self.wiring.node(self.context.part.nodes[terminal])
    }

    /// A node inside the part that no probe reaches.
    pub fn internal(&mut self) -> Node {
        self.wiring.net.node()
    }

    /// Adds an element under a name that [`Look`] finds again.
    pub fn add(&mut self, name: &'static str, role: Role, element: Element) -> ElementId {
        let place = Place::Part(self.context.index);
        self.wiring.add(place, name, role, element)
    }

    /// The crankshaft, when the machine is looked at in time.
    pub fn turning(&self) -> Option<&'a Turning> {
        self.turning
    }

    /// A branch that a trigger closes and opens in time: `ohms` and `volts` count while it is closed.
    /// At an operating point it is as it is at the start.
    pub fn switched(
        &mut self,
        name: &'static str,
        role: Role,
        (a, b): (Node, Node),
        (ohms, volts): (f64, f64),
        (closed, trigger): (bool, Trigger),
    ) {
        let now = if closed {
            Element::source(a, b, volts, ohms)
        } else {
            Element::open(a, b)
        };
        let element = self.add(name, role, now);
        if self.turning.is_some() {
            self.wiring.motion.switches.push(Switch {
                element,
                closed,
                ohms,
                volts,
                trigger,
            });
        }
    }

    /// Lets a source follow a shape in time.
    pub fn follows(&mut self, element: ElementId, shape: Shape) {
        if self.turning.is_some() {
            self.wiring.motion.shapes.push((element, shape));
        }
    }

    /// Lets two windings share their flux.
    pub fn couple(&mut self, first: ElementId, second: ElementId, coupling: f64) {
        self.wiring.net.couple(first, second, coupling);
    }

    /// Says that a node is insulated for kilovolts.
    pub fn insulate(&mut self, node: Node) {
        self.wiring.net.insulate(node);
    }

    /// A contact between two terminals.
    pub fn contact(&mut self, name: &'static str, (a, b): (usize, usize), ohms: f64) {
        let element = Element::resistor(self.node(a), self.node(b), ohms);
        self.add(name, Role::Contact, element);
    }

    /// What a generator is to send, or what a source takes on the mean, while ripple is looked at.
    pub fn riding(&self) -> Option<Riding> {
        self.riding
    }

    /// Whether a part that goes to and fro is in the upper half of its period.
    pub fn up(&self) -> bool {
        self.up
    }

    /// Whether motors find their balance in this solve.
    pub fn balanced(&self) -> bool {
        self.balanced
    }
}

/// A part looking at a solution.
#[derive(Clone, Copy)]
pub struct Look<'a> {
    pub context: Context<'a>,
    pub wiring: &'a StampedNetlist,
    /// The mean over what goes to and fro.
    pub op: &'a Solution,
    pub waves: &'a [Wave],
}

impl<'a> Deref for Look<'a> {
    type Target = Context<'a>;

    fn deref(&self) -> &Context<'a> {
        &self.context
    }
}

impl Look<'_> {
    /// Current through one of the part's elements, in amperes; none when it is not stamped as the part
    /// stands.
    pub fn current_if_there(&self, name: &str) -> Option<f64> {
        let place = Place::Part(self.context.index);
        let line = self.wiring.tagged(place, name);
        line.map(|line| self.op.current(line.element))
    }

    /// Voltage across one of the part's elements, in volts; none when it is not stamped as the part stands.
    pub fn across_if_there(&self, name: &str) -> Option<f64> {
        let (a, b) = self.nodes(name)?;
        Some(self.op.between(a, b))
    }

    /// Current through an element of the part, in amperes; 0 while the part is out. A name that no element
    /// has is a mistake of the part's file, which any test that settles such a part finds.
    pub fn current(&self, name: &str) -> f64 {
        let found = self.current_if_there(name);
        debug_assert!(found.is_some() || self.is_out(), "no element {name}");
        found.unwrap_or(0.0)
    }

    /// Voltage across an element of the part, in volts; as [`Look::current`].
    pub fn across(&self, name: &str) -> f64 {
        let found = self.across_if_there(name);
        debug_assert!(found.is_some() || self.is_out(), "no element {name}");
        found.unwrap_or(0.0)
    }

    /// Nothing of the part itself is stamped.
    fn is_out(&self) -> bool {
        let place = Place::Part(self.context.index);
        let own = |tag: &ElementTag| tag.place == place && tag.role != Role::Stray;
        !self.wiring.tags().iter().any(own)
    }

    /// How far the voltage across one of the part's elements swings over what goes to and fro, in
    /// volts.
    pub fn swing(&self, name: &str) -> f64 {
        let Some((a, b)) = self.nodes(name) else {
            return 0.0;
        };
        let volts = self.waves.iter().map(|w| w.op.between(a, b));
        let (least, most) = volts.fold((f64::INFINITY, f64::NEG_INFINITY), |(l, m), v| {
            (l.min(v), m.max(v))
        });
        (most - least).max(0.0)
    }

    fn nodes(&self, name: &str) -> Option<(Node, Node)> {
        let line = self.wiring.tagged(Place::Part(self.context.index), name)?;
        Some(self.wiring.net.element(line.element).nodes())
    }

    /// Speed of one of the part's motors, in rad/s.
    pub fn speed(&self, name: &str) -> f64 {
        let place = Place::Part(self.context.index);
        let line = self.wiring.tagged(place, name);
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
    pub level: u64,
    /// Share of life used up per second while it waits, for what melts.
    pub wear_per_s: f64,
}

impl Change {
    /// A change that wears nothing.
    pub fn to(level: u64, after_s: f64) -> Self {
        Self {
            after_s,
            level,
            wear_per_s: 0.0,
        }
    }
}

/// What a person notices, in an order of telling: how the machine cranks comes before a lamp.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum NoticeKind {
    Cranking,
    /// How the engine fires.
    Firing,
    Sound,
    /// What is smelt and seen of hot wires.
    Smoke,
    /// What standing with everything off does to it.
    Standing,
    Charging,
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
