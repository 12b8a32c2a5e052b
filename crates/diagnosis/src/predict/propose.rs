//! Readings worth asking for: of many kinds, in several states, no point twice where another will do.

use std::collections::HashMap;
use std::sync::Arc;

use cimento_bench::instruments::Function;
use cimento_bench::{Bench, BenchError, Shared};
use cimento_model::circuit::Circuit;
use cimento_model::faults::Fault;
use cimento_model::state::OperatingState;

use super::document::{AskedReading, LONGEST};
use super::reason::Reason;
use super::truth::{Truth, truth};
use crate::key::answer_key_between;
use crate::limits::Limits;

/// States that are looked at: at rest, and the first of a trial.
const STATES: usize = 5;
/// A reading that came before at the same point, in the same state or for the same reason is worth so much less.
const SAME_POINT: i64 = 3;
const SAME_STATE: i64 = 1;
const SAME_REASON: i64 = 2;
const SAME_FUNCTION: i64 = 1;
/// What a known fault changes is worth asking.
const CHANGED: i64 = 2;

/// Readings of some instruments that are worth asking for on a machine with some faults, the best first.
///
/// # Errors
/// [`BenchError`] when the circuit has no solution.
pub fn propose(
    circuit: &Arc<Circuit>,
    faults: &[Fault],
    limits: &Limits,
    functions: &[Function],
) -> Result<Vec<Truth>, BenchError> {
    let shared = Shared::default();
    let usual = [Function::DC_VOLTS, Function::CLAMP_AMPS];
    let functions: Vec<Function> = usual
        .into_iter()
        .filter(|f| functions.contains(f))
        .collect();
    let rest = OperatingState::at_rest(circuit);
    let trial = OperatingState::trial(circuit).into_iter().map(|t| t.state);
    let mut states = vec![rest.clone()];
    states.extend(trial.filter(|s| *s != rest));
    states.truncate(STATES);
    let mut left: Vec<(bool, Truth)> = Vec::new();
    for state in states {
        let mut healthy = Bench::sharing(circuit, &[], &shared)?;
        let mut faulted = Bench::sharing(circuit, faults, &shared)?;
        healthy.set(state.clone())?;
        faulted.set(state.clone())?;
        for row in answer_key_between(&healthy, &faulted, limits, &functions)? {
            let asked = AskedReading {
                function: row.function,
                red: row.red,
                black: (!row.black.is_empty()).then_some(row.black),
                state: state.clone(),
            };
            if row.faulted.wanders.is_none()
                && let Ok(truth) = truth(&faulted, limits, &asked)
            {
                left.push((row.tells, truth));
            }
        }
    }
    let mut out = Vec::new();
    let mut seen: HashMap<Trait, i64> = HashMap::new();
    while out.len() < LONGEST && !left.is_empty() {
        let worth = |(tells, t): &(bool, Truth)| {
            let known = |of: Trait| seen.get(&of).copied().unwrap_or(0);
            i64::from(*tells) * CHANGED
                - SAME_POINT * known(Trait::Point(t.asked.red.clone()))
                - SAME_STATE * known(Trait::State(t.state.clone()))
                - SAME_REASON * known(Trait::Reason(t.holds.first().copied()))
                - SAME_FUNCTION * known(Trait::Function(t.asked.function))
        };
        let mut best = 0;
        for n in 1..left.len() {
            if worth(&left[n]) > worth(&left[best]) {
                best = n;
            }
        }
        let (_, taken) = left.remove(best);
        for of in [
            Trait::Point(taken.asked.red.clone()),
            Trait::State(taken.state.clone()),
            Trait::Reason(taken.holds.first().copied()),
            Trait::Function(taken.asked.function),
        ] {
            *seen.entry(of).or_default() += 1;
        }
        out.push(taken);
    }
    Ok(out)
}

/// What readings have in common.
#[derive(PartialEq, Eq, Hash)]
enum Trait {
    Point(String),
    State(String),
    Reason(Option<Reason>),
    Function(Function),
}
