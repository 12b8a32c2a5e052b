//! What the readings that are asked for come to.

use std::sync::Arc;

use cimento_bench::instruments::{Function, Meter, Shown, take_with};
use cimento_bench::{Bench, Shared};
use cimento_model::circuit::{Circuit, Problem};
use cimento_model::faults::Fault;
use cimento_model::state::AT_REST;

use super::document::{AskedReading, LONGEST, Predict};
use super::reason::{Reason, holding};
use crate::key::{spanned, tolerance};
use crate::limits::Limits;

/// A reading that is asked for, and what it comes to.
#[derive(Debug, Clone, PartialEq)]
pub struct Truth {
    pub asked: AskedReading,
    /// The state in words.
    pub state: String,
    pub shown: Shown,
    /// How far from it a prediction is still right, in the reading's unit.
    pub tolerance: f64,
    /// What is said to choose from as a reason, and what of it holds; nothing where no reason is asked for.
    pub choice: &'static [Reason],
    pub holds: Vec<Reason>,
}

/// A machine with some faults in the state of a reading.
///
/// # Errors
/// A sentence when it has no such state.
fn standing(
    circuit: &Arc<Circuit>,
    faults: &[Fault],
    asked: &AskedReading,
    shared: &Shared,
) -> Result<Bench, String> {
    asked.state.check(circuit).map_err(|problems| {
        let text: Vec<String> = problems.iter().map(|p| p.message.clone()).collect();
        text.join("; ")
    })?;
    let mut bench = Bench::sharing(circuit, faults, shared).map_err(|e| e.to_string())?;
    bench.set(asked.state.clone()).map_err(|e| e.to_string())?;
    Ok(bench)
}

/// A state as a person says it: of a machine without a key, what its key does goes without saying.
fn in_words(circuit: &Circuit, state: String) -> String {
    let has_key = circuit.controls().iter().any(|c| c.name == "key");
    match state.split_once(" · ") {
        Some((_, rest)) if !has_key => rest.to_owned(),
        None if !has_key => AT_REST.to_owned(),
        _ => state,
    }
}

/// Takes a reading that is asked for on a machine that stands in its state.
///
/// # Errors
/// A sentence when it cannot be taken.
pub(super) fn truth(bench: &Bench, limits: &Limits, asked: &AskedReading) -> Result<Truth, String> {
    let circuit = &bench.circuit;
    let (red, black) = (Some(asked.red.as_str()), asked.black.as_deref());
    let reading = take_with(&Meter::default(), bench, asked.function, None, red, black)
        .map_err(|e| e.to_string())?;
    if reading.blew {
        return Err(
            "an ammeter across a source blows its fuse: ask for another reading".to_owned(),
        );
    }
    let node = |id: Option<&str>| circuit.test_point(id?).map(|p| p.node);
    let both = node(red).zip(node(black));
    let spans = both.and_then(|(red, black)| spanned(circuit, red, black));
    let holds = match both {
        Some((red, black)) if asked.function == Function::DC_VOLTS => holding(bench, red, black),
        _ => Vec::new(),
    };
    let choice = match both {
        Some((_, black)) if !holds.is_empty() => Reason::of(black == 0),
        _ => &[],
    };
    Ok(Truth {
        asked: asked.clone(),
        tolerance: tolerance(circuit, limits, &reading, spans),
        state: in_words(circuit, reading.state),
        shown: reading.shown,
        choice,
        holds,
    })
}

/// What all of them come to.
///
/// # Errors
/// The first that cannot be taken, with its path.
pub(crate) fn truths(
    circuit: &Arc<Circuit>,
    faults: &[Fault],
    limits: &Limits,
    predict: &Predict,
) -> Result<Vec<Truth>, Problem> {
    if !(1..=LONGEST).contains(&predict.ask.len()) {
        let text = format!("expected 1 to {LONGEST} readings to predict");
        return Err(Problem::refused("task.ask", text));
    }
    if !(0.0..=100.0).contains(&predict.reason_marks) {
        let text = "expected 0 to 100 marks for the reasons";
        return Err(Problem::refused("task.reason_marks", text));
    }
    let shared = Shared::default();
    let mut out: Vec<Truth> = Vec::new();
    let mut stands: Option<Bench> = None;
    for (n, asked) in predict.ask.iter().enumerate() {
        let refuse = |text: String| Problem::refused(format!("task.ask[{n}]"), text);
        if out.iter().any(|t| t.asked == *asked) {
            return Err(refuse("it is asked for twice".to_owned()));
        }
        let bench = match stands.take() {
            Some(bench) if predict.ask[n - 1].state == asked.state => bench,
            _ => standing(circuit, faults, asked, &shared).map_err(refuse)?,
        };
        let mut truth = truth(&bench, limits, asked).map_err(refuse)?;
        stands = Some(bench);
        if predict.reason_marks == 0.0 {
            (truth.choice, truth.holds) = (&[], Vec::new());
        }
        out.push(truth);
    }
    Ok(out)
}
