//! `cimento suspects`.

use cimento_diagnosis::attempt::actions::{SetControl, TakeReading};
use cimento_diagnosis::attempt::{Action, Answer, Session, Touch};
use cimento_diagnosis::suspects::{RuledOut, Suspects};
use cimento_model::circuit::Circuit;
use clap::Args;
use serde::Serialize;

use super::{CircuitArgs, Failure, files};

#[derive(Args)]
pub(super) struct SuspectsArgs {
    #[command(flatten)]
    circuit: CircuitArgs,
    /// A reading in the state of --state: a test point for DC volts to battery negative, or
    /// function:red or function:red:black, such as ohms:C12.4f:C14.1m. May be repeated.
    #[arg(long = "read")]
    readings: Vec<String>,
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
    let asked = files::state(circuit, &args.circuit.state)?;
    let moved = circuit.controls().into_iter().map(|c| {
        Action::SetControl(SetControl {
            position: asked.control(&c.name).to_owned(),
            control: c.name,
        })
    });
    let mut actions: Vec<Action> = Vec::new();
    actions.extend(moved.filter(|_| !args.circuit.state.is_empty()));
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
        println!(
            "{}",
            serde_json::to_string_pretty(&stages).unwrap_or_default()
        );
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
    }))
}
