//! `cimento key`.

use cimento_diagnosis::key::{KeyRow, USUAL, answer_key, key_csv};
use cimento_diagnosis::lesson::Limits;
use cimento_model::state::OperatingState;
use cimento_model::units::Quantity;
use clap::Args;

use super::{CircuitArgs, Failure, files, print_json};

#[derive(Args)]
pub(super) struct KeyArgs {
    #[command(flatten)]
    circuit: CircuitArgs,
    /// Only the rows that tell the faulted circuit from the healthy one.
    #[arg(long)]
    telling: bool,
    /// Instruments to write rows for, such as dc_volts,ohms; the usual ones when left out.
    #[arg(long, value_delimiter = ',')]
    functions: Vec<String>,
    #[arg(long, conflicts_with = "csv")]
    json: bool,
    #[arg(long)]
    csv: bool,
}

pub(super) fn run(args: &KeyArgs) -> Result<(), Failure> {
    let circuit = files::circuit(&args.circuit.file)?;
    let faults = files::faults(&circuit, &args.circuit.faults)?;
    let states = if args.circuit.state.is_empty() {
        OperatingState::trial(&circuit)
            .into_iter()
            .map(|t| t.state)
            .collect()
    } else {
        vec![files::state(&circuit, &args.circuit.state)?]
    };
    let functions = files::functions(&args.functions)?.unwrap_or_else(|| USUAL.to_vec());
    let rows = answer_key(&circuit, &faults, &states, &Limits::default(), &functions)
        .map_err(|e| Failure::Finding(e.to_string()))?;
    let rows: Vec<KeyRow> = rows
        .into_iter()
        .filter(|r| r.tells || !args.telling)
        .collect();
    if args.json {
        print_json(&rows);
    } else if args.csv {
        print!("{}", key_csv(&rows));
    } else {
        table(&rows);
    }
    Ok(())
}

fn table(rows: &[KeyRow]) {
    println!(
        "{:<22} {:<11} {:<13} {:<13} {:>15} {:>15} {:>9}  reason",
        "state", "instrument", "red", "black", "healthy", "faulted", "±"
    );
    for r in rows {
        let mark = if r.tells { "*" } else { " " };
        let tolerance = Quantity::Number(r.tolerance).text(r.function.unit());
        println!(
            "{:<22} {:<11} {:<13} {:<13} {:>15} {:>15} {:>9} {mark} {}",
            r.state,
            r.function.name(),
            r.red,
            r.black,
            r.healthy.text,
            r.faulted.text,
            tolerance,
            r.reason
        );
    }
}
