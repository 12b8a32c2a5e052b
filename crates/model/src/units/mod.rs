//! Quantities as people write and read them.

mod colour;
mod expectation;
mod quantity;
mod wire;

pub use colour::{Colour, ColourError};
pub use expectation::{Bound, Expectation, ExpectationError};
pub use quantity::{Quantity, QuantityError, Swing, Unit};
pub use wire::{COPPER_PER_KELVIN, awg_area_mm2, wire_ohms};
