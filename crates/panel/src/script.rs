//! Attempts as lines that an instructor can read and write, one act a line:
//!
//! ```text
//! try
//! look BAT
//! read dc_volts K3.86 BAT.- = 11.4 : too low
//! clear G4 W12 K3
//! name W8 open because K3.86
//! repair W8 join
//! no fault
//! hand in
//! ```
//!
//! What has no word of its own stands as JSON, as the API takes it.

use std::fmt::Write as _;

use cimento_diagnosis::attempt::actions::{
    Clear, CoolDown, Dry, FindNoFault, FitKnownGood, FitOwn, HandIn, Inspect, Join, Judge,
    NameFault, PutBack, Repair, Rest, SetControl, Suspect, Swap, TakeApart, TakeReading,
    TryComplaint, Unjoin, Wait, WarmUp, Wet, Wiggle, ZeroLeads,
};
use cimento_diagnosis::attempt::{Action, Touch, Verdict};
use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::{Value, json};

use crate::unreadable::Unreadable;

/// Verdicts as lines spell them.
const VERDICTS: [(&str, Verdict); 6] = [
    ("normal", Verdict::Normal),
    ("borderline", Verdict::Borderline),
    ("too low", Verdict::TooLow),
    ("too high", Verdict::TooHigh),
    ("not normal", Verdict::Abnormal),
    ("tells nothing", Verdict::TellsNothing),
];

/// Reads the lines of a script; `first` is the number of its first line in the document.
///
/// # Errors
/// [`Unreadable`] with the line and what was expected there.
pub fn read_script(text: &str, first: usize) -> Result<Vec<Action>, Unreadable> {
    let mut out = Vec::new();
    for (n, line) in text.lines().enumerate() {
        let line = line.trim();
        if line.is_empty() || line.starts_with('#') {
            continue;
        }
        let at = |message: String| Unreadable {
            line: first + n,
            message,
        };
        read_line(line, &mut out).map_err(at)?;
    }
    Ok(out)
}

fn read_line(line: &str, out: &mut Vec<Action>) -> Result<(), String> {
    if line.starts_with('{') {
        let action = serde_json::from_str(line);
        out.push(action.map_err(|e| format!("no action: {e}"))?);
        return Ok(());
    }
    let (word, rest) = line.split_once(' ').unwrap_or((line, ""));
    let words: Vec<String> = rest.split_whitespace().map(str::to_owned).collect();
    let one = || match words.as_slice() {
        [one] => Ok(one.clone()),
        _ => Err(format!("“{word}” needs one name")),
    };
    let two = || match words.as_slice() {
        [a, b] => Ok((a.clone(), b.clone())),
        _ => Err(format!("“{word}” needs two names")),
    };
    let action: Action = match word {
        "try" => TryComplaint {}.into(),
        "hand" => HandIn {}.into(),
        "no" => FindNoFault {}.into(),
        "zero" => ZeroLeads {}.into(),
        "warm" => WarmUp {}.into(),
        "cool" => CoolDown {}.into(),
        "wet" => Wet {}.into(),
        "dry" => Dry {}.into(),
        "rest" => Rest {}.into(),
        "look" => Inspect { place: one()? }.into(),
        "wiggle" => Wiggle {
            what: rest.to_owned(),
        }
        .into(),
        "apart" => TakeApart { what: one()? }.into(),
        "back" => PutBack { what: one()? }.into(),
        "fit" => FitKnownGood { part: one()? }.into(),
        "own" => FitOwn { part: one()? }.into(),
        "swap" => {
            let (a, b) = two()?;
            Swap { a, b }.into()
        }
        "lead" | "fused" => {
            let (from, to) = two()?;
            let fused = word == "fused";
            Join { from, to, fused }.into()
        }
        "unlead" => {
            let (from, to) = two()?;
            Unjoin { from, to }.into()
        }
        "wait" => {
            let minutes = one()?.parse();
            let minutes = minutes.map_err(|_| "“wait” needs minutes".to_owned())?;
            Wait { minutes }.into()
        }
        "set" => {
            let parts = rest.split_once('=');
            let (control, position) = parts.ok_or("“set” needs: set control = position")?;
            SetControl {
                control: control.trim().to_owned(),
                position: position.trim().to_owned(),
            }
            .into()
        }
        "clear" => Clear { places: words }.into(),
        "suspect" => Suspect { places: words }.into(),
        "repair" => {
            let (place, how) = two()?;
            let how = named(&how)?;
            Repair::of(place, how).into()
        }
        "name" => name(rest, out)?,
        "read" => return reading(rest, out),
        "judge" => {
            let (red, verdict) = rest
                .split_once(':')
                .ok_or("“judge” needs: judge point : verdict")?;
            let step = step_of(red.trim(), out)?;
            let verdict = verdict_of(verdict)?;
            Judge { step, verdict }.into()
        }
        _ => return Err(format!("“{word}” is no act")),
    };
    out.push(action);
    Ok(())
}

/// A word of an enumeration as documents spell it.
fn named<T: DeserializeOwned>(word: &str) -> Result<T, String> {
    serde_json::from_value(json!(word)).map_err(|e| e.to_string())
}

fn verdict_of(text: &str) -> Result<Verdict, String> {
    let found = VERDICTS.iter().find(|(word, _)| *word == text.trim());
    let known: Vec<&str> = VERDICTS.iter().map(|(word, _)| *word).collect();
    let none = || {
        format!(
            "“{}” is no verdict: expected {}",
            text.trim(),
            known.join(", ")
        )
    };
    found.map(|(_, verdict)| *verdict).ok_or_else(none)
}

/// The steps of the readings with their red lead at a point.
fn steps_of(red: &str, out: &[Action]) -> Result<Vec<usize>, String> {
    let is_at = |a: &Action| matches!(a, Action::TakeReading(r) if r.red.as_deref() == Some(red));
    let all = out.iter().enumerate().filter(|(_, a)| is_at(a));
    let steps: Vec<usize> = all.map(|(n, _)| n + 1).collect();
    match steps.is_empty() {
        true => Err(format!("nothing was read at {red} before")),
        false => Ok(steps),
    }
}

/// The step of the last of them.
fn step_of(red: &str, out: &[Action]) -> Result<usize, String> {
    Ok(steps_of(red, out)?.last().copied().unwrap_or_default())
}

fn name(rest: &str, out: &[Action]) -> Result<Action, String> {
    let (what, because) = rest.split_once(" because ").unwrap_or((rest, ""));
    let (place, mode) = what
        .split_once(' ')
        .ok_or("“name” needs: name PLACE mode")?;
    let because = because.split_whitespace();
    let because: Result<Vec<Vec<usize>>, String> = because.map(|red| steps_of(red, out)).collect();
    let because: Result<Vec<usize>, String> = because.map(|all| all.concat());
    Ok(NameFault {
        place: place.to_owned(),
        mode: mode.trim().to_owned(),
        because: because?,
    }
    .into())
}

fn reading(rest: &str, out: &mut Vec<Action>) -> Result<(), String> {
    let (rest, verdict) = match rest.split_once(" : ") {
        Some((rest, verdict)) => (rest, Some(verdict_of(verdict)?)),
        None => (rest, None),
    };
    let (held, expected) = match rest.split_once(" = ") {
        Some((held, expected)) => (held, Some(expected.trim().to_owned())),
        None => (rest, None),
    };
    let mut words = held.split_whitespace();
    let function = named(words.next().unwrap_or_default())?;
    let mut lead = || words.next().map(str::to_owned);
    out.push(Action::TakeReading(TakeReading {
        function,
        range: None,
        red: lead(),
        black: lead(),
        expected,
        supposing: None,
        touch: Touch::default(),
        partner: None,
    }));
    if let Some(verdict) = verdict {
        let step = out.len();
        out.push(Judge { step, verdict }.into());
    }
    Ok(())
}

/// An attempt as a script; a verdict on the reading just before stands in its line.
pub fn write_script(actions: &[Action]) -> String {
    let mut out = String::new();
    for (n, action) in actions.iter().enumerate() {
        let before = n.checked_sub(1).map(|n| &actions[n]);
        if let (Action::Judge(judge), Some(Action::TakeReading(_))) = (action, before)
            && judge.step == n
        {
            out.pop();
            let _ = writeln!(out, " : {}", verdict_text(judge.verdict));
            continue;
        }
        out += &line_of(action, actions);
        out.push('\n');
    }
    out
}

fn verdict_text(verdict: Verdict) -> &'static str {
    let found = VERDICTS.iter().find(|(_, v)| *v == verdict);
    found.map_or("", |(word, _)| word)
}

/// One act as a line of a script of some acts.
pub fn line_of(action: &Action, actions: &[Action]) -> String {
    let red = |step: &usize| match actions.get(step - 1) {
        Some(Action::TakeReading(r)) => r.red.clone().unwrap_or_default(),
        _ => String::new(),
    };
    match action {
        Action::TryComplaint(_) => "try".to_owned(),
        Action::HandIn(_) => "hand in".to_owned(),
        Action::ZeroLeads(_) => "zero".to_owned(),
        Action::WarmUp(_) => "warm".to_owned(),
        Action::CoolDown(_) => "cool".to_owned(),
        Action::Wet(_) => "wet".to_owned(),
        Action::Dry(_) => "dry".to_owned(),
        Action::Rest(_) => "rest".to_owned(),
        Action::Inspect(it) => format!("look {}", it.place),
        Action::Wiggle(it) => format!("wiggle {}", it.what),
        Action::TakeApart(it) => format!("apart {}", it.what),
        Action::PutBack(it) => format!("back {}", it.what),
        Action::FitKnownGood(it) => format!("fit {}", it.part),
        Action::FitOwn(it) => format!("own {}", it.part),
        Action::Swap(it) => format!("swap {} {}", it.a, it.b),
        Action::Join(it) if it.fused => format!("fused {} {}", it.from, it.to),
        Action::Join(it) => format!("lead {} {}", it.from, it.to),
        Action::Unjoin(it) => format!("unlead {} {}", it.from, it.to),
        Action::Wait(it) => format!("wait {}", it.minutes),
        Action::SetControl(it) => format!("set {} = {}", it.control, it.position),
        Action::Clear(it) => format!("clear {}", it.places.join(" ")),
        Action::Suspect(it) => format!("suspect {}", it.places.join(" ")),
        Action::Repair(it) if it.craft.is_none() => {
            format!("repair {} {}", it.place, word(&it.how))
        }
        Action::NameFault(it) => {
            let mut because: Vec<String> = it.because.iter().map(red).collect();
            because.dedup();
            let why = match because.is_empty() {
                true => String::new(),
                false => format!(" because {}", because.join(" ")),
            };
            format!("name {} {}{why}", it.place, it.mode)
        }
        // A verdict on what stands at no point goes by its step.
        Action::Judge(it) if !red(&it.step).is_empty() => {
            format!("judge {} : {}", red(&it.step), verdict_text(it.verdict))
        }
        Action::TakeReading(it)
            if it.range.is_none() && it.supposing.is_none() && it.touch == Touch::default() =>
        {
            let mut line = format!("read {}", word(&it.function));
            for lead in [&it.red, &it.black].into_iter().flatten() {
                let _ = write!(line, " {lead}");
            }
            if let Some(expected) = &it.expected {
                let _ = write!(line, " = {expected}");
            }
            line
        }
        other => serde_json::to_string(other).unwrap_or_default(),
    }
}

/// What documents spell as one word.
fn word(of: &impl Serialize) -> String {
    match serde_json::to_value(of) {
        Ok(Value::String(word)) => word,
        _ => String::new(),
    }
}
