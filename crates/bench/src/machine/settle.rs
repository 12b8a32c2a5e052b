//! Settling: solve, let every part answer, repeat until nothing changes.
//!
//! Parts say which change they want and after how long. The soonest comes first, so relays,
//! solenoids and fuses follow each other in the order of their time constants. Contacts settle at
//! the present speed of the motors; only then do motors find their balance, so inrush and
//! locked-rotor current are there for the fuses and contacts to feel. When a constellation comes
//! back, the machine cycles: a relay that chatters, a solenoid that clicks.

use std::sync::{Arc, OnceLock};

use cimento_solver::{Element, Solution, Solver};

use super::rippling::Rippling;
use super::wiring::{Half, turning_rpm, wire_up};
use super::{BenchError, named};
use cimento_model::circuit::Circuit;
use cimento_model::faults::Fault;
use cimento_model::part::{Alternation, Change, Context, Look, PartState};
use cimento_model::stamped::StampedNetlist;
use cimento_model::stamped::Wave;
use cimento_model::state::OperatingState;

/// Time in which what has been heated by too much current cools down to a third; common practice for blade fuses.
const COOLS_S: f64 = 10.0;
/// A state is held for this long before it is looked at, in seconds: what has not happened by then has to be waited for.
pub(super) const HOLD_S: f64 = 10.0;
/// More changes than this without a constellation coming back are taken as a cycle of all of them.
const MOST_CHANGES: usize = 400;
/// A motor takes about this long to reach its balance, in seconds, and the heat of its inrush is
/// about this share of what the first instant's current would make; common practice.
const SPIN_UP_S: f64 = 0.3;
const INRUSH_SHARE: f64 = 1.0 / 3.0;
/// A meter that takes less than this share of what it reads changes nothing but that.
const LIGHT_SHARE: f64 = 1e-4;
/// Speeds closer than this are one, in rad/s.
const SPEED_STEP: f64 = 0.01;

/// Resistance of each node to zero, in ohms, for each wave.
type ToZero = Vec<Arc<[f64]>>;

/// One constellation of the machine with its solution.
#[derive(Debug, Clone)]
pub struct Point {
    pub wiring: Arc<StampedNetlist>,
    /// The operating point; the mean over the waves where something goes to and fro.
    pub op: Arc<Solution>,
    /// The operating point in each half of what goes to and fro; empty when nothing does.
    pub waves: Arc<[Wave]>,
    pub parts: Vec<PartState>,
    /// Resistance of each node to zero in each of the waves, or in the one operating point; worked out when a
    /// meter first asks for it.
    to_zero: Arc<OnceLock<Option<ToZero>>>,
    /// How long the machine stays in it, in seconds.
    pub lasts_s: f64,
}

/// A machine solved in one constellation of its parts.
struct Solved {
    wiring: StampedNetlist,
    op: Solution,
    waves: Vec<Wave>,
}

/// A machine wired up in one half of what goes to and fro.
struct Wired {
    wiring: StampedNetlist,
    share: f64,
    halves: Vec<(Alternation, bool)>,
}

/// At most this many parts go to and fro independently; more follow the first.
const MOST_ALTERNATING: usize = 3;

/// Something that happened while the machine settled.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Event {
    /// The part, by position.
    pub part: usize,
    pub level: u64,
    pub at_s: f64,
}

/// What the machine settled to: one point, or the points of a cycle.
#[derive(Debug, Clone, Default)]
pub struct Settled {
    pub points: Vec<Point>,
    /// The points passed on the way there: the inrush, a contact on its way.
    pub passed: Vec<Point>,
    pub events: Vec<Event>,
}

impl Settled {
    /// The machine never comes to rest.
    pub fn cycles(&self) -> bool {
        self.points.len() > 1
    }

    /// Least and most of a value over the points, `None` when there are none.
    pub fn range(&self, value: impl Fn(&Point) -> f64) -> Option<(f64, f64)> {
        self.points
            .iter()
            .map(value)
            .fold(None, |range, v| match range {
                None => Some((v, v)),
                Some((least, most)) => Some((v.min(least), v.max(most))),
            })
    }
}

/// The faults that are there in a state.
pub(super) fn active(circuit: &Circuit, faults: &[Fault], state: &OperatingState) -> Vec<Fault> {
    let there = faults.iter().filter(|f| f.is_active(circuit, state));
    there.cloned().collect()
}

struct Run<'a> {
    solver: &'a mut Solver,
    circuit: &'a Circuit,
    faults: Vec<Fault>,
    state: &'a OperatingState,
    attach: &'a dyn Fn(&mut StampedNetlist),
}

impl Run<'_> {
    /// The netlist of each half of what goes to and fro; of the machine as it stands where nothing does.
    fn wired(
        &self,
        parts: &[PartState],
        balanced: &dyn Fn(usize) -> bool,
        rippling: &Rippling,
    ) -> Vec<Wired> {
        let mut alternating = self.alternating(parts);
        alternating.extend(rippling.generators.iter().map(|(n, r)| {
            let share = 0.5;
            (*n, Alternation { hz: r.hz, share })
        }));
        // What goes to and fro alike does so together: one wheel turns it all.
        let mut groups: Vec<Alternation> = Vec::new();
        let of: Vec<usize> = alternating
            .iter()
            .map(|(_, a)| {
                groups.iter().position(|g| g == a).unwrap_or_else(|| {
                    groups.push(*a);
                    groups.len() - 1
                })
            })
            .collect();
        let free = groups.len().min(MOST_ALTERNATING);
        let wired = |mask: usize| {
            let is_up = |group: usize| mask >> group.min(free - 1) & 1 == 0;
            let half = |n: usize| {
                let at = alternating.iter().position(|(part, _)| *part == n);
                let up = at.is_none_or(|at| is_up(of[at]));
                let riding = rippling.in_half(n, up);
                Half { up, riding }
            };
            let mut wiring = wire_up(
                self.circuit,
                &self.faults,
                self.state,
                parts,
                balanced,
                &half,
                None,
            );
            (self.attach)(&mut wiring);
            let halves = alternating.iter().zip(&of);
            let share = |(group, a): (usize, &Alternation)| {
                if is_up(group) { a.share } else { 1.0 - a.share }
            };
            Wired {
                wiring,
                share: groups.iter().enumerate().take(free).map(share).product(),
                halves: halves.map(|((_, a), &group)| (*a, is_up(group))).collect(),
            }
        };
        (0..1usize << free).map(wired).collect()
    }

    fn solve(
        &mut self,
        parts: &[PartState],
        balanced: &dyn Fn(usize) -> bool,
        rippling: &Rippling,
    ) -> Result<Solved, BenchError> {
        let mut first = None;
        let mut waves = Vec::new();
        for half in self.wired(parts, balanced, rippling) {
            let op = match self.solver.operating_point(&half.wiring.net) {
                Ok(op) => op,
                Err(error) => return Err(named(self.circuit, &half.wiring, error)),
            };
            if half.halves.is_empty() {
                return Ok(Solved {
                    wiring: half.wiring,
                    op,
                    waves,
                });
            }
            waves.push(Wave {
                share: half.share,
                halves: half.halves,
                op,
            });
            first.get_or_insert(half.wiring);
        }
        let shares: Vec<(f64, &Solution)> = waves.iter().map(|w| (w.share, &w.op)).collect();
        Ok(Solved {
            op: Solution::mean(&shares),
            wiring: first.unwrap_or_default(),
            waves,
        })
    }

    /// The parts that go to and fro in their present state.
    fn alternating(&self, parts: &[PartState]) -> Vec<(usize, Alternation)> {
        let rpm = turning_rpm(self.circuit, self.state, parts);
        if rpm <= 0.0 {
            return Vec::new();
        }
        let one = |(index, part): (usize, &cimento_model::circuit::Part)| {
            let context = Context {
                index,
                part,
                state: parts[index],
                operating: self.state,
                faults: &self.faults,
                rpm,
            };
            Some((index, part.kind.alternation(&context)?))
        };
        self.circuit
            .parts
            .iter()
            .enumerate()
            .filter_map(one)
            .collect()
    }

    fn look<'b>(
        &'b self,
        index: usize,
        parts: &[PartState],
        solved: (&'b StampedNetlist, &'b Solution, &'b [Wave]),
    ) -> Look<'b> {
        let (wiring, op, waves) = solved;
        Look {
            context: Context {
                index,
                part: &self.circuit.parts[index],
                state: parts[index],
                operating: self.state,
                faults: &self.faults,
                rpm: turning_rpm(self.circuit, self.state, parts),
            },
            wiring,
            op,
            waves,
        }
    }

    fn wanted(
        &self,
        parts: &[PartState],
        solved: (&StampedNetlist, &Solution, &[Wave]),
    ) -> Vec<(usize, Change)> {
        let present = (0..parts.len()).filter(|&n| {
            let place = cimento_model::circuit::Place::Part(n);
            !self.state.is_apart(self.circuit, place)
        });
        present
            .filter_map(|n| {
                let look = self.look(n, parts, solved);
                Some((n, self.circuit.parts[n].kind.next(&look)?))
            })
            .collect()
    }

    /// Speeds of the motors in balance with their loads; one that the load would turn backwards
    /// stands still.
    fn balanced_speeds(
        &mut self,
        parts: &[PartState],
        wiring: &StampedNetlist,
        op: &Solution,
    ) -> Result<Vec<f64>, BenchError> {
        let stand = wiring
            .tags()
            .iter()
            .all(|l| match *wiring.net.element(l.element) {
                Element::Motor { k, load, held, .. } => {
                    held == Some(0.0) && k * op.current(l.element) <= load.static_nm
                }
                _ => true,
            });
        if stand {
            return Ok(vec![0.0; parts.len()]);
        }
        let mut stuck = vec![false; parts.len()];
        loop {
            let held = |n: usize| !stuck[n];
            let mut at_rest = parts.to_vec();
            for (part, _) in at_rest.iter_mut().zip(&stuck).filter(|(_, s)| **s) {
                part.speed = 0.0;
            }
            let Solved { wiring, op, waves } = self.solve(&at_rest, &held, &Rippling::default())?;
            let solved = (&wiring, &op, waves.as_slice());
            let speeds: Vec<f64> = (0..parts.len())
                .map(|n| self.look(n, &at_rest, solved).speed("motor"))
                // What the numerics leave of a motor that nothing drives is no turning.
                .map(|speed| if speed.abs() < SPEED_STEP { 0.0 } else { speed })
                .collect();
            let back = |n: &usize| !stuck[*n] && speeds[*n] < 0.0;
            let turning_back: Vec<usize> = (0..parts.len()).filter(back).collect();
            if turning_back.is_empty() {
                return Ok(speeds);
            }
            for n in turning_back {
                stuck[n] = true;
            }
        }
    }
}

/// Settles a circuit in a state, starting from the parts as they are, and holds it there for so many seconds.
pub(super) fn settle(
    solver: &mut Solver,
    circuit: &Circuit,
    faults: &[Fault],
    state: &OperatingState,
    (parts, hold_s): (&[PartState], f64),
    attach: &dyn Fn(&mut StampedNetlist),
) -> Result<Settled, BenchError> {
    let mut run = Run {
        solver,
        circuit,
        faults: active(circuit, faults, state),
        state,
        attach,
    };
    let mut parts = parts.to_vec();
    let mut trail: Vec<(Vec<(u64, i64)>, Point)> = Vec::new();
    let mut waited = vec![0.0; parts.len()];
    // The balance of the motors hangs on the levels alone: it is found once for each constellation.
    let mut balanced: Vec<(Vec<u64>, Vec<f64>)> = Vec::new();
    let (mut now_s, mut events, mut passed) = (0.0, Vec::new(), Vec::new());
    loop {
        let Solved { wiring, op, waves } = run.solve(&parts, &|_| false, &Rippling::default())?;
        let wanted = run.wanted(&parts, (&wiring, &op, &waves));
        for (n, wait) in waited.iter_mut().enumerate() {
            if !wanted.iter().any(|(w, _)| *w == n) {
                *wait = 0.0;
            }
        }
        let soonest = wanted
            .iter()
            .map(|&(n, change)| (n, change, remaining(change, waited[n])))
            .min_by(|a, b| a.2.total_cmp(&b.2));
        let (wiring, op, waves) = (Arc::new(wiring), Arc::new(op), Arc::<[Wave]>::from(waves));
        let point = |lasts_s: f64, parts: &[PartState]| Point {
            wiring: Arc::clone(&wiring),
            op: Arc::clone(&op),
            waves: Arc::clone(&waves),
            parts: parts.to_vec(),
            to_zero: Arc::default(),
            lasts_s,
        };
        let soonest = soonest.filter(|(_, _, after_s)| now_s + after_s <= hold_s);
        // What takes longer than a motor takes to spin up feels the balanced speed, not the inrush.
        let quick = soonest.filter(|(_, _, after_s)| *after_s <= SPIN_UP_S);
        let speeds = match quick {
            Some(_) => None,
            None => {
                let now: Vec<u64> = parts.iter().map(|p| p.level).collect();
                let known = balanced.iter().find(|(levels, _)| *levels == now);
                Some(match known {
                    Some((_, speeds)) => speeds.clone(),
                    None => {
                        let speeds = run.balanced_speeds(&parts, &wiring, &op)?;
                        balanced.push((now, speeds.clone()));
                        speeds
                    }
                })
            }
        };
        let apart = |p: &PartState, s: &f64| (p.speed - s).abs() > SPEED_STEP;
        let moved = speeds.filter(|speeds| parts.iter().zip(speeds).any(|(p, s)| apart(p, s)));
        match (moved, soonest) {
            (Some(speeds), _) => {
                trail.push((signature(&parts), point(SPIN_UP_S, &parts)));
                pass(&mut parts, &mut waited, &wanted, SPIN_UP_S * INRUSH_SHARE);
                now_s += SPIN_UP_S;
                for (part, speed) in parts.iter_mut().zip(speeds) {
                    part.speed = speed;
                }
            }
            (None, Some((n, change, after_s))) => {
                trail.push((signature(&parts), point(after_s, &parts)));
                pass(&mut parts, &mut waited, &wanted, after_s);
                now_s += after_s;
                parts[n].level = change.level;
                parts[n].wear = 0.0;
                waited[n] = 0.0;
                events.push(Event {
                    part: n,
                    level: change.level,
                    at_s: now_s,
                });
            }
            (None, None) => {
                pass(&mut parts, &mut waited, &wanted, hold_s - now_s);
                cool(&mut parts, &wanted, hold_s - now_s);
                let points = vec![point(hold_s, &parts)];
                passed.extend(trail.into_iter().map(|(_, p)| p));
                return Ok(Settled {
                    points,
                    passed,
                    events,
                });
            }
        }
        let now = signature(&parts);
        let back = trail.iter().position(|(s, _)| *s == now);
        let first = match back {
            Some(first) => first,
            None if trail.len() >= MOST_CHANGES => 0,
            None => continue,
        };
        let cycle: Vec<Point> = trail.drain(first..).map(|(_, p)| p).collect();
        if !melts(&run, &mut parts, &cycle, hold_s - now_s) {
            passed.extend(trail.into_iter().map(|(_, p)| p));
            return Ok(Settled {
                points: cycle,
                passed,
                events,
            });
        }
        passed.extend(trail.drain(..).map(|(_, p)| p));
    }
}

/// A meter held to a point of a machine.
pub(super) struct Held<'a> {
    pub circuit: &'a Circuit,
    pub faults: &'a [Fault],
    pub state: &'a OperatingState,
    pub point: &'a Point,
    pub nodes: (usize, usize),
    /// The meter's own.
    pub ohms: f64,
}

impl Held<'_> {
    fn run<'r>(&'r self, solver: &'r mut Solver) -> Run<'r> {
        Run {
            solver,
            circuit: self.circuit,
            faults: active(self.circuit, self.faults, self.state),
            state: self.state,
            attach: &|_| (),
        }
    }

    /// The netlist of each wave with its solution, or of the one operating point.
    fn each<T>(
        &self,
        run: &mut Run<'_>,
        mut ask: impl FnMut(&mut Solver, &StampedNetlist, &Solution) -> Option<T>,
    ) -> Option<Vec<T>> {
        let point = self.point;
        if point.waves.is_empty() {
            return Some(vec![ask(run.solver, &point.wiring, &point.op)?]);
        }
        let wired = run.wired(&point.parts, &|_| false, &Rippling::default());
        let both = wired.iter().zip(point.waves.iter());
        both.map(|(half, wave)| ask(run.solver, &half.wiring, &wave.op))
            .collect()
    }

    /// Resistance that the meter sees, in ohms, in each wave; `None` where it cannot be told.
    fn seen_ohms(&self, solver: &mut Solver) -> Option<Vec<f64>> {
        let point = self.point;
        let node = match self.nodes {
            (node, 0) | (0, node) => point.wiring.node(node),
            (a, b) => {
                let at = (point.wiring.node(a), point.wiring.node(b));
                return self.each(&mut self.run(solver), |solver, wiring, op| {
                    solver.seen_ohms(&wiring.net, op, at).ok()
                });
            }
        };
        let to_zero = point.to_zero.get_or_init(|| {
            self.each(&mut self.run(solver), |solver, wiring, op| {
                solver.to_zero(&wiring.net, op).ok().map(Arc::from)
            })
        });
        let all = to_zero.as_ref()?.iter();
        Some(all.map(|ohms| ohms[node.index()]).collect())
    }

    /// Whether the meter hardly matters, with the shares of its own ohms that it sees.
    fn shares(&self, solver: &mut Solver) -> Option<(bool, Vec<f64>)> {
        let seen = self.seen_ohms(solver)?.into_iter();
        let shares: Vec<f64> = seen.map(|ohms| ohms / self.ohms).collect();
        let light = shares
            .iter()
            .all(|share| (0.0..LIGHT_SHARE).contains(share));
        Some((light, shares))
    }

    /// Whether the meter hardly matters to a machine in which nothing goes to and fro; where something does, the
    /// meter belongs to what is followed in time.
    pub(super) fn is_light(&self, solver: &mut Solver) -> bool {
        self.point.waves.is_empty() && self.shares(solver).is_some_and(|(light, _)| light)
    }

    /// Volts at the meter where no part changes its state for it: of a machine that stands in this point
    /// `alone`. `None` where it has to be settled anew with the meter.
    pub(super) fn volts(&self, solver: &mut Solver, alone: bool) -> Option<f64> {
        let point = self.point;
        let at = [self.nodes.0, self.nodes.1].map(|n| point.wiring.node(n));
        let (light, shares) = self.shares(solver)?;
        let between = |op: &Solution| op.between(at[0], at[1]);
        let waves = point.waves.iter();
        if light {
            let one =
                |(wave, share): (&Wave, &f64)| (wave.share, between(&wave.op) / (1.0 + share));
            let volts: Vec<(f64, f64)> = waves.zip(&shares).map(one).collect();
            let whole: f64 = volts.iter().map(|(share, _)| share).sum();
            return Some(match volts.as_slice() {
                [] => between(&point.op) / (1.0 + shares[0]),
                all => all.iter().map(|(share, v)| share / whole * v).sum(),
            });
        }
        if !alone {
            // Where a machine goes between points, the meter may change how long it stays in each.
            return None;
        }
        let mut run = self.run(solver);
        let loaded = self.each(&mut run, |solver, wiring, op| {
            solver.loaded(&wiring.net, op, (at[0], at[1]), self.ohms)
        })?;
        let waves: Vec<Wave> = waves
            .zip(&loaded)
            .map(|(wave, op)| Wave {
                op: op.clone(),
                ..wave.clone()
            })
            .collect();
        let shares: Vec<(f64, &Solution)> = waves.iter().map(|w| (w.share, &w.op)).collect();
        let op = match shares.as_slice() {
            [] => loaded.into_iter().next()?,
            shares => Solution::mean(shares),
        };
        let wanted = |op: &Solution, waves: &[Wave]| -> Vec<(usize, u64)> {
            let all = run.wanted(&point.parts, (&point.wiring, op, waves));
            all.into_iter()
                .map(|(n, change)| (n, change.level))
                .collect()
        };
        (wanted(&op, &waves) == wanted(&point.op, &point.waves)).then(|| between(&op))
    }
}

/// The constellations of a machine, each with the waves that run through it.
pub type Waves = Vec<(Arc<StampedNetlist>, Vec<Wave>)>;

/// The constellations of a settled machine with what goes to and fro in them, ripple of generators
/// included; one wave each where nothing does.
pub(super) fn waves(
    solver: &mut Solver,
    circuit: &Circuit,
    faults: &[Fault],
    state: &OperatingState,
    settled: &Settled,
    attach: &dyn Fn(&mut StampedNetlist),
) -> Result<Waves, BenchError> {
    let mut run = Run {
        solver,
        circuit,
        faults: active(circuit, faults, state),
        state,
        attach,
    };
    let mut out = Vec::new();
    for point in &settled.points {
        let solved = (&*point.wiring, &*point.op, &*point.waves);
        let rippling = Rippling::of(circuit, |n| Some(run.look(n, &point.parts, solved)));
        let Solved {
            wiring,
            op,
            mut waves,
        } = run.solve(&point.parts, &|_| false, &rippling)?;
        if waves.is_empty() {
            waves.push(Wave {
                share: 1.0,
                halves: Vec::new(),
                op,
            });
        }
        out.push((Arc::new(wiring), waves));
    }
    Ok(out)
}

/// A point that was passed, as far as it takes to solve it again: its netlist is many times as large.
#[derive(Debug, Clone)]
pub(super) struct Passed {
    parts: Vec<PartState>,
    lasts_s: f64,
}

impl Settled {
    /// Takes out the points passed on the way.
    pub(super) fn take_passed(&mut self) -> Vec<Passed> {
        let passed = std::mem::take(&mut self.passed).into_iter();
        let short = |point: Point| Passed {
            parts: point.parts,
            lasts_s: point.lasts_s,
        };
        passed.map(short).collect()
    }
}

/// The points that a settled machine passed on its way, and those it came to, with something
/// attached.
pub(super) fn passed(
    solver: &mut Solver,
    circuit: &Circuit,
    faults: &[Fault],
    state: &OperatingState,
    (passed, settled): (&[Passed], &Settled),
    attach: &dyn Fn(&mut StampedNetlist),
) -> Result<Vec<Point>, BenchError> {
    let mut run = Run {
        solver,
        circuit,
        faults: active(circuit, faults, state),
        state,
        attach,
    };
    let passed = passed.iter().map(|p| (&p.parts, p.lasts_s));
    let settled = settled.points.iter().map(|p| (&p.parts, p.lasts_s));
    let all = passed.chain(settled);
    all.map(|(parts, lasts_s)| {
        let Solved { wiring, op, waves } = run.solve(parts, &|_| false, &Rippling::default())?;
        Ok(Point {
            wiring: Arc::new(wiring),
            op: Arc::new(op),
            waves: waves.into(),
            parts: parts.clone(),
            to_zero: Arc::default(),
            lasts_s,
        })
    })
    .collect()
}

/// Seconds left of a change that has been waited for. A melting element keeps its own account.
fn remaining(change: Change, waited: f64) -> f64 {
    if change.wear_per_s > 0.0 {
        change.after_s
    } else {
        (change.after_s - waited).max(0.0)
    }
}

fn pass(parts: &mut [PartState], waited: &mut [f64], wanted: &[(usize, Change)], after_s: f64) {
    for &(n, change) in wanted {
        waited[n] += after_s;
        parts[n].wear = (parts[n].wear + change.wear_per_s * after_s).min(1.0);
    }
}

/// What no longer melts cools down, and is as good as before in the end.
fn cool(parts: &mut [PartState], wanted: &[(usize, Change)], for_s: f64) {
    let left = (-for_s / COOLS_S).exp();
    for (n, part) in parts.iter_mut().enumerate() {
        if !wanted.iter().any(|(w, c)| *w == n && c.wear_per_s > 0.0) {
            part.wear *= left;
        }
    }
}

fn signature(parts: &[PartState]) -> Vec<(u64, i64)> {
    let one = |p: &PartState| (p.level, (p.speed / SPEED_STEP).round() as i64);
    parts.iter().map(one).collect()
}

/// Lets a cycle go on for as long as the state is held; the first element that melts by then is
/// blown, and the machine has to settle anew.
fn melts(run: &Run<'_>, parts: &mut [PartState], cycle: &[Point], left_s: f64) -> bool {
    let period: f64 = cycle.iter().map(|p| p.lasts_s).sum();
    if period <= 0.0 {
        return false;
    }
    let mut rate = vec![(0.0, 0u64); parts.len()];
    for point in cycle {
        for (n, change) in run.wanted(&point.parts, (&point.wiring, &point.op, &point.waves)) {
            if change.wear_per_s > 0.0 {
                rate[n].0 += change.wear_per_s * point.lasts_s / period;
                rate[n].1 = change.level;
            }
        }
    }
    // What opens and closes within the cycle is its cause, not its victim.
    let still = |n: usize| {
        cycle
            .iter()
            .all(|p| p.parts[n].level == cycle[0].parts[n].level)
    };
    let first = (0..parts.len())
        .filter(|&n| rate[n].0 > 0.0 && still(n))
        .map(|n| (n, (1.0 - parts[n].wear) / rate[n].0))
        .min_by(|a, b| a.1.total_cmp(&b.1));
    match first {
        Some((n, after_s)) if after_s <= left_s => {
            parts[n].level = rate[n].1;
            parts[n].wear = 1.0;
            true
        }
        _ => false,
    }
}
