//! A student's notebook: what they wrote down at their benches, machine by machine, from lesson to lesson.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use cimento_diagnosis::attempt::actions::Note;
use cimento_diagnosis::attempt::{Action, Step};
use cimento_store::Whose;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::{router::OpenApiRouter, routes};

use super::sketches::{self, SketchMark};
use crate::problem::Problem;
use crate::session::SignedIn;
use crate::state::AppState;

pub(super) fn routes() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(own))
}

/// What was written down of a machine.
#[derive(Serialize, ToSchema)]
struct NotesOfMachine {
    machine: String,
    /// What was sketched on its diagram.
    sketch: Vec<SketchMark>,
    /// The latest first.
    benches: Vec<NotesOfBench>,
}

/// What was written down in one attempt.
#[derive(Serialize, ToSchema)]
struct NotesOfBench {
    attempt: i32,
    title: String,
    given_at: i64,
    notes: Vec<NoteLine>,
}

/// A note.
#[derive(Serialize, ToSchema)]
struct NoteLine {
    step: usize,
    /// The reading or screen that it is of, in words; empty for one that is of none.
    about: String,
    text: String,
}

/// One's own notebook.
#[utoipa::path(get, operation_id = "notebook", path = "/api/notebook", responses((status = 200, body = Vec<NotesOfMachine>)))]
async fn own(
    State(state): State<AppState>,
    SignedIn(user): SignedIn,
) -> Result<Json<Vec<NotesOfMachine>>, Problem> {
    let found = state.work(move |s| {
        let mut machines: BTreeMap<String, Vec<NotesOfBench>> = BTreeMap::new();
        for row in s.store.attempts(Whose::Of(user.id))? {
            let notes = notes(&s.store.steps(row.id)?);
            if notes.is_empty() {
                continue;
            }
            let machine = s.store.lesson(row.lesson_id)?.document.circuit.title;
            machines.entry(machine).or_default().push(NotesOfBench {
                attempt: row.id,
                title: row.lesson_title,
                given_at: row.given_at,
                notes,
            });
        }
        let mut sketches = BTreeMap::new();
        for (machine, marks) in s.store.sketches(user.id)? {
            machines.entry(machine.clone()).or_default();
            sketches.insert(machine, sketches::read(&marks)?);
        }
        let all = machines.into_iter().map(|(machine, mut benches)| {
            benches.sort_by_key(|b| std::cmp::Reverse((b.given_at, b.attempt)));
            NotesOfMachine {
                sketch: sketches.remove(&machine).unwrap_or_default(),
                machine,
                benches,
            }
        });
        Ok(all.collect::<Vec<_>>())
    });
    Ok(Json(found.await?))
}

/// The notes among some steps, the last word on each reading.
fn notes(steps: &[Step]) -> Vec<NoteLine> {
    let mut out: Vec<NoteLine> = Vec::new();
    for step in steps {
        let Action::Note(Note { step: of, text }) = &step.action else {
            continue;
        };
        let noted = of.and_then(|no| steps.iter().find(|s| s.no == no));
        if let Some(noted) = noted {
            out.retain(|n| n.step != noted.no);
        }
        out.push(NoteLine {
            step: noted.map_or(step.no, |s| s.no),
            about: noted.map(Step::said).unwrap_or_default(),
            text: text.clone(),
        });
    }
    out
}
