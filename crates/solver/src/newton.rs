//! Operating points: the linear circuit factored once, its ports solved by Newton–Raphson.

use faer::sparse::linalg::LuError;

use crate::elements::Element;
use crate::error::SolveError;
use crate::matrix::System;
use crate::netlist::Netlist;
use crate::ports::{self, Port};
use crate::solution::Solution;

/// Largest accepted miss of an equation, in volts or amperes, beside the size of its terms.
const RESIDUAL: f64 = 1e-7;
/// A miss this small beside the terms of its own equation is rounding (Arioli, Demmel and Duff, "Solving sparse
/// linear systems with sparse backward error", SIAM J. Matrix Anal. Appl. 10, 1989). Measured by row, so that a
/// wire that hangs by its leak is as exact as a starter's cable.
const EXACT: f64 = 1e-14;
/// A refinement that moves no unknown by more than this, beside its size, is the last.
const SETTLED: f64 = 1e-9;
/// Refinements of one solution at most.
const REFINEMENTS: usize = 6;
/// Structures remembered at a time.
const REMEMBERED: usize = 8;

/// Solves netlists. It remembers the last few structures, so that a change of values alone costs
/// one factorisation, and the same values with something else attached cost none.
#[derive(Default)]
pub struct Solver {
    systems: Vec<System>,
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
        if let Some(element) = net.elements().iter().position(|e| !e.is_sound()) {
            return Err(SolveError::BadValue { element });
        }
        let system = self.system(net)?;
        system.load(net).map_err(|e| singular(system, net, e))?;
        match solve(system, net) {
            // An update that has lost digits is made good by factoring anew.
            Err(_) if system.is_updated() => {
                system.factor().map_err(|e| singular(system, net, e))?;
                solve(system, net)
            }
            result => result,
        }
    }

    /// The system of the netlist's structure, moved to the front of what is remembered.
    pub(crate) fn system(&mut self, net: &Netlist) -> Result<&mut System, SolveError> {
        let at = match self.systems.iter().position(|s| s.fits(net)) {
            Some(at) => at,
            None => {
                let new = System::new(net).map_err(|_| SolveError::Singular { element: 0 })?;
                self.systems.truncate(REMEMBERED - 1);
                self.systems.push(new);
                self.systems.len() - 1
            }
        };
        self.systems[..=at].rotate_right(1);
        Ok(&mut self.systems[0])
    }
}

pub(crate) fn singular(system: &System, net: &Netlist, error: LuError) -> SolveError {
    let last = system.size.saturating_sub(1);
    SolveError::Singular {
        element: match error {
            LuError::SymbolicSingular { index } => system.element_of(net, index.min(last)),
            LuError::Generic(_) => 0,
        },
    }
}

fn solve(system: &System, net: &Netlist) -> Result<Solution, SolveError> {
    let ports = Ports::of(system, net, |index, element| {
        let own = index < net.own().len();
        if own { element.nominal() } else { 0.0 }
    });
    let first = ports::solve(&ports.all, &ports.v0, &ports.z);
    if system.is_updated() {
        // What an update has lost is made good by factoring anew, before anything else is tried.
        let v = first.map_err(|stuck| ports.stuck(&stuck))?;
        return Ok(collect(system, net, ports.solution(system, net, &v)?));
    }
    // What does not come to rest, or does not hold, is begun again beside a matrix that stands nearer.
    let found = |result: Result<Vec<f64>, ports::Stuck>| match result {
        Ok(v) => {
            let solution = ports.solution(system, net, &v);
            solution.or_else(|e| centred(net, &v).ok_or(e))
        }
        Err(stuck) => centred(net, &stuck.volts).ok_or_else(|| ports.stuck(&stuck)),
    };
    let x = found(first).or_else(|_| found(ports::ramp(&ports.all, &ports.v0, &ports.z)))?;
    Ok(collect(system, net, x))
}

/// Times that the matrix is brought to where the ports stand.
const CENTRINGS: usize = 12;

/// The unknowns where the ports do not come to rest beside a matrix that stands for them far from where they are:
/// where every junction of a group blocks, what is left of it is lost in the digits. The matrix is given the slope of
/// each where it stands, as Newton's method has it, and the ports carry the little rest.
fn centred(net: &Netlist, volts: &[f64]) -> Option<Vec<f64>> {
    let own = net.own().len();
    let ports: Vec<&Element> = (0..net.elements().len())
        .filter(|&n| net.is_port(n))
        .map(|n| &net.elements()[n])
        .collect();
    let held = net.elements()[own..].len();
    let mut volts = volts.to_vec();
    for _ in 0..CENTRINGS {
        let slopes: Vec<f64> = ports
            .iter()
            .zip(&volts)
            .map(|(element, v)| element.law(*v).1.max(0.0))
            .collect();
        let mut near = Netlist::new();
        near.reserve_nodes(net.node_count());
        for element in net.own() {
            near.add(*element);
        }
        for (n, (element, slope)) in ports.iter().zip(&slopes).enumerate() {
            let (a, b) = element.nodes();
            // Of what is only attached the matrix holds nothing yet.
            let own = n < ports.len() - held;
            let siemens = slope - if own { element.nominal() } else { 0.0 };
            near.add(Element::Conductance { a, b, siemens });
        }
        for element in &net.elements()[own..] {
            near.attach(*element);
        }
        let mut system = System::new(&near).ok()?;
        system.load(&near).ok()?;
        let mut in_order = slopes.iter();
        let slope = |_: usize, _: &Element| in_order.next().copied().unwrap_or(0.0);
        let centre = Ports::of(&system, &near, slope);
        match ports::iterate(&centre.all, &centre.v0, &centre.z, volts) {
            Ok(v) => {
                if let Ok(x) = centre.solution(&system, &near, &v) {
                    return Some(x);
                }
                volts = v;
            }
            Err(stuck) => volts = stuck.volts,
        }
        if volts.iter().any(|v| !v.is_finite()) {
            return None;
        }
    }
    None
}

/// The ports of a netlist, and how the circuit without them answers.
struct Ports<'a> {
    all: Vec<Port<'a>>,
    /// The circuit without its ports, and its answer to an ampere out of each.
    x0: Vec<f64>,
    responses: Vec<Vec<f64>>,
    v0: Vec<f64>,
    z: Vec<Vec<f64>>,
}

impl<'a> Ports<'a> {
    /// `nominal` says what the matrix holds of an element already, in siemens.
    fn of(
        system: &System,
        net: &'a Netlist,
        mut nominal: impl FnMut(usize, &Element) -> f64,
    ) -> Self {
        let all: Vec<Port<'_>> = (0..net.elements().len())
            .filter(|&n| net.is_port(n))
            .map(|index| {
                let element = &net.elements()[index];
                let nominal = nominal(index, element);
                Port {
                    index,
                    element,
                    nominal,
                }
            })
            .collect();
        let x0 = system.solve_sources();
        let responses: Vec<Vec<f64>> = all
            .iter()
            .map(|port| {
                let (a, b) = port.element.nodes();
                let mut entries = Vec::with_capacity(2);
                entries.extend((a.0 > 0).then(|| (a.0 - 1, -1.0)));
                entries.extend((b.0 > 0).then(|| (b.0 - 1, 1.0)));
                system.solve_few(&entries)
            })
            .collect();
        let v0 = all.iter().map(|p| across(&x0, p.element)).collect();
        let row = |p: &Port<'_>| responses.iter().map(|r| -across(r, p.element)).collect();
        let z = all.iter().map(row).collect();
        Self {
            all,
            x0,
            responses,
            v0,
            z,
        }
    }

    fn stuck(&self, stuck: &ports::Stuck) -> SolveError {
        SolveError::NotConverged {
            element: self.all[stuck.port].index,
            step: stuck.step,
            iterations: stuck.iterations,
        }
    }

    /// All unknowns with the ports at some voltages, refined.
    fn solution(&self, system: &System, net: &Netlist, v: &[f64]) -> Result<Vec<f64>, SolveError> {
        let mut x = self.x0.clone();
        for ((response, port), v) in self.responses.iter().zip(&self.all).zip(v) {
            let amps = port.law(*v).0;
            for (x, r) in x.iter_mut().zip(response) {
                *x += r * amps;
            }
        }
        refine(system, net, &self.all, &self.responses, &self.z, &mut x)?;
        Ok(x)
    }
}

/// Refines against the whole circuit, then looks at every equation.
fn refine(
    system: &System,
    net: &Netlist,
    ports: &[Port<'_>],
    responses: &[Vec<f64>],
    z: &[Vec<f64>],
    x: &mut [f64],
) -> Result<(), SolveError> {
    let residual = |x: &[f64]| {
        let (mut miss, mut terms) = system.residual(net, x);
        for port in ports {
            let (a, b) = port.element.nodes();
            let (amps, siemens) = port.law(across(x, port.element));
            inject(&mut miss, port.element, -amps);
            for end in [a, b].into_iter().filter(|end| end.0 > 0) {
                terms[end.0 - 1] += amps.abs() + siemens.abs() * x[end.0 - 1].abs();
            }
        }
        let ratios = miss
            .iter()
            .zip(&terms)
            .map(|(miss, terms)| miss.abs() / terms);
        let worst = largest(ratios);
        (miss, worst)
    };
    let scale = x.iter().fold(1.0_f64, |m, v| m.max(v.abs()));
    let (mut left, mut worst) = residual(x);
    // An unknown may be far off though each equation fits, where a group of thick cables hangs by its leaks: the
    // step that a refinement takes shows it.
    let mut moved = f64::INFINITY;
    for _ in 0..REFINEMENTS {
        if worst <= EXACT && moved <= SETTLED {
            return Ok(());
        }
        let mut step = [left.clone()];
        system.solve(&mut step);
        let mut better: Vec<f64> = x.iter().zip(&step[0]).map(|(x, s)| x + s).collect();
        let at = |x: &[f64]| -> Vec<f64> { ports.iter().map(|p| across(x, p.element)).collect() };
        let amps = ports::answer(ports, &at(x), &at(&step[0]), z);
        for (response, amps) in responses.iter().zip(&amps) {
            better
                .iter_mut()
                .zip(response)
                .for_each(|(x, r)| *x += r * amps);
        }
        let (after, then) = residual(&better);
        // A steep junction may answer a refinement of the linear part badly: what it makes worse in every measure
        // is not taken.
        if then > worst.max(EXACT) && largest(after.iter().copied()) > largest(left.iter().copied())
        {
            break;
        }
        moved = x.iter().zip(&better).fold(0.0, |most, (old, new)| {
            most.max((new - old).abs() / (1.0 + new.abs()))
        });
        x.copy_from_slice(&better);
        (left, worst) = (after, then);
    }
    if worst <= EXACT && moved <= SETTLED {
        return Ok(());
    }
    // An update ends exact, or it has lost digits: what is let through here would hang on what was factored before.
    let allowed = if system.is_updated() {
        0.0
    } else {
        RESIDUAL * scale
    };
    match left.iter().position(|r| r.is_nan() || r.abs() > allowed) {
        Some(row) => Err(SolveError::Residual {
            element: system.element_of(net, row),
            residual: left[row],
        }),
        None => Ok(()),
    }
}

/// The largest size of some numbers; infinite where one is no number.
fn largest(of: impl Iterator<Item = f64>) -> f64 {
    of.fold(0.0, |most, of| {
        most.max(if of.is_nan() { f64::INFINITY } else { of.abs() })
    })
}

/// Adds a current into an element's first node and out of its second to a right-hand side.
fn inject(column: &mut [f64], element: &Element, amps: f64) {
    let (a, b) = element.nodes();
    if a.0 > 0 {
        column[a.0 - 1] += amps;
    }
    if b.0 > 0 {
        column[b.0 - 1] -= amps;
    }
}

fn across(x: &[f64], element: &Element) -> f64 {
    let v = |n: usize| if n == 0 { 0.0 } else { x[n - 1] };
    let (a, b) = element.nodes();
    v(a.0) - v(b.0)
}

fn collect(system: &System, net: &Netlist, x: Vec<f64>) -> Solution {
    let mut volts = vec![0.0; net.node_count()];
    volts[1..].copy_from_slice(&x[..net.node_count() - 1]);
    let mut amps = Vec::with_capacity(net.elements().len());
    let mut speeds = Vec::with_capacity(net.elements().len());
    for (n, element) in net.elements().iter().enumerate() {
        let own = (!net.is_port(n)).then(|| system.extras.get(n)).flatten();
        let (current, speed) = match (element, own) {
            (
                Element::Branch { .. }
                | Element::Capacitor { .. }
                | Element::Inductor { .. }
                | Element::Regulator { .. },
                Some(&k),
            ) => (x[k], 0.0),
            (Element::Motor { .. }, Some(&k)) => (x[k], x[k + 1]),
            _ => (element.law(across(&x, element)).0, 0.0),
        };
        amps.push(current);
        speeds.push(speed);
    }
    Solution {
        volts,
        amps,
        speeds,
    }
}
