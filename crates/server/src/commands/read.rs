//! `cimento read`.

use cimento_bench::instruments::{Range, TakeError, take};
use clap::Args;

use super::{CircuitArgs, Failure, files, print_json};

#[derive(Args)]
pub(super) struct ReadArgs {
    #[command(flatten)]
    circuit: CircuitArgs,
    /// Test point of the red lead, or the wire a clamp is put around.
    #[arg(long)]
    red: String,
    /// Test point of the black lead; battery negative when left out.
    #[arg(long)]
    black: Option<String>,
    /// What the instrument is set to, such as dc_volts, ohms or clamp_amps.
    #[arg(long, default_value = "dc_volts")]
    function: String,
    /// Full scale of a range; automatic when left out.
    #[arg(long)]
    range: Option<f64>,
    #[arg(long)]
    json: bool,
}

pub(super) fn run(args: &ReadArgs) -> Result<(), Failure> {
    let circuit = files::circuit(&args.circuit.file)?;
    let bench = files::bench(&circuit, &args.circuit)?;
    let bad = |text: String| Failure::BadInput(text);
    let function = files::function(&args.function)?;
    let range = match args.range {
        None => None,
        Some(r) => {
            let have: Vec<String> = function.ranges().iter().map(|r| r.0.to_string()).collect();
            let found: Option<Range> = function.ranges().iter().find(|x| x.0 == r).copied();
            Some(found.ok_or_else(|| {
                bad(format!(
                    "there is no range {r}: expected {}",
                    have.join(", ")
                ))
            })?)
        }
    };
    let negative = circuit.point_at(0).map(|p| p.id.as_str());
    let black = args.black.as_deref().or(negative);
    let black = black.filter(|_| !function.has_one_lead());
    let reading = take(&bench, function, range, Some(&args.red), black).map_err(|e| match e {
        TakeError::Bench(e) => Failure::Finding(e.to_string()),
        named => {
            let points: Vec<&str> = circuit.test_points.iter().map(|p| p.id.as_str()).collect();
            bad(format!("{named}: expected one of {}", points.join(", ")))
        }
    })?;
    if args.json {
        print_json(&reading);
    } else {
        let shown = &reading.shown;
        println!(
            "{} {}  ({}, {} range, {})",
            shown.text, shown.unit, args.function, shown.range, reading.state
        );
    }
    Ok(())
}
