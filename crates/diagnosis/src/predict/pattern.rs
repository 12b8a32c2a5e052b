//! Pictures of what a channel of the oscilloscope may show, among which one chooses before it is captured: the healthy one,
//! and what faults near its leads would make. Which of them is the healthy one nothing in them says, and nothing hangs on
//! the fault that is there.

use std::collections::HashSet;
use std::sync::Arc;

use cimento_bench::instruments::{
    Capture, Features, Form, Looks, Probe, Scope, TakeError, Trace, capture,
};
use cimento_bench::{Bench, Shared};
use cimento_model::circuit::{Circuit, Place};
use cimento_model::faults::{Fault, FaultDoc};
use cimento_model::state::OperatingState;
use cimento_model::units::{Quantity, Unit};
use serde::Serialize;
use utoipa::ToSchema;

/// Faults that are tried, and pictures beside the healthy one with which a channel has enough.
const TRIED: usize = 20;
const OTHERS: usize = 4;
/// Ways to fail that are tried of one place.
const OF_A_PLACE: usize = 2;
/// Columns of a picture.
const COLUMNS: usize = 60;

/// The pictures of a channel.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Patterns {
    /// "B1.1 to BAT.-".
    pub name: String,
    /// From the smallest to the largest.
    pub patterns: Vec<Pattern>,
}

/// A picture.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Pattern {
    /// What choosing it says.
    pub looks: Looks,
    /// The same in words: "pulses to one side, 1 V to 20 V, once".
    pub says: String,
    /// What its picture reaches up or down to: "12.6 V".
    pub reaches: String,
    /// Least and most in each column, left to right.
    pub columns: Vec<[f64; 2]>,
}

impl Pattern {
    fn of(trace: &Trace) -> Self {
        let all = &trace.columns;
        let each = all.len().div_ceil(COLUMNS).max(1);
        let column = |some: &[[f64; 2]]| {
            let range = some
                .iter()
                .fold([f64::INFINITY, f64::NEG_INFINITY], |r, c| {
                    [r[0].min(c[0]), r[1].max(c[1])]
                });
            range.map(|v| (v * 1e3).round() / 1e3)
        };
        let unit = match trace.probe {
            Probe::Clamp { .. } => Unit::Ampere,
            Probe::Leads { .. } | Probe::Pickup { .. } => Unit::Volt,
        };
        Self {
            looks: trace.features.looks,
            says: in_words(trace.features.looks, unit),
            reaches: Quantity::Number(farthest(&trace.features)).text(unit),
            columns: all.chunks(each).map(column).collect(),
        }
    }

    /// They stand in an order that says nothing of which is so.
    fn rank(&self) -> impl Ord + use<> {
        let form = match self.looks.form {
            Form::Flat => 0,
            Form::Pulses => 1,
            Form::BothWays => 2,
        };
        (form, self.looks.peak, self.says.clone())
    }
}

/// What stands still does not pulse, and bounds of classes have no decimals.
fn in_words(looks: Looks, unit: Unit) -> String {
    let said = match looks.form {
        Form::Flat => Looks {
            often: None,
            ..looks
        },
        Form::Pulses | Form::BothWays => looks,
    };
    said.text(unit).replace(".00 ", " ").replace(".0 ", " ")
}

/// The value that a trace has farthest from zero.
fn farthest(of: &Features) -> f64 {
    match of.most.abs() < of.least.abs() {
        true => of.least,
        false => of.most,
    }
}

/// The pictures of each channel of a screen, of a machine in a state; beside others, with which it shares what is known.
///
/// # Errors
/// [`TakeError`] where a healthy machine has no such screen.
pub fn patterns(
    circuit: &Arc<Circuit>,
    shared: &Shared,
    state: &OperatingState,
    scope: &Scope,
) -> Result<Vec<Patterns>, TakeError> {
    let screen = |faults: &[Fault]| -> Result<Capture, TakeError> {
        let mut bench = Bench::sharing(circuit, faults, shared)?;
        bench.set(state.clone())?;
        capture(&bench, scope)
    };
    let healthy = screen(&[])?;
    let mut out: Vec<Patterns> = healthy
        .traces
        .iter()
        .map(|trace| Patterns {
            name: trace.name.clone(),
            patterns: vec![Pattern::of(trace)],
        })
        .collect();
    let nodes = scope.channels.iter().flat_map(|c| nodes(circuit, c));
    for fault in likely(circuit, &nodes.collect::<Vec<_>>())
        .into_iter()
        .take(TRIED)
    {
        if out.iter().all(|channel| channel.patterns.len() > OTHERS) {
            break;
        }
        // With some faults there is no such screen.
        let Ok(seen) = screen(std::slice::from_ref(&fault)) else {
            continue;
        };
        for (channel, trace) in out.iter_mut().zip(&seen.traces) {
            let known = channel
                .patterns
                .iter()
                .any(|p| p.looks == trace.features.looks);
            if !known && channel.patterns.len() <= OTHERS {
                channel.patterns.push(Pattern::of(trace));
            }
        }
    }
    for channel in &mut out {
        channel.patterns.sort_by_cached_key(Pattern::rank);
    }
    Ok(out)
}

/// The nodes that a channel is put to.
fn nodes(circuit: &Circuit, probe: &Probe) -> Vec<usize> {
    let of = |id: &str| match circuit.place(id) {
        Some(Place::Conductor(n)) => {
            let conductor = &circuit.conductors[n];
            vec![conductor.a, conductor.b]
        }
        _ => Vec::new(),
    };
    match probe {
        Probe::Leads { red, .. } => circuit
            .test_point(red)
            .map(|p| p.node)
            .into_iter()
            .collect(),
        Probe::Pickup { lead } => of(lead),
        Probe::Clamp { wire } => of(wire),
    }
}

/// Faults of the places round some nodes, the nearest first. What all circuits hang on is no way to anywhere.
fn likely(circuit: &Circuit, from: &[usize]) -> Vec<Fault> {
    let posts = [0, circuit.positive()];
    let mut reached: Vec<usize> = from.to_vec();
    let mut seen: HashSet<usize> = from.iter().copied().collect();
    let mut places: Vec<Place> = Vec::new();
    let mut at = 0;
    while let Some(&node) = reached.get(at) {
        at += 1;
        if posts.contains(&node) && at > from.len() {
            continue;
        }
        let conductors = circuit.conductors.iter().enumerate();
        let along = conductors
            .filter(|(_, c)| c.a == node || c.b == node)
            .map(|(n, c)| (Place::Conductor(n), vec![c.a, c.b]));
        let parts = circuit.parts.iter().enumerate();
        let through = parts
            .filter(|(_, p)| p.nodes.contains(&node) && !p.kind.is_source())
            .map(|(n, p)| (Place::Part(n), p.nodes.clone()));
        for (place, ends) in along.chain(through) {
            if !places.contains(&place) {
                places.push(place);
            }
            reached.extend(ends.into_iter().filter(|end| seen.insert(*end)));
        }
    }
    let fault = |(place, mode): (Place, &str)| {
        let doc = FaultDoc {
            place: circuit.place_id(place).to_owned(),
            mode: mode.to_owned(),
            when: Some("always".to_owned()),
            ..FaultDoc::default()
        };
        Fault::read(circuit, &doc, "fault").ok()
    };
    let of_place = |place: &Place| {
        let modes = circuit.modes(*place).iter();
        // Which stand out, and not by degrees.
        let plain = modes
            .filter(|m| !m.needs_other() && (m.severity.is_none() || m.name == "short_to_ground"));
        plain
            .take(OF_A_PLACE)
            .map(|m| (*place, m.name))
            .collect::<Vec<_>>()
    };
    places.iter().flat_map(of_place).filter_map(fault).collect()
}
