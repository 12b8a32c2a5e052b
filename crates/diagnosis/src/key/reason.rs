//! Why a row reads what it reads, drawn from what the two machines have come to.

use std::cmp::Ordering;
use std::collections::BTreeSet;

use super::RowKind;
use super::claim::{Claim, Side};
use super::staircase::node_volts;
use cimento_bench::instruments::{Function, Shown};
use cimento_bench::{Bench, Point};
use cimento_model::circuit::{CurrentPath, Place};
use cimento_model::part::PartState;
use cimento_model::stamped::{ElementTag, Role};
use cimento_model::units::{Quantity, Unit};

/// Volts that count as lost or gained.
pub(crate) const LOST_V: f64 = 0.05;
/// Current that counts as flowing, in amperes.
pub(crate) const FLOWS_A: f64 = 0.005;
/// Of a difference that a battery's own accounts for to this share, no more has to be said.
const ACCOUNTS: f64 = 0.7;

/// The two machines in one state, from which reasons are drawn.
pub(super) struct Why<'a> {
    healthy: &'a Bench,
    faulted: &'a Bench,
}

/// What the two show.
pub(super) struct Showing<'a> {
    pub healthy: &'a Shown,
    pub faulted: &'a Shown,
    pub tells: bool,
}

impl Showing<'_> {
    fn wanders(&self) -> bool {
        self.healthy.wanders.is_none() && self.faulted.wanders.is_some()
    }
}

/// A step of a current path with the volts across it, from the supply's side to battery negative's.
struct PathStep {
    place: Place,
    side: Side,
    is_load: bool,
    was: f64,
    is: f64,
}

impl PathStep {
    /// How much the step raises the point.
    fn raises(&self) -> f64 {
        match self.side {
            Side::Before => self.was - self.is,
            Side::After => self.is - self.was,
        }
    }

    /// Volts are lost across it that a healthy circuit keeps; a load is meant to use them.
    fn is_lost(&self) -> bool {
        !self.is_load && self.is - self.was > LOST_V
    }

    /// By how much it matters.
    fn order(&self, other: &Self) -> Ordering {
        self.raises().abs().total_cmp(&other.raises().abs())
    }
}

impl<'a> Why<'a> {
    pub fn new(healthy: &'a Bench, faulted: &'a Bench) -> Self {
        Self { healthy, faulted }
    }

    /// Why an instrument shows what it shows at a node, and, of a drop, along a place.
    pub fn between(
        &self,
        function: Function,
        red: usize,
        place: Option<Place>,
        shows: &Showing<'_>,
    ) -> Claim {
        if !shows.tells {
            return self.same(red);
        }
        let on_the_way = self.on_the_way(|path| stands_at(path, red));
        if shows.wanders()
            && let Some(part) = self.chatters(&on_the_way)
        {
            return Claim::Chatters { part };
        }
        match function.unit() {
            Unit::Volt | Unit::Light if function.fineness().is_some() => match place {
                Some(place) => match (shows.faulted.value, shows.healthy.value) {
                    (Quantity::Number(is), Quantity::Number(was)) => self.drop(place, is, was),
                    _ => Claim::Shows,
                },
                None => self.volts(red, &on_the_way),
            },
            Unit::Volt => Claim::Swings {
                by: shows.faulted.value.number(),
                healthy_by: shows.healthy.value.number(),
            },
            _ => Claim::Shows,
        }
    }

    /// Why an instrument without a black lead shows what it shows.
    pub fn one_lead(&self, kind: RowKind, place: Option<Place>, shows: &Showing<'_>) -> Claim {
        if !shows.tells {
            return Claim::AsHealthy;
        }
        let on_the_way = self.on_the_way(|path| place.is_some_and(|p| self.leads_through(path, p)));
        if shows.wanders()
            && let Some(part) = self.chatters(&on_the_way)
        {
            return Claim::Chatters { part };
        }
        match (kind, place) {
            (RowKind::Module, Some(Place::Part(n) | Place::Pin(n, _))) => {
                let part = self.faulted.circuit.parts[n].id.clone();
                match answers(self.faulted, n) {
                    true => Claim::Reported,
                    false => Claim::NoAnswer { part },
                }
            }
            (RowKind::Module, _) => Claim::Reported,
            (_, Some(place)) => match (shows.faulted.value, shows.healthy.value) {
                (Quantity::Number(is), Quantity::Number(was)) => {
                    self.flows(place, is, was, &on_the_way)
                }
                _ => Claim::Shows,
            },
            (_, None) => Claim::Shows,
        }
    }

    fn flows(
        &self,
        place: Place,
        amps: f64,
        healthy_amps: f64,
        on_the_way: &BTreeSet<usize>,
    ) -> Claim {
        let blown = || self.blown(on_the_way);
        let lost = || {
            let paths = self.faulted.circuit.paths().iter();
            let through = paths.filter(|path| self.leads_through(path, place));
            let steps = through.flat_map(|path| self.steps(path, path.stops.len()));
            let most = steps.filter(PathStep::is_lost).max_by(PathStep::order)?;
            Some(self.lost(&most, None))
        };
        let because = match amps.abs() < healthy_amps.abs() {
            true => blown().or_else(|| self.armature(on_the_way)).or_else(lost),
            false => self.armature(on_the_way),
        };
        Claim::Flows {
            place: self.id(place),
            amps,
            healthy_amps,
            because: because.map(Box::new),
        }
    }

    fn lost(&self, step: &PathStep, side: Option<Side>) -> Claim {
        Claim::Lost {
            place: self.id(step.place),
            volts: step.is,
            healthy_volts: step.was,
            side,
            blown: matches!(step.place, Place::Part(n) if self.has_blown(n)),
        }
    }

    /// Why a point stands at other volts against battery negative.
    fn volts(&self, red: usize, on_the_way: &BTreeSet<usize>) -> Claim {
        let on_paths = self.volts_on_paths(red, on_the_way);
        on_paths
            .or_else(|| self.off_the_paths(red))
            .unwrap_or_else(|| Claim::Differs {
                volts: self.rise(red),
            })
    }

    /// How far a node stands above where it stands in the healthy machine.
    fn rise(&self, node: usize) -> f64 {
        mid(self.faulted, node) - mid(self.healthy, node)
    }

    fn volts_on_paths(&self, red: usize, on_the_way: &BTreeSet<usize>) -> Option<Claim> {
        let by = self.rise(red);
        let paths = self.faulted.circuit.paths().iter().filter_map(|path| {
            let at = path.stops.iter().position(|s| s.node == red)?;
            Some(self.steps(path, at))
        });
        let steps: Vec<PathStep> = paths.flatten().collect();
        // What moves the point the way it has moved.
        let helping = || steps.iter().filter(|s| s.raises() * by.signum() > LOST_V);
        let lost = || helping().filter(|s| s.is_lost()).max_by(|a, b| a.order(b));
        // On the way back to the battery a point stands at nothing, and what is lost after it says all.
        let says_all = by < 0.0 || is_ground_side(self.faulted, red);
        if let Some(step) = lost().filter(|_| says_all) {
            return Some(self.lost(step, Some(step.side)));
        }
        let others = [
            self.battery(by),
            self.armature(on_the_way),
            self.fed_back(&steps).filter(|_| by > 0.0),
            lost().map(|step| self.lost(step, Some(step.side))),
        ];
        let across = || {
            let step = helping().max_by(|a, b| a.order(b))?;
            Some(Claim::Across {
                place: self.id(step.place),
                volts: step.is,
                healthy_volts: step.was,
                side: step.side,
            })
        };
        others.into_iter().flatten().next().or_else(across)
    }

    /// Why a point on no current path stands otherwise: by what its wires join it to.
    fn off_the_paths(&self, red: usize) -> Option<Claim> {
        let circuit = &self.faulted.circuit;
        let mut joined = BTreeSet::from([red]);
        let mut next = vec![red];
        let mut lost: Option<PathStep> = None;
        while let Some(node) = next.pop() {
            for (n, c) in circuit.conductors.iter().enumerate() {
                let other = match (c.a == node, c.b == node) {
                    (true, false) => c.b,
                    (false, true) => c.a,
                    _ => continue,
                };
                if (self.rise(node) - self.rise(other)).abs() < LOST_V {
                    if joined.insert(other) {
                        next.push(other);
                    }
                    continue;
                }
                let across = |bench: &Bench| (mid(bench, node) - mid(bench, other)).abs();
                let step = PathStep {
                    place: Place::Conductor(n),
                    side: Side::After,
                    is_load: false,
                    was: across(self.healthy),
                    is: across(self.faulted),
                };
                let more = lost.as_ref().is_none_or(|most| step.order(most).is_gt());
                if step.is_lost() && more {
                    lost = Some(step);
                }
            }
        }
        if let Some(step) = lost {
            return Some(self.lost(&step, None));
        }
        let on_paths = joined.iter().filter(|node| **node != red).find_map(|node| {
            let on_the_way = self.on_the_way(|path| stands_at(path, *node));
            let because = self.volts_on_paths(*node, &on_the_way)?;
            Some(Claim::StandsWith {
                point: circuit.point_at(*node)?.id.clone(),
                because: Box::new(because),
            })
        });
        if on_paths.is_some() {
            return on_paths;
        }
        let mut parts = circuit.parts.iter();
        let part = parts.find(|p| p.nodes.iter().any(|n| joined.contains(n)))?;
        Some(Claim::Driven {
            part: part.id.clone(),
            volts: mid(self.faulted, red),
            healthy_volts: mid(self.healthy, red),
        })
    }

    /// Why another voltage is dropped along a place.
    fn drop(&self, place: Place, is: f64, was: f64) -> Claim {
        let (amps, healthy_amps) = (
            most_amps(self.faulted, place),
            most_amps(self.healthy, place),
        );
        if is.abs() < was.abs() && amps.abs() < healthy_amps.abs() - FLOWS_A {
            let on_the_way = self.on_the_way(|path| self.leads_through(path, place));
            return self.flows(place, amps, healthy_amps, &on_the_way);
        }
        Claim::Dropped {
            place: self.id(place),
            volts: is,
            healthy_volts: was,
        }
    }

    fn same(&self, red: usize) -> Claim {
        let flows = |bench: &Bench| through_node(bench, red) >= FLOWS_A;
        match (flows(self.healthy), flows(self.faulted)) {
            (false, false) => Claim::NothingFlows,
            (true, false) => Claim::NothingFlowsNow,
            _ => Claim::AsHealthy,
        }
    }

    /// The steps of a path, seen from one of its stops.
    fn steps(&self, path: &'a CurrentPath, at: usize) -> impl Iterator<Item = PathStep> {
        let circuit = &self.faulted.circuit;
        let both = path.stops.windows(2).enumerate();
        both.filter_map(move |(n, pair)| {
            let (a, b) = (pair[0].node, pair[1].node);
            let place = circuit.place(pair[1].through.as_deref()?)?;
            let across = |bench: &Bench| mid(bench, a) - mid(bench, b);
            Some(PathStep {
                place,
                side: if n < at { Side::Before } else { Side::After },
                is_load: is_load_step(self.faulted, place, a, b),
                was: across(self.healthy),
                is: across(self.faulted),
            })
        })
    }

    /// A load of the path that current runs through backwards.
    fn fed_back(&self, steps: &[PathStep]) -> Option<Claim> {
        let turned = |s: &&PathStep| s.is_load && s.was > -LOST_V && s.is < -LOST_V;
        let load = steps.iter().find(turned)?.place;
        let amps = most_amps(self.faulted, load);
        (amps.abs() >= FLOWS_A).then(|| Claim::FedBack {
            load: self.id(load),
            amps,
        })
    }

    /// A battery whose own volts account for a difference.
    fn battery(&self, by: f64) -> Option<Claim> {
        let parts = self.faulted.circuit.parts.iter().enumerate();
        let mut claims = parts.filter(|(_, p)| p.kind.is_source()).map(|(n, part)| {
            let stands = |bench: &Bench| mid(bench, part.nodes[0]) - mid(bench, part.nodes[1]);
            let gives = |bench: &Bench| -battery_amps(bench, n);
            (
                part,
                [self.faulted, self.healthy].map(|b| (stands(b), gives(b))),
            )
        });
        let accounts = |is: f64, was: f64| {
            (is - was).abs() > LOST_V
                && (is - was) / by > ACCOUNTS
                && (is - was) / by < 1.0 / ACCOUNTS
        };
        let (part, [(volts, amps), (healthy_volts, healthy_amps)]) =
            claims.find(|(_, [(is, _), (was, _)])| accounts(*is, *was))?;
        Some(Claim::Battery {
            part: part.id.clone(),
            volts,
            healthy_volts,
            amps,
            healthy_amps,
        })
    }

    /// An armature among some parts that stands otherwise than in the healthy circuit.
    fn armature(&self, among: &BTreeSet<usize>) -> Option<Claim> {
        let parts = &self.faulted.circuit.parts;
        let mut turned = among.iter().filter_map(|&n| {
            let pulled = |state: &PartState| parts[n].kind.pulled_in(state);
            let is = pulled(&self.faulted.parts()[n])?;
            (pulled(&self.healthy.parts()[n])? != is).then(|| Claim::Armature {
                part: parts[n].id.clone(),
                pulled_in: is,
            })
        });
        turned.next()
    }

    /// A fuse among some parts that has blown.
    fn blown(&self, among: &BTreeSet<usize>) -> Option<Claim> {
        let fuse = among.iter().find(|n| self.has_blown(**n))?;
        Some(Claim::Blown {
            fuse: self.faulted.circuit.parts[*fuse].id.clone(),
        })
    }

    /// It is a fuse that has blown, and would not have in the healthy circuit.
    fn has_blown(&self, part: usize) -> bool {
        let level = |bench: &Bench| bench.parts()[part].level;
        let is_fuse = self.faulted.circuit.parts[part].kind.is_fuse();
        is_fuse && level(self.healthy) == 0 && level(self.faulted) != 0
    }

    /// A part that goes to and fro, rather one of some.
    fn chatters(&self, rather: &BTreeSet<usize>) -> Option<String> {
        let points = &self.faulted.settled().points;
        let moves = |n: &usize| {
            let level = |p: &Point| p.parts[*n].level;
            points.iter().any(|p| level(p) != level(&points[0]))
        };
        let parts = &self.faulted.circuit.parts;
        let has_armature = |n: &usize| {
            parts[*n]
                .kind
                .pulled_in(&self.faulted.parts()[*n])
                .is_some()
        };
        let moving = || (0..parts.len()).filter(moves).filter(has_armature);
        let near = moving().find(|n| rather.contains(n));
        let part = near.or_else(|| moving().next())?;
        Some(parts[part].id.clone())
    }

    /// The parts on the paths of some kind.
    fn on_the_way(&self, is: impl Fn(&CurrentPath) -> bool) -> BTreeSet<usize> {
        let circuit = &self.faulted.circuit;
        let paths = circuit.paths().iter().filter(|path| is(path));
        let through = paths
            .flat_map(|p| &p.stops)
            .filter_map(|s| s.through.as_deref());
        let parts = through.filter_map(|id| match circuit.place(id)? {
            Place::Part(n) | Place::Pin(n, _) => Some(n),
            Place::Conductor(_) => None,
        });
        parts.collect()
    }

    fn leads_through(&self, path: &CurrentPath, place: Place) -> bool {
        let circuit = &self.faulted.circuit;
        let mut through = path.stops.iter().filter_map(|s| s.through.as_deref());
        through.any(|id| circuit.place(id) == Some(place))
    }

    fn id(&self, place: Place) -> String {
        self.faulted.circuit.place_id(place).to_owned()
    }
}

fn stands_at(path: &CurrentPath, node: usize) -> bool {
    path.stops.iter().any(|s| s.node == node)
}

fn answers(bench: &Bench, part: usize) -> bool {
    let module = bench.circuit.parts[part].kind.module();
    module.is_some_and(|m| bench.look(part, |l| m.codes(l).is_some()) == Some(true))
}

/// The middle of what a node stands at, in volts.
pub(crate) fn mid(bench: &Bench, node: usize) -> f64 {
    node_volts(bench.settled(), node).middle()
}

fn last(bench: &Bench) -> Option<&Point> {
    bench.settled().points.last()
}

/// Mean current of an element that is at a place, over what the machine does, in amperes.
fn mean_amps(bench: &Bench, is: impl Fn(&ElementTag) -> bool) -> Vec<f64> {
    let points = &bench.settled().points;
    let Some(first) = points.first() else {
        return Vec::new();
    };
    let wanted = first.wiring.tags().iter().filter(|tag| is(tag));
    let mean = |tag: &ElementTag| {
        let at = points.iter().filter_map(|p| {
            let same = p
                .wiring
                .tags()
                .iter()
                .find(|t| t.place == tag.place && t.name == tag.name)?;
            Some(p.op.current(same.element))
        });
        at.sum::<f64>() / points.len() as f64
    };
    wanted.map(mean).collect()
}

/// What flows most of all in a place, in amperes.
fn most_amps(bench: &Bench, place: Place) -> f64 {
    let all = mean_amps(bench, |tag| tag.place == place).into_iter();
    all.max_by(|a, b| a.abs().total_cmp(&b.abs()))
        .unwrap_or(0.0)
}

/// What flows into a battery at its positive post, in amperes.
fn battery_amps(bench: &Bench, part: usize) -> f64 {
    let cells = |tag: &ElementTag| tag.place == Place::Part(part) && tag.role == Role::Source;
    mean_amps(bench, cells).into_iter().sum()
}

/// Largest current in an element that ends at a node, in amperes.
pub(crate) fn through_node(bench: &Bench, node: usize) -> f64 {
    let Some(point) = last(bench) else { return 0.0 };
    let here = point.wiring.tags().iter().filter(|l| {
        let (a, b) = point.wiring.net.element(l.element).nodes();
        a.index() == node || b.index() == node
    });
    here.map(|l| point.op.current(l.element).abs())
        .fold(0.0, f64::max)
}

fn is_ground_side(bench: &Bench, node: usize) -> bool {
    let mut stops = bench.circuit.paths().iter().flat_map(|p| &p.stops);
    stops.any(|s| s.ground_side && s.node == node)
}

/// A step through a load is no loss: the load is meant to use the volts.
fn is_load_step(bench: &Bench, place: Place, a: usize, b: usize) -> bool {
    let Some(point) = last(bench) else {
        return false;
    };
    point.wiring.tags().iter().any(|l| {
        let (x, y) = point.wiring.net.element(l.element).nodes();
        l.place == place
            && l.role == Role::Load
            && [(x.index(), y.index()), (y.index(), x.index())].contains(&(a, b))
    })
}
