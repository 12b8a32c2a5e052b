//! Attempts that are on record: what the bench answered to each action, what was left of the suspects, the
//! ledger, the marks and the plan. What is computed may only change where it was wrong, and then on purpose:
//! `RECORD=1 cargo test --release -p cimento-diagnosis --test trade recorded -- --include-ignored` writes the records anew
//! from the same actions, and the difference belongs to the commit that mends something.
//!
//! The actions of a record were drawn once (`DRAW=1` draws them again) and stand in the record itself.

use cimento_diagnosis::attempt::actions::{
    Clear, ClearCodes, CoolDown, Dry, FitKnownGood, FitOwn, HandIn, Hint, Inspect, Join, Judge,
    NameFault, Note, PutBack, RenewMeterFuse, Repair, Rest, Seal, SetControl, Support, Suspect,
    Swap, TakeApart, TakeCapture, TakeReading, TryComplaint, Unjoin, Unsupport, Wait, WarmUp, Wet,
    Wiggle, ZeroLeads,
};
use std::sync::Arc;

use std::collections::BTreeSet;
use std::path::PathBuf;

use cimento_bench::instruments::{
    Acquire, Attenuation, Form, Function, Looks, Often, Peak, Probe, PutOn, SWEEPS, Scope, take,
};
use cimento_diagnosis::attempt::{Action, Session, Supposed, Touch, Verdict, perform, repairs};
use cimento_diagnosis::lesson::{Job, Lesson, LessonDoc, Purpose};
use cimento_diagnosis::marking::{Case, debrief, sheet};
use cimento_diagnosis::suspects::{Reference, candidates, hint, next_level};
use cimento_model::circuit::{Circuit, ConductorKind, Place};
use cimento_model::faults::{Fault, FaultDoc};
use cimento_model::state::OperatingState;
use fastrand::Rng;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};

use crate::common::{demo, demo_names};

/// Lessons drawn for each circuit, and attempts at each.
const LESSONS: usize = 2;
const ATTEMPTS: usize = 2;
/// Random actions of an attempt.
const ACTS: usize = 34;
/// Digits that a number on record keeps.
const DIGITS: usize = 6;
/// Less than this is nothing.
const NOTHING: f64 = 1e-9;

/// What a record is made from.
#[derive(Serialize, Deserialize)]
pub struct Script {
    circuit: String,
    faults: Vec<FaultDoc>,
    purpose: Purpose,
    #[serde(default)]
    job: Job,
    predictions: bool,
    meter_seed: u64,
    pub actions: Vec<Action>,
}

impl Script {
    pub fn lesson(&self) -> Arc<Lesson> {
        let circuit = demo(&self.circuit);
        let mut doc = LessonDoc::of("On record", circuit.doc.clone(), self.faults.clone());
        doc.purpose = self.purpose;
        doc.job = self.job;
        doc.predictions = self.predictions;
        doc.meter_seed = self.meter_seed;
        Lesson::new(doc).unwrap()
    }
}

fn folder() -> PathBuf {
    PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/recorded"))
}

pub fn records() -> Vec<(PathBuf, Script)> {
    let mut files: Vec<PathBuf> = std::fs::read_dir(folder())
        .unwrap()
        .map(|e| e.unwrap().path())
        .filter(|p| p.extension().is_some_and(|e| e == "json"))
        .collect();
    files.sort();
    let read = |path: PathBuf| {
        let text = std::fs::read_to_string(&path).unwrap();
        let mut all: Value = serde_json::from_str(&text).unwrap();
        let script = serde_json::from_value(all["script"].take()).unwrap();
        (path, script)
    };
    files.into_iter().map(read).collect()
}

/// Numbers with the digits that count, and the columns of a screen as what they come to.
fn rounded(value: &mut Value) {
    match value {
        Value::Number(n) => {
            if let (false, Some(x)) = (n.is_i64() || n.is_u64(), n.as_f64()) {
                let text = format!("{x:.*e}", DIGITS - 1);
                *value = json!(text.parse::<f64>().unwrap() + 0.0);
            }
        }
        Value::Array(all) => all.iter_mut().for_each(rounded),
        Value::Object(all) => {
            for (name, value) in all.iter_mut() {
                if name == "columns" {
                    *value = columns(value);
                }
                rounded(value);
            }
        }
        _ => {}
    }
}

fn columns(value: &Value) -> Value {
    let columns: Vec<[f64; 2]> = serde_json::from_value(value.clone()).unwrap();
    let sums = columns
        .iter()
        .fold([0.0, 0.0], |[a, b], [x, y]| [a + x, b + y]);
    let least = columns.iter().map(|c| c[0]).fold(f64::INFINITY, f64::min);
    let most = columns.iter().map(|c| c[1]).fold(-f64::INFINITY, f64::max);
    json!({"count": columns.len(), "sums": sums, "least": least, "most": most})
}

fn value(of: &impl Serialize) -> Value {
    let mut value = serde_json::to_value(of).unwrap();
    rounded(&mut value);
    value
}

/// A record as text: the script first, then a line for each thing.
fn written(script: &Script, found: &[(&str, Vec<Value>)]) -> String {
    let mut out = String::from("{\n");
    let mut head = json!({
        "circuit": script.circuit, "faults": script.faults, "purpose": script.purpose,
        "predictions": script.predictions, "meter_seed": script.meter_seed,
    });
    if script.job != Job::default() {
        head["job"] = json!(script.job);
    }
    let head = head.to_string();
    out += &format!(
        " \"script\": {},\n  \"actions\": [\n",
        &head[..head.len() - 1]
    );
    let actions: Vec<String> = script
        .actions
        .iter()
        .map(|a| format!("  {}", serde_json::to_string(a).unwrap()))
        .collect();
    out += &actions.join(",\n");
    out += "\n ]}";
    let parts: Vec<String> = found
        .iter()
        .map(|(name, lines)| {
            let lines: Vec<String> = lines.iter().map(|l| format!("  {l}")).collect();
            format!(",\n \"{name}\": [\n{}\n ]", lines.join(",\n"))
        })
        .collect();
    out += &parts.concat();
    out += "\n}\n";
    out
}

/// What the bench answers to the actions of a script, and what a student then sees.
fn answers(script: &Script) -> Vec<(&'static str, Vec<Value>)> {
    let lesson = script.lesson();
    let mut session = Session::start(&lesson);
    let mut lines = Vec::new();
    for action in &script.actions {
        lines.push(match session.act(action.clone()) {
            Ok(step) => json!({"step": step.no, "minutes": value(&step.minutes), "answer": value(&step.answer)}),
            Err(refused) => json!({"refused": refused.to_string()}),
        });
    }
    let mut view = value(&session.view());
    let ledger = view["ledger"].take();
    view["captures"].take();
    let ledger = ledger.as_array().unwrap().clone();
    vec![("answers", lines), ("ledger", ledger), ("view", vec![view])]
}

/// What is reasoned about the steps of a script: suspects step by step, hints, marks and plan.
fn reasons(script: &Script, reference: &Reference) -> Vec<(&'static str, Vec<Value>)> {
    let lesson = &reference.lesson;
    let mut session = Session::start(lesson);
    for action in &script.actions {
        let _ = session.act(action.clone());
    }
    let case = match Case::new(reference, session.steps()) {
        Ok(case) => case,
        // A machine without a solution has no marks: that too is on record.
        Err(e) => return vec![("marks", vec![json!({"error": e.to_string()})])],
    };
    let sheet = sheet(&case).unwrap();
    let debrief = debrief(&case);
    let mut steps = Vec::new();
    let mut before: BTreeSet<String> = BTreeSet::new();
    for step in &debrief.steps {
        let mut line = value(step);
        let left = step.left.as_ref().map(|all| {
            let now: BTreeSet<String> = all.iter().map(|s| s.place.clone()).collect();
            let gone = before.difference(&now).map(|p| format!("-{p}"));
            let new = now.difference(&before).map(|p| format!("+{p}"));
            let text: Vec<String> = gone.chain(new).collect();
            let likeliest = value(&all.first());
            before = now;
            json!({"changed": text.join(" "), "count": before.len(), "likeliest": likeliest})
        });
        line["left"] = left.unwrap_or(Value::Null);
        steps.push(line);
    }
    let mut lines: Vec<Value> = sheet.lines.iter().map(value).collect();
    let mut rest = value(&sheet);
    rest["lines"].take();
    lines.push(rest);
    let mut plan = value(&debrief.plan);
    let plan_steps = plan["steps"].take();
    let mut plan_lines = vec![plan];
    plan_lines.extend(plan_steps.as_array().unwrap().iter().cloned());
    let early = &session.steps()[..session.steps().len().min(3)];
    let hints = (1..=next_level(early).max(2)).map(|l| json!(hint(reference, early, l).unwrap()));
    vec![
        ("begin", vec![value(&debrief.begin)]),
        ("suspects", steps),
        ("hints", hints.collect()),
        ("practise", vec![json!(debrief.practise)]),
        ("marks", lines),
        ("plan", plan_lines),
    ]
}

/// Whether two values on record are the same; numbers to the digits that they keep, and what the numerics leave
/// of nothing is nothing.
fn is_same(was: &Value, is: &Value) -> bool {
    match (was, is) {
        (Value::Number(a), Value::Number(b)) => {
            let (a, b) = (a.as_f64().unwrap(), b.as_f64().unwrap());
            (a - b).abs() <= 2.0 * 10_f64.powi(1 - DIGITS as i32) * a.abs().max(b.abs()) + NOTHING
        }
        (Value::Array(a), Value::Array(b)) => {
            a.len() == b.len() && a.iter().zip(b).all(|(a, b)| is_same(a, b))
        }
        (Value::Object(a), Value::Object(b)) => {
            let in_b = |(name, a): (&String, &Value)| b.get(name).is_some_and(|b| is_same(a, b));
            a.len() == b.len() && a.iter().all(in_b)
        }
        (a, b) => a == b,
    }
}

fn recording() -> bool {
    std::env::var("RECORD").is_ok()
}

/// Holds what was found against a record, or writes it down.
fn hold(path: &PathBuf, script: &Script, found: &[(&str, Vec<Value>)]) {
    let text = std::fs::read_to_string(path).unwrap();
    let old: Value = serde_json::from_str(&text).unwrap();
    if recording() {
        let order = [
            "answers", "ledger", "view", "begin", "suspects", "hints", "practise", "marks", "plan",
        ];
        let all: Vec<(&str, Vec<Value>)> = order
            .iter()
            .filter_map(|name| {
                let new = found
                    .iter()
                    .find(|(n, _)| n == name)
                    .map(|(_, l)| l.clone());
                let kept = || old[name].as_array().cloned();
                Some((*name, new.or_else(kept)?))
            })
            .collect();
        std::fs::write(path, written(script, &all)).unwrap();
        return;
    }
    for (name, lines) in found {
        let known = old[name]
            .as_array()
            .unwrap_or_else(|| panic!("{}: no {name}", path.display()));
        assert_eq!(known.len(), lines.len(), "{}: {name}", path.display());
        for (n, (was, is)) in known.iter().zip(lines).enumerate() {
            assert!(
                is_same(was, is),
                "{}: {name}, line {n}\n was {was}\n  is {is}",
                path.display()
            );
        }
    }
}

/// Every record's answers.
#[test]
fn answers_are_what_they_were() {
    for (path, script) in records() {
        hold(&path, &script, &answers(&script));
    }
}

/// The reasoning over one circuit's records.
fn reasons_of(circuit: &str) {
    let mut reference: Option<(String, Reference)> = None;
    for (path, script) in records() {
        if script.circuit != circuit {
            continue;
        }
        // Where the reasoning takes too long for a record, what the bench answered is all there is.
        let text = std::fs::read_to_string(&path).unwrap();
        let all = std::env::var("RECORD").is_ok_and(|how| how == "all");
        if !all && !text.contains("\"plan\": [") {
            continue;
        }
        let key = serde_json::to_string(&(
            &script.faults,
            script.purpose,
            script.job,
            script.predictions,
            script.meter_seed,
        ))
        .unwrap();
        if reference.as_ref().is_none_or(|(k, _)| *k != key) {
            reference = Some((key, Reference::new(&script.lesson()).unwrap()));
        }
        let (_, reference) = reference.as_ref().unwrap();
        hold(&path, &script, &reasons(&script, reference));
    }
}

macro_rules! reasons_are_what_they_were {
    ($($(#[$slow:meta])? $name:ident = $circuit:literal),* $(,)?) => {
        $(#[test] $(#[$slow])? fn $name() { reasons_of($circuit); })*

        /// Every demo circuit is on record.
        #[test]
        fn every_circuit_is_on_record() {
            let named = [$($circuit),*];
            assert_eq!(demo_names(), named);
        }
    };
}

reasons_are_what_they_were! {
    #[ignore = "slow"] baggage_tug_charging = "baggage-tug-charging",
    #[ignore = "slow"] baggage_tug_ignition = "baggage-tug-ignition",
    baggage_tug_starting = "baggage-tug-starting",
    #[ignore = "slow"] belt_loader_ignition = "belt-loader-ignition",
    #[ignore = "slow"] belt_loader_module = "belt-loader-module",
    #[ignore = "slow"] belt_loader_starting = "belt-loader-starting",
    #[ignore = "slow"] fire_pump_charging = "fire-pump-charging",
    fire_pump_ignition = "fire-pump-ignition",
    fire_pump_starting = "fire-pump-starting",
    #[ignore = "slow"] ground_power_unit_cabin = "ground-power-unit-cabin",
    #[ignore = "slow"] ground_power_unit_ignition = "ground-power-unit-ignition",
    #[ignore = "slow"] ground_power_unit_injectors = "ground-power-unit-injectors",
    #[ignore = "slow"] ground_power_unit_throttle = "ground-power-unit-throttle",
    #[ignore = "slow"] ground_power_unit_twin_coils = "ground-power-unit-twin-coils",
    #[ignore = "slow"] large_fire_pump_ignition = "large-fire-pump-ignition",
    #[ignore = "slow"] sweeper_auxiliary_engine = "sweeper-auxiliary-engine",
    #[ignore = "slow"] sweeper_ignition = "sweeper-ignition",
    sweeper_lamps = "sweeper-lamps",
    #[ignore = "slow"] sweeper_speed_sensor = "sweeper-speed-sensor",
    #[ignore = "slow"] sweeper_washing_pump = "sweeper-washing-pump",
    #[ignore = "slow"] twin_fire_pump_ignition = "twin-fire-pump-ignition",
}

/// Every kind of action and every instrument is on record.
#[test]
fn everything_that_can_be_done_is_on_record() {
    let mut done = BTreeSet::new();
    let mut taken = BTreeSet::new();
    for (_, script) in records() {
        let lesson = script.lesson();
        let mut session = Session::start(&lesson);
        for action in script.actions {
            // Done, not only tried.
            let Ok(step) = session.act(action) else {
                continue;
            };
            let written = serde_json::to_value(&step.action).unwrap();
            done.insert(written["do"].as_str().unwrap().to_owned());
            if let Action::TakeReading(TakeReading { function, .. }) = step.action {
                taken.insert(function.name());
            }
        }
    }
    // That an attempt goes on is not its student's doing; what is predicted on paper or entered on a test sheet is no
    // search for a fault, nor is wiring, few machines are given back, and words are no evidence: `predict.rs`,
    // `test_sheets.rs`, `build.rs`, `craft.rs`, `told.rs`, `plugs.rs` and `binder.rs` hold them.
    let elsewhere = [
        "take_up",
        "predict",
        "enter",
        "wire",
        "unwire",
        "say_path",
        "second_visit",
        "ask_customer",
        "read_history",
        "label",
        "open_sheet",
        "doubt_sheet",
    ];
    let words = Action::WORDS.iter().filter(|w| !elsewhere.contains(*w));
    let missing: Vec<_> = words.filter(|w| !done.contains(**w)).collect();
    assert!(missing.is_empty(), "no {missing:?} on record");
    let missing: Vec<_> = Function::names()
        .split(", ")
        .map(str::to_owned)
        .filter(|f| !taken.contains(f.as_str()))
        .collect();
    assert!(missing.is_empty(), "no {missing:?} on record");
}

// Drawing ------------------------------------------------------------------------------------------

/// Draws scripts anew; `DRAW=tug` those of circuits with that in their name.
#[test]
#[ignore = "draws the scripts"]
fn draw() {
    let Ok(only) = std::env::var("DRAW") else {
        return;
    };
    for (c, name) in demo_names().into_iter().enumerate() {
        if !name.contains(&only) {
            continue;
        }
        let circuit = demo(&name);
        for l in 0..LESSONS {
            let mut rng = Rng::with_seed((c * 100 + l) as u64 + 7);
            let mut script = lesson_of(&name, &circuit, l, &mut rng);
            for a in 0..ATTEMPTS {
                script.actions = drawn(&script.lesson(), &mut rng);
                let path = folder().join(format!("{name}-{}{}.json", l + 1, ["a", "b"][a]));
                std::fs::write(path, written(&script, &[])).unwrap();
            }
        }
    }
}

/// Draws an attempt that follows the plan for the first lesson of each circuit; `DRAW=tug` those with that in
/// their name.
#[test]
#[ignore = "draws the scripts, and takes a while"]
fn draw_careful_ones() {
    let Ok(only) = std::env::var("DRAW") else {
        return;
    };
    for (path, mut script) in records() {
        let name = path.file_stem().unwrap().to_str().unwrap().to_owned();
        if !name.ends_with("-1a") || !name.contains(&only) {
            continue;
        }
        let lesson = script.lesson();
        script.actions = careful(&Reference::new(&lesson).unwrap());
        let path = folder().join(format!("{}-1c.json", script.circuit));
        std::fs::write(path, written(&script, &[])).unwrap();
    }
}

/// An attempt that takes the readings of the plan, clears what each rules out, names, mends and proves.
fn careful(reference: &Reference) -> Vec<Action> {
    let lesson = &reference.lesson;
    let circuit = &lesson.circuit;
    let mut healthy = Session::start(lesson).bench().beside(&[]).unwrap();
    let mut actions = vec![Action::TryComplaint(TryComplaint {})];
    let mut now = OperatingState::at_rest(circuit);
    healthy.set(now.clone()).unwrap();
    let mut left = reference.plan.begin.clone();
    let mut step = 1;
    for planned in &reference.plan.steps {
        let m = &planned.measure;
        // Screens and exchanges have scripts of their own.
        let Some((function, red, black)) = m.question.held() else {
            break;
        };
        let state = reference
            .table
            .states
            .iter()
            .find(|s| s.about == m.state)
            .unwrap();
        if now.about() != m.state {
            // Back to rest, and from there as the plan comes to the state.
            let at_rest = OperatingState::at_rest(circuit);
            let apart: Vec<String> = now.unplugged.iter().chain(&now.removed).cloned().collect();
            actions.extend(
                apart
                    .into_iter()
                    .map(|what| Action::PutBack(PutBack { what })),
            );
            for control in circuit.controls() {
                let position = at_rest.control(&control.name).to_owned();
                if position != now.control(&control.name) {
                    actions.push(Action::SetControl(SetControl {
                        control: control.name,
                        position,
                    }));
                }
            }
            actions.extend(state.actions.iter().cloned());
            healthy.set(at_rest).unwrap();
            for action in &state.actions {
                perform(&mut healthy, action).unwrap();
            }
            now = healthy.state().clone();
        }
        let right = take(&healthy, function, None, red, black).unwrap();
        let expected = right.shown.value.text(function.unit());
        actions.push(Action::TakeReading(TakeReading {
            function,
            range: None,
            red: red.map(str::to_owned),
            black: black.map(str::to_owned),
            expected: Some(expected),
            supposing: None,
            touch: Touch::BackProbe,
            partner: None,
        }));
        step = actions.len();
        let (want, got) = (right.shown.value.number(), planned.shown.value.number());
        let verdict = match want.total_cmp(&got) {
            _ if (want - got).abs() < 0.1 || want == got => Verdict::Normal,
            std::cmp::Ordering::Less => Verdict::TooHigh,
            _ => Verdict::TooLow,
        };
        actions.push(Action::Judge(Judge { step, verdict }));
        let places: Vec<String> = left
            .iter()
            .filter(|p| !planned.left.contains(p))
            .cloned()
            .collect();
        if !places.is_empty() {
            actions.push(Action::Clear(Clear { places }));
        }
        left.clone_from(&planned.left);
    }
    let fault = &lesson.faults[0];
    let place = circuit.place_id(fault.place).to_owned();
    let mode = fault.mode.name().to_owned();
    let because = if step > 1 { vec![step] } else { Vec::new() };
    actions.push(Action::NameFault(NameFault {
        place: place.clone(),
        mode,
        because,
    }));
    actions.push(Action::Repair(Repair::of(
        place,
        repairs(circuit, fault.place)[0],
    )));
    actions.push(Action::TryComplaint(TryComplaint {}));
    if step > 1 {
        actions.push(actions[step - 1].clone());
    }
    actions.push(Action::HandIn(HandIn {}));
    actions
}

/// A lesson with something to find; the second ones have conditions, several faults, practice.
fn lesson_of(name: &str, circuit: &Arc<Circuit>, nth: usize, rng: &mut Rng) -> Script {
    let all = candidates(circuit, None);
    loop {
        let pick = |rng: &mut Rng| -> Fault {
            let candidate = &all[rng.usize(..all.len())];
            let grid = &candidate.grid[rng.usize(..candidate.grid.len())];
            grid[0].clone()
        };
        let mut faults = vec![pick(rng).doc(circuit)];
        if nth == 1 && rng.u8(..4) == 0 {
            faults.push(pick(rng).doc(circuit));
        }
        if nth == 1 && faults.len() == 1 && rng.bool() {
            let mut doc = serde_json::to_value(&faults[0]).unwrap();
            doc["when"] = json!(["hot", "moved", "wet"][rng.usize(..3)]);
            faults = vec![serde_json::from_value(doc).unwrap()];
        }
        let script = Script {
            circuit: name.to_owned(),
            faults,
            job: Job::default(),
            purpose: match nth {
                1 => Purpose::Practice,
                _ => Purpose::Marks,
            },
            predictions: nth == 0,
            meter_seed: nth as u64 * 11,
            actions: Vec::new(),
        };
        let mut doc = LessonDoc::of("On record", circuit.doc.clone(), script.faults.clone());
        doc.purpose = script.purpose;
        if Lesson::new(doc).is_ok() {
            return script;
        }
    }
}

fn one<'a, T>(rng: &mut Rng, all: &'a [T]) -> &'a T {
    &all[rng.usize(..all.len())]
}

/// An attempt: mostly at random, with a conclusion at the end.
fn drawn(lesson: &Arc<Lesson>, rng: &mut Rng) -> Vec<Action> {
    let circuit = &lesson.circuit;
    let mut session = Session::start(lesson);
    let mut actions = Vec::new();
    let mut act = |session: &mut Session, action: Action| {
        let done = session.act(action.clone()).is_ok();
        actions.push(action);
        done
    };
    act(&mut session, Action::TryComplaint(TryComplaint {}));
    // The machine as the trial had it: most readings tell nothing at rest.
    if let Some(trial) = OperatingState::trial(circuit).into_iter().next_back() {
        for control in circuit.controls() {
            let position = trial.state.control(&control.name).to_owned();
            act(
                &mut session,
                Action::SetControl(SetControl {
                    control: control.name,
                    position,
                }),
            );
        }
    }
    for n in 0..ACTS {
        let action = match n % 3 {
            0 => any_reading(lesson, rng),
            _ => any_action(lesson, &session, rng),
        };
        let is_reading = matches!(action, Action::TakeReading(_) | Action::Capture(_));
        let captured = matches!(action, Action::Capture(_));
        if act(&mut session, action) && is_reading {
            let step = session.steps().len();
            let verdicts = match captured {
                true => &[Verdict::Normal, Verdict::Abnormal, Verdict::TellsNothing][..],
                false => &[
                    Verdict::Normal,
                    Verdict::Borderline,
                    Verdict::TooLow,
                    Verdict::TooHigh,
                    Verdict::TellsNothing,
                ][..],
            };
            if rng.u8(..4) > 0 {
                act(
                    &mut session,
                    Action::Judge(Judge {
                        step,
                        verdict: *one(rng, verdicts),
                    }),
                );
            }
        }
    }
    let own = lesson.faults[0].place;
    let (place, mode) = match rng.u8(..3) {
        0 => any_fault(circuit, rng),
        _ => (
            circuit.place_id(own).to_owned(),
            lesson.faults[0].mode.name().to_owned(),
        ),
    };
    let steps = session.steps().iter();
    let because = steps
        .filter(|s| matches!(s.action, Action::TakeReading(_)))
        .map(|s| s.no)
        .take(2)
        .collect();
    let place_of = circuit.place(&place).unwrap();
    act(
        &mut session,
        Action::NameFault(NameFault {
            place: place.clone(),
            mode,
            because,
        }),
    );
    let how = *one(rng, repairs(circuit, place_of));
    act(&mut session, Action::Repair(Repair::of(place, how)));
    act(&mut session, Action::TryComplaint(TryComplaint {}));
    let last = session
        .steps()
        .iter()
        .rev()
        .find(|s| matches!(s.action, Action::TakeReading(_)))
        .map(|s| s.action.clone());
    if let Some(again) = last {
        act(&mut session, again);
    }
    act(&mut session, Action::HandIn(HandIn {}));
    actions
}

fn any_place(circuit: &Arc<Circuit>, rng: &mut Rng) -> Place {
    let all: Vec<Place> = circuit.places().collect();
    *one(rng, &all)
}

fn any_fault(circuit: &Arc<Circuit>, rng: &mut Rng) -> (String, String) {
    loop {
        let place = any_place(circuit, rng);
        let modes = circuit.modes(place);
        if !modes.is_empty() {
            return (
                circuit.place_id(place).to_owned(),
                one(rng, modes).name.to_owned(),
            );
        }
    }
}

fn any_point(circuit: &Arc<Circuit>, rng: &mut Rng) -> String {
    one(rng, &circuit.test_points).id.clone()
}

fn any_wire(circuit: &Arc<Circuit>, rng: &mut Rng) -> String {
    let wires: Vec<_> = circuit
        .conductors
        .iter()
        .filter(|c| c.kind == ConductorKind::Wire)
        .collect();
    one(rng, &wires).id.clone()
}

fn any_lead(circuit: &Arc<Circuit>, rng: &mut Rng) -> Option<String> {
    let leads: Vec<&str> = circuit.plug_leads().collect();
    (!leads.is_empty()).then(|| (*one(rng, &leads)).to_owned())
}

fn any_reading(lesson: &Arc<Lesson>, rng: &mut Rng) -> Action {
    let circuit = &lesson.circuit;
    let all: Vec<Function> = Function::all().collect();
    let mut function = *one(rng, &all);
    // Half of them with what is used most.
    if rng.bool() {
        function = [
            Function::DC_VOLTS,
            Function::DC_VOLTS,
            Function::OHMS,
            Function::CLAMP_AMPS,
        ][rng.usize(..4)];
    }
    let modules: Vec<_> = circuit
        .parts
        .iter()
        .filter(|p| p.kind.module().is_some())
        .collect();
    let pins: Vec<Place> = circuit
        .places()
        .filter(|p| matches!(p, Place::Pin(..)))
        .collect();
    let red = match function.put_on() {
        PutOn::Wire => any_wire(circuit, rng),
        PutOn::Module if !modules.is_empty() => one(rng, &modules).id.clone(),
        PutOn::Pin if !pins.is_empty() => circuit.place_id(*one(rng, &pins)).to_owned(),
        _ if function.has_one_lead() => {
            any_lead(circuit, rng).unwrap_or_else(|| any_point(circuit, rng))
        }
        _ => any_point(circuit, rng),
    };
    let negative = circuit.point_at(0).map(|p| p.id.clone());
    let black = match rng.u8(..3) {
        _ if function.has_one_lead() => None,
        0 => Some(any_point(circuit, rng)),
        _ => negative,
    };
    let expected = ["0", "12.4", "OL", "> 10", "0.1", "5", "bright", "off"];
    let wanted = lesson.predictions || rng.u8(..3) == 0;
    let of_a_lamp = ["bright", "off", "dim"];
    let expected = match function.is_lamp() {
        true => *one(rng, &of_a_lamp),
        false => *one(rng, &expected),
    };
    let supposing = (rng.u8(..6) == 0).then(|| any_fault(circuit, rng));
    let all = function.ranges();
    let range = (!all.is_empty() && rng.u8(..5) == 0).then(|| one(rng, all).0);
    Action::TakeReading(TakeReading {
        function,
        range,
        red: Some(red),
        black,
        expected: wanted.then(|| expected.to_owned()),
        supposing: supposing.map(|(place, mode)| Supposed { place, mode }),
        touch: [
            Touch::BackProbe,
            Touch::BackProbe,
            Touch::FrontProbe,
            Touch::Pierce,
        ][rng.usize(..4)],
        partner: None,
    })
}

fn any_capture(lesson: &Arc<Lesson>, rng: &mut Rng) -> Action {
    let circuit = &lesson.circuit;
    let mut channels = Vec::new();
    for _ in 0..rng.usize(1..3) {
        let black = circuit
            .point_at(0)
            .map_or_else(|| any_point(circuit, rng), |p| p.id.clone());
        channels.push(match (rng.u8(..3), any_lead(circuit, rng)) {
            (0, Some(lead)) => Probe::Pickup { lead },
            (1, _) => Probe::Clamp {
                wire: any_wire(circuit, rng),
            },
            _ => Probe::Leads {
                red: any_point(circuit, rng),
                black,
            },
        });
    }
    let looks = |rng: &mut Rng| Looks {
        form: *one(rng, &[Form::Flat, Form::Pulses, Form::BothWays]),
        peak: *one(rng, &[Peak::Under1, Peak::To20, Peak::To600]),
        often: rng.bool().then_some(Often::Once),
    };
    let said = lesson.predictions || rng.bool();
    let expected = match said {
        true => channels.iter().map(|_| looks(rng)).collect(),
        false => Vec::new(),
    };
    Action::Capture(TakeCapture {
        scope: Scope {
            channels,
            sweep_s: SWEEPS[rng.usize(3..9)],
            level: rng.bool().then_some(6.0),
            falling: rng.bool(),
            attenuation: *one(rng, &[Attenuation::One, Attenuation::Ten]),
            acquire: *one(rng, &[Acquire::Peak, Acquire::Sample]),
        },
        expected,
        partner_expected: Vec::new(),
    })
}

fn any_action(lesson: &Arc<Lesson>, session: &Session, rng: &mut Rng) -> Action {
    let circuit = &lesson.circuit;
    let apart = circuit.comes_apart();
    let place = |rng: &mut Rng| circuit.place_id(any_place(circuit, rng)).to_owned();
    let places = |rng: &mut Rng| {
        (0..rng.usize(1..4))
            .map(|_| place(rng))
            .collect::<Vec<String>>()
    };
    let part = |rng: &mut Rng| one(rng, &circuit.parts).id.clone();
    let out: Vec<String> = session.view().apart;
    let joined = session.view().joined;
    let pierced = session.pierced();
    let readings: Vec<usize> = session
        .steps()
        .iter()
        .filter(|s| matches!(s.action, Action::TakeReading(_)))
        .map(|s| s.no)
        .collect();
    match rng.u8(..33) {
        0..=2 => {
            let controls = circuit.controls();
            let control = one(rng, &controls);
            Action::SetControl(SetControl {
                control: control.name.clone(),
                position: one(rng, &control.positions).clone(),
            })
        }
        3 => Action::TakeApart(TakeApart {
            what: one(rng, &apart).clone(),
        }),
        4 | 5 if !out.is_empty() => Action::PutBack(PutBack {
            what: one(rng, &out).clone(),
        }),
        6 => Action::Join(Join {
            from: any_point(circuit, rng),
            to: any_point(circuit, rng),
            fused: rng.bool(),
        }),
        7 if !joined.is_empty() => {
            let [from, to] = one(rng, &joined).clone();
            Action::Unjoin(Unjoin { from, to })
        }
        8 => Action::Support(Support {
            plus: any_point(circuit, rng),
            minus: circuit
                .point_at(0)
                .map_or_else(|| any_point(circuit, rng), |p| p.id.clone()),
        }),
        9 => Action::Unsupport(Unsupport {}),
        10 => Action::Wiggle(Wiggle { what: place(rng) }),
        11 => Action::Rest(Rest {}),
        12 => Action::Wait(Wait {
            minutes: rng.u8(1..30).into(),
        }),
        13 => Action::WarmUp(WarmUp {}),
        14 => Action::CoolDown(CoolDown {}),
        15 => Action::Wet(Wet {}),
        16 => Action::Dry(Dry {}),
        17 => Action::Inspect(Inspect { place: place(rng) }),
        18 => match circuit.alike().as_slice() {
            [] => Action::Inspect(Inspect { place: place(rng) }),
            alike => {
                let [a, b] = one(rng, alike).clone();
                Action::Swap(Swap { a, b })
            }
        },
        19 => Action::FitKnownGood(FitKnownGood { part: part(rng) }),
        20 => match session.view().lent.as_slice() {
            [] => Action::FitKnownGood(FitKnownGood { part: part(rng) }),
            lent => Action::FitOwn(FitOwn {
                part: one(rng, lent).clone(),
            }),
        },
        21 => match circuit.parts.iter().find(|p| p.kind.module().is_some()) {
            Some(module) => Action::ClearCodes(ClearCodes {
                module: module.id.clone(),
            }),
            None => Action::Rest(Rest {}),
        },
        22 => Action::ZeroLeads(ZeroLeads {}),
        23 => Action::RenewMeterFuse(RenewMeterFuse {}),
        24 => Action::TryComplaint(TryComplaint {}),
        25 if !pierced.is_empty() => Action::Seal(Seal {
            wire: one(rng, &pierced).clone(),
        }),
        26 | 27 => any_capture(lesson, rng),
        28 | 29 => Action::Clear(Clear {
            places: places(rng),
        }),
        30 => Action::Suspect(Suspect {
            places: places(rng),
        }),
        31 => Action::Note(Note {
            step: (!readings.is_empty()).then(|| *one(rng, &readings)),
            text: "Looked at twice".to_owned(),
        }),
        32 => Action::Hint(Hint {
            level: rng.u8(1..4),
            text: "A hint".to_owned(),
        }),
        _ => any_reading(lesson, rng),
    }
}
