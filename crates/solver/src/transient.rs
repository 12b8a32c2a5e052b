//! Behaviour in time: what stores energy is stood for, over each step, by a branch (its companion).
//!
//! Over a step `h` the trapezoidal rule makes a capacitor a resistance of `h/2C` behind a voltage, and
//! an inductor a resistance of `2L/h` behind one, both computed from the last instant. The first step,
//! and each step after a jump, is taken by the implicit Euler rule, which damps the ringing that the
//! trapezoidal rule would show there. The step adapts: it is done once whole and once in two halves,
//! and the difference of the two estimates the error.

use crate::elements::Element;
use crate::error::SolveError;
use crate::netlist::{ElementId, Netlist};
use crate::newton::Solver;
use crate::solution::Solution;

/// Largest and least factor by which a step changes at a time.
const GROW: f64 = 2.0;
const SHRINK: f64 = 0.2;
/// Share of the ideal step that is taken.
const SAFETY: f64 = 0.8;
/// Steps tried before an analysis gives up.
const MOST_STEPS: usize = 2_000_000;

/// The settings of a transient analysis.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Transient {
    /// Length, in seconds.
    pub until_s: f64,
    /// Largest step, in seconds.
    pub step_s: f64,
    /// Error allowed per step, in volts and amperes, beside the same share of the value.
    pub tolerance: f64,
}

/// One instant.
#[derive(Debug, Clone, PartialEq)]
pub struct Sample {
    pub at_s: f64,
    pub solution: Solution,
}

/// Voltage across and current through each element that stores energy, at an instant.
type Stored = Vec<(f64, f64)>;

#[derive(Clone, Copy, PartialEq)]
enum Rule {
    Euler,
    Trapezoidal,
}

impl Transient {
    /// Runs a netlist from a start: `initial` gives volts of capacitors and amperes of inductors by
    /// element; what it leaves out starts at rest (nothing stored).
    ///
    /// # Errors
    /// [`SolveError`] as for an operating point, at the instant that cannot be solved.
    pub fn run(
        &self,
        solver: &mut Solver,
        net: &Netlist,
        initial: &[(ElementId, f64)],
    ) -> Result<Vec<Sample>, SolveError> {
        let start = |n: usize| {
            initial
                .iter()
                .find(|(id, _)| id.0 == n)
                .map_or(0.0, |(_, v)| *v)
        };
        let mut stored: Stored = net
            .elements()
            .iter()
            .enumerate()
            .map(|(n, e)| match e {
                Element::Capacitor { .. } => (start(n), 0.0),
                Element::Inductor { .. } => (0.0, start(n)),
                _ => (0.0, 0.0),
            })
            .collect();
        let (mut now, mut h) = (0.0, self.step_s / 1000.0);
        let mut rule = Rule::Euler;
        // The first instant, with what is stored held by a vanishing step.
        let first = advance(solver, net, &stored, self.step_s * 1e-9, Rule::Euler)?;
        let mut out = vec![Sample {
            at_s: 0.0,
            solution: first.0,
        }];
        for _ in 0..MOST_STEPS {
            if now >= self.until_s {
                return Ok(out);
            }
            h = h.min(self.until_s - now).min(self.step_s);
            let whole = advance(solver, net, &stored, h, rule)?;
            let half = advance(solver, net, &stored, h / 2.0, rule)?;
            let halves = advance(solver, net, &half.1, h / 2.0, rule)?;
            let worst = self.worst(net, &whole.1, &halves.1, rule);
            if worst <= 1.0 || h < self.until_s * 1e-12 {
                now += h;
                stored = halves.1;
                rule = Rule::Trapezoidal;
                out.push(Sample {
                    at_s: now,
                    solution: halves.0,
                });
            }
            let order = if rule == Rule::Euler { 2.0 } else { 3.0 };
            h *= (SAFETY * worst.max(1e-9).powf(-1.0 / order)).clamp(SHRINK, GROW);
        }
        Err(SolveError::NotConverged {
            element: 0,
            step: h,
            iterations: MOST_STEPS,
        })
    }

    /// Largest error of what is stored, as a multiple of what is allowed.
    fn worst(&self, net: &Netlist, whole: &Stored, halves: &Stored, rule: Rule) -> f64 {
        let divisor = if rule == Rule::Euler { 1.0 } else { 3.0 };
        let each = net.elements().iter().zip(whole.iter().zip(halves));
        each.map(|(e, (w, h))| {
            let (w, h) = match e {
                Element::Capacitor { .. } => (w.0, h.0),
                Element::Inductor { .. } => (w.1, h.1),
                _ => (0.0, 0.0),
            };
            (w - h).abs() / divisor / (self.tolerance * (1.0 + h.abs()))
        })
        .fold(0.0, f64::max)
    }
}

/// One step: the solution at its end and what is stored then.
fn advance(
    solver: &mut Solver,
    net: &Netlist,
    stored: &Stored,
    h: f64,
    rule: Rule,
) -> Result<(Solution, Stored), SolveError> {
    let mut step = net.clone();
    for (n, element) in net.elements().iter().enumerate() {
        let (v, i) = stored[n];
        let companion = match *element {
            Element::Capacitor { a, b, farads } => {
                let ohms = if rule == Rule::Euler {
                    h / farads
                } else {
                    h / (2.0 * farads)
                };
                let volts = if rule == Rule::Euler { v } else { v + ohms * i };
                Element::Branch { a, b, ohms, volts }
            }
            Element::Inductor { a, b, henries } => {
                let ohms = if rule == Rule::Euler {
                    henries / h
                } else {
                    2.0 * henries / h
                };
                let volts = if rule == Rule::Euler {
                    -ohms * i
                } else {
                    -ohms * i - v
                };
                Element::Branch { a, b, ohms, volts }
            }
            _ => continue,
        };
        step.set(ElementId(n), companion);
    }
    let solution = solver.operating_point(&step)?;
    let stored = net.elements().iter().enumerate().map(|(n, element)| {
        let (a, b) = element.nodes();
        (solution.between(a, b), solution.current(ElementId(n)))
    });
    let stored = stored.collect();
    Ok((solution, stored))
}
