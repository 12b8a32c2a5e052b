//! What changes by itself while time passes: switches, gaps, sources that follow a shape.

use crate::elements::Element;
use crate::netlist::Netlist;
use crate::node::{ElementId, Node};
use crate::solution::Solution;

/// Everything in a netlist that moves.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Motion {
    pub switches: Vec<Switch>,
    /// Branches whose voltage follows a shape.
    pub shapes: Vec<(ElementId, Shape)>,
}

impl Motion {
    /// The nodes whose voltages its switches look at.
    pub(super) fn looks_at(&self, net: &Netlist) -> Vec<Node> {
        let mut out = Vec::new();
        for switch in &self.switches {
            let (a, b) = net.element(switch.element).nodes();
            out.extend([a, b]);
            match switch.trigger {
                Trigger::Voltage { plus, minus, .. } => out.extend([plus, minus]),
                Trigger::Thyristor { gate, cathode, .. } => out.extend([gate, cathode]),
                Trigger::Schedule(_) | Trigger::Gap { .. } | Trigger::Rectifier => {}
            }
        }
        out
    }
}

/// A branch that opens and closes.
#[derive(Debug, Clone, PartialEq)]
pub struct Switch {
    pub element: ElementId,
    /// Whether it is closed at the start.
    pub closed: bool,
    /// Resistance in ohms and voltage of the closed branch.
    pub ohms: f64,
    pub volts: f64,
    pub trigger: Trigger,
}

/// What opens and closes a switch.
#[derive(Debug, Clone, PartialEq)]
pub enum Trigger {
    /// It changes at each of these instants after the start, in seconds, soonest first.
    Schedule(Vec<f64>),
    /// It closes when the voltage from `plus` to `minus` rises over `close_v` and opens when it falls
    /// under `open_v`; after each change it takes no notice for `rests_s` seconds.
    Voltage {
        plus: Node,
        minus: Node,
        close_v: f64,
        open_v: f64,
        rests_s: f64,
    },
    /// A spark gap: it breaks down at so many volts of either sign, and its arc, of the switch's own
    /// volts and ohms, goes out when less than `hold_a` flows. It then holds off for `rests_s` seconds,
    /// while what is left of the arc clears away. Where what lies in it changes with time, `in_time` says
    /// the volts in place of `breakdown_v`.
    Gap {
        breakdown_v: f64,
        in_time: Option<Shape>,
        hold_a: f64,
        rests_s: f64,
    },
    /// A rectifier: it conducts from `a` to `b` once the switch's own volts stand across it, and stops
    /// as its current would turn back.
    Rectifier,
    /// A thyristor: it fires when the gate stands `gate_v` over the cathode while the anode is
    /// positive, and lets go once the gate is down and less than `hold_a` flows.
    Thyristor {
        gate: Node,
        cathode: Node,
        gate_v: f64,
        hold_a: f64,
    },
}

/// How a source follows time.
#[derive(Debug, Clone, PartialEq)]
pub enum Shape {
    /// `volts·sin(2π·hz·t + phase)`, phase in radians.
    Sine { volts: f64, hz: f64, phase: f64 },
    /// Straight lines between points of seconds and volts, over and over; the last point ends the
    /// period. `phase_s` is how far into it the start is.
    Lines {
        points: Vec<(f64, f64)>,
        phase_s: f64,
    },
}

/// A switch that changed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Flip {
    pub at_s: f64,
    /// Position in [`Motion::switches`].
    pub switch: usize,
    pub closed: bool,
}

impl Shape {
    /// The most volts it comes to.
    pub fn most(&self) -> f64 {
        match self {
            Self::Sine { volts, .. } => volts.abs(),
            Self::Lines { points, .. } => {
                let volts = points.iter().map(|p| p.1);
                volts.fold(f64::NEG_INFINITY, f64::max)
            }
        }
    }

    /// Volts at an instant.
    pub fn volts(&self, at_s: f64) -> f64 {
        match self {
            Self::Sine { volts, hz, phase } => {
                volts * (std::f64::consts::TAU * hz * at_s + phase).sin()
            }
            Self::Lines { points, phase_s } => {
                let period = points.last().map_or(1.0, |p| p.0);
                let at = (at_s + phase_s).rem_euclid(period);
                let after = points.iter().position(|p| p.0 > at);
                match after {
                    Some(n) if n > 0 => {
                        let ((t0, v0), (t1, v1)) = (points[n - 1], points[n]);
                        v0 + (v1 - v0) * (at - t0) / (t1 - t0)
                    }
                    Some(n) => points[n].1,
                    None => points.last().map_or(0.0, |p| p.1),
                }
            }
        }
    }
}

impl Switch {
    /// Over 0 when it wants to change, given what is there now.
    pub(super) fn wants(
        &self,
        (closed, sign): (bool, f64),
        at_s: f64,
        net: &Netlist,
        now: &Solution,
    ) -> f64 {
        let (a, b) = net.element(self.element).nodes();
        let (v, i) = (now.between(a, b), now.current(self.element));
        match &self.trigger {
            Trigger::Schedule(_) => -1.0,
            &Trigger::Voltage {
                plus,
                minus,
                close_v,
                open_v,
                ..
            } => {
                let control = now.between(plus, minus);
                if closed {
                    open_v - control
                } else {
                    control - close_v
                }
            }
            Trigger::Gap { hold_a, .. } if closed => hold_a - sign * i,
            Trigger::Gap {
                breakdown_v,
                in_time,
                ..
            } => v.abs() - in_time.as_ref().map_or(*breakdown_v, |s| s.volts(at_s)),
            Trigger::Rectifier if closed => -i,
            Trigger::Rectifier => v - self.volts,
            // While its gate is held up it conducts whatever flows: a coil's current begins at nothing.
            &Trigger::Thyristor {
                gate,
                cathode,
                gate_v,
                hold_a,
            } if closed => (hold_a - i).min(gate_v - now.between(gate, cathode)),
            &Trigger::Thyristor {
                gate,
                cathode,
                gate_v,
                ..
            } => (now.between(gate, cathode) - gate_v).min(v - self.volts - 0.1),
        }
    }

    /// The instant of its schedule at a position.
    pub(super) fn instant(&self, position: usize) -> Option<f64> {
        match &self.trigger {
            Trigger::Schedule(at) => at.get(position).copied(),
            _ => None,
        }
    }
}

/// Takes out of a netlist what is slow beside a spark: motors keep their speed, regulators their
/// current and filaments their heat, all as `op` has them.
pub fn held(net: &Netlist, op: &Solution) -> Netlist {
    let mut out = net.clone();
    for (n, element) in net.elements().iter().enumerate() {
        let id = ElementId(n);
        let (a, b) = element.nodes();
        let quick = match *element {
            Element::Motor { ohms, k, .. } => Element::source(a, b, k * op.speed(id), ohms),
            Element::Regulator { .. } => Element::CurrentSource {
                a,
                b,
                amps: op.current(id),
            },
            Element::Filament { .. } => {
                let v = op.between(a, b);
                let (i, slope) = element.law(v);
                Element::Conductance {
                    a,
                    b,
                    siemens: if v.abs() > 1e-6 { i / v } else { slope },
                }
            }
            _ => continue,
        };
        out.set(id, quick);
    }
    out
}
