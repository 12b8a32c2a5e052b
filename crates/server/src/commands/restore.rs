//! `cimento restore`: a copy in the place of the database.

use std::path::PathBuf;

use clap::Args;

use super::Failure;
use super::settings::Kept;
use crate::clock::stamp;

#[derive(Args)]
pub(super) struct RestoreArgs {
    #[command(flatten)]
    kept: Kept,
    /// The copy, as `cimento backup` wrote it.
    copy: PathBuf,
}

pub(super) fn restore(args: &RestoreArgs) -> Result<(), Failure> {
    let database = args.kept.database()?;
    let kept = cimento_store::restore(&args.copy, &database, &stamp());
    let kept = kept.map_err(|e| Failure::BadInput(e.to_string()))?;
    println!(
        "{} is in the place of {}",
        args.copy.display(),
        database.display()
    );
    if let Some(kept) = kept {
        println!("what was there is kept as {}", kept.display());
    }
    println!("start the server: it upgrades the file if the copy is older");
    Ok(())
}
