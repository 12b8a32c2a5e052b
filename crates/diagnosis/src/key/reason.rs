//! Why a row reads what it reads, in one line drawn from the circuit.

use super::RowKind;
use super::staircase::node_volts;
use cimento_bench::{Bench, Point};
use cimento_model::circuit::Place;
use cimento_model::stamped::Role;

/// Volts that count as lost or gained.
const LOST_V: f64 = 0.05;
/// Current that counts as flowing, in amperes.
const FLOWS_A: f64 = 0.005;

/// The two machines in one state, from which reasons are drawn.
pub(super) struct Why<'a> {
    healthy: &'a Bench,
    faulted: &'a Bench,
}

impl<'a> Why<'a> {
    pub fn new(healthy: &'a Bench, faulted: &'a Bench) -> Self {
        Self { healthy, faulted }
    }

    /// Why a voltage reads what it reads.
    pub fn volts(&self, leads: (usize, usize), tells: bool) -> String {
        reason(self.healthy, self.faulted, leads, tells)
    }

    /// Why an instrument without a black lead reads what it reads.
    pub fn one_lead(&self, kind: RowKind, place: Option<Place>, tells: bool) -> String {
        let (healthy, faulted) = (self.healthy, self.faulted);
        if faulted.settled().cycles() && tells {
            let who = chattering(faulted);
            return format!("{who} lets go and pulls in again, so the reading wanders");
        }
        match (kind, tells) {
            (RowKind::Module, true) => match place {
                Some(Place::Part(n)) if !answers(faulted, n) => {
                    "the module has no supply or no ground, so it does not answer".to_owned()
                }
                _ => "the module sees what the fault does to its inputs".to_owned(),
            },
            (RowKind::Module, false) => "as healthy: the module sees nothing of it".to_owned(),
            (_, false) => "as healthy: the fault does not change this branch".to_owned(),
            (_, true) => match (blown(faulted, healthy), switched(healthy, faulted)) {
                (Some(fuse), _) => format!("{fuse} has blown, so its branch carries nothing"),
                (_, Some(text)) => text,
                _ => "the fault changes what this branch carries".to_owned(),
            },
        }
    }
}

fn answers(bench: &Bench, part: usize) -> bool {
    let module = bench.circuit.parts[part].kind.module();
    module.is_some_and(|m| bench.look(part, |l| m.codes(l).is_some()) == Some(true))
}

fn reason(healthy: &Bench, faulted: &Bench, (red, black): (usize, usize), tells: bool) -> String {
    if faulted.settled().cycles() && tells {
        let who = chattering(faulted);
        return format!("{who} lets go and pulls in again, so the reading wanders");
    }
    if !tells {
        return same(healthy, faulted, red);
    }
    if black != 0 {
        return drop(healthy, faulted, red, black);
    }
    let (h, f) = (mid(healthy, red), mid(faulted, red));
    let on_ground_side = h < f && is_ground_side(faulted, red);
    if (f < h || on_ground_side)
        && let Some(text) = path_loss(healthy, faulted, red)
    {
        return text;
    }
    let amps = |b: &Bench| source_amps(b);
    let (was, is) = (amps(healthy), amps(faulted));
    if f > h && is < was - 1.0 {
        return format!(
            "the battery gives {is:.1} A instead of {was:.0} A, so it is not pulled down"
        );
    }
    if f < h && is > was + 1.0 {
        return format!("the battery gives {is:.0} A instead of {was:.1} A, so it is pulled down");
    }
    if let Some(fuse) = blown(faulted, healthy) {
        return format!("{fuse} has blown, so what it feeds is dead");
    }
    match switched(healthy, faulted) {
        Some(text) => text,
        None => format!(
            "{:.2} V more or less than healthy comes from the fault's path",
            (f - h).abs()
        ),
    }
}

fn mid(bench: &Bench, node: usize) -> f64 {
    node_volts(bench.settled(), node).middle()
}

fn last(bench: &Bench) -> Option<&Point> {
    bench.settled().points.last()
}

fn source_amps(bench: &Bench) -> f64 {
    let Some(point) = last(bench) else { return 0.0 };
    let sources = point
        .wiring
        .tags()
        .iter()
        .filter(|l| l.role == Role::Source);
    sources.map(|l| point.op.current(l.element).abs()).sum()
}

fn chattering(bench: &Bench) -> String {
    let points = &bench.settled().points;
    let moves = |n: usize| {
        points
            .iter()
            .any(|p| p.parts[n].level != points[0].parts[n].level)
    };
    let who = (0..bench.circuit.parts.len()).find(|&n| moves(n));
    who.map_or_else(
        || "a part".to_owned(),
        |n| bench.circuit.parts[n].id.clone(),
    )
}

fn blown(faulted: &Bench, healthy: &Bench) -> Option<String> {
    let parts = &faulted.circuit.parts;
    let is = |n: &usize| {
        parts[*n].kind.is_fuse() && faulted.parts()[*n].level != healthy.parts()[*n].level
    };
    (0..parts.len()).find(is).map(|n| parts[n].id.clone())
}

/// A relay or solenoid that stands otherwise than in the healthy circuit.
fn switched(healthy: &Bench, faulted: &Bench) -> Option<String> {
    let parts = &faulted.circuit.parts;
    let n = (0..parts.len()).find(|&n| faulted.parts()[n].level != healthy.parts()[n].level)?;
    let (id, pulled) = (&parts[n].id, faulted.parts()[n].level == 1);
    Some(if pulled {
        format!("{id} has pulled in, which it should not")
    } else {
        format!("{id} does not pull in")
    })
}

fn same(healthy: &Bench, faulted: &Bench, red: usize) -> String {
    let flows = |b: &Bench| through_node(b, red);
    let (was, is) = (flows(healthy), flows(faulted));
    if was < FLOWS_A && is < FLOWS_A {
        "no current passes here in this state, so nothing in series shows".to_owned()
    } else if is < FLOWS_A {
        "no current, so no drop: it reads as if all were well".to_owned()
    } else {
        "as healthy: the fault is not between this point and its supply".to_owned()
    }
}

/// Largest current in an element that ends at a node, in amperes.
fn through_node(bench: &Bench, node: usize) -> f64 {
    let Some(point) = last(bench) else { return 0.0 };
    let here = point.wiring.tags().iter().filter(|l| {
        let (a, b) = point.wiring.net.element(l.element).nodes();
        a.index() == node || b.index() == node
    });
    here.map(|l| point.op.current(l.element).abs())
        .fold(0.0, f64::max)
}

fn drop(healthy: &Bench, faulted: &Bench, a: usize, b: usize) -> String {
    let across = |bench: &Bench| mid(bench, a) - mid(bench, b);
    let (was, is) = (across(healthy), across(faulted));
    if is.abs() > was.abs() {
        format!(
            "{:.2} V is lost here instead of {:.2} V",
            is.abs(),
            was.abs()
        )
    } else {
        match switched(healthy, faulted) {
            Some(text) => format!("{text}, so nothing flows and nothing is dropped"),
            None => "less current flows, so less is dropped".to_owned(),
        }
    }
}

/// The place on a current path through the point where volts are lost that a healthy circuit
/// keeps: before the point when it reads low, between it and battery negative when it reads high.
fn path_loss(healthy: &Bench, faulted: &Bench, red: usize) -> Option<String> {
    let circuit = &faulted.circuit;
    let low = mid(faulted, red) < mid(healthy, red);
    let mut best: Option<(f64, String)> = None;
    for path in circuit.paths() {
        let nodes: Vec<usize> = path.stops.iter().map(|s| s.node).collect();
        let Some(at) = nodes.iter().position(|&n| n == red) else {
            continue;
        };
        let steps = if low { 1..at + 1 } else { at + 1..nodes.len() };
        for n in steps {
            let across = |bench: &Bench| (mid(bench, nodes[n - 1]) - mid(bench, nodes[n])).abs();
            let (was, is) = (across(healthy), across(faulted));
            let through = path.stops[n].through.clone().unwrap_or_default();
            let is_load = circuit
                .place(&through)
                .is_some_and(|p| is_load_step(faulted, p, nodes[n - 1], nodes[n]));
            if is - was > LOST_V
                && !is_load
                && best.as_ref().is_none_or(|(most, _)| is - was > *most)
            {
                let fuse = match circuit.place(&through) {
                    Some(Place::Part(p)) if circuit.parts[p].kind.is_fuse() => " (blown)",
                    _ => "",
                };
                let fuse = if is > 1.0 { fuse } else { "" };
                let side = if low {
                    "before this point"
                } else {
                    "between this point and battery negative"
                };
                best = Some((
                    is - was,
                    format!("{is:.2} V is lost across {through}{fuse}, {side}"),
                ));
            }
        }
    }
    best.map(|(_, text)| text)
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
