//! `cimento spice`.

use cimento_bench::spice::{spice_in_time, spice_name, spice_netlist};
use cimento_model::circuit::Circuit;
use clap::Args;

use super::{CircuitArgs, Failure, files};

/// A netlist over more turns than this runs for minutes.
const MOST_TURNS: f64 = 20.0;

#[derive(Args)]
pub(super) struct SpiceArgs {
    #[command(flatten)]
    circuit: CircuitArgs,
    /// Follow the turning machine in time over so many turns of its crankshaft, instead of its operating point.
    #[arg(long)]
    turns: Option<f64>,
}

pub(super) fn run(args: &SpiceArgs) -> Result<(), Failure> {
    let circuit = files::circuit(&args.circuit.file)?;
    let bench = files::bench(&circuit, &args.circuit)?;
    let netlist = match args.turns {
        Some(turns) if !(turns > 0.0 && turns <= MOST_TURNS) => {
            let text = format!("--turns {turns}: expected more than 0 and at most {MOST_TURNS}");
            return Err(Failure::BadInput(text));
        }
        Some(turns) => spice_in_time(&bench, turns, &peaks(&circuit)),
        None => spice_netlist(&bench),
    };
    print!("{}", netlist.map_err(|e| Failure::Finding(e.to_string()))?);
    Ok(())
}

/// Lines that print how far each test point swings.
fn peaks(circuit: &Circuit) -> String {
    let one = |name: &String| {
        let node = spice_name(name);
        format!("meas tran least_{node} MIN v({node})\nmeas tran most_{node} MAX v({node})\n")
    };
    circuit.nodes.iter().skip(1).map(one).collect()
}
