//! The vocabulary of the trade: quantities, circuit documents and what they come to when they are checked,
//! places and the ways they fail, the operating state of a machine, and what a kind of part is to the rest.
//! It knows no kind of part, solves nothing and judges nothing.

pub mod circuit;
pub mod faults;
pub mod part;
pub mod stamped;
pub mod state;
pub mod strokes;
pub mod text;
pub mod units;
