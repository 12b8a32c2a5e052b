//! Behaviour in time.
//!
//! What stores energy is stood for, over each step, by a branch (its companion). A step is taken by the
//! TR-BDF2 rule: the trapezoidal rule over the first part and the second-order backward formula over the
//! whole, with one and the same companion, so that it damps what is quick beside the step instead of
//! ringing. The step adapts to an estimate of its error. Source: Bank, Coughran, Fichtner, Grosse, Rose
//! and Smith, "Transient simulation of silicon devices and circuits", IEEE Trans. CAD 4, 1985.
//!
//! A switch that wants to change within a step is found by shortening the step until it is shorter than
//! asked for; it then changes, and what jumps with it (the voltage of a coil, the current of a
//! condenser) is found anew from what is stored.

mod motion;
mod network;
mod reduced;
mod spares;

use std::collections::HashMap;
use std::ops::ControlFlow;
use std::rc::Rc;

pub use motion::{Flip, Motion, Shape, Switch, Trigger, held};
pub use spares::Spares;

use crate::elements::Element;
use crate::error::SolveError;
use crate::netlist::Netlist;
use crate::node::{ElementId, Node};
use crate::solution::Solution;
use network::Network;
use reduced::{Law, Reduced};

/// The part of a step that the trapezoidal rule takes, `2 − √2`: both parts then have one companion.
const GAMMA: f64 = 0.585_786_437_626_905;
/// Shortest step, in seconds; steps are this times powers of two.
const SHORTEST_S: f64 = 1e-9;
/// Doublings of the shortest step that a step after a change begins with.
const AFTER_EVENT: i32 = 4;
/// Every so many steps the sums at all nodes are looked at.
const LOOKS: usize = 16;
/// Time in which nothing stored can change, in seconds: what jumps is found over it.
const INSTANT_S: f64 = 1e-11;
/// Below this share of the error allowed, a step may double.
const EASY: f64 = 0.1;
/// Smallest volts and amperes that errors are measured against.
const LEAST: f64 = 1e-2;
/// Share of the largest value so far that errors are measured against.
const SHARE: f64 = 0.2;
/// Steps and changes of switches before an analysis gives up.
const MOST_STEPS: usize = 2_000_000;
const MOST_FLIPS: usize = 20_000;
/// So many reduced systems are kept.
const MOST_KNOWN: usize = 500;

/// The settings of a transient analysis.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Transient {
    /// Length, in seconds.
    pub until_s: f64,
    /// Largest step, in seconds.
    pub step_s: f64,
    /// Error allowed in a step, as a share of what is stored.
    pub tolerance: f64,
    /// How closely the instant of a switch is found, in seconds.
    pub event_s: f64,
}

/// What is stored when an analysis starts: volts of capacitors and amperes of inductors, by element.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Start {
    pub stored: Vec<(ElementId, f64)>,
}

impl Start {
    /// The start from an operating point: warm, with everything slow as it is there.
    pub fn from(net: &Netlist, op: &Solution) -> Self {
        let stored = net.elements().iter().enumerate().filter_map(|(n, e)| {
            let id = ElementId(n);
            match *e {
                Element::Capacitor { a, b, .. } => Some((id, op.between(a, b))),
                Element::Inductor { .. } => Some((id, op.current(id))),
                _ => None,
            }
        });
        Self {
            stored: stored.collect(),
        }
    }
}

/// A capacitor or inductor at its port.
struct Store {
    port: usize,
    kind: Kind,
    /// Volts of a capacitor, amperes of an inductor.
    value: f64,
    /// The other of the two.
    rate: f64,
    most: f64,
}

enum Kind {
    Capacitor(f64),
    Inductor,
}

/// How a switch stands.
struct Stands {
    port: usize,
    closed: bool,
    /// The sign its arc burns in.
    sign: f64,
}

/// The machine between two steps.
struct Run<'a> {
    net: &'a Netlist,
    motion: &'a Motion,
    network: Network<'a>,
    stores: Vec<Store>,
    /// Henries between the inductors, by position among the stores, and the inverse of that table.
    henries: Vec<(usize, usize, f64)>,
    inverse: Vec<(usize, usize, f64)>,
    switches: Vec<Stands>,
    /// Instant until which each gap holds off.
    resting: Vec<f64>,
    /// How many instants of its schedule each switch has kept.
    kept: Vec<usize>,
    shapes: Vec<usize>,
    /// Voltages at the ports as last found.
    volts: Vec<f64>,
    /// The ports reduced, by the length of a step in bits and the switches that are closed.
    known: HashMap<(u64, Vec<bool>), Rc<Reduced>>,
}

impl Transient {
    /// Runs a netlist from a start and shows every instant, for as long as the one who looks goes on. What is slow beside a spark (motors,
    /// regulators, filaments) stays as `op` has it.
    ///
    /// # Errors
    /// [`SolveError`] as for an operating point, at the instant that cannot be solved.
    pub fn run(
        &self,
        net: &Netlist,
        motion: &Motion,
        (op, start): (&Solution, &Start),
        spares: &Spares,
        observe: &mut dyn FnMut(f64, &Solution) -> ControlFlow<()>,
    ) -> Result<Vec<Flip>, SolveError> {
        self.run_at(net, motion, (op, start), None, spares, observe)
    }

    /// The same where only some nodes are looked at, and the currents of what changes in time: the rest of
    /// what is shown has no meaning.
    ///
    /// # Errors
    /// As [`Transient::run`].
    pub fn run_at(
        &self,
        net: &Netlist,
        motion: &Motion,
        (op, start): (&Solution, &Start),
        nodes: Option<&[Node]>,
        spares: &Spares,
        observe: &mut dyn FnMut(f64, &Solution) -> ControlFlow<()>,
    ) -> Result<Vec<Flip>, SolveError> {
        let net = &motion::held(net, op);
        let mut run = Run::new(net, motion, start, spares)?;
        let rows = nodes.map(|nodes| {
            let mut nodes = nodes.to_vec();
            nodes.extend(motion.looks_at(net));
            nodes.sort_unstable_by_key(|n| n.0);
            nodes.dedup();
            run.network.rows(&nodes)
        });
        let mut partly = Solution {
            volts: vec![0.0; net.node_count()],
            amps: vec![0.0; net.elements().len()],
            speeds: vec![0.0; net.elements().len()],
        };
        let mut flips = Vec::new();
        let (mut now, mut level) = (0.0, 4_i32);
        let highest = (self.step_s / SHORTEST_S).log2().floor().max(1.0) as i32;
        if observe(now, &run.jump(now)?).is_break() {
            return Ok(flips);
        }
        for count in 0..MOST_STEPS {
            let left = self.until_s - now;
            if left < SHORTEST_S {
                return Ok(flips);
            }
            let alarm = run.alarm().min(self.until_s);
            let reach = ((alarm - now) / SHORTEST_S).max(1.0).log2().floor() as i32;
            let tried = level.clamp(0, highest).min(reach.max(0));
            let h = SHORTEST_S * f64::from(tried).exp2();
            let step = run.step(now, h)?;
            let error = run.error(&step, h, self.tolerance);
            if error > 1.0 && tried > 0 {
                level = tried - 1;
                continue;
            }
            let looks = count % LOOKS == 0;
            let whole = match rows {
                Some(_) if !looks => None,
                _ => Some(run.network.whole(net, &step.amps, looks)?),
            };
            let solution = match (&rows, &whole) {
                (Some(rows), _) => {
                    run.network.at(rows, &step.amps, &mut partly);
                    &partly
                }
                (None, Some(whole)) => whole,
                (None, None) => &partly,
            };
            let wanting = run.wanting(now + h, solution);
            if !wanting.is_empty() && h > self.event_s && tried > 0 {
                level = tried - 1;
                continue;
            }
            now += h;
            let seen = observe(now, solution);
            run.accept(step);
            if seen.is_break() {
                return Ok(flips);
            }
            if error < EASY && tried == level.clamp(0, highest) {
                level = tried + 1;
            }
            let mut changes = wanting;
            changes.extend(run.due(now + self.event_s / 2.0));
            while !changes.is_empty() {
                for &switch in &changes {
                    let state = &mut run.switches[switch];
                    state.closed = !state.closed;
                    match motion.switches[switch].trigger {
                        // Only an arc burns either way, and only an arc has to clear away.
                        Trigger::Gap { rests_s, .. } => {
                            let turned = run.volts[state.port] < 0.0;
                            state.sign = if turned { -1.0 } else { 1.0 };
                            run.resting[switch] = if state.closed { now } else { now + rests_s };
                        }
                        Trigger::Voltage { rests_s, .. } => run.resting[switch] = now + rests_s,
                        _ => {}
                    }
                    flips.push(Flip {
                        at_s: now,
                        switch,
                        closed: state.closed,
                    });
                }
                level = AFTER_EVENT;
                let solution = run.jump(now)?;
                if observe(now, &solution).is_break() {
                    return Ok(flips);
                }
                // What jumps may carry another switch with it.
                changes = run.wanting(now, &solution);
                changes.retain(|s| {
                    !flips
                        .iter()
                        .rev()
                        .take_while(|f| f.at_s == now)
                        .any(|f| f.switch == *s)
                });
            }
            if flips.len() > MOST_FLIPS {
                break;
            }
        }
        Err(SolveError::NotConverged {
            element: 0,
            step: self.until_s - now,
            iterations: MOST_STEPS,
        })
    }
}

/// A step that has been tried.
struct Step {
    values: Vec<f64>,
    rates: Vec<f64>,
    /// Rates at the end of its first part.
    midway: Vec<f64>,
    /// At the ports.
    amps: Vec<f64>,
    volts: Vec<f64>,
}

impl<'a> Run<'a> {
    fn new(
        net: &'a Netlist,
        motion: &'a Motion,
        start: &Start,
        spares: &'a Spares,
    ) -> Result<Self, SolveError> {
        let mut ports: Vec<ElementId> = Vec::new();
        let mut port = |id: ElementId| {
            ports.iter().position(|p| *p == id).unwrap_or_else(|| {
                ports.push(id);
                ports.len() - 1
            })
        };
        let at_start = |id: ElementId| {
            let found = start.stored.iter().find(|(i, _)| *i == id);
            found.map_or(0.0, |(_, v)| *v)
        };
        let (mut stores, mut henries, mut of) = (Vec::new(), Vec::new(), Vec::new());
        for (n, element) in net.elements().iter().enumerate() {
            let id = ElementId(n);
            let kind = match *element {
                Element::Capacitor { farads, .. } => Kind::Capacitor(farads),
                Element::Inductor { henries: own, .. } => {
                    henries.push((stores.len(), stores.len(), own));
                    Kind::Inductor
                }
                Element::Diode { .. } => {
                    port(id);
                    continue;
                }
                _ => continue,
            };
            of.push(id);
            stores.push(Store {
                port: port(id),
                kind,
                value: at_start(id),
                rate: 0.0,
                most: 0.0,
            });
        }
        for &(first, second, mutual) in net.couplings() {
            let at = |id| of.iter().position(|o| *o == id);
            if let (Some(first), Some(second)) = (at(first), at(second)) {
                henries.push((first, second, mutual));
                henries.push((second, first, mutual));
            }
        }
        let switches = motion.switches.iter().map(|s| Stands {
            port: port(s.element),
            closed: s.closed,
            sign: 1.0,
        });
        let switches = switches.collect();
        let resting = vec![f64::NEG_INFINITY; motion.switches.len()];
        let shapes = motion.shapes.iter().map(|(id, _)| port(*id)).collect();
        let volts = vec![0.0; ports.len()];
        Ok(Self {
            net,
            motion,
            network: Network::new(net, ports, spares)?,
            inverse: inverse(&henries, stores.len()),
            henries,
            stores,
            switches,
            resting,
            kept: vec![0; motion.switches.len()],
            shapes,
            volts,
            known: HashMap::new(),
        })
    }

    /// Amperes and volts at the ports over a time `d`, at the instant `at_s`, with what each store starts
    /// from.
    fn solve(
        &mut self,
        at_s: f64,
        d: f64,
        from: &[f64],
        trapezoidal: bool,
    ) -> Result<(Vec<f64>, Vec<f64>), SolveError> {
        let mut own = vec![0.0; self.network.ports.len()];
        for (n, store) in self.stores.iter().enumerate() {
            let rate = if trapezoidal { store.rate } else { 0.0 };
            own[store.port] = match store.kind {
                Kind::Capacitor(farads) => from[n] + d / farads * rate,
                Kind::Inductor => {
                    let row = self.henries.iter().filter(|h| h.0 == n);
                    let flux: f64 = row.map(|&(_, k, l)| l * from[k]).sum();
                    -flux / d - rate
                }
            };
        }
        for (&port, (_, shape)) in self.shapes.iter().zip(&self.motion.shapes) {
            own[port] = shape.volts(at_s);
        }
        for (state, switch) in self.switches.iter().zip(&self.motion.switches) {
            own[state.port] = if state.closed {
                switch.volts * state.sign
            } else {
                0.0
            };
        }
        let reduced = self.reduced(d)?;
        self.network.solve(&reduced, &own, &self.volts)
    }

    /// The ports over a time `d` with the switches as they stand.
    fn reduced(&mut self, d: f64) -> Result<Rc<Reduced>, SolveError> {
        let closed = self.switches.iter().map(|s| s.closed).collect();
        let key = (d.to_bits(), closed);
        if let Some(known) = self.known.get(&key) {
            return Ok(Rc::clone(known));
        }
        let mut laws = vec![Law::Junction; self.network.ports.len()];
        for store in &self.stores {
            let ohms = match store.kind {
                Kind::Capacitor(farads) => d / farads,
                Kind::Inductor => 0.0,
            };
            laws[store.port] = Law::Branch { ohms };
        }
        for (&port, (id, _)) in self.shapes.iter().zip(&self.motion.shapes) {
            if let Element::Branch { ohms, .. } = *self.net.element(*id) {
                laws[port] = match ohms.is_infinite() {
                    true => Law::Open,
                    false => Law::Branch { ohms },
                };
            }
        }
        for (state, switch) in self.switches.iter().zip(&self.motion.switches) {
            laws[state.port] = match state.closed {
                true => Law::Branch { ohms: switch.ohms },
                false => Law::Open,
            };
        }
        let of = |n: usize| self.stores[n].port;
        let coupled = self.henries.iter().map(|&(j, k, l)| (of(j), of(k), l / d));
        let coupled: Vec<_> = coupled.collect();
        let reduced = Rc::new(self.network.reduce(&laws, &coupled)?);
        if self.known.len() >= MOST_KNOWN {
            self.known.clear();
        }
        self.known.insert(key, Rc::clone(&reduced));
        Ok(reduced)
    }

    /// The rates that go with what is stored, right after something has changed.
    fn jump(&mut self, at_s: f64) -> Result<Solution, SolveError> {
        let from: Vec<f64> = self.stores.iter().map(|s| s.value).collect();
        let (amps, volts) = self.solve(at_s, INSTANT_S, &from, false)?;
        for store in &mut self.stores {
            store.rate = match store.kind {
                Kind::Capacitor(_) => amps[store.port],
                Kind::Inductor => volts[store.port],
            };
        }
        self.volts = volts;
        self.network.whole(self.net, &amps, true)
    }

    /// Tries a step of `h` seconds.
    fn step(&mut self, now: f64, h: f64) -> Result<Step, SolveError> {
        let d = GAMMA * h / 2.0;
        let start: Vec<f64> = self.stores.iter().map(|s| s.value).collect();
        let (amps, volts) = self.solve(now + GAMMA * h, d, &start, true)?;
        let (middle, midway) = self.read(&amps, &volts);
        let (a, b) = (
            1.0 / (GAMMA * (2.0 - GAMMA)),
            (1.0 - GAMMA) * (1.0 - GAMMA) / (GAMMA * (2.0 - GAMMA)),
        );
        let from: Vec<f64> = middle
            .iter()
            .zip(&start)
            .map(|(m, s)| a * m - b * s)
            .collect();
        let (amps, volts) = self.solve(now + h, d, &from, false)?;
        let (values, rates) = self.read(&amps, &volts);
        Ok(Step {
            values,
            rates,
            midway,
            amps,
            volts,
        })
    }

    /// Value and rate of each store, of what is at the ports.
    fn read(&self, amps: &[f64], volts: &[f64]) -> (Vec<f64>, Vec<f64>) {
        let both = self.stores.iter().map(|s| match s.kind {
            Kind::Capacitor(_) => (volts[s.port], amps[s.port]),
            Kind::Inductor => (amps[s.port], volts[s.port]),
        });
        both.unzip()
    }

    /// Estimated error of a step, as a multiple of what is allowed.
    fn error(&self, step: &Step, h: f64, tolerance: f64) -> f64 {
        let k = (-3.0 * GAMMA * GAMMA + 4.0 * GAMMA - 2.0) / (12.0 * (2.0 - GAMMA));
        // The third difference of the rates, as volts or amperes per second.
        let bend: Vec<f64> = (0..self.stores.len())
            .map(|n| {
                self.stores[n].rate / GAMMA - step.midway[n] / (GAMMA * (1.0 - GAMMA))
                    + step.rates[n] / (1.0 - GAMMA)
            })
            .collect();
        let mut worst = 0.0_f64;
        for (n, store) in self.stores.iter().enumerate() {
            let slope = match store.kind {
                Kind::Capacitor(farads) => bend[n] / farads,
                Kind::Inductor => {
                    let row = self.inverse.iter().filter(|h| h.0 == n);
                    row.map(|&(_, k, l)| l * bend[k]).sum()
                }
            };
            let size = step.values[n].abs().max(SHARE * store.most).max(LEAST);
            worst = worst.max((2.0 * k * h * slope).abs() / (tolerance * size));
        }
        worst
    }

    fn accept(&mut self, step: Step) {
        for (n, store) in self.stores.iter_mut().enumerate() {
            store.value = step.values[n];
            store.rate = step.rates[n];
            store.most = store.most.max(store.value.abs());
        }
        self.volts = step.volts;
    }

    /// Switches that want to change, given what is there.
    fn wanting(&self, at_s: f64, now: &Solution) -> Vec<usize> {
        let each = self.switches.iter().zip(&self.motion.switches).enumerate();
        each.filter(|(n, (state, s))| {
            at_s >= self.resting[*n]
                && s.wants((state.closed, state.sign), at_s, self.net, now) > 0.0
        })
        .map(|(n, _)| n)
        .collect()
    }

    /// The next instant at which a schedule changes something.
    fn alarm(&self) -> f64 {
        let each = self.motion.switches.iter().zip(&self.kept);
        each.filter_map(|(s, kept)| s.instant(*kept))
            .fold(f64::INFINITY, f64::min)
    }

    /// Switches whose schedule changes them by an instant. They are told once.
    fn due(&mut self, by_s: f64) -> Vec<usize> {
        let mut out = Vec::new();
        for (n, s) in self.motion.switches.iter().enumerate() {
            if s.instant(self.kept[n]).is_some_and(|t| t <= by_s) {
                self.kept[n] += 1;
                out.push(n);
            }
        }
        out
    }
}

/// The inverse of the table of inductances, by Gauss and Jordan, without its zeros.
fn inverse(henries: &[(usize, usize, f64)], stores: usize) -> Vec<(usize, usize, f64)> {
    use faer::prelude::Solve;
    let mut m = faer::Mat::<f64>::identity(stores, stores);
    for &(j, k, l) in henries {
        m[(j, k)] = l;
    }
    let inverse = m
        .partial_piv_lu()
        .solve(faer::Mat::<f64>::identity(stores, stores));
    let all = (0..stores).flat_map(|j| (0..stores).map(move |k| (j, k)));
    all.map(|(j, k)| (j, k, inverse[(j, k)]))
        .filter(|t| t.2 != 0.0)
        .collect()
}
