//! What only some kinds of part have to say: each a facet that a kind may show.

use super::{Context, Cylinder, Look, Params, PartKind, Ripple};
use crate::circuit::Part;
use crate::state::OperatingState;

/// What makes the spark of a cylinder.
pub trait SparkPlug {
    /// The cylinder it makes the spark of.
    fn cylinder(&self, _params: &Params) -> Option<Cylinder> {
        None
    }
    /// How well its cylinder squeezes its gas with it there, from 0 to 1.
    fn compression(&self, _context: &Context<'_>) -> f64 {
        1.0
    }
    /// What it does, it does in a cylinder, and not in open air.
    fn is_in_cylinder(&self, _part: &Part, _operating: &OperatingState) -> bool {
        true
    }
}

/// What charges a battery.
pub trait Generator {
    /// What rides on the current it sends, if it sends any.
    fn ripple(&self, _look: &Look<'_>) -> Option<Ripple> {
        None
    }
}

/// What turns the engine; its speed is the crankshaft's.
pub trait Cranking {
    /// Speed at which a hand turns the crankshaft with it, in revolutions per minute.
    fn hand_rpm(&self, _part: &Part, _operating: &OperatingState) -> f64 {
        0.0
    }
}

/// What an ignition is to start: it may fail to for reasons of its own.
pub trait Mechanics {
    /// Whether fuel comes to it.
    fn gets_fuel(&self, context: &Context<'_>) -> bool;
    /// How well its cylinders squeeze their gas, from 0 to 1.
    fn compression(&self, context: &Context<'_>) -> f64;
}

/// What brings fuel, or tells what brings it.
pub trait Fuel {
    /// Whether the engine gets fuel by it; `None` for what has nothing to do with fuel.
    fn fuels(&self, _look: &Look<'_>) -> Option<bool> {
        None
    }
    /// Volts at the input where it listens for pulses, if it has one.
    fn hears_v(&self, _look: &Look<'_>) -> Option<f64> {
        None
    }
    /// How many things click when its input jumps by so many volts.
    fn clicks(&self, _look: &Look<'_>, _volts: f64) -> usize {
        0
    }
}

/// What belongs to an ignition.
pub trait Ignition {
    /// Terminals, by position, that carry kilovolts.
    fn high_voltage(&self) -> &'static [usize] {
        &[]
    }
    /// It is harmed by firing with nowhere to spark: its level is 1 while it does.
    fn is_harmed(&self) -> bool {
        false
    }
    /// It needs more volts than a starter may leave it: it may come to life as the key is let go.
    fn drops_out(&self) -> bool {
        false
    }
    /// Degrees of the crankshaft by which it makes sparks late.
    fn retards_deg(&self, _context: &Context<'_>) -> f64 {
        0.0
    }
}

/// What answers a scan tool.
pub trait Module {
    /// The codes that are set, as they read on a scan tool; `None` while it does not answer.
    fn codes(&self, look: &Look<'_>) -> Option<Vec<String>>;
    /// Whether the module reports what comes in at a pin.
    fn is_input(&self, look: &Look<'_>, pin: usize) -> bool;
    /// Voltage that an input sees, in volts; `None` while it does not answer or for a pin that is no input.
    fn live(&self, look: &Look<'_>, pin: usize) -> Option<f64>;
    /// The level of the part with its codes cleared.
    fn cleared(&self, level: u64) -> u64;
}

/// What the facets say, and of a kind without one what that comes to.
impl dyn PartKind {
    /// It makes the spark of a cylinder.
    pub fn sparks(&self) -> bool {
        self.plug().is_some()
    }

    /// The cylinder it makes the spark of.
    pub fn cylinder(&self, params: &Params) -> Option<Cylinder> {
        self.plug()?.cylinder(params)
    }

    /// How well its cylinder squeezes its gas with it there, from 0 to 1.
    pub fn compression(&self, context: &Context<'_>) -> f64 {
        self.plug().map_or(1.0, |p| p.compression(context))
    }

    /// What it does, it does in a cylinder, and not in open air.
    pub fn is_in_cylinder(&self, part: &Part, operating: &OperatingState) -> bool {
        self.plug()
            .is_none_or(|p| p.is_in_cylinder(part, operating))
    }

    /// It charges a battery.
    pub fn charges(&self) -> bool {
        self.generator().is_some()
    }

    /// What rides on the current it sends, if it sends any.
    pub fn ripple(&self, look: &Look<'_>) -> Option<Ripple> {
        self.generator()?.ripple(look)
    }

    /// It turns the engine while it cranks.
    pub fn cranks(&self) -> bool {
        self.cranking().is_some()
    }

    /// Speed at which a hand turns the crankshaft with it, in revolutions per minute.
    pub fn hand_rpm(&self, part: &Part, operating: &OperatingState) -> f64 {
        self.cranking().map_or(0.0, |c| c.hand_rpm(part, operating))
    }

    /// Whether the engine gets fuel by it; `None` for what has nothing to do with fuel.
    pub fn fuels(&self, look: &Look<'_>) -> Option<bool> {
        self.fuel()?.fuels(look)
    }

    /// Volts at the input where it listens for pulses, if it has one.
    pub fn hears_v(&self, look: &Look<'_>) -> Option<f64> {
        self.fuel()?.hears_v(look)
    }

    /// How many things click when its input jumps by so many volts.
    pub fn clicks(&self, look: &Look<'_>, volts: f64) -> usize {
        self.fuel().map_or(0, |f| f.clicks(look, volts))
    }

    /// Terminals, by position, that carry kilovolts.
    pub fn high_voltage(&self) -> &'static [usize] {
        self.ignition().map_or(&[], |i| i.high_voltage())
    }

    /// It is harmed by firing with nowhere to spark: its level is 1 while it does.
    pub fn is_harmed(&self) -> bool {
        self.ignition().is_some_and(|i| i.is_harmed())
    }

    /// It needs more volts than a starter may leave it: it may come to life as the key is let go.
    pub fn drops_out(&self) -> bool {
        self.ignition().is_some_and(|i| i.drops_out())
    }

    /// Degrees of the crankshaft by which it makes sparks late.
    pub fn retards_deg(&self, context: &Context<'_>) -> f64 {
        self.ignition().map_or(0.0, |i| i.retards_deg(context))
    }
}
