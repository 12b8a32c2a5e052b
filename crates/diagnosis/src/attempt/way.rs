//! The way from where a machine stands to a state that something is to be measured in.

use super::Action;
use super::actions::{PutBack, SetControl, WarmUp, Wet, Wiggle};
use cimento_bench::Bench;
use cimento_model::faults::Condition;
use cimento_model::state::{EVERYTHING, OperatingState};

/// What is done to bring a machine into a state that `wanted` leads to from rest. Each act is done unless it
/// [stands](stands) by then: what is set may move something else.
pub fn way_to(bench: &Bench, wanted: &[Action]) -> Vec<Action> {
    let now = bench.state();
    let apart = |what: &String| {
        let mut taken = wanted.iter();
        taken.any(|a| matches!(a, Action::TakeApart(it) if it.what == *what))
    };
    let back = now.unplugged.iter().chain(&now.removed);
    let back = back.filter(|what| !apart(what));
    let mut out: Vec<Action> = back
        .map(|what| PutBack { what: what.clone() }.into())
        .collect();
    let rest = OperatingState::at_rest(&bench.circuit);
    let set = |control: &str| {
        wanted.iter().find_map(|a| match a {
            Action::SetControl(it) if it.control == control => Some(it.position.clone()),
            _ => None,
        })
    };
    // The engine stops before anything else, and runs once the key is on.
    let controls: Vec<String> = bench
        .circuit
        .controls()
        .into_iter()
        .map(|c| c.name)
        .collect();
    for control in controls.iter().rev().chain(&controls) {
        let position = set(control).unwrap_or_else(|| rest.control(control).to_owned());
        let control = control.clone();
        out.push(SetControl { control, position }.into());
    }
    let taken = wanted.iter().filter(|a| matches!(a, Action::TakeApart(_)));
    out.extend(taken.cloned());
    out
}

/// Whether an act of such a way has nothing left to do.
pub fn stands(action: &Action, state: &OperatingState) -> bool {
    match action {
        Action::SetControl(it) => state.control(&it.control) == it.position,
        Action::TakeApart(it) => {
            state.unplugged.contains(&it.what) || state.removed.contains(&it.what)
        }
        _ => false,
    }
}

/// What is done to bring a condition about, so that nobody is told the place. Vibration comes with the running engine.
pub fn brings_about(condition: Condition) -> Option<Action> {
    match condition {
        Condition::Hot => Some(WarmUp {}.into()),
        Condition::Wet => Some(Wet {}.into()),
        Condition::Moved => {
            let what = EVERYTHING.to_owned();
            Some(Wiggle { what }.into())
        }
        _ => None,
    }
}
