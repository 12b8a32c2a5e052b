//! Operating points by Newton–Raphson, with a source ramp when the plain start fails.

use crate::error::SolveError;
use crate::matrix::System;
use crate::netlist::Netlist;
use crate::solution::Solution;

/// Iterations before a solve gives up on one ramp step.
const ITERATIONS: usize = 120;
/// A step smaller than this share of the value, or this many volts or amperes, is no step.
const RELATIVE: f64 = 1e-9;
const ABSOLUTE: f64 = 1e-9;
/// Largest accepted miss of an equation, in volts or amperes, beside the size of its terms.
const RESIDUAL: f64 = 1e-7;
/// Shares of the sources tried in turn when the full sources do not converge at once.
const RAMP: [f64; 8] = [0.02, 0.05, 0.1, 0.2, 0.4, 0.6, 0.8, 1.0];

/// Solves netlists. It remembers the structure of the last one, so that a change of values alone
/// costs one factorisation.
#[derive(Default)]
pub struct Solver {
    system: Option<System>,
}

impl Solver {
    pub fn new() -> Self {
        Self::default()
    }

    /// The operating point of a netlist.
    ///
    /// # Errors
    /// [`SolveError`] names the element when the equations are singular, do not converge, or an
    /// element's values make no sense.
    pub fn operating_point(&mut self, net: &Netlist) -> Result<Solution, SolveError> {
        self.operating_point_from(net, None)
    }

    /// The same, starting from an earlier solution of a netlist of the same structure.
    ///
    /// # Errors
    /// As [`Solver::operating_point`].
    pub fn operating_point_from(
        &mut self,
        net: &Netlist,
        guess: Option<&Solution>,
    ) -> Result<Solution, SolveError> {
        if let Some(element) = net.elements().iter().position(|e| !e.is_sound()) {
            return Err(SolveError::BadValue { element });
        }
        if net.node_count() < 2 {
            return Ok(collect(net, &[], vec![]));
        }
        let mut system = match self.system.take() {
            Some(system) if system.fits(net) => system,
            _ => System::new(net).map_err(|_| SolveError::Singular { element: 0 })?,
        };
        let start = match guess {
            Some(g) if g.unknowns.len() == system.size => g.unknowns.clone(),
            _ => vec![0.0; system.size],
        };
        let solved = iterate(&mut system, net, start, 1.0).or_else(|first| match first {
            SolveError::NotConverged { .. } => {
                let mut x = vec![0.0; system.size];
                for ramp in RAMP {
                    x = iterate(&mut system, net, x, ramp)?;
                }
                Ok(x)
            }
            other => Err(other),
        });
        let result = solved.and_then(|x| {
            check(&mut system, net, &x)?;
            Ok(collect(net, &system.extras, x))
        });
        self.system = Some(system);
        result
    }
}

fn iterate(
    system: &mut System,
    net: &Netlist,
    mut x: Vec<f64>,
    ramp: f64,
) -> Result<Vec<f64>, SolveError> {
    let linear = net.elements().iter().all(|e| e.is_linear());
    let mut worst = (0, f64::INFINITY);
    for _ in 0..ITERATIONS {
        system.load(net, &x, ramp);
        let lu = system.factor().map_err(|e| SolveError::Singular {
            element: match e {
                faer::sparse::linalg::LuError::SymbolicSingular { index } => {
                    system.element_of(net, index.min(system.size - 1))
                }
                _ => 0,
            },
        })?;
        let mut next = system.solve(&lu);
        if let Some(row) = next.iter().position(|v| !v.is_finite()) {
            return Err(SolveError::Singular {
                element: system.element_of(net, row),
            });
        }
        if linear {
            return Ok(next);
        }
        damp(net, &x, &mut next);
        worst = largest_step(&x, &next);
        x = next;
        if worst.1 <= 1.0 {
            return Ok(x);
        }
    }
    Err(SolveError::NotConverged {
        element: system.element_of(net, worst.0),
        step: worst.1 * ABSOLUTE,
        iterations: ITERATIONS,
    })
}

/// Shortens the whole step so that no junction moves further than its curve allows.
fn damp(net: &Netlist, x: &[f64], next: &mut [f64]) {
    let mut share: f64 = 1.0;
    for element in net.elements().iter().filter(|e| !e.is_linear()) {
        let (a, b) = element.nodes();
        let v = |x: &[f64], n: usize| if n == 0 { 0.0 } else { x[n - 1] };
        let last = v(x, a.0) - v(x, b.0);
        let wanted = v(next, a.0) - v(next, b.0);
        let allowed = element.limit(wanted, last);
        let step = wanted - last;
        if step.abs() > 1e-12 {
            share = share.min(((allowed - last) / step).clamp(1e-3, 1.0));
        }
    }
    if share < 1.0 {
        for (n, &l) in next.iter_mut().zip(x) {
            *n = l + share * (*n - l);
        }
    }
}

/// The unknown that moved furthest, as a multiple of what counts as no step.
fn largest_step(x: &[f64], next: &[f64]) -> (usize, f64) {
    let steps = x
        .iter()
        .zip(next)
        .map(|(a, b)| (b - a).abs() / (ABSOLUTE + RELATIVE * b.abs()));
    steps
        .enumerate()
        .fold((0, 0.0), |worst, (i, s)| if s > worst.1 { (i, s) } else { worst })
}

/// Every equation is met, at the solution itself.
fn check(system: &mut System, net: &Netlist, x: &[f64]) -> Result<(), SolveError> {
    system.load(net, x, 1.0);
    let largest = x.iter().fold(1.0_f64, |m, v| m.max(v.abs()));
    let residual = system.residual(x);
    match residual.iter().position(|r| r.abs() > RESIDUAL * largest) {
        Some(row) => Err(SolveError::Residual {
            element: system.element_of(net, row),
            residual: residual[row],
        }),
        None => Ok(()),
    }
}

fn collect(net: &Netlist, extras: &[usize], x: Vec<f64>) -> Solution {
    let mut volts = vec![0.0; net.node_count()];
    for (node, v) in volts.iter_mut().skip(1).enumerate() {
        *v = x[node];
    }
    let each = || net.elements().iter().zip(extras);
    Solution {
        volts,
        amps: each().map(|(e, &k)| e.current_at(&x, k)).collect(),
        speeds: each()
            .map(|(e, &k)| if e.unknowns() == 2 { x[k + 1] } else { 0.0 })
            .collect(),
        unknowns: x,
    }
}
