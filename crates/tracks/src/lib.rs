//! A circuit drawn in current tracks, as practitioners draw it: the supply on top, the metals at the bottom,
//! every path a straight track that is read downward.
//!
//! [`place`] finds an order of what is fed one from another and a column for each track: whole numbers, the same on
//! every machine, without a size. [`draw`] puts a placement on a sheet of some size.

mod cost;
mod draw;
mod follow;
mod geometry;
mod lay;
mod measure;
mod pieces;
mod placement;
mod plan;
mod scene;
mod search;
mod sheet;
mod text;

use std::collections::HashMap;

use cimento_model::circuit::Drawing;

pub use cost::Cost;
pub use measure::Legibility;
pub use placement::Placement;
pub use scene::*;
pub use sheet::Size;

use plan::Plan;

/// A length on a diagram, in hundredths of a diagram unit: whole numbers give the same on every machine.
pub type Length = i32;

/// For wires that carry current in a healthy machine: whether it goes from the wire's first end to its second.
pub type Flow = HashMap<String, bool>;

/// A diagram of this size is read from the last row: text of 10 pixels on a sheet of 905 by 465.
pub(crate) const LEGIBLE_WIDTH: Length = 81_400;
pub(crate) const LEGIBLE_HEIGHT: Length = 41_800;

/// Counts the ways of laying out: a placement that was stored by an earlier one is not taken.
pub const WAY: u32 = 3;

/// Finds a placement for a drawing.
pub fn place(drawing: &Drawing, flow: &Flow) -> Placement {
    search::place(&Plan::new(drawing, flow))
}

/// Finds a placement for a drawing that was edited: what the edit did not touch stays in its order where that is
/// nearly as good as any.
pub fn follow(drawing: &Drawing, flow: &Flow, old: (&Drawing, &Flow, &Placement)) -> Placement {
    let (before, flowed, placement) = old;
    follow::follow(
        &Plan::new(drawing, flow),
        &Plan::new(before, flowed),
        placement,
    )
}

/// What a placement of a drawing costs: for comparison.
pub fn cost(drawing: &Drawing, flow: &Flow, placement: &Placement) -> Cost {
    search::cost(&Plan::new(drawing, flow), placement)
}

/// Draws a placement on a sheet.
pub fn draw(drawing: &Drawing, flow: &Flow, placement: &Placement, size: Size) -> Scene {
    draw::draw(&Plan::new(drawing, flow), placement, size)
}
