//! The trial of a machine by its customer.

use super::Limits;
use crate::key::answer_key_between;
use cimento_bench::Bench;
use cimento_bench::BenchError;
use cimento_bench::Complaint;
use cimento_bench::Shared;
use cimento_bench::complaint;
use cimento_bench::complaint_beside;
use cimento_bench::instruments::Function;
use cimento_model::circuit::Circuit;
use cimento_model::faults::{Condition, Fault};
use cimento_model::state::EVERYTHING;
use cimento_model::state::OperatingState;
use std::sync::Arc;
/// Heat under which a fault that shows when hot is tried, in °C.
const HOT_TRIAL_C: f64 = 90.0;

/// The trial of a machine by its customer, under the condition that shows the complaint.
#[derive(Clone, Copy)]
pub(crate) struct Trial<'a> {
    pub(super) circuit: &'a Arc<Circuit>,
    pub(super) condition: Option<Condition>,
}

impl Trial<'_> {
    /// The same under another condition.
    pub(crate) fn under(self, condition: Option<Condition>) -> Self {
        Self { condition, ..self }
    }

    /// Whether some measurement of a set of instruments is out of tolerance between a sound machine and another, both at
    /// rest, in a state of the trial or with something by itself.
    pub(super) fn measures(
        self,
        [sound, other]: [&Bench; 2],
        limits: &Limits,
        functions: &[Function],
    ) -> Result<bool, BenchError> {
        let mut both = [sound.clone(), other.clone()];
        let rest = OperatingState::at_rest(self.circuit);
        let trial = OperatingState::trial(self.circuit);
        let states = std::iter::once(rest).chain(trial.into_iter().map(|t| t.state));
        for state in states {
            let state = self.under_condition(state);
            for bench in &mut both {
                bench.set(state.clone())?;
            }
            let [sound, other] = &both;
            let key = answer_key_between(sound, other, limits, functions)?;
            if key.iter().any(|row| row.tells) {
                return Ok(true);
            }
        }
        Ok(false)
    }

    pub(crate) fn under_condition(self, mut state: OperatingState) -> OperatingState {
        match self.condition {
            Some(Condition::Hot) => state.temperature_c = HOT_TRIAL_C,
            Some(Condition::Wet) => state.wet = true,
            Some(Condition::Moved) => state.moved = vec![EVERYTHING.to_owned()],
            Some(Condition::Vibrating | Condition::Always) | None => {}
        }
        state
    }

    /// A machine with some faults that has been tried and stands at rest again, with what was noticed.
    pub(crate) fn run(
        self,
        faults: &[Fault],
        shared: &Shared,
    ) -> Result<(Bench, Complaint), BenchError> {
        let mut bench = Bench::sharing(self.circuit, faults, shared)?;
        bench.set(self.under_condition(bench.state().clone()))?;
        let seen = complaint(&mut bench)?;
        bench.set(OperatingState::at_rest(self.circuit))?;
        Ok((bench, seen))
    }

    /// The same of a machine that may be the one that was seen: its trial is given up where it differs
    /// from that. It may be known to lie between two others.
    pub(crate) fn run_beside(
        self,
        seen: &Complaint,
        faults: &[Fault],
        shared: &Shared,
        between: Option<[&Bench; 2]>,
    ) -> Result<(Bench, Complaint), BenchError> {
        let mut bench = Bench::sharing(self.circuit, faults, shared)?;
        if let Some([a, b]) = between {
            bench.lies_between(a, b);
        }
        bench.set(self.under_condition(bench.state().clone()))?;
        let said = complaint_beside(&mut bench, seen)?;
        bench.set(OperatingState::at_rest(self.circuit))?;
        Ok((bench, said))
    }
}

pub(super) fn condition_of(faults: &[Fault]) -> Option<Condition> {
    let first = faults.first().map(|f| f.when)?;
    let never_always = faults.iter().all(|f| f.when != Condition::Always);
    never_always.then_some(first)
}
