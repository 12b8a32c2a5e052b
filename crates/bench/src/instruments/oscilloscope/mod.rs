//! Oscilloscope: up to four channels against time. A pair of leads loads what it touches with 1 MΩ; a
//! pickup clip round a high-voltage lead and a clamp round a wire touch nothing.

use cimento_solver::{Element, Solution};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

mod cursors;
mod features;
mod file;
mod screen;

use std::ops::ControlFlow;

pub use cursors::{CursorReading, Cursors};
use features::burns_s;
pub use features::{Features, Form, Looks, Often, Peak};
use screen::{columns, cut, sampled};

use super::take::TakeError;
use crate::{Bench, BenchError};
use cimento_model::circuit::{Circuit, ConductorKind, Place};
use cimento_model::stamped::{STRAYS, StampedNetlist};
use cimento_model::units::Unit;

/// Input of a channel without attenuation, in ohms, and what it stands, in volts; common practice.
const INPUT_OHMS: f64 = 1e6;
const MOST_V: f64 = 60.0;
/// Most channels.
pub const CHANNELS: usize = 4;
/// Shortest and longest sweep, in seconds.
pub const SWEEPS: [f64; 11] = [
    0.000_5, 0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0,
];
/// Share of the screen that lies before the trigger.
const BEFORE: f64 = 0.2;
/// Turns of the crankshaft in which a trigger is waited for.
const WAITS_TURNS: f64 = 2.0;

/// What a channel is put to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "with", rename_all = "snake_case", deny_unknown_fields)]
pub enum Probe {
    /// Two leads at test points.
    Leads { red: String, black: String },
    /// A pickup clip round a high-voltage lead.
    Pickup { lead: String },
    /// A current clamp round a wire.
    Clamp { wire: String },
}

/// How the scope is set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Scope {
    pub channels: Vec<Probe>,
    /// Width of the screen, in seconds.
    pub sweep_s: f64,
    /// The sweep begins when the first channel crosses this level, in volts or amperes; it runs free
    /// when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub level: Option<f64>,
    #[serde(default)]
    pub falling: bool,
    /// What its leads divide by.
    #[serde(default, skip_serializing_if = "Attenuation::is_usual")]
    pub attenuation: Attenuation,
    /// What is kept of each column.
    #[serde(default, skip_serializing_if = "Acquire::is_usual")]
    pub acquire: Acquire,
}

impl Scope {
    /// Whether its one channel has its leads there.
    pub fn is_at(&self, at_red: Option<&str>, at_black: Option<&str>) -> bool {
        match &self.channels[..] {
            [Probe::Leads { red, black }] => {
                at_red == Some(red.as_str()) && at_black == Some(black.as_str())
            }
            _ => false,
        }
    }
}

/// What a scope's leads divide a voltage by: the more, the less they load the circuit and the more they
/// stand.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub enum Attenuation {
    /// By nothing.
    #[serde(rename = "×1")]
    One,
    #[default]
    #[serde(rename = "×10")]
    Ten,
}

impl Attenuation {
    fn is_usual(&self) -> bool {
        *self == Self::Ten
    }

    fn factor(self) -> f64 {
        match self {
            Self::One => 1.0,
            Self::Ten => 10.0,
        }
    }
}

/// What a scope keeps of the time that a column of its screen stands for.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Acquire {
    /// The least and the most: nothing is missed.
    #[default]
    Peak,
    /// One sample: what is shorter than a column may fall between two.
    Sample,
}

impl Acquire {
    fn is_usual(&self) -> bool {
        *self == Self::Peak
    }
}

/// Swings less than this tell nothing that a meter does not, in volts; common practice.
const SWINGS_V: f64 = 1.0;

/// The terminals of a machine that go to and fro as its engine turns, but for those that carry kilovolts: what no
/// meter on DC can follow.
///
/// # Errors
/// [`BenchError`] at an instant that has no solution.
pub fn swinging(bench: &Bench) -> Result<Vec<usize>, BenchError> {
    let circuit = &bench.circuit;
    let towers = circuit.high_voltage_nodes();
    let mut ends: Vec<usize> = circuit.parts.iter().flat_map(|p| p.nodes.clone()).collect();
    ends.sort_unstable();
    ends.dedup();
    ends.retain(|node| *node != 0 && !towers.contains(node));
    let mut swing = vec![(f64::INFINITY, f64::NEG_INFINITY); ends.len()];
    bench.in_time(WAITS_TURNS, &|_| (), &mut |_, wiring, now| {
        for ((least, most), node) in swing.iter_mut().zip(&ends) {
            let v = now.between(wiring.node(*node), wiring.node(0));
            (*least, *most) = (least.min(v), most.max(v));
        }
        ControlFlow::Continue(())
    })?;
    let mut swings = swing
        .into_iter()
        .map(|(least, most)| most - least > SWINGS_V);
    ends.retain(|_| swings.next() == Some(true));
    Ok(ends)
}

/// The few screens that tell most of an engine that turns, of two turns each: every terminal that swings, the
/// clamp on each wire of an ignition, the pickup clip on each of its high-voltage leads.
pub fn telling(circuit: &Circuit, swinging: &[usize], rpm: f64) -> Vec<Scope> {
    let mut probes: Vec<Probe> = Vec::new();
    if let Some(negative) = circuit.point_at(0) {
        let points = swinging.iter().filter_map(|node| circuit.point_at(*node));
        probes.extend(points.map(|red| Probe::Leads {
            red: red.id.clone(),
            black: negative.id.clone(),
        }));
    }
    let leads = circuit.high_voltage_leads();
    let sparks = circuit.parts.iter().filter(|p| p.kind.ignition().is_some());
    let sparks: Vec<usize> = sparks.flat_map(|p| p.nodes.clone()).collect();
    let wires = circuit
        .conductors
        .iter()
        .filter(|c| c.kind == ConductorKind::Wire);
    let low = wires.filter(|c| !leads.contains(&c.id));
    let feeds = low.filter(|c| [c.a, c.b].iter().any(|n| *n != 0 && sparks.contains(n)));
    probes.extend(feeds.map(|c| Probe::Clamp { wire: c.id.clone() }));
    probes.extend(leads.into_iter().map(|lead| Probe::Pickup { lead }));
    let two_turns = WAITS_TURNS * 60.0 / rpm;
    let sweep_s = SWEEPS.into_iter().find(|s| *s >= two_turns);
    let alone = probes.into_iter().map(|probe| Scope {
        channels: vec![probe],
        sweep_s: sweep_s.unwrap_or(SWEEPS[SWEEPS.len() - 1]),
        level: None,
        falling: false,
        attenuation: Attenuation::default(),
        acquire: Acquire::default(),
    });
    alone.collect()
}

/// What a channel shows.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Trace {
    pub probe: Probe,
    /// "B1.1 to BAT.-", "W12, pickup".
    pub name: String,
    /// `V` or `A`.
    pub unit: String,
    /// Least and most in each column, left to right, in the unit.
    pub columns: Vec<[f64; 2]>,
    pub features: Features,
}

/// A screen.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Capture {
    /// "run · engine 900 rpm".
    pub state: String,
    pub sweep_s: f64,
    /// Seconds from the left edge to the trigger.
    pub before_s: f64,
    /// The level was crossed.
    pub triggered: bool,
    pub traces: Vec<Trace>,
}

/// A channel on a circuit.
enum Channel {
    Between(usize, usize),
    Along(Place),
}

/// Takes a capture.
///
/// # Errors
/// [`TakeError`] when a name leads nowhere, a setting is out of range, or an instant has no solution.
pub fn capture(bench: &Bench, scope: &Scope) -> Result<Capture, TakeError> {
    let circuit = &bench.circuit;
    if scope.channels.is_empty() || scope.channels.len() > CHANNELS {
        return Err(TakeError::Setting(format!(
            "the scope has 1 to {CHANNELS} channels"
        )));
    }
    let range = SWEEPS[0]..=SWEEPS[SWEEPS.len() - 1];
    if !range.contains(&scope.sweep_s) {
        let text = format!("a sweep takes {} s to {} s", range.start(), range.end());
        return Err(TakeError::Setting(text));
    }
    let channels: Vec<Channel> = scope
        .channels
        .iter()
        .map(|probe| channel(circuit, probe))
        .collect::<Result<_, _>>()?;
    let samples = samples(bench, scope, &channels, true)?;
    for n in 0..scope.channels.len() {
        stands(scope, &samples, n)?;
    }
    let before_s = scope.sweep_s * BEFORE;
    let triggered = scope
        .level
        .and_then(|level| crossing(&samples, level, scope.falling, before_s));
    let from_s = triggered.map_or(0.0, |at| at - before_s);
    let traces = (0..scope.channels.len()).map(|n| trace(scope, &samples, n, from_s));
    Ok(Capture {
        state: bench.state().about(),
        sweep_s: scope.sweep_s,
        before_s,
        triggered: triggered.is_some(),
        traces: traces.collect(),
    })
}

/// What several screens of one channel each would show, all of one sweep that runs free, in one look that loads
/// nothing: none where there are more volts than the leads stand.
///
/// # Errors
/// As [`capture`].
pub fn captures(bench: &Bench, scopes: &[Scope]) -> Result<Vec<Option<Trace>>, TakeError> {
    let Some(first) = scopes.first() else {
        return Ok(Vec::new());
    };
    let all = Scope {
        channels: scopes.iter().flat_map(|s| s.channels.clone()).collect(),
        ..first.clone()
    };
    let channels = all.channels.iter().map(|p| channel(&bench.circuit, p));
    let channels: Vec<Channel> = channels.collect::<Result<_, _>>()?;
    let samples = samples(bench, &all, &channels, false)?;
    let shown = |n: usize| stands(&all, &samples, n).is_ok();
    let one = |n: usize| shown(n).then(|| trace(&all, &samples, n, 0.0));
    Ok((0..all.channels.len()).map(one).collect())
}

/// Whether the leads of a channel stand what is there.
fn stands(scope: &Scope, samples: &Samples, n: usize) -> Result<(), TakeError> {
    let most = MOST_V * scope.attenuation.factor();
    if let Probe::Leads { red, .. } = &scope.channels[n]
        && samples.iter().any(|(_, v)| v[n].abs() > most)
    {
        let how = match scope.attenuation {
            Attenuation::One => "set the attenuation to ×10",
            Attenuation::Ten => "put the pickup clip round its lead",
        };
        return Err(TakeError::TooMuch {
            most_v: most,
            point: red.clone(),
            how,
        });
    }
    Ok(())
}

/// What a channel shows from some instant on.
fn trace(scope: &Scope, samples: &Samples, n: usize, from_s: f64) -> Trace {
    let probe = &scope.channels[n];
    let until_s = from_s + scope.sweep_s;
    let all = cut(samples, n, from_s, until_s);
    let shown = match scope.acquire {
        Acquire::Peak => all,
        Acquire::Sample => sampled(&all, from_s, scope.sweep_s),
    };
    let unit = match probe {
        Probe::Clamp { .. } => Unit::Ampere,
        _ => Unit::Volt,
    };
    let mut features = Features::of(&shown, scope.sweep_s, unit);
    if matches!(probe, Probe::Pickup { .. }) {
        let amps = cut(samples, scope.channels.len() + n, from_s, until_s);
        features = features.burning(burns_s(&amps));
    }
    Trace {
        probe: probe.clone(),
        name: name(probe),
        unit: unit.sign().to_owned(),
        columns: columns(&shown, from_s, scope.sweep_s),
        features,
    }
}

impl Trace {
    /// What the channel is counted in.
    pub fn measures(&self) -> Unit {
        match self.probe {
            Probe::Clamp { .. } => Unit::Ampere,
            _ => Unit::Volt,
        }
    }
}

fn name(probe: &Probe) -> String {
    match probe {
        Probe::Leads { red, black } => format!("{red} to {black}"),
        Probe::Pickup { lead } => format!("{lead}, pickup"),
        Probe::Clamp { wire } => format!("{wire}, clamp"),
    }
}

fn channel(circuit: &Circuit, probe: &Probe) -> Result<Channel, TakeError> {
    let point = |id: &String| match circuit.test_point(id) {
        Some(point) => Ok(point.node),
        None => Err(TakeError::NoPoint(id.clone())),
    };
    let wire = |id: &String| {
        let mut wires = circuit.conductors.iter();
        let at = wires.position(|c| c.kind == ConductorKind::Wire && c.id == *id);
        at.ok_or_else(|| TakeError::NoWire(id.clone()))
    };
    Ok(match probe {
        Probe::Leads { red, black } => Channel::Between(point(red)?, point(black)?),
        Probe::Pickup { lead } => Channel::Between(circuit.conductors[wire(lead)?].a, 0),
        Probe::Clamp { wire: id } => Channel::Along(Place::Conductor(wire(id)?)),
    })
}

/// Seconds, each channel's value, and then the amperes in the lead of each that is a pickup clip, 0 for the
/// others.
type Samples = Vec<(f64, Vec<f64>)>;

fn samples(
    bench: &Bench,
    scope: &Scope,
    channels: &[Channel],
    loads: bool,
) -> Result<Samples, BenchError> {
    let along = |wiring: &StampedNetlist, now: &Solution, place: Place| {
        let current = |name: &str| {
            let line = wiring.tagged(place, name);
            line.map_or(0.0, |l| now.current(l.element))
        };
        match wiring.tagged(place, "before") {
            Some(line) => now.current(line.element),
            None => current("through") + current(STRAYS[0]),
        }
    };
    let value = |wiring: &StampedNetlist, now: &Solution, channel: &Channel| match *channel {
        Channel::Between(a, b) => now.between(wiring.node(a), wiring.node(b)),
        Channel::Along(place) => along(wiring, now, place),
    };
    let leads = scope.channels.iter().map(|probe| match probe {
        Probe::Pickup { lead } => bench.circuit.place(lead),
        _ => None,
    });
    let leads: Vec<Option<Place>> = leads.collect();
    let attach = |wiring: &mut StampedNetlist| {
        for (channel, probe) in channels.iter().zip(&scope.channels) {
            if let (true, Channel::Between(a, b), Probe::Leads { .. }) = (loads, channel, probe) {
                let (a, b) = (wiring.node(*a), wiring.node(*b));
                let ohms = INPUT_OHMS * scope.attenuation.factor();
                wiring.net.attach(Element::resistor(a, b, ohms));
            }
        }
    };
    let mut out: Samples = Vec::new();
    let turns = WAITS_TURNS + scope.sweep_s * bench.rpm() / 60.0;
    let before_s = scope.sweep_s * BEFORE;
    // A sweep that runs free ends with its screen; else the screen begins with the trigger.
    let mut ends_s = scope.level.map_or(Some(scope.sweep_s), |_| None);
    let mut see = |at_s: f64, wiring: &StampedNetlist, now: &Solution| {
        let mut all: Vec<f64> = channels.iter().map(|c| value(wiring, now, c)).collect();
        all.extend(
            leads
                .iter()
                .map(|l| l.map_or(0.0, |l| along(wiring, now, l))),
        );
        if let (Some(level), None, Some((t0, before))) = (scope.level, ends_s, out.last())
            && at_s >= before_s
            && let Some(at) = crosses((*t0, before[0]), (at_s, all[0]), level, scope.falling)
        {
            ends_s = Some(at - before_s + scope.sweep_s);
        }
        out.push((at_s, all));
        match ends_s {
            Some(end) if at_s >= end => ControlFlow::Break(()),
            _ => ControlFlow::Continue(()),
        }
    };
    let turned = match loads {
        true => bench.in_time(turns, &attach, &mut see)?,
        false => bench.in_time_coarsely(turns, &mut see)?,
    };
    if !turned {
        // Nothing turns: what stands still is shown, and what chatters goes from one to the next.
        let settled = bench.settled_with(&attach)?;
        let mut at_s = 0.0;
        while at_s < 2.0 * scope.sweep_s {
            for point in &settled.points {
                let shown = channels.iter().map(|c| value(&point.wiring, &point.op, c));
                let still = leads.iter().map(|_| 0.0);
                let now: Vec<f64> = shown.chain(still).collect();
                out.push((at_s, now.clone()));
                at_s += point.lasts_s.max(1e-6);
                out.push((at_s, now));
            }
        }
    }
    Ok(out)
}

/// The first instant at which the first channel crosses a level, with enough before it.
fn crossing(samples: &Samples, level: f64, falling: bool, before_s: f64) -> Option<f64> {
    let late = |p: &&[(f64, Vec<f64>)]| p[1].0 >= before_s;
    let mut pairs = samples.windows(2).filter(late);
    pairs.find_map(|p| crosses((p[0].0, p[0].1[0]), (p[1].0, p[1].1[0]), level, falling))
}

/// When a straight line from one instant to the next crosses a level in the right direction.
fn crosses((t0, v0): (f64, f64), (t1, v1): (f64, f64), level: f64, falling: bool) -> Option<f64> {
    let sign = if falling { -1.0 } else { 1.0 };
    let over = |v: f64| sign * (v - level) >= 0.0;
    (!over(v0) && over(v1)).then(|| t0 + (t1 - t0) * (level - v0) / (v1 - v0))
}
