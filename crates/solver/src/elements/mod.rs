//! The elements and how each enters the equations.

mod diode;
mod filament;
mod motor;
mod regulator;

pub use filament::filament_ohms;

use crate::node::Node;
use crate::stamper::Stamper;

/// One element between two nodes. Current counts from `a` to `b`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Element {
    /// A series branch with its current as an unknown: `v(a) − v(b) − ohms·i = volts`.
    /// Infinite `ohms` is an open branch (`i = 0`); with `volts` it is a source.
    Branch {
        a: Node,
        b: Node,
        ohms: f64,
        volts: f64,
    },
    /// A capacitor: `i = farads·dv/dt`. At an operating point it is open.
    Capacitor { a: Node, b: Node, farads: f64 },
    /// An inductor: `v = henries·di/dt`. At an operating point it is a short.
    Inductor { a: Node, b: Node, henries: f64 },
    /// A parallel path: `i = siemens·(v(a) − v(b))`.
    Conductance { a: Node, b: Node, siemens: f64 },
    /// A current driven from `a` to `b` through the element, in amperes.
    CurrentSource { a: Node, b: Node, amps: f64 },
    /// Anode `a`, cathode `b`: `i = saturation_a·(exp(v/(emission·vt)) − 1)`.
    Diode {
        a: Node,
        b: Node,
        saturation_a: f64,
        emission: f64,
    },
    /// A lamp's filament in thermal balance, see [`filament_ohms`].
    Filament {
        a: Node,
        b: Node,
        rated_v: f64,
        hot_ohms: f64,
        cold_ohms: f64,
    },
    /// Sends a current from `a` to `b` that holds `v(plus) − v(minus)` at `volts − ohms·i`. With
    /// infinite `ohms` it has reached its limit, or is off, and sends `amps` whatever happens.
    Regulator {
        a: Node,
        b: Node,
        plus: Node,
        minus: Node,
        volts: f64,
        ohms: f64,
        amps: f64,
    },
    /// A DC motor with permanent field: `v = ohms·i + k·speed`.
    Motor {
        a: Node,
        b: Node,
        ohms: f64,
        /// Back EMF per speed and torque per current, V·s/rad = N·m/A.
        k: f64,
        load: Load,
        /// Speed in rad/s at the instant before inertia lets go; `None` finds the speed at which
        /// motor and load are in balance.
        held: Option<f64>,
    },
}

/// What a motor turns: a torque of `static_nm + viscous·speed`, in N·m and N·m·s.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Load {
    pub static_nm: f64,
    pub viscous: f64,
}

/// What stands for no resistance at all, in ohms: it loses 50 µV at the current of a starter.
pub const LEAST_OHMS: f64 = 1e-7;

impl Element {
    /// A resistor whose current is an unknown, so that an open is exact. What has no resistance is given
    /// a tenth of a microhm: two such side by side, or a ring of them, would share their current in any way.
    pub fn resistor(a: Node, b: Node, ohms: f64) -> Self {
        let none = ohms.abs() < LEAST_OHMS;
        Self::Branch {
            a,
            b,
            ohms: if none { LEAST_OHMS } else { ohms },
            volts: 0.0,
        }
    }

    /// An open branch that may later be closed without a new structure.
    pub fn open(a: Node, b: Node) -> Self {
        Self::resistor(a, b, f64::INFINITY)
    }

    /// A voltage source of `volts` from `b` up to `a` behind `ohms`.
    pub fn source(a: Node, b: Node, volts: f64, ohms: f64) -> Self {
        Self::Branch { a, b, ohms, volts }
    }

    /// The element's two nodes.
    pub fn nodes(&self) -> (Node, Node) {
        match *self {
            Self::Branch { a, b, .. }
            | Self::Capacitor { a, b, .. }
            | Self::Inductor { a, b, .. }
            | Self::Conductance { a, b, .. }
            | Self::CurrentSource { a, b, .. }
            | Self::Diode { a, b, .. }
            | Self::Filament { a, b, .. }
            | Self::Regulator { a, b, .. }
            | Self::Motor { a, b, .. } => (a, b),
        }
    }

    /// The nodes whose voltage an element watches beside its own two; zero for most.
    pub(crate) fn watched(&self) -> (Node, Node) {
        match *self {
            Self::Regulator { plus, minus, .. } => (plus, minus),
            _ => (Node(0), Node(0)),
        }
    }

    /// How many unknowns beside node voltages the element brings.
    pub(crate) fn unknowns(&self) -> usize {
        match self {
            Self::Branch { .. }
            | Self::Capacitor { .. }
            | Self::Inductor { .. }
            | Self::Regulator { .. } => 1,
            Self::Motor { .. } => 2,
            _ => 0,
        }
    }

    /// A number that stands for the element's shape in the matrix.
    pub(crate) fn shape(&self) -> u8 {
        match self {
            // What stores energy enters as the branch that stands for it.
            Self::Branch { .. } | Self::Capacitor { .. } | Self::Inductor { .. } => 0,
            Self::Motor { .. } => 1,
            Self::CurrentSource { .. } => 2,
            Self::Conductance { .. } => 3,
            Self::Diode { .. } | Self::Filament { .. } => 4,
            Self::Regulator { .. } => 5,
        }
    }

    /// It lies outside the matrix, at a port of its own.
    pub(crate) fn is_port(&self) -> bool {
        matches!(self, Self::Diode { .. } | Self::Filament { .. })
    }

    /// Whether its numbers are usable: finite, and no negative resistance.
    pub(crate) fn is_sound(&self) -> bool {
        match *self {
            Self::Branch { ohms, volts, .. } => ohms >= 0.0 && volts.is_finite(),
            Self::Conductance { siemens, .. } => siemens >= 0.0 && siemens.is_finite(),
            Self::CurrentSource { amps, .. } => amps.is_finite(),
            Self::Capacitor { farads: size, .. } | Self::Inductor { henries: size, .. } => {
                size > 0.0 && size.is_finite()
            }
            Self::Diode {
                saturation_a,
                emission,
                ..
            } => saturation_a > 0.0 && emission > 0.0 && (saturation_a * emission).is_finite(),
            Self::Filament {
                rated_v,
                hot_ohms,
                cold_ohms,
                ..
            } => rated_v > 0.0 && cold_ohms > 0.0 && hot_ohms >= cold_ohms && hot_ohms.is_finite(),
            Self::Regulator {
                volts, ohms, amps, ..
            } => volts.is_finite() && amps.is_finite() && ohms >= 0.0,
            Self::Motor {
                ohms,
                k,
                load,
                held,
                ..
            } => {
                let numbers = [ohms, k, load.static_nm, load.viscous, held.unwrap_or(0.0)];
                numbers.iter().all(|n| n.is_finite()) && ohms >= 0.0 && load.viscous > 0.0
            }
        }
    }

    /// Writes a linear element; `extra` is its first own unknown. The order of the writes depends
    /// on [`Element::shape`] alone.
    pub(crate) fn stamp(&self, s: &mut impl Stamper, extra: usize) {
        match *self {
            Self::Branch { a, b, ohms, volts } => {
                let (from_v, own, rhs) = if ohms.is_infinite() {
                    (0.0, 1.0, 0.0)
                } else {
                    (1.0, -ohms, volts)
                };
                s.series((a, b), extra, (from_v, own), rhs);
            }
            Self::Capacitor { a, b, .. } => s.series((a, b), extra, (0.0, 1.0), 0.0),
            Self::Inductor { a, b, .. } => s.series((a, b), extra, (1.0, 0.0), 0.0),
            Self::Conductance { a, b, siemens } => s.conductance(a, b, siemens),
            Self::CurrentSource { a, b, amps } => s.current(a, b, amps),
            Self::Regulator {
                a,
                b,
                plus,
                minus,
                volts,
                ohms,
                amps,
            } => regulator::stamp(s, (a, b), (plus, minus), extra, (volts, ohms, amps)),
            Self::Motor {
                a,
                b,
                ohms,
                k,
                load,
                held,
            } => motor::stamp(s, (a, b), extra, (ohms, k), load, held),
            Self::Diode { a, b, .. } | Self::Filament { a, b, .. } => {
                s.conductance(a, b, self.nominal());
            }
        }
    }

    /// The constant conductance that stands for a nonlinear element in the matrix, in siemens; its
    /// port carries the rest. Without it a node that hangs on such elements alone would be held by
    /// its leak only, and digits would be lost; were it much larger, they would be lost where a junction blocks
    /// and only its leak holds the node.
    pub(crate) fn nominal(&self) -> f64 {
        match *self {
            Self::Filament { hot_ohms, .. } => 1.0 / hot_ohms,
            Self::Diode { .. } => 1e-5,
            _ => 0.0,
        }
    }

    /// Current from `a` to `b` and its slope at `v` volts between them, for elements that can lie
    /// at a port. A branch without resistance cannot; it counts as open.
    pub(crate) fn law(&self, v: f64) -> (f64, f64) {
        match *self {
            Self::Conductance { siemens, .. } => (siemens * v, siemens),
            Self::CurrentSource { amps, .. } => (amps, 0.0),
            Self::Branch { ohms, volts, .. } if ohms > 0.0 => ((v - volts) / ohms, 1.0 / ohms),
            Self::Branch { .. }
            | Self::Motor { .. }
            | Self::Regulator { .. }
            | Self::Capacitor { .. }
            | Self::Inductor { .. } => (0.0, 0.0),
            Self::Diode {
                saturation_a,
                emission,
                ..
            } => diode::current(v, saturation_a, emission),
            Self::Filament {
                rated_v,
                hot_ohms,
                cold_ohms,
                ..
            } => filament::current(v, rated_v, hot_ohms, cold_ohms),
        }
    }

    /// Keeps a Newton step from running off an exponential: the next voltage to try.
    pub(crate) fn limit(&self, next: f64, last: f64) -> f64 {
        match *self {
            Self::Diode {
                saturation_a,
                emission,
                ..
            } => diode::limit(next, last, saturation_a, emission),
            _ => next,
        }
    }
}
