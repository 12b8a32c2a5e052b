//! The complaint: what a person notices who tries to work the machine.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Bench, BenchError, OperatingState};
use crate::parts::{Notice, NoticeKind};

/// What was noticed while the machine was tried.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Complaint {
    /// One line: "No crank, no click. Dash lamp bright."
    pub text: String,
    /// State by state, what was noticed.
    pub trials: Vec<Trial>,
}

/// One state of a trial.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Trial {
    /// "start · clutch down".
    pub state: String,
    pub notices: Vec<Notice>,
}

impl Complaint {
    /// Two machines that behave alike from the seat.
    pub fn same_as(&self, other: &Self) -> bool {
        let signs = |c: &Self| -> Vec<Vec<(String, String)>> {
            let trial = |t: &Trial| {
                let open = t.notices.iter().filter(|n| !n.hidden);
                open.map(|n| (n.part.clone(), n.sign.clone())).collect()
            };
            c.trials.iter().map(trial).collect()
        };
        signs(self) == signs(other)
    }
}

/// Tries the machine: every position of the key in turn, the other controls worked. The bench is
/// left in the last state.
///
/// # Errors
/// [`BenchError`] when the circuit has no solution in one of the states.
pub fn complaint(bench: &mut Bench<'_>) -> Result<Complaint, BenchError> {
    let now = bench.state().clone();
    let mut trials = Vec::new();
    for trial in OperatingState::trial(bench.circuit) {
        // What is unplugged or joined stays so: only the controls are worked.
        let state = OperatingState {
            key: trial.key,
            inputs: trial.inputs,
            ..now.clone()
        };
        bench.set(state)?;
        trials.push(Trial {
            state: bench.state().about(),
            notices: bench.notices(),
        });
    }
    Ok(Complaint {
        text: summary(&trials),
        trials,
    })
}

fn summary(trials: &[Trial]) -> String {
    let open =
        |t: &Trial| -> Vec<Notice> { t.notices.iter().filter(|n| !n.hidden).cloned().collect() };
    let Some(last) = trials.last() else {
        return String::new();
    };
    let mut said: Vec<String> = Vec::new();
    let now = open(last);
    let sounds: Vec<&Notice> = now.iter().filter(|n| n.kind == NoticeKind::Sound).collect();
    match now.iter().find(|n| n.kind == NoticeKind::Cranking) {
        // A starter that does something drowns the clicks around it.
        Some(starter) if starter.sign != "silent" => said.push(starter.text.clone()),
        Some(_) if sounds.is_empty() => said.push("no crank, no click".to_owned()),
        Some(_) => {
            let heard: Vec<&str> = sounds.iter().map(|n| n.text.as_str()).collect();
            said.push(format!("no crank, only the {}", heard.join(" and the ")));
        }
        None => said.extend(sounds.iter().map(|n| n.text.clone())),
    }
    // A lamp is told with the state before the last, when nothing heavy draws on the battery.
    let before = trials.len().checked_sub(2).map_or(last, |n| &trials[n]);
    for notice in open(before).iter().filter(|n| n.kind == NoticeKind::Light) {
        said.push(format!(
            "{} at {}",
            notice.text,
            before.state.split(' ').next().unwrap_or("")
        ));
    }
    let sentence = |s: &String| {
        let mut chars = s.chars();
        let first = chars
            .next()
            .map(|c| c.to_uppercase().to_string())
            .unwrap_or_default();
        format!("{first}{}.", chars.as_str())
    };
    said.iter().map(sentence).collect::<Vec<_>>().join(" ")
}
