//! What can go wrong in a solve, each naming the element that stands in the way.

use thiserror::Error;

/// Why no operating point could be given. Elements are named by their position in the netlist,
/// so that the caller, who knows their names, can say them.
#[derive(Debug, Clone, Copy, PartialEq, Error)]
pub enum SolveError {
    /// The equations have no single answer.
    #[error(
        "the circuit has no single solution: ideal sources may fight each other near element {element}"
    )]
    Singular { element: usize },
    /// Newton's iteration kept moving.
    #[error(
        "no operating point was found: element {element} still moves by {step} after {iterations} iterations"
    )]
    NotConverged {
        element: usize,
        step: f64,
        iterations: usize,
    },
    /// An equation is not met to within rounding.
    #[error("the solution misses the equation of element {element} by {residual}")]
    Residual { element: usize, residual: f64 },
    /// An element holds a number that is not one.
    #[error("element {element} has a value that is not a finite number of the right sign")]
    BadValue { element: usize },
}
