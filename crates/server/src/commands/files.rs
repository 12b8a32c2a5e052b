//! Circuits, states and faults from files and arguments.

use cimento_parts::read_circuit;
use std::sync::Arc;

use std::path::Path;

use cimento_bench::Bench;
use cimento_bench::instruments::Function;
use cimento_diagnosis::attempt::{Action, Session};
use cimento_diagnosis::lesson::{LESSON_FORMAT, Lesson, LessonDoc, Means, all_functions};
use cimento_model::circuit::{Circuit, read_json};
use cimento_model::faults::{Fault, FaultDoc, read_short_form};
use cimento_model::state::OperatingState;

use super::{CircuitArgs, Failure};

/// Text of a file.
pub(super) fn text(file: &Path) -> Result<String, Failure> {
    std::fs::read_to_string(file)
        .map_err(|e| Failure::BadInput(format!("{} cannot be read: {e}", file.display())))
}

/// A checked circuit.
pub(super) fn circuit(file: &Path) -> Result<Arc<Circuit>, Failure> {
    let refused = |e: cimento_model::circuit::Refused| {
        let lines: Vec<String> =
            e.0.iter()
                .map(|p| format!("{}: {p}", file.display()))
                .collect();
        Failure::BadInput(lines.join("\n"))
    };
    read_circuit(&text(file)?).map_err(refused)
}

/// The faults of the arguments.
pub(super) fn faults(circuit: &Circuit, given: &[String]) -> Result<Vec<Fault>, Failure> {
    let one = |text: &String| {
        let doc: FaultDoc = match text.trim_start().starts_with('{') {
            true => read_json(text).map_err(|e| Failure::BadInput(format!("--fault: {e}")))?,
            false => read_short_form(text).map_err(|p| Failure::BadInput(p.to_string()))?,
        };
        Fault::read(circuit, &doc, text).map_err(|p| Failure::BadInput(p.to_string()))
    };
    given.iter().map(one).collect()
}

/// The state of the arguments: `key=start,clutch=down`, JSON, or a file of that.
pub(super) fn state(circuit: &Circuit, given: &str) -> Result<OperatingState, Failure> {
    moved(circuit, OperatingState::at_rest(circuit), given)
}

/// The same from a machine that stands in some state.
fn moved(
    circuit: &Circuit,
    mut state: OperatingState,
    given: &str,
) -> Result<OperatingState, Failure> {
    let file = Path::new(given);
    let text = match !given.is_empty() && file.is_file() {
        true => self::text(file)?,
        false => given.to_owned(),
    };
    if text.trim_start().starts_with('{') {
        let state: OperatingState =
            read_json(&text).map_err(|e| Failure::BadInput(format!("--state: {e}")))?;
        return sound(circuit, state);
    }
    for item in text.split(',').map(str::trim).filter(|t| !t.is_empty()) {
        let (name, at) = item.split_once('=').ok_or_else(|| {
            Failure::BadInput(format!(
                "“{item}” is no control: expected name=position, such as key=start"
            ))
        })?;
        state.set_control(name, at.to_owned());
    }
    sound(circuit, state)
}

fn sound(circuit: &Circuit, state: OperatingState) -> Result<OperatingState, Failure> {
    state.check(circuit).map_err(|problems| {
        let lines: Vec<String> = problems.iter().map(ToString::to_string).collect();
        Failure::BadInput(lines.join("\n"))
    })?;
    Ok(state)
}

/// A function by name.
pub(super) fn function(name: &str) -> Result<Function, Failure> {
    Function::parse(name).ok_or_else(|| {
        let known = Function::names();
        Failure::BadInput(format!("“{name}” is no function: expected one of {known}"))
    })
}

/// Functions by name; none when none are named.
pub(super) fn functions(names: &[String]) -> Result<Option<Vec<Function>>, Failure> {
    if names.is_empty() {
        return Ok(None);
    }
    let all = names.iter().map(|name| function(name));
    all.collect::<Result<_, _>>().map(Some)
}

/// A lesson: the document itself, or one made of a circuit and the faults of the arguments.
pub(super) fn lesson(args: &CircuitArgs, functions: &[String]) -> Result<Arc<Lesson>, Failure> {
    let refused = |e: cimento_model::circuit::Refused| {
        let lines: Vec<String> =
            e.0.iter()
                .map(|p| format!("{}: {p}", args.file.display()))
                .collect();
        Failure::BadInput(lines.join("\n"))
    };
    let text = text(&args.file)?;
    let is_lesson = |v: serde_json::Value| v["format"] == LESSON_FORMAT;
    if serde_json::from_str(&text).is_ok_and(is_lesson) {
        return Lesson::read(&text).map_err(refused);
    }
    let circuit = circuit(&args.file)?;
    let faults = faults(&circuit, &args.faults)?;
    if faults.is_empty() {
        return Err(Failure::BadInput(
            "name the fault that is there with --fault, such as --fault W8:open".to_owned(),
        ));
    }
    let docs = faults.iter().map(|f| f.doc(&circuit)).collect();
    let title = circuit.doc.title.clone();
    // Who names the instruments wants these alone.
    let only = self::functions(functions)?;
    let (scope, forbidden) = match only {
        Some(_) => (false, vec![Means::Swapping, Means::KnownGood]),
        None => (true, Vec::new()),
    };
    Lesson::new(LessonDoc {
        functions: only.unwrap_or_else(all_functions),
        scope,
        forbidden,
        ..LessonDoc::of(&title, circuit.doc.clone(), docs)
    })
    .map_err(refused)
}

/// What was done to the machine before.
pub(super) fn steps(args: &CircuitArgs) -> Result<Vec<Action>, Failure> {
    let Some(file) = &args.steps else {
        return Ok(Vec::new());
    };
    read_json(&text(file)?).map_err(|e| Failure::BadInput(format!("{}: {e}", file.display())))
}

/// A bench in the arguments' state, after what was done before.
pub(super) fn bench(circuit: &Arc<Circuit>, args: &CircuitArgs) -> Result<Bench, Failure> {
    let steps = steps(args)?;
    let faults = faults(circuit, &args.faults)?;
    let finding = |e: &dyn std::fmt::Display| Failure::Finding(e.to_string());
    if !steps.is_empty() {
        let lesson = lesson(args, &[])?;
        let session = Session::replay(&lesson, &steps).map_err(|e| finding(&e))?;
        let mut bench = session.bench().for_another_thread();
        if !args.state.is_empty() {
            let state = moved(circuit, bench.state().clone(), &args.state)?;
            bench.set(state).map_err(|e| finding(&e))?;
        }
        return Ok(bench);
    }
    let state = state(circuit, &args.state)?;
    let mut bench = Bench::new(circuit, &faults).map_err(|e| finding(&e))?;
    bench
        .set(state)
        .map_err(|e| Failure::Finding(e.to_string()))?;
    Ok(bench)
}
