//! Reasons in answer keys are claims about two machines: each is held here against what the machines have come to.

use std::collections::BTreeMap;
use std::sync::Arc;

use cimento_bench::Bench;
use cimento_bench::instruments::Function;
use cimento_diagnosis::key::{Claim, KeyRow, Side, USUAL, answer_key_between};
use cimento_diagnosis::lesson::Limits;
use cimento_diagnosis::suspects::candidates;
use cimento_model::circuit::{Circuit, Place};
use cimento_model::stamped::Role;
use cimento_model::state::OperatingState;

use super::common::{all, demo, demo_names, fault};

/// Volts and amperes that are the same but for rounding.
const SAME: f64 = 0.006;
/// Volts that count as lost, and amperes that count as flowing.
const LOST_V: f64 = 0.05;
const FLOWS_A: f64 = 0.005;
/// Points joined by conductors stand as far apart at most, in volts.
const JOINED_V: f64 = 0.5;
/// Of what differs between two machines, so much may have no better reason than that it differs.
const UNEXPLAINED: f64 = 0.02;

struct Machines<'a> {
    circuit: &'a Circuit,
    healthy: &'a Bench,
    faulted: &'a Bench,
}

fn volts(bench: &Bench, node: usize) -> f64 {
    let points = &bench.settled().points;
    let at = points.iter().map(|p| p.op.voltage(p.wiring.node(node)));
    let (least, most) = at.fold((f64::MAX, f64::MIN), |(l, m), v| (l.min(v), m.max(v)));
    f64::midpoint(least, most)
}

/// Mean current of every element at a place, over what the machine does.
fn amps(bench: &Bench, place: Place, role: Option<Role>) -> Vec<f64> {
    let points = &bench.settled().points;
    let mut sums: BTreeMap<&str, f64> = BTreeMap::new();
    for point in points {
        let tags = point.wiring.tags().iter().filter(|t| t.place == place);
        for tag in tags.filter(|t| role.is_none_or(|r| r == t.role)) {
            *sums.entry(tag.name).or_default() += point.op.current(tag.element);
        }
    }
    sums.values().map(|sum| sum / points.len() as f64).collect()
}

fn most(amps: &[f64]) -> f64 {
    amps.iter().map(|a| a.abs()).fold(0.0, f64::max)
}

impl Machines<'_> {
    fn place(&self, id: &str) -> Place {
        self.circuit.place(id).expect("a place of the circuit")
    }

    fn part(&self, id: &str) -> usize {
        let mut parts = self.circuit.parts.iter();
        parts
            .position(|p| p.id == id)
            .expect("a part of the circuit")
    }

    fn node(&self, row: &KeyRow) -> usize {
        self.circuit.test_point(&row.red).map_or(0, |p| p.node)
    }

    /// How far a point stands above where it stands in the healthy machine.
    fn rise(&self, row: &KeyRow) -> f64 {
        let at = |bench| volts(bench, self.node(row));
        at(self.faulted) - at(self.healthy)
    }

    /// Two nodes of a place have such volts between them in the faulted machine and in the healthy one.
    fn has_across(&self, id: &str, is: f64, was: f64) -> bool {
        let nodes = match self.place(id) {
            Place::Conductor(n) => {
                let c = &self.circuit.conductors[n];
                vec![c.a, c.b]
            }
            Place::Part(n) | Place::Pin(n, _) => self.circuit.parts[n].nodes.clone(),
        };
        let pairs = nodes
            .iter()
            .flat_map(|a| nodes.iter().map(move |b| (*a, *b)));
        let across = |bench: &Bench, a, b| volts(bench, a) - volts(bench, b);
        pairs.into_iter().any(|(a, b)| {
            let same = |bench, v: f64| (across(bench, a, b) - v).abs() < SAME;
            same(self.faulted, is) && same(self.healthy, was)
        })
    }

    /// A current path on which a place lies, and a point beyond or before it.
    fn share_a_path(&self, id: &str, row: &KeyRow, side: Option<Side>) -> bool {
        let node = self.node(row);
        self.circuit.paths().iter().any(|path| {
            let through = |s: &&cimento_model::circuit::PathStop| s.through.as_deref() == Some(id);
            let passed = path.stops.iter().enumerate().filter(|(_, s)| through(s));
            let mut passed = passed.map(|(n, _)| n);
            // What is clamped is a place itself.
            let meets = |n: usize| match path.stops.iter().position(|s| s.node == node) {
                Some(at) if !row.black.is_empty() => match side {
                    Some(Side::Before) => n <= at,
                    Some(Side::After) => n > at,
                    None => true,
                },
                _ => {
                    let clamped = row.place.as_deref().unwrap_or(&row.red);
                    path.stops
                        .iter()
                        .any(|s| s.through.as_deref() == Some(clamped))
                }
            };
            passed.any(meets)
        })
    }

    /// Whether a reason holds, of a row it stands at.
    fn holds(&self, claim: &Claim, row: &KeyRow) -> bool {
        let reading = row.faulted.value.number();
        match claim {
            Claim::AsHealthy | Claim::SameByItself => !row.tells,
            Claim::NothingFlows => !row.tells && !self.flows(row).0 && !self.flows(row).1,
            Claim::NothingFlowsNow => !row.tells && self.flows(row) == (true, false),
            Claim::Chatters { part } => {
                let n = self.part(part);
                let kind = self.circuit.parts[n].kind;
                let points = self.faulted.settled().points.iter();
                let mut pulled = points.map(|p| kind.pulled_in(&p.parts[n]));
                let first = pulled.next().flatten();
                row.faulted.wanders.is_some()
                    && first.is_some()
                    && pulled.any(|other| other != first)
            }
            Claim::Lost {
                place,
                volts,
                healthy_volts,
                side,
                blown,
            } => {
                let rises = match side {
                    Some(Side::Before) => self.rise(row) < 0.0,
                    Some(Side::After) => self.rise(row) > 0.0,
                    None => true,
                };
                let gone = !blown || self.has_blown(place);
                let lost = *volts > healthy_volts + LOST_V;
                let there = self.has_across(place, *volts, *healthy_volts);
                // Of a point off the paths it is what its wires join it to.
                let off = matches!(self.place(place), Place::Conductor(_)) && side.is_none();
                let on = off || self.share_a_path(place, row, *side);
                rises && gone && lost && there && on
            }
            Claim::Across {
                place,
                volts,
                healthy_volts,
                side,
            } => {
                let helps = (volts - healthy_volts) * self.rise(row) > 0.0;
                let there = self.has_across(place, *volts, *healthy_volts);
                helps == (*side == Side::After)
                    && there
                    && self.share_a_path(place, row, Some(*side))
            }
            Claim::Battery {
                part,
                volts: is,
                healthy_volts,
                amps: gives,
                healthy_amps,
            } => {
                let accounts = (is - healthy_volts) / self.rise(row);
                let place = self.place(part);
                let given = |bench| -amps(bench, place, Some(Role::Source))[0];
                let right = (given(self.faulted) - gives).abs() < SAME
                    && (given(self.healthy) - healthy_amps).abs() < SAME;
                right
                    && self.has_across(part, *is, *healthy_volts)
                    && (0.6..1.6).contains(&accounts)
            }
            Claim::Armature { part, pulled_in } => {
                let n = self.part(part);
                let pulled =
                    |bench: &Bench| self.circuit.parts[n].kind.pulled_in(&bench.parts()[n]);
                pulled(self.faulted) == Some(*pulled_in)
                    && pulled(self.healthy) == Some(!pulled_in)
                    && self.share_a_path(part, row, None)
            }
            Claim::FedBack { load, amps: back } => {
                let place = self.place(load);
                let flows = |bench| amps(bench, place, Some(Role::Load));
                let turned = flows(self.faulted)
                    .iter()
                    .zip(flows(self.healthy))
                    .any(|(is, was)| is.abs() >= FLOWS_A && is * was <= FLOWS_A * FLOWS_A);
                let said = (most(&amps(self.faulted, place, None)) - back.abs()).abs() < SAME;
                turned && said && self.rise(row) > 0.0
            }
            Claim::Dropped {
                place,
                volts: is,
                healthy_volts,
            } => {
                *is == reading
                    && *healthy_volts == row.healthy.value.number()
                    && row.place.as_ref() == Some(place)
            }
            Claim::Flows {
                place,
                amps: is,
                healthy_amps,
                because,
            } => {
                let at = self.place(place);
                let said = |bench, a: &f64| (most(&amps(bench, at, None)) - a.abs()).abs() < SAME;
                let why = because.as_ref().is_none_or(|why| self.holds(why, row));
                // A clamp is put around one end of a wire, which may carry more than its other end.
                let right = match row.function == Function::CLAMP_AMPS {
                    true => *is == reading && *healthy_amps == row.healthy.value.number(),
                    false => said(self.faulted, is) && said(self.healthy, healthy_amps),
                };
                right && why
            }
            Claim::Blown { fuse } => self.has_blown(fuse) && self.share_a_path(fuse, row, None),
            Claim::NoAnswer { part } => {
                let n = self.part(part);
                let answers = |bench: &Bench| {
                    let module = self.circuit.parts[n].kind.module().expect("a module");
                    bench.look(n, |l| module.codes(l).is_some()) == Some(true)
                };
                answers(self.healthy) && !answers(self.faulted)
            }
            Claim::Swings { by, healthy_by } => {
                *by == reading && *healthy_by == row.healthy.value.number()
            }
            Claim::ByItself { place } => row.tells && row.place.as_ref() == Some(place),
            Claim::StandsWith { point, because } => {
                let other = KeyRow {
                    red: point.clone(),
                    ..row.clone()
                };
                let near = (self.rise(row) - self.rise(&other)).abs() < JOINED_V;
                near && self.holds(because, &other)
            }
            Claim::Driven {
                part,
                volts: is,
                healthy_volts,
            } => {
                let mut nodes = self.circuit.parts[self.part(part)].nodes.iter();
                let as_read = |bench, v: &f64| (volts(bench, self.node(row)) - v).abs() < SAME;
                let rise = |node: &usize| volts(self.faulted, *node) - volts(self.healthy, *node);
                as_read(self.faulted, is)
                    && as_read(self.healthy, healthy_volts)
                    && nodes.any(|n| (rise(n) - self.rise(row)).abs() < JOINED_V)
            }
            Claim::Differs { volts } => (self.rise(row) - volts).abs() < SAME,
            Claim::Reported | Claim::Shows => row.tells,
        }
    }

    fn has_blown(&self, fuse: &str) -> bool {
        let n = self.part(fuse);
        let is_fuse = self.circuit.parts[n].kind.is_fuse();
        is_fuse && self.faulted.parts()[n].level != self.healthy.parts()[n].level
    }

    /// Whether current passes a point, in the healthy machine and in the faulted one.
    fn flows(&self, row: &KeyRow) -> (bool, bool) {
        let node = self.node(row);
        let flows = |bench: &Bench| {
            let point = bench.settled().points.last().expect("it has settled");
            let here = point.wiring.tags().iter().filter(|t| {
                let (a, b) = point.wiring.net.element(t.element).nodes();
                a.index() == node || b.index() == node
            });
            let mut amps = here.map(|t| point.op.current(t.element).abs());
            amps.any(|a| a >= FLOWS_A)
        };
        (flows(self.healthy), flows(self.faulted))
    }
}

/// Circuits whose keys are held against their machines at each change; `ALL=1` takes every one.
const USUALLY: [&str; 3] = [
    "sweeper-lamps",
    "baggage-tug-starting",
    "belt-loader-module",
];

#[test]
fn every_reason_of_every_key_holds() {
    let names = demo_names();
    let names = names.iter().map(String::as_str);
    let names: Vec<&str> = match all() {
        true => names.collect(),
        false => USUALLY.to_vec(),
    };
    for name in names {
        let circuit = demo(name);
        let (mut rows, mut plain) = (0, 0);
        for candidate in candidates(&circuit, None) {
            let faults = &candidate.grid[candidate.grid.len() / 2];
            let about: Vec<String> = faults.iter().map(|f| f.about(&circuit)).collect();
            let mut healthy = Bench::new(&circuit, &[]).unwrap();
            let mut faulted = healthy.beside(faults).unwrap();
            let rest = OperatingState::at_rest(&circuit);
            let trials = OperatingState::trial(&circuit).into_iter().map(|t| t.state);
            for state in std::iter::once(rest).chain(trials) {
                healthy.set(state.clone()).unwrap();
                faulted.set(state).unwrap();
                let machines = Machines {
                    circuit: &circuit,
                    healthy: &healthy,
                    faulted: &faulted,
                };
                let key = answer_key_between(&healthy, &faulted, &Limits::default(), &USUAL);
                for row in key.unwrap() {
                    assert!(
                        machines.holds(&row.claim, &row),
                        "{name}, {about:?}: {row:#?}"
                    );
                    let told = row.tells && row.function == Function::DC_VOLTS;
                    rows += usize::from(told);
                    let says_little = matches!(row.claim, Claim::Differs { .. } | Claim::Shows);
                    plain += usize::from(told && says_little);
                }
            }
        }
        println!("{name}: {plain} of {rows} telling voltages have no place to show for it");
        assert!(
            plain as f64 <= UNEXPLAINED * rows as f64,
            "{name}: {plain} of {rows}"
        );
    }
}

/// Machines, and the key row of one of their points, in the first state in which it tells.
fn telling(name: &str, text: &str, red: &str) -> (Bench, Bench, KeyRow) {
    let circuit: Arc<Circuit> = demo(name);
    let mut healthy = Bench::new(&circuit, &[]).unwrap();
    let mut faulted = healthy.beside(&[fault(&circuit, text)]).unwrap();
    for trial in OperatingState::trial(&circuit) {
        healthy.set(trial.state.clone()).unwrap();
        faulted.set(trial.state).unwrap();
        let key = answer_key_between(
            &healthy,
            &faulted,
            &Limits::default(),
            &[Function::DC_VOLTS],
        );
        let mut rows = key.unwrap().into_iter();
        if let Some(row) = rows.find(|r| r.red == red && r.tells) {
            return (healthy, faulted, row);
        }
    }
    panic!("{red} tells in no state");
}

#[test]
fn an_open_ground_that_lamps_share_is_named_where_they_rise() {
    let (.., row) = telling("sweeper-lamps", "C5.3:open", "H1.2");
    assert!(
        row.reason.contains("lost across C5.3, between this point"),
        "{}",
        row.reason
    );
    let (.., row) = telling("baggage-tug-starting", "W8:open", "K3.86");
    assert!(
        row.reason.contains("lost across W8, before this point"),
        "{}",
        row.reason
    );
}

/// The check can fail: what is said of one place does not hold of another, nor of other volts.
#[test]
fn a_false_reason_does_not_hold() {
    let (healthy, faulted, row) = telling("baggage-tug-starting", "W8:open", "K3.86");
    let machines = Machines {
        circuit: &healthy.circuit,
        healthy: &healthy,
        faulted: &faulted,
    };
    assert!(machines.holds(&row.claim, &row));
    let lost = |place: &str, volts: f64, side: Side| Claim::Lost {
        place: place.to_owned(),
        volts,
        healthy_volts: 0.0,
        side: Some(side),
        blown: false,
    };
    for other in [
        lost("W9", 12.59, Side::Before),
        lost("W8", 6.0, Side::Before),
        lost("W8", 12.59, Side::After),
        Claim::AsHealthy,
        Claim::NothingFlows,
        Claim::Armature {
            part: "K3".to_owned(),
            pulled_in: true,
        },
        Claim::Blown {
            fuse: "F1".to_owned(),
        },
        Claim::Differs { volts: 3.0 },
    ] {
        assert!(!machines.holds(&other, &row), "{other:?}");
    }
}
