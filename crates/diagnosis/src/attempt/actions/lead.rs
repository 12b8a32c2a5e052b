//! Joining two test points with a lead.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::super::perform::Outcome;
use super::super::session::{Refusal, Session};
use super::super::step::Answer;
use super::{Act, Danger, PLACING_MINUTES};
use crate::lesson::Means;
use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::Part;
use cimento_model::state::OperatingState;
use cimento_parts::opening_s;

/// Fuse in a fused lead, in amperes; common practice.
const LEAD_FUSE_A: f64 = 15.0;
/// A lead is left on for this long, in seconds.
const LEFT_ON_S: f64 = 10.0;
/// A lead without a fuse that carries this lies across the source, in amperes.
const ACROSS_A: f64 = 60.0;

/// Join two test points with a lead, with or without a fuse in it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Join {
    pub from: String,
    pub to: String,
    pub fused: bool,
}

/// Take that lead off.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Unjoin {
    pub from: String,
    pub to: String,
}

impl Act for Join {
    fn said(&self, _: &Answer) -> String {
        let lead = if self.fused {
            "a fused lead"
        } else {
            "a lead without a fuse"
        };
        format!("Joined {} and {} with {lead}", self.from, self.to)
    }

    fn needs() -> Option<Means> {
        Some(Means::Leads)
    }

    fn minutes(&self, session: &Session) -> Result<f64, Refusal> {
        let way = session.way_minutes([&self.from, &self.to])?;
        Ok(PLACING_MINUTES + way)
    }

    fn asks_for(&self, bench: &Bench) -> Option<OperatingState> {
        let mut state = bench.state().clone();
        state.jumpers.push([self.from.clone(), self.to.clone()]);
        Some(state)
    }

    fn perform(&self, bench: &mut Bench) -> Result<Outcome, BenchError> {
        let mut state = bench.state().clone();
        state.jumpers.push([self.from.clone(), self.to.clone()]);
        let mut outcome = Outcome::done();
        if self.fused {
            let mut tried = bench.clone();
            tried.set(state.clone())?;
            if blows(&tried, state.jumpers.len() - 1) {
                // What it did before its fuse went is done: another fuse may have gone with it.
                bench.carry_over(&tried);
                state.jumpers.pop();
                outcome.lead_blew = true;
            }
        }
        bench.set(state)?;
        Ok(outcome)
    }

    fn dangers(&self, bench: &Bench, _: &Answer) -> Vec<Danger> {
        let (from, to) = (&self.from, &self.to);
        let mut out = Vec::new();
        if let Some(switch) = bypassed(bench, from, to) {
            let serious = !is_worked(bench, switch);
            let text = match serious {
                true => format!(
                    "{} was bypassed: a machine in gear would have run off.",
                    switch.id
                ),
                false => format!(
                    "{} was bypassed: it was out of gear, but nothing keeps it from starting in gear now.",
                    switch.id
                ),
            };
            out.push(Danger { serious, text });
        }
        let amps = if self.fused { 0.0 } else { carried(bench) };
        if amps > ACROSS_A {
            out.push(Danger {
                serious: true,
                text: format!(
                    "A lead without a fuse was put across the source and carried {amps:.0} A."
                ),
            });
        } else if !self.fused && !on_the_ground_side(bench, from, to) {
            out.push(Danger {
                serious: false,
                text: format!("A lead without a fuse was put between {from} and {to}."),
            });
        }
        out
    }
}

impl Act for Unjoin {
    fn said(&self, _: &Answer) -> String {
        format!("Took the lead off {} and {}", self.from, self.to)
    }

    fn asks_for(&self, bench: &Bench) -> Option<OperatingState> {
        let mut state = bench.state().clone();
        let is_it = |[a, b]: &[String; 2]| *a == self.from && *b == self.to;
        state.jumpers.retain(|lead| !is_it(lead));
        Some(state)
    }
}

/// Whether a lead's fuse goes while the lead is left on.
fn blows(bench: &Bench, jumper: usize) -> bool {
    let points = &bench.settled().points;
    let whole: f64 = points.iter().map(|p| p.lasts_s).sum();
    let worn: f64 = points
        .iter()
        .map(|p| {
            let lines = p.wiring.tags().iter().filter(|l| l.name == "jumper");
            let amps = lines
                .map(|l| p.op.current(l.element))
                .nth(jumper)
                .unwrap_or(0.0);
            LEFT_ON_S * p.lasts_s / whole / opening_s(amps.abs() / LEAD_FUSE_A)
        })
        .sum();
    worn >= 1.0
}

/// The switch that keeps a machine in gear from starting, if a lead lies across it.
fn bypassed<'b>(bench: &'b Bench, from: &str, to: &str) -> Option<&'b Part> {
    let circuit = &bench.circuit;
    let node = |id: &str| circuit.test_point(id).map(|p| p.node);
    let (a, b) = (node(from)?, node(to)?);
    let mut guards = circuit.parts.iter().filter(|p| p.kind.guards_the_start());
    guards.find(|p| p.nodes.contains(&a) && p.nodes.contains(&b))
}

/// Whether a switch that guards the start is held as one holds it to start: out of gear, the clutch down.
fn is_worked(bench: &Bench, switch: &Part) -> bool {
    let controls = bench.circuit.controls().into_iter();
    let mut own = controls.filter(|c| switch.control.as_deref() == Some(c.name.as_str()));
    own.all(|c| bench.state().control(&c.name) == c.worked)
}

/// Whether both ends of a lead lie behind the loads: there is nothing to short there.
fn on_the_ground_side(bench: &Bench, from: &str, to: &str) -> bool {
    let circuit = &bench.circuit;
    let stops = || circuit.paths().iter().flat_map(|p| &p.stops);
    let behind = |id: &str| {
        let grounded = circuit.test_point(id).is_some_and(|p| p.node == 0);
        let mut here = stops().filter(|s| s.point == id).peekable();
        grounded || here.peek().is_some() && here.all(|s| s.ground_side)
    };
    behind(from) && behind(to)
}

/// Current in the lead last put on, in amperes.
fn carried(bench: &Bench) -> f64 {
    let points = &bench.settled().points;
    let amps = points.iter().map(|p| {
        let mut leads = p.wiring.tags().iter().filter(|l| l.name == "jumper");
        leads
            .next_back()
            .map_or(0.0, |l| p.op.current(l.element).abs())
    });
    amps.fold(0.0, f64::max)
}
