//! `cimento check` and `cimento schema`.

use std::path::Path;
use std::sync::Arc;

use cimento_bench::unprotected_wires;
use cimento_diagnosis::course::CourseDoc;
use cimento_diagnosis::lesson::{LESSON_FORMAT, LessonDoc};
use cimento_model::circuit::{Circuit, CircuitDoc, Problem, Refused, Severity, read_json};
use cimento_model::faults::FaultDoc;
use cimento_model::state::OperatingState;
use cimento_parts::read_circuit;

use super::{Failure, course, files, print_json};

/// Exit code 0 when nothing was found, 1 with warnings only, 2 when the document is refused.
pub(super) fn run(file: &Path, json: bool) -> Result<(), Failure> {
    let text = files::text(file)?;
    let is_lesson = text.contains(&format!("\"{LESSON_FORMAT}\""));
    let (problems, summary) = if is_lesson {
        of_lesson(&text, json)
    } else {
        match read_circuit(&text) {
            Ok(circuit) => {
                let summary = format!(
                    "{}: {} parts, {} wires, {} places where a fault can sit",
                    circuit.doc.title,
                    circuit.parts.len(),
                    circuit.doc.wires.len(),
                    circuit.places().count()
                );
                (warnings(&circuit), summary)
            }
            Err(Refused(problems)) => (problems, String::new()),
        }
    };
    report(&problems, &summary, json)
}

/// What there is to say of a lesson: of its circuit, and of what was proven of it.
fn of_lesson(text: &str, json: bool) -> (Vec<Problem>, String) {
    let proven = read_json(text)
        .map_err(|Refused(problems)| problems)
        .and_then(course::prove);
    match proven {
        Err(problems) => (problems, String::new()),
        Ok((lesson, proof)) => {
            let mut problems = warnings(&lesson.circuit);
            if let Some(proof) = &proof {
                problems.extend(course::hindrances(proof));
                if !json {
                    course::print_proof(proof);
                }
            }
            (problems, format!("{}: a lesson", lesson.title))
        }
    }
}

/// What there is to say of a circuit: of its document, and of its fuses.
fn warnings(circuit: &Arc<Circuit>) -> Vec<Problem> {
    let mut out = circuit.warnings.clone();
    let unprotected = unprotected_wires(circuit);
    out.extend(unprotected.unwrap_or_else(|e| vec![Problem::warning("parts", e.to_string())]));
    out
}

fn report(problems: &[Problem], summary: &str, json: bool) -> Result<(), Failure> {
    if json {
        print_json(problems);
    } else if !summary.is_empty() {
        println!("{summary}");
    }
    let lines: Vec<String> = problems.iter().map(ToString::to_string).collect();
    let text = if json {
        String::new()
    } else {
        lines.join("\n")
    };
    if problems.iter().any(|p| p.severity == Severity::Refused) {
        Err(Failure::BadInput(text))
    } else if problems.is_empty() {
        Ok(())
    } else {
        Err(Failure::Finding(text))
    }
}

/// The JSON Schema of a document.
pub(super) fn schema(document: &str) -> String {
    let schema = match document {
        "lesson" => schemars::schema_for!(LessonDoc),
        "course" => schemars::schema_for!(CourseDoc),
        "fault" => schemars::schema_for!(FaultDoc),
        "state" => schemars::schema_for!(OperatingState),
        _ => schemars::schema_for!(CircuitDoc),
    };
    serde_json::to_string_pretty(&schema).unwrap_or_default()
}
