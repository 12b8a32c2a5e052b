//! `cimento symptom`: what is noticed while a machine is tried.

use std::path::PathBuf;

use cimento_bench::{Bench, Complaint, complaint};
use cimento_diagnosis::suspects::swept;
use cimento_model::faults::Fault;
use clap::Args;

use super::{Failure, files, print_json};

#[derive(Args)]
pub(super) struct SymptomArgs {
    /// The circuit document.
    file: PathBuf,
    /// A fault in short form, such as W8:open, or as JSON. May be repeated.
    #[arg(long = "fault", conflicts_with = "every")]
    faults: Vec<String>,
    /// Every single fault, each at the middle of its severities, with what is noticed of it.
    #[arg(long)]
    every: bool,
    /// State by state.
    #[arg(long, conflicts_with = "every")]
    json: bool,
}

pub(super) fn run(args: &SymptomArgs) -> Result<(), Failure> {
    let circuit = files::circuit(&args.file)?;
    let finding = |e: cimento_bench::BenchError| Failure::Finding(e.to_string());
    let healthy = Bench::new(&circuit, &[]).map_err(finding)?;
    let seen = |faults: &[Fault]| -> Result<Complaint, Failure> {
        let mut bench = healthy.beside(faults).map_err(finding)?;
        complaint(&mut bench).map_err(finding)
    };
    if args.every {
        let usual = seen(&[])?;
        println!("{:<40}  {}", "sound", usual.text);
        for fault in swept(&circuit) {
            let told = match seen(std::slice::from_ref(&fault)) {
                Ok(it) if it.same_as(&usual) => "as a sound one".to_owned(),
                Ok(it) => it.text,
                Err(Failure::Finding(text) | Failure::BadInput(text)) => text,
            };
            println!("{:<40}  {told}", fault.about(&circuit));
        }
        return Ok(());
    }
    let docs = files::faults(&circuit, &args.faults)?;
    let seen = seen(&docs)?;
    if args.json {
        print_json(&seen);
    } else {
        println!("{}", seen.text);
    }
    Ok(())
}
