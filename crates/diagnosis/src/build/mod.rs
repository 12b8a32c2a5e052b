//! A machine that is to be wired: what is there, what it is to do in each state, and what was made of it.

use std::collections::BTreeSet;
use std::sync::Arc;

use cimento_bench::{Bench, BenchError, Shared};
use cimento_model::circuit::{Circuit, CircuitDoc, Problem, WireDoc};
use cimento_model::state::OperatingState;
use cimento_parts::{build_circuit, say_path};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Most wires of a machine that is wired.
const MOST_WIRES: usize = 120;

/// A machine to be wired: the lesson's circuit is one that does what is wanted.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Build {
    /// Wires that are there already, by id.
    #[serde(default)]
    pub given: Vec<String>,
    /// It is wired to the circuit's own wire list, which is handed out; else to a wish.
    #[serde(default)]
    pub by_list: bool,
}

/// What is to be wired, worked out.
pub struct ToBuild {
    /// The machine as it is handed over.
    pub start: Arc<Circuit>,
    /// The wires that are to be put in, where it goes by a list.
    pub list: Vec<WireDoc>,
    /// What it is to do that it does not do yet, and what it does already and is to go on doing.
    pub wanted: Vec<Wanted>,
}

/// What a machine is to do in a state.
#[derive(Debug, Clone, PartialEq)]
pub struct Wanted {
    pub state: OperatingState,
    /// The state in words, as it differs from rest.
    pub label: String,
    /// Part and sign of what is noticed.
    pub signs: BTreeSet<(String, String)>,
    /// The same as a person says it.
    pub text: String,
    /// It does so before anything is wired.
    pub already: bool,
}

/// What is noticed from the seat: signs, and words.
pub(crate) fn noticed(bench: &Bench) -> (BTreeSet<(String, String)>, String) {
    let all: Vec<_> = bench.notices().into_iter().filter(|n| !n.hidden).collect();
    let signs = all
        .iter()
        .map(|n| (n.part.clone(), n.sign.clone()))
        .collect();
    let words: Vec<String> = all.into_iter().map(|n| n.text).collect();
    (signs, words.join(", "))
}

/// Checks what is to be wired.
///
/// # Errors
/// What is wrong with it, with its path.
pub(crate) fn to_build(circuit: &Arc<Circuit>, asked: &Build) -> Result<ToBuild, Problem> {
    for (n, id) in asked.given.iter().enumerate() {
        if !circuit.doc.wires.iter().any(|w| w.id == *id) {
            let text = format!("there is no wire {id}");
            return Err(Problem::refused(format!("task.given[{n}]"), text));
        }
    }
    let mut doc = circuit.doc.clone();
    doc.layout.clear();
    doc.wires.retain(|w| asked.given.contains(&w.id));
    let met = |splice: &String| {
        let mut ends = doc.wires.iter().flat_map(|w| [&w.from, &w.to]);
        ends.any(|end| end == splice)
    };
    let kept: Vec<String> = doc.splices.keys().filter(|s| met(s)).cloned().collect();
    doc.splices.retain(|id, _| kept.contains(id));
    let list: Vec<WireDoc> = (circuit.doc.wires.iter())
        .filter(|w| !asked.given.contains(&w.id))
        .cloned()
        .collect();
    if list.is_empty() {
        let text = "every wire is given: leave some to be put in";
        return Err(Problem::refused("task.given", text.to_owned()));
    }
    let start = build_circuit(doc).map_err(|refused| {
        let first = refused.0.into_iter().next();
        let text = first.map_or_else(String::new, |p| format!("{}: {}", p.path, p.message));
        Problem::refused(
            "task.given",
            format!("without the other wires it is no circuit: {text}"),
        )
    })?;
    let unsolved = |e: BenchError| Problem::refused("task", e.to_string());
    let wanted = wanted(circuit, &start).map_err(unsolved)?;
    if wanted.iter().all(|w| w.already) {
        let text = "with the wires that are given it does all that it ever does: give fewer";
        return Err(Problem::refused("task.given", text.to_owned()));
    }
    Ok(ToBuild {
        start,
        list: if asked.by_list { list } else { Vec::new() },
        wanted,
    })
}

/// At rest, each state of the trial, and each lever by itself.
fn states(circuit: &Circuit) -> Vec<OperatingState> {
    let rest = OperatingState::at_rest(circuit);
    let trial = OperatingState::trial(circuit).into_iter().map(|t| t.state);
    let each = circuit.controls().into_iter().flat_map(|control| {
        let rest = rest.clone();
        control.positions.into_iter().map(move |at| {
            let mut state = rest.clone();
            state.set_control(&control.name, at);
            state
        })
    });
    let mut out: Vec<OperatingState> = Vec::new();
    for state in std::iter::once(rest.clone()).chain(each).chain(trial) {
        if !out.contains(&state) && state.check(circuit).is_ok() {
            out.push(state);
        }
    }
    out
}

fn wanted(circuit: &Arc<Circuit>, start: &Arc<Circuit>) -> Result<Vec<Wanted>, BenchError> {
    let (own, bare) = (Shared::default(), Shared::default());
    let mut out = Vec::new();
    for state in states(circuit) {
        let mut whole = Bench::sharing(circuit, &[], &own)?;
        whole.set(state.clone())?;
        let mut first = Bench::sharing(start, &[], &bare)?;
        first.set(state.clone())?;
        let (signs, text) = noticed(&whole);
        out.push(Wanted {
            label: crate::test_sheet::beside_rest(circuit, &state),
            already: noticed(&first).0 == signs,
            state,
            signs,
            text,
        });
    }
    Ok(out)
}

/// Something done to the wiring.
pub enum Change<'a> {
    /// A wire is put in, or another takes its place.
    Put(&'a WireDoc),
    TakeOut(&'a str),
    /// A path as one says it over the diagram.
    Say(&'a str),
}

/// A machine with its wiring changed.
///
/// # Errors
/// A sentence that says what is wrong; the machine is as it was.
pub fn rewired(
    start: &CircuitDoc,
    doc: &CircuitDoc,
    change: &Change<'_>,
) -> Result<Arc<Circuit>, String> {
    let mut new = doc.clone();
    match change {
        Change::Put(wire) => match new.wires.iter_mut().find(|w| w.id == wire.id) {
            Some(old) => *old = (*wire).clone(),
            None => new.wires.push((*wire).clone()),
        },
        Change::TakeOut(id) => {
            if !new.wires.iter().any(|w| w.id == *id) {
                return Err(format!("there is no wire {id}"));
            }
            new.wires.retain(|w| w.id != *id);
        }
        Change::Say(line) => new = say_path(doc, line).map_err(|e| e.to_string())?,
    }
    // A splice that nothing meets is gone.
    let met = |id: &String| new.wires.iter().any(|w| w.from == *id || w.to == *id);
    let kept: Vec<String> = new.splices.keys().filter(|id| met(id)).cloned().collect();
    new.splices.retain(|id, _| kept.contains(id));
    let all = new
        .parts
        .keys()
        .chain(new.grounds.keys())
        .chain(new.connectors.keys());
    let known = |id: &&String| {
        start.parts.contains_key(*id)
            || start.grounds.contains_key(*id)
            || start.connectors.contains_key(*id)
    };
    let mut others = all.filter(|id| !known(id));
    if let Some(id) = others.next() {
        return Err(format!(
            "there is no {id} on this machine: wires go between what is there, and splices"
        ));
    }
    if (&new.parts, &new.connectors, &new.grounds)
        != (&start.parts, &start.connectors, &start.grounds)
    {
        return Err("parts, plugs and grounds stay as they are: only wires are put in".to_owned());
    }
    if new.wires.len() > MOST_WIRES {
        return Err(format!("expected at most {MOST_WIRES} wires"));
    }
    build_circuit(new).map_err(|refused| {
        let texts = refused.0.iter().map(|p| p.message.clone());
        texts.take(3).collect::<Vec<_>>().join("; ")
    })
}
