//! All single faults through one screen of the oscilloscope: what each changes on it.

use std::num::NonZero;
use std::panic::resume_unwind;
use std::sync::Arc;
use std::thread;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::suspects::candidates;
use cimento_bench::Bench;
use cimento_bench::instruments::{Capture, Scope, TakeError, capture};
use cimento_model::circuit::Circuit;
use cimento_model::faults::{Condition, Fault, FaultDoc};
use cimento_model::state::OperatingState;

/// What a fault changes on a screen.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SweepRow {
    pub fault: FaultDoc,
    /// The fault in words.
    pub about: String,
    /// What differs from a healthy machine's screen, channel by channel; empty where it looks the same.
    pub differs: Vec<String>,
}

/// The single faults that a sweep goes through: each place and mode once, at the middle of its severities.
/// What lies between two places is left out.
pub fn swept(circuit: &Circuit) -> Vec<Fault> {
    let all = candidates(circuit, None);
    let single = all.iter().filter(|c| c.is_single() && c.places.len() == 1);
    let middle = single.flat_map(|c| c.grid[c.grid.len() / 2].clone());
    // What is there when it is hot or moved looks as what is always there.
    middle.filter(|f| f.when == Condition::Always).collect()
}

/// Takes some faults, one after the other on each core, through a screen in a state.
///
/// # Errors
/// [`TakeError`] when the screen of the healthy machine can't be taken. A fault whose machine has no
/// screen says so in its row.
pub fn sweep(
    circuit: &Arc<Circuit>,
    state: &OperatingState,
    scope: &Scope,
    faults: &[Fault],
) -> Result<Vec<SweepRow>, TakeError> {
    let cores = thread::available_parallelism().map_or(1, NonZero::get);
    // Each thread factors for itself, so each has a healthy machine of its own.
    let rows = |faults: &[Fault]| -> Result<Vec<SweepRow>, TakeError> {
        let mut healthy = Bench::new(circuit, &[])?;
        healthy.set(state.clone())?;
        let usual = capture(&healthy, scope)?;
        let one = |fault: &Fault| -> Result<Vec<String>, TakeError> {
            let mut bench = healthy.beside(std::slice::from_ref(fault))?;
            bench.set(state.clone())?;
            Ok(differs(&capture(&bench, scope)?, &usual))
        };
        let rows = faults.iter().map(|fault| SweepRow {
            fault: fault.doc(circuit),
            about: fault.about(circuit),
            differs: one(fault).unwrap_or_else(|e| vec![e.to_string()]),
        });
        Ok(rows.collect())
    };
    let share = faults.len().div_ceil(cores).max(1);
    thread::scope(|threads| {
        let shares = faults.chunks(share);
        let running: Vec<_> = shares.map(|f| threads.spawn(|| rows(f))).collect();
        let mut all = Vec::with_capacity(faults.len());
        for share in running {
            all.extend(share.join().unwrap_or_else(|e| resume_unwind(e))?);
        }
        Ok(all)
    })
}

/// Of so many features it is said how they differ on a channel.
const MOST_WORDS: usize = 2;

fn differs(seen: &Capture, usual: &Capture) -> Vec<String> {
    let mut out = Vec::new();
    if seen.triggered != usual.triggered {
        out.push(match seen.triggered {
            true => "triggers".to_owned(),
            false => "does not trigger".to_owned(),
        });
    }
    for (trace, beside) in seen.traces.iter().zip(&usual.traces) {
        let mut words = trace.features.differs(&beside.features, trace.measures());
        words.truncate(MOST_WORDS);
        if !words.is_empty() {
            out.push(format!("{}: {}", trace.name, words.join(", ")));
        }
    }
    out
}
