//! The complaint: what a person notices who tries to work the machine.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Bench, BenchError};
use cimento_model::part::{Notice, NoticeKind};
use cimento_model::state::AT_REST;
use cimento_model::state::{ENGINE, Engine, OperatingState};

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
    /// Position of the key, or the name of the lever that was tried.
    pub label: String,
    pub turns_key: bool,
    pub notices: Vec<Notice>,
}

impl Complaint {
    /// What only a close look shows: which fuses have gone, what a module has stored.
    pub fn blown(&self) -> Vec<Vec<String>> {
        let hidden = |t: &Trial| {
            let found = t.notices.iter().filter(|n| n.hidden);
            found.map(|n| format!("{} {}", n.part, n.sign)).collect()
        };
        self.trials.iter().map(hidden).collect()
    }

    /// Two machines that behave alike from the seat.
    pub fn same_as(&self, other: &Self) -> bool {
        let signs = |c: &Self| -> Vec<Vec<(String, String)>> {
            c.trials.iter().map(Trial::signs).collect()
        };
        signs(self) == signs(other)
    }

    /// Two machines that do one thing alike which a third was not seen to do, before either does anything
    /// else otherwise.
    pub fn differs_alike(&self, other: &Self, seen: &Self) -> bool {
        let trials = self.trials.iter().zip(&other.trials).zip(&seen.trials);
        for ((own, other), seen) in trials {
            let (own, other, seen) = (own.signs(), other.signs(), seen.signs());
            if own.iter().any(|s| other.contains(s) && !seen.contains(s)) {
                return true;
            }
            if own != seen || other != seen {
                return false;
            }
        }
        false
    }

    /// Whether each thing that it does is done by one of two others: a machine between these may do it all.
    pub fn lies_between(&self, one: &Self, other: &Self) -> bool {
        let trials = self.trials.iter().zip(&one.trials).zip(&other.trials);
        let mut each = trials.map(|((own, one), other)| {
            let (one, other) = (one.signs(), other.signs());
            let own = own.signs();
            own.iter().all(|s| one.contains(s) || other.contains(s))
        });
        each.all(|held| held)
    }
}

/// Tries the machine: every position of the key in turn, the other controls worked. The bench is
/// left in the last state.
///
/// # Errors
/// [`BenchError`] when the circuit has no solution in one of the states.
pub fn complaint(bench: &mut Bench) -> Result<Complaint, BenchError> {
    let before = fuses(bench);
    let first = run_through(bench, None)?;
    // A customer has tried more than once: what blew at the first trial is dead at the next.
    if fuses(bench) == before {
        Ok(first)
    } else {
        run_through(bench, None)
    }
}

/// The same, given up where it differs from what was seen of another machine: what it says up to
/// there is all that it says.
pub fn complaint_beside(bench: &mut Bench, seen: &Complaint) -> Result<Complaint, BenchError> {
    let untried = bench.clone();
    let first = run_through(bench, Some(seen))?;
    if fuses(bench) == fuses(&untried) {
        return Ok(first);
    }
    if !first.same_as(seen) {
        *bench = untried;
        run_through(bench, None)?;
    }
    run_through(bench, Some(seen))
}

fn fuses(bench: &Bench) -> Vec<u64> {
    let parts = bench.circuit.parts.iter().zip(bench.parts());
    parts
        .filter(|(p, _)| p.kind.is_fuse())
        .map(|(_, state)| state.level)
        .collect()
}

/// Works the controls once. Beside another machine, what follows the first difference is gone through
/// only for what it may blow: nothing is noted, and every cylinder is taken to fire.
fn run_through(bench: &mut Bench, beside: Option<&Complaint>) -> Result<Complaint, BenchError> {
    let now = bench.state().clone();
    let mut trials: Vec<Trial> = Vec::new();
    let mut starts = true;
    let mut differs = false;
    for trial in OperatingState::trial(&bench.circuit) {
        let tries_to_start = trial.starts_engine();
        // What is unplugged or joined stays so: only the controls are worked.
        let state = OperatingState {
            key: trial.state.key,
            inputs: trial.state.inputs,
            engine: trial.state.engine,
            engine_rpm: trial.state.engine_rpm,
            engine_loaded: trial.state.engine_loaded,
            ..now.clone()
        };
        // An engine that was not cranked does not run.
        if state.engine == Engine::Running && !starts {
            continue;
        }
        // A cylinder is not looked at once the machine can be told from the other.
        let other = beside.filter(|_| !differs);
        let other = other.and_then(|seen| seen.trials.get(trials.len()));
        let heard = other.and_then(|t| t.notices.iter().find(|n| n.kind == NoticeKind::Firing));
        bench.fires_beside(heard.map(|n| n.sign.as_str()));
        let set = bench.set(state);
        bench.fires_beside(None);
        set?;
        if !differs {
            let trial = Trial {
                state: bench.state().about(),
                label: trial.label,
                turns_key: trial.turns_key,
                notices: bench.notices(),
            };
            differs = beside.is_some_and(|seen| {
                let other = seen.trials.get(trials.len());
                other.is_none_or(|other| other.signs() != trial.signs())
            });
            trials.push(trial);
            bench.take_to_fire(differs);
        }
        if tries_to_start {
            starts = bench.starts();
        }
    }
    bench.take_to_fire(false);
    Ok(Complaint {
        text: summary(&trials),
        trials,
    })
}

/// Signs of a thing that does nothing.
const QUIET: [&str; 6] = [
    "dark",
    "is silent",
    "is shut",
    "is at rest",
    "stays cold",
    "stands still",
];

fn summary(trials: &[Trial]) -> String {
    let (turned, levers): (Vec<&Trial>, Vec<&Trial>) = trials.iter().partition(|t| t.turns_key);
    let mut said = Vec::new();
    if let Some(last) = turned.last() {
        said.extend(cranking(last));
        let firing = last.open().filter(|n| n.kind == NoticeKind::Firing);
        said.extend(firing.map(|n| n.text.clone()));
        // A lamp is told with the state before the last, when nothing heavy draws on the battery.
        let before = turned[turned.len().saturating_sub(2)];
        let lights = before.open().filter(|n| n.kind == NoticeKind::Light);
        said.extend(lights.map(|n| format!("{} at {}", n.text, before.label)));
    }
    let (engine, levers): (Vec<&Trial>, Vec<&Trial>) = levers
        .into_iter()
        .partition(|t| t.label.starts_with(ENGINE));
    let resting = turned.len().checked_sub(2).map(|n| turned[n]);
    let mut running: Vec<(String, String)> = Vec::new();
    for trial in engine {
        let told = while_running(trial, resting);
        match running.last_mut() {
            // What it does at idle and when revved alike is told once.
            Some((label, last)) if *last == told => *label = "engine running".to_owned(),
            _ => running.push((trial.label.clone(), told)),
        }
    }
    let fires = |t: &Trial| {
        let found = t.open().find(|n| n.kind == NoticeKind::Firing);
        found.map(|n| n.sign.clone())
    };
    let resting_fires = levers
        .iter()
        .find(|t| t.label == AT_REST)
        .and_then(|t| fires(t));
    for trial in levers {
        // What a lever does not change about the engine is not told again.
        let same = trial.label != AT_REST && fires(trial) == resting_fires;
        let told: Vec<&Notice> = trial
            .open()
            .filter(|n| {
                let kinds = [NoticeKind::Firing, NoticeKind::Sound, NoticeKind::Light];
                kinds.contains(&n.kind) && !(same && n.kind == NoticeKind::Firing)
            })
            .filter(|n| turned.is_empty() || n.kind == NoticeKind::Sound)
            // At rest only what should not be on is worth a word.
            .filter(|n| trial.label != AT_REST || !QUIET.contains(&n.sign.as_str()))
            .collect();
        let told = dark_together(&told);
        if trial.label == AT_REST && resting_fires.is_some() {
            said.push(told.join(", "));
        } else if !told.is_empty() {
            said.push(format!("{}: {}", trial.label, told.join(", ")));
        }
    }
    for (label, told) in running {
        let told = if told.is_empty() {
            "nothing new"
        } else {
            &told
        };
        said.push(format!("{label}: {told}"));
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

/// More lamps that are dark than this are not told one by one.
const MOST_DARK: usize = 3;

/// The words of some notices; where many lamps are dark, how many.
fn dark_together(notices: &[&Notice]) -> Vec<String> {
    let is_dark = |n: &&&Notice| n.kind == NoticeKind::Light && n.sign == "dark";
    let dark = notices.iter().filter(is_dark).count();
    if dark <= MOST_DARK {
        return notices.iter().map(|n| n.text.clone()).collect();
    }
    let others = notices.iter().filter(|n| !is_dark(n));
    let mut told: Vec<String> = others.map(|n| n.text.clone()).collect();
    let which = if told.is_empty() { "all" } else { "the other" };
    told.push(format!("{which} {dark} lamps dark"));
    told
}

/// What a running engine changes about the lamps, and what it should have changed.
fn while_running(trial: &Trial, resting: Option<&Trial>) -> String {
    let before = |n: &Notice| {
        let found = resting.and_then(|t| t.open().find(|b| b.part == n.part));
        found.map_or("", |b| b.sign.as_str())
    };
    let moves = |n: &Notice| n.kind == NoticeKind::Sound && before(n) != n.sign;
    let some_move = trial.open().any(moves);
    let told = trial.open().filter_map(|n| match n.kind {
        NoticeKind::Charging => Some(n.text.clone()),
        NoticeKind::Firing if n.sign != "even" => Some(n.text.clone()),
        NoticeKind::Light if before(n) != n.sign => Some(n.text.clone()),
        NoticeKind::Light if LIT.contains(&n.sign.as_str()) => {
            Some(n.text.replacen(&n.sign, &format!("stays {}", n.sign), 1))
        }
        NoticeKind::Sound if moves(n) => Some(n.text.clone()),
        // Beside one that works, its like that does not is worth a word.
        NoticeKind::Sound if some_move && QUIET.contains(&n.sign.as_str()) => Some(n.text.clone()),
        _ => None,
    });
    told.collect::<Vec<_>>().join(", ")
}

/// Signs of a lamp that is lit.
const LIT: [&str; 3] = ["bright", "dim", "flickers"];

impl Trial {
    /// What is noticed without a close look, as it is compared.
    pub fn signs(&self) -> Vec<(String, String)> {
        let one = |n: &Notice| (n.part.clone(), n.sign.clone());
        self.open().map(one).collect()
    }

    /// What is noticed without a close look.
    fn open(&self) -> impl Iterator<Item = &Notice> {
        self.notices.iter().filter(|n| !n.hidden)
    }
}

/// What the starter does, or what is heard when it does nothing.
fn cranking(last: &Trial) -> Vec<String> {
    let sounds: Vec<&Notice> = last
        .open()
        .filter(|n| n.kind == NoticeKind::Sound)
        .collect();
    // A click is a relay's; a horn that is silent is no sound.
    let clicks: Vec<&str> = sounds
        .iter()
        .filter(|n| matches!(n.sign.as_str(), "click" | "chatter"))
        .map(|n| n.text.as_str())
        .collect();
    match last.open().find(|n| n.kind == NoticeKind::Cranking) {
        // A starter that does something drowns the clicks around it.
        Some(starter) if starter.sign != "silent" => vec![starter.text.clone()],
        Some(_) if clicks.is_empty() => vec!["no crank, no click".to_owned()],
        Some(_) => vec![format!("no crank, only the {}", clicks.join(" and the "))],
        // What stands still with the key on is told only where nothing else is tried.
        None => sounds
            .iter()
            .filter(|n| !QUIET.contains(&n.sign.as_str()))
            .map(|n| n.text.clone())
            .collect(),
    }
}
