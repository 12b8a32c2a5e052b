//! The complaint: what a person notices who tries to work the machine.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::heating::SMOKES;
use super::{Bench, BenchError};
use cimento_model::circuit::Circuit;
use cimento_model::part::{Notice, NoticeKind};
use cimento_model::state::AT_REST;
use cimento_model::state::{ENGINE, Engine, OperatingState, TrialState};

/// Labels of what is tried beside the positions of the key and the levers one by one: the machine left to
/// itself with everything off, the key let go after starting, all that is tried by itself at once, and a
/// running engine switched off.
const STANDING: &str = "standing";
const LET_GO: &str = "let go";
const TOGETHER: &str = "all at once";
const SWITCHED_OFF: &str = "switched off";
/// A machine that is left alone stands for longer than any wire takes to grow as hot as it will, in seconds.
const STANDS_S: f64 = 3600.0;
/// How the first of them is told.
const OFF: &str = "with everything off";
const BESIDE: [&str; 4] = [STANDING, LET_GO, TOGETHER, SWITCHED_OFF];

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

    /// The trials in which somebody works the machine, one thing at a time.
    pub fn while_worked(&self) -> impl Iterator<Item = &Trial> {
        let beside = |t: &&Trial| !BESIDE.contains(&t.label.as_str());
        self.trials.iter().filter(beside)
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
    let before = spent(bench);
    let first = run_through(bench, None)?;
    // A customer has tried more than once: what blew or burnt at the first trial is dead at the next.
    if spent(bench) == before {
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
    if spent(bench) == spent(&untried) {
        return Ok(first);
    }
    if !first.same_as(seen) {
        *bench = untried;
        run_through(bench, None)?;
    }
    run_through(bench, Some(seen))
}

/// What a trial may leave otherwise for the next: fuses, and wires whose insulation is gone.
fn spent(bench: &Bench) -> (Vec<u64>, Vec<usize>) {
    let parts = bench.circuit.parts.iter().zip(bench.parts());
    let fuses = parts.filter(|(p, _)| p.kind.is_fuse());
    (
        fuses.map(|(_, state)| state.level).collect(),
        bench.bare_wires().to_vec(),
    )
}

/// Works the controls once. Beside another machine, what follows the first difference is gone through
/// only for what it may blow: nothing is noted, and every cylinder is taken to fire.
fn run_through(bench: &mut Bench, beside: Option<&Complaint>) -> Result<Complaint, BenchError> {
    let now = bench.state().clone();
    let mut trials: Vec<Trial> = Vec::new();
    let mut starts = true;
    let mut differs = false;
    let mut last = None;
    for trial in tried(&bench.circuit) {
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
        if !BESIDE.contains(&trial.label.as_str()) {
            last = Some(state.clone());
        }
        // A cylinder is not looked at once the machine can be told from the other.
        let other = beside.filter(|_| !differs);
        let other = other.and_then(|seen| seen.trials.get(trials.len()));
        let heard = other.and_then(|t| t.notices.iter().find(|n| n.kind == NoticeKind::Firing));
        bench.fires_beside(heard.map(|n| n.sign.as_str()));
        // What is hot from before has cooled while it stood.
        let stands = trials.is_empty();
        let set = match stands {
            true => {
                bench.cool_wires();
                bench.hold_in(state, STANDS_S)
            }
            false => bench.set(state),
        };
        bench.fires_beside(None);
        set?;
        if !differs {
            let mut notices = bench.notices();
            if stands {
                notices.extend(bench.notice_standing());
                bench.cool_wires();
            }
            let trial = Trial {
                state: bench.state().about(),
                label: trial.label,
                turns_key: trial.turns_key,
                notices,
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
    // Who has tried it leaves it as the last lever was worked.
    if let Some(last) = last {
        bench.set(last)?;
    }
    bench.take_to_fire(false);
    Ok(Complaint {
        text: summary(&trials),
        trials,
    })
}

/// All that is tried, in order.
fn tried(circuit: &Circuit) -> Vec<TrialState> {
    let usual = OperatingState::trial(circuit);
    let at_rest = OperatingState::at_rest(circuit);
    let named = |label: &str, state: OperatingState| TrialState {
        label: label.to_owned(),
        turns_key: false,
        state,
    };
    let turned: Vec<&TrialState> = usual.iter().filter(|t| t.turns_key).collect();
    // The key goes back by itself from where it starts the engine; who turns it no further has nothing to let go.
    let let_go = match turned.as_slice() {
        [.., before, last] if circuit.parts.iter().any(|p| p.kind.cranks()) => {
            Some((last.label.clone(), named(LET_GO, before.state.clone())))
        }
        _ => None,
    };
    let alone =
        |t: &&TrialState| !t.turns_key && t.label != AT_REST && !t.label.starts_with(ENGINE);
    let levers: Vec<&TrialState> = usual.iter().filter(alone).collect();
    let mut together = match levers.as_slice() {
        // An ignition's levers stop it.
        [first, others @ ..] if !others.is_empty() && !circuit.sparks() => {
            let mut state = first.state.clone();
            for lever in others {
                let worked = lever.state.control(&lever.label).to_owned();
                state.set_control(&lever.label, worked);
            }
            Some(named(TOGETHER, state))
        }
        _ => None,
    };
    let switched_off = match (turned.first(), usual.last()) {
        (Some(off), Some(running))
            if circuit.sparks() && running.state.engine == Engine::Running =>
        {
            let mut state = running.state.clone();
            state.key.clone_from(&off.state.key);
            Some(named(SWITCHED_OFF, state))
        }
        _ => None,
    };
    let mut out = vec![named(STANDING, at_rest)];
    for trial in usual {
        if trial.label.starts_with(ENGINE) {
            out.extend(together.take());
        }
        let goes_back = let_go
            .as_ref()
            .filter(|(last, _)| trial.turns_key && *last == trial.label);
        let goes_back = goes_back.map(|(_, state)| state.clone());
        out.push(trial);
        out.extend(goes_back);
    }
    out.extend(together);
    out.extend(switched_off);
    out
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
    let named = |label: &str| trials.iter().find(|t| t.label == label);
    let (turned, levers): (Vec<&Trial>, Vec<&Trial>) = trials
        .iter()
        .filter(|t| !BESIDE.contains(&t.label.as_str()))
        .partition(|t| t.turns_key);
    let mut said = Vec::new();
    said.extend(named(STANDING).and_then(|t| while_standing(t, turned.is_empty())));
    said.extend(smoke(trials));
    said.extend(cranks_unasked(named(STANDING), &turned, named(LET_GO)));
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
    let together = named(TOGETHER).and_then(|t| only_together(t, &levers));
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
    said.extend(together);
    for (label, told) in running {
        let told = if told.is_empty() {
            "nothing new"
        } else {
            &told
        };
        said.push(format!("{label}: {told}"));
    }
    if named(SWITCHED_OFF).is_some_and(|t| fires(t).is_some_and(|sign| sign != "dies")) {
        said.push("the engine runs on as the key is switched off".to_owned());
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

/// What a machine does with everything off that it should not. Where no key is turned, what is on at rest is told
/// by the other trials.
fn while_standing(trial: &Trial, without_key: bool) -> Option<String> {
    let told = trial.open().filter(|n| match n.kind {
        NoticeKind::Standing | NoticeKind::Smoke => true,
        NoticeKind::Sound | NoticeKind::Light => {
            // A gauge without current is as good as dark.
            !without_key && n.sign != "dead" && !QUIET.contains(&n.sign.as_str())
        }
        NoticeKind::Cranking => n.sign != "silent",
        _ => false,
    });
    let told: Vec<&str> = told.map(|n| n.text.as_str()).collect();
    (!told.is_empty()).then(|| format!("{OFF}: {}", told.join(", ")))
}

/// Where there is smoke, or a smell of it, and when it is first noticed but for what stands; of a harness that comes to
/// smoke, that it grew hot is not told.
fn smoke(trials: &[Trial]) -> Vec<String> {
    let all = || {
        let each = trials.iter().flat_map(|t| t.open().map(move |n| (t, n)));
        each.filter(|(_, n)| n.kind == NoticeKind::Smoke)
    };
    let smokes = |part: &str| all().any(|(_, n)| n.part == part && n.sign == SMOKES);
    let mut seen: Vec<&str> = Vec::new();
    let mut told: Vec<(String, Vec<&str>)> = Vec::new();
    for (trial, notice) in all() {
        let is_less = notice.sign != SMOKES && smokes(&notice.part);
        if is_less || seen.contains(&notice.text.as_str()) {
            continue;
        }
        seen.push(&notice.text);
        let when = match (trial.turns_key, trial.label.as_str()) {
            (true, at) => format!("with the key at {at}"),
            // That is told with all that it does standing.
            (false, STANDING) => continue,
            (false, lever) => lever.to_owned(),
        };
        match told.iter_mut().find(|(at, _)| *at == when) {
            Some((_, texts)) => texts.push(&notice.text),
            None => told.push((when, vec![&notice.text])),
        }
    }
    let sentence = |(when, texts): (String, Vec<&str>)| format!("{when}: {}", texts.join(", "));
    told.into_iter().map(sentence).collect()
}

/// A starter that turns before it is asked to, or goes on once the key is let go.
fn cranks_unasked(
    standing: Option<&Trial>,
    turned: &[&Trial],
    let_go: Option<&Trial>,
) -> Option<String> {
    let cranks = |t: &Trial| {
        let starter = t.open().find(|n| n.kind == NoticeKind::Cranking);
        starter
            .filter(|n| n.sign != "silent")
            .map(|n| n.text.clone())
    };
    // That was told of the machine standing.
    if standing.and_then(cranks).is_some() {
        return None;
    }
    let before_last = turned.split_last().map_or(&[][..], |(_, before)| before);
    let early = before_last
        .iter()
        .find_map(|t| Some((cranks(t)?, &t.label)));
    match early {
        Some((text, label)) => Some(format!("{text} with the key at {label} already")),
        None => let_go
            .and_then(cranks)
            .map(|text| format!("as the key is let go: {text}")),
    }
}

/// What all levers together bring about that none does by itself.
fn only_together(trial: &Trial, levers: &[&Trial]) -> Option<String> {
    let alone = |n: &Notice| {
        let mut each = levers.iter().flat_map(|t| t.open());
        each.any(|other| other.part == n.part && other.sign == n.sign)
    };
    let kinds = [NoticeKind::Sound, NoticeKind::Light];
    let told = trial
        .open()
        .filter(|n| kinds.contains(&n.kind) && !alone(n));
    let told: Vec<&str> = told.map(|n| n.text.as_str()).collect();
    (!told.is_empty()).then(|| format!("{TOGETHER}: {}", told.join(", ")))
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
