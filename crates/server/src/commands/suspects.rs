//! `cimento suspects`.

use std::path::{Path, PathBuf};

use cimento_bench::instruments::Function;
use cimento_diagnosis::attempt::actions::{SetControl, TakeApart, TakeReading};
use cimento_diagnosis::attempt::{Action, Answer, Session, Touch};
use cimento_diagnosis::lesson::Limits;
use cimento_diagnosis::suspects::{Left, Noted, RuledOut, Suspects, what_is_left};
use cimento_model::circuit::Circuit;
use cimento_model::state::OperatingState;
use cimento_model::units::Quantity;
use clap::Args;
use serde::{Deserialize, Serialize};

use super::{CircuitArgs, Failure, files, print_json};

#[derive(Args)]
pub(super) struct SuspectsArgs {
    #[command(flatten)]
    circuit: CircuitArgs,
    /// A reading in the state of --state: a test point for DC volts to battery negative, or
    /// function:red or function:red:black, such as ohms:C12.4f:C14.1m. May be repeated.
    #[arg(long = "read")]
    readings: Vec<String>,
    /// Readings of a real machine, of which nobody knows what is wrong, as CSV with the columns state, function, red,
    /// black, reading. A state is written as for --state; function and black may be empty.
    #[arg(long = "readings", conflicts_with_all = ["readings", "faults", "state", "steps"])]
    noted: Option<PathBuf>,
    #[arg(long)]
    json: bool,
}

/// What is possible after something was seen or read.
#[derive(Serialize)]
struct Stage {
    after: String,
    ruled_out: Vec<String>,
    left: Vec<(String, f64)>,
}

pub(super) fn run(args: &SuspectsArgs) -> Result<(), Failure> {
    if let Some(file) = &args.noted {
        return of_a_real_machine(args, file);
    }
    let lesson = files::lesson(&args.circuit, &[])?;
    let circuit = &lesson.circuit;
    let finding = |e: &dyn std::fmt::Display| Failure::Finding(e.to_string());
    let mut session = Session::start(&lesson);
    let mut suspects = Suspects::after_complaint(&lesson).map_err(|e| finding(&e))?;
    let complaint = lesson.symptom.text.clone();
    let mut stages = vec![stage(
        circuit,
        &suspects,
        format!("the complaint: {complaint}"),
        &[],
    )];
    let mut actions = files::steps(&args.circuit)?;
    if !args.circuit.state.is_empty() {
        actions.extend(way_to(
            circuit,
            &files::state(circuit, &args.circuit.state)?,
        ));
    }
    for text in &args.readings {
        actions.push(reading(circuit, text)?);
    }
    for action in actions {
        let step = session
            .act(action)
            .map_err(|e| Failure::BadInput(e.to_string()))?
            .clone();
        let gone = suspects.follow(&step).map_err(|e| finding(&e))?;
        if let Answer::Reading { reading } = &step.answer {
            let shown = reading.shown.value.text(reading.function.unit());
            let at = reading.red.as_deref().unwrap_or_default();
            let after = format!("{shown} at {at} in {}", reading.state);
            stages.push(stage(circuit, &suspects, after, &gone));
        }
    }
    if args.json {
        print_json(&stages);
        return Ok(());
    }
    for stage in stages {
        println!("After {}", stage.after);
        if !stage.ruled_out.is_empty() {
            println!("  ruled out: {}", stage.ruled_out.join(", "));
        }
        for (place, share) in &stage.left {
            println!("  {:>5.1} %  {place}", 100.0 * share);
        }
    }
    Ok(())
}

/// What is done to bring the machine into a state: things come apart at rest.
fn way_to(circuit: &Circuit, state: &OperatingState) -> Vec<Action> {
    let apart = state.unplugged.iter().chain(&state.removed);
    let apart = apart.map(|what| Action::TakeApart(TakeApart { what: what.clone() }));
    let moved = circuit.controls().into_iter().map(|c| {
        Action::SetControl(SetControl {
            position: state.control(&c.name).to_owned(),
            control: c.name,
        })
    });
    apart.chain(moved).collect()
}

fn stage(circuit: &Circuit, suspects: &Suspects, after: String, gone: &[RuledOut]) -> Stage {
    let id = |p| circuit.place_id(p).to_owned();
    Stage {
        after,
        ruled_out: gone.iter().map(|g| id(g.place)).collect(),
        left: suspects
            .belief()
            .into_iter()
            .map(|(p, share)| (id(p), share))
            .collect(),
    }
}

fn reading(circuit: &Circuit, text: &str) -> Result<Action, Failure> {
    let words: Vec<&str> = text.split(':').collect();
    let negative = circuit.point_at(0).map(|p| p.id.as_str());
    let (name, red, black) = match words.as_slice() {
        [red] => ("dc_volts", *red, negative),
        [name, red] => (*name, *red, negative),
        [name, red, black] => (*name, *red, Some(*black)),
        _ => {
            return Err(Failure::BadInput(format!(
                "“{text}” is no reading: expected point, function:red or function:red:black"
            )));
        }
    };
    let function = files::function(name)?;
    Ok(Action::TakeReading(TakeReading {
        function,
        range: None,
        red: Some(red.to_owned()),
        black: black
            .filter(|_| !function.has_one_lead())
            .map(str::to_owned),
        expected: None,
        supposing: None,
        touch: Touch::default(),
        partner: None,
    }))
}

/// A line of a file of readings.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Line {
    #[serde(default)]
    state: String,
    #[serde(default)]
    function: String,
    red: String,
    #[serde(default)]
    black: String,
    reading: String,
}

/// What is left after a reading of a real machine.
#[derive(Serialize)]
struct LeftAfter {
    after: String,
    /// What a sound machine shows.
    healthy: String,
    may_be_sound: bool,
    /// Each place with the ways in which it may have failed.
    left: Vec<(String, Vec<&'static str>)>,
}

fn of_a_real_machine(args: &SuspectsArgs, file: &Path) -> Result<(), Failure> {
    let circuit = files::circuit(&args.circuit.file)?;
    let text = files::text(file)?;
    let mut reader = csv::ReaderBuilder::new()
        .trim(csv::Trim::All)
        .from_reader(text.trim_start_matches('\u{feff}').as_bytes());
    let mut noted = Vec::new();
    for (n, line) in reader.deserialize::<Line>().enumerate() {
        let at =
            |why: String| Failure::BadInput(format!("{}, line {}: {why}", file.display(), n + 2));
        let line = line.map_err(|e| at(e.to_string()))?;
        noted.push(note(&circuit, &line).map_err(|f| match f {
            Failure::BadInput(why) => at(why),
            finding => finding,
        })?);
    }
    let left = what_is_left(&circuit, &Limits::default(), &noted)
        .map_err(|e| Failure::BadInput(format!("{}: {e}", file.display())))?;
    let stages = left
        .iter()
        .zip(&noted)
        .map(|(left, note)| stage_of(&circuit, left, note));
    let stages: Vec<LeftAfter> = stages.collect();
    if args.json {
        print_json(&stages);
        return Ok(());
    }
    for stage in stages {
        println!("After {} (a sound machine: {})", stage.after, stage.healthy);
        if stage.may_be_sound {
            println!("  nothing has to be wrong");
        }
        for (place, modes) in &stage.left {
            println!("  {place}: {}", modes.join(", "));
        }
        if stage.left.is_empty() && !stage.may_be_sound {
            println!("  no single fault makes all of these readings");
        }
    }
    Ok(())
}

fn note(circuit: &Circuit, line: &Line) -> Result<Noted, Failure> {
    let function = match line.function.as_str() {
        "" => Function::DC_VOLTS,
        name => files::function(name)?,
    };
    let bad = |e: &dyn std::fmt::Display| Failure::BadInput(e.to_string());
    let negative = || circuit.point_at(0).map(|p| p.id.clone());
    Ok(Noted {
        state: files::state(circuit, &line.state)?,
        function,
        red: line.red.clone(),
        black: match line.black.as_str() {
            "" if !function.has_one_lead() => negative(),
            "" => None,
            point => Some(point.to_owned()),
        },
        shows: Quantity::parse(&line.reading, function.unit()).map_err(|e| bad(&e))?,
    })
}

fn stage_of(circuit: &Circuit, left: &Left, note: &Noted) -> LeftAfter {
    let unit = note.function.unit();
    let places = left.faults.iter();
    LeftAfter {
        after: format!(
            "{} at {} in {}",
            note.shows.text(unit),
            note.red,
            note.state.about()
        ),
        healthy: left.healthy.shown.value.text(unit),
        may_be_sound: left.may_be_sound,
        left: places
            .map(|(place, modes)| (circuit.place_id(*place).to_owned(), modes.clone()))
            .collect(),
    }
}
