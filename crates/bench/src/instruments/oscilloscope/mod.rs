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
    let samples = samples(bench, scope, &channels)?;
    for (n, probe) in scope.channels.iter().enumerate() {
        let most = MOST_V * scope.attenuation.factor();
        if let Probe::Leads { red, .. } = probe
            && samples.iter().any(|(_, v)| v[n].abs() > most)
        {
            let how = match scope.attenuation {
                Attenuation::One => "set the attenuation to ×10",
                Attenuation::Ten => "put the pickup clip round its lead",
            };
            let text = format!("there are more than {most} V at {red}: {how}");
            return Err(TakeError::Setting(text));
        }
    }
    let before_s = scope.sweep_s * BEFORE;
    let triggered = scope
        .level
        .and_then(|level| crossing(&samples, level, scope.falling, before_s));
    let from_s = triggered.map_or(0.0, |at| at - before_s);
    let traces = scope.channels.iter().enumerate().map(|(n, probe)| {
        let all = cut(&samples, n, from_s, from_s + scope.sweep_s);
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
            let amps = cut(
                &samples,
                scope.channels.len() + n,
                from_s,
                from_s + scope.sweep_s,
            );
            features = features.burning(burns_s(&amps));
        }
        Trace {
            probe: probe.clone(),
            name: name(probe),
            unit: unit.sign().to_owned(),
            columns: columns(&shown, from_s, scope.sweep_s),
            features,
        }
    });
    Ok(Capture {
        state: bench.state().about(),
        sweep_s: scope.sweep_s,
        before_s,
        triggered: triggered.is_some(),
        traces: traces.collect(),
    })
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

fn samples(bench: &Bench, scope: &Scope, channels: &[Channel]) -> Result<Samples, BenchError> {
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
            if let (Channel::Between(a, b), Probe::Leads { .. }) = (channel, probe) {
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
    let turned = bench.in_time(turns, &attach, &mut |at_s, wiring, now| {
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
    })?;
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
