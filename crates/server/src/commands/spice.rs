//! `cimento spice`.

use cimento_core::circuit::spice_netlist;
use clap::Args;

use super::{CircuitArgs, Failure, files};

#[derive(Args)]
pub(super) struct SpiceArgs {
    #[command(flatten)]
    circuit: CircuitArgs,
}

pub(super) fn run(args: &SpiceArgs) -> Result<(), Failure> {
    let circuit = files::circuit(&args.circuit.file)?;
    let bench = files::bench(&circuit, &args.circuit)?;
    print!(
        "{}",
        spice_netlist(&bench).map_err(|e| Failure::Finding(e.to_string()))?
    );
    Ok(())
}
