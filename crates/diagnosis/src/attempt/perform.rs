//! Doing an action to a machine: the same for the student's bench, a healthy one, and that of every
//! suspect.

use std::sync::Arc;

use super::action::Action;
use super::repair::{RepairKind, cures};
use cimento_bench::{Bench, BenchError};
use cimento_model::circuit::Place;
use cimento_model::faults::Fault;
use cimento_model::state::{OperatingState, Supply};
use cimento_parts::{MELTED, opening_s};

/// Fuse in a fused lead, in amperes; common practice.
const LEAD_FUSE_A: f64 = 15.0;
/// A lead is left on for this long, in seconds.
const LEFT_ON_S: f64 = 10.0;
/// Jump pack: volts and ohms; common practice.
const PACK: (f64, f64) = (12.8, 0.02);
/// Working heat under a cover and the heat of the shop, in °C, and minutes to come to each; common
/// practice.
const WARM_C: f64 = 90.0;
pub(super) const SHOP_C: f64 = 20.0;
pub(super) const WARM_MINUTES: f64 = 10.0;
pub(super) const COOL_MINUTES: f64 = 30.0;

/// What an action did to a machine beyond its new state.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Outcome {
    /// The action was one that is done to the machine.
    pub done: bool,
    /// The fuse in a lead went.
    pub lead_blew: bool,
}

/// Does an action to a machine. What only concerns the meter or the record does nothing.
///
/// # Errors
/// [`BenchError`] when the circuit has no solution afterwards.
pub fn perform(bench: &mut Bench, action: &Action) -> Result<Outcome, BenchError> {
    let circuit = &Arc::clone(&bench.circuit);
    let mut state = bench.state().clone();
    let mut outcome = Outcome {
        done: true,
        lead_blew: false,
    };
    match action {
        Action::SetControl { control, position } => state.set_control(control, position.clone()),
        Action::TakeApart { what } => state.take_apart(circuit, what),
        Action::PutBack { what } => state.put_back(what),
        Action::Join { from, to, fused } => {
            state.jumpers.push([from.clone(), to.clone()]);
            if *fused {
                let mut tried = bench.clone();
                tried.set(state.clone())?;
                if blows(&tried, state.jumpers.len() - 1) {
                    // What it did before its fuse went is done: another fuse may have gone with it.
                    bench.carry_over(&tried);
                    state.jumpers.pop();
                    outcome.lead_blew = true;
                }
            }
        }
        Action::Unjoin { from, to } => {
            state.jumpers.retain(|[a, b]| !(a == from && b == to));
        }
        Action::Support { plus, minus } => state.supplies.push(Supply {
            plus: plus.clone(),
            minus: minus.clone(),
            volts: PACK.0,
            ohms: PACK.1,
        }),
        Action::Unsupport => state.supplies.clear(),
        Action::Wiggle { what } => state.moved = vec![what.clone()],
        Action::Rest => state.moved.clear(),
        Action::WarmUp => state.temperature_c = WARM_C,
        Action::CoolDown => state.temperature_c = SHOP_C,
        Action::Wet => state.wet = true,
        Action::Dry => state.wet = false,
        Action::Wait { minutes } => {
            bench.pass_time(*minutes)?;
            return Ok(outcome);
        }
        Action::Swap { a, b } => {
            if let (Some(a), Some(b)) = (circuit.part(a), circuit.part(b)) {
                bench.swap(a, b)?;
            }
            return Ok(outcome);
        }
        Action::FitKnownGood { part } => {
            if let Some(part) = circuit.part(part) {
                bench.lend(part)?;
            }
            return Ok(outcome);
        }
        Action::FitOwn { part } => {
            if let Some(part) = circuit.part(part) {
                bench.give_back(part)?;
            }
            return Ok(outcome);
        }
        Action::ClearCodes { module } => {
            if let Some(part) = circuit.part(module) {
                bench.clear_codes(part)?;
            }
            return Ok(outcome);
        }
        Action::Repair { place, how } => {
            if let Some(place) = circuit.place(place) {
                repair(bench, place, *how)?;
            }
            return Ok(outcome);
        }
        _ => return Ok(Outcome::default()),
    }
    bench.set(state)?;
    Ok(outcome)
}

/// Does a repair: what it does not cure stays.
fn repair(bench: &mut Bench, place: Place, how: RepairKind) -> Result<(), BenchError> {
    let circuit = &bench.circuit;
    let mut here = bench
        .faults()
        .iter()
        .filter(|f| f.places().any(|p| p == place));
    if here.all(|f| cures(circuit, place, f.mode.spec, how)) {
        bench.repair(place)
    } else {
        Ok(())
    }
}

/// Whether a lead's fuse goes while the lead is left on.
fn blows(bench: &Bench, jumper: usize) -> bool {
    let points = &bench.settled().points;
    let whole: f64 = points.iter().map(|p| p.lasts_s).sum();
    let worn: f64 = points
        .iter()
        .map(|p| {
            let lines = p.wiring.tags.iter().filter(|l| l.name == "jumper");
            let amps = lines
                .map(|l| p.op.current(l.element))
                .nth(jumper)
                .unwrap_or(0.0);
            LEFT_ON_S * p.lasts_s / whole / opening_s(amps.abs() / LEAD_FUSE_A)
        })
        .sum();
    worn >= 1.0
}

/// What there is to see at a place when one looks closely.
pub fn seen(bench: &Bench, place: Place) -> String {
    let faults = bench
        .faults()
        .iter()
        .filter(|f| f.places().any(|p| p == place));
    let look = |f: &Fault| match (place, f.mode.of_conductor()) {
        (Place::Conductor(n), Some(how)) => (how.looks)(bench.circuit.conductors[n].kind),
        _ => f.mode.spec.looks,
    };
    let mut words: Vec<&str> = faults.filter_map(look).collect();
    if let Place::Part(n) = place
        && bench.circuit.parts[n].kind.is_fuse()
        && bench.parts()[n].level != 0
    {
        words.push(MELTED);
    }
    if words.is_empty() {
        "nothing out of the ordinary".to_owned()
    } else {
        words.join("; ")
    }
}

impl Action {
    /// The operating state that an action asks for, for those that only change it.
    pub(super) fn asks_for(&self, bench: &Bench) -> Option<OperatingState> {
        let mut state = bench.state().clone();
        match self {
            Self::SetControl { control, position } => state.set_control(control, position.clone()),
            Self::TakeApart { what } => state.take_apart(&bench.circuit, what),
            Self::PutBack { what } => state.put_back(what),
            Self::Join { from, to, .. } => state.jumpers.push([from.clone(), to.clone()]),
            Self::Support { plus, minus } => state.supplies.push(Supply {
                plus: plus.clone(),
                minus: minus.clone(),
                volts: PACK.0,
                ohms: PACK.1,
            }),
            Self::Wiggle { what } => state.moved = vec![what.clone()],
            _ => return None,
        }
        Some(state)
    }
}
