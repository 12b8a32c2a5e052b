//! `cimento harness`: the check sheet of the harnesses.

use std::path::PathBuf;

use cimento_model::circuit::write_harness_sheet;
use clap::Args;

use super::{Failure, files, print_json};

#[derive(Args)]
pub(super) struct HarnessArgs {
    /// The circuit document.
    file: PathBuf,
    #[arg(long)]
    json: bool,
    #[arg(long, conflicts_with = "json")]
    csv: bool,
}

pub(super) fn run(args: &HarnessArgs) -> Result<(), Failure> {
    let circuit = files::circuit(&args.file)?;
    let runs = circuit.harness_runs();
    if args.json {
        print_json(&runs);
    } else if args.csv {
        print!("{}", write_harness_sheet(&runs));
    } else {
        println!("Every connector apart, every part off.");
        println!(
            "{:<14} {:<14} {:<14} {:<14} {:>6} {:>10}  through",
            "harness", "from", "to", "colours", "mm²", "expect"
        );
        for r in runs {
            let area = r.area_mm2.map(|a| format!("{a:.2}")).unwrap_or_default();
            println!(
                "{:<14} {:<14} {:<14} {:<14} {:>6} {:>10}  {}",
                r.harness,
                r.from,
                r.to,
                r.colors.join(" "),
                area,
                format!("{:.1} mΩ", r.ohms * 1e3),
                r.through.join(" ")
            );
        }
    }
    Ok(())
}
