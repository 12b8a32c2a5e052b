//! `cimento roster`: the school's own records of people and classes, taken over from a folder of files.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use cimento_store::{Roster, RosterFinding};
use clap::Args;

use super::serve::open;
use super::settings::Kept;
use super::{Failure, files};
use crate::clock::{now, today};

#[derive(Args)]
pub(super) struct RosterArgs {
    #[command(flatten)]
    kept: Kept,
    /// A folder of the CSV files of OneRoster 1.1: users.csv, classes.csv, enrollments.csv and what else there is.
    folder: PathBuf,
    /// Change nothing, and say what would be.
    #[arg(long)]
    dry_run: bool,
}

/// Reads the files of a folder.
pub(super) fn read_roster(folder: &Path) -> Result<Roster, Failure> {
    let bad = |text: String| Failure::BadInput(text);
    let listed = std::fs::read_dir(folder)
        .map_err(|e| bad(format!("{} cannot be read: {e}", folder.display())))?;
    let mut texts = BTreeMap::new();
    for entry in listed.flatten() {
        let name = entry.file_name().to_string_lossy().into_owned();
        if name.ends_with(".csv") {
            texts.insert(name, files::text(&entry.path())?);
        }
    }
    Roster::read(&texts, &today()).map_err(|found| {
        let line = |f: &RosterFinding| match f.line {
            0 => format!("{}: {}", f.file, f.message),
            line => format!("{}:{line}: {}", f.file, f.message),
        };
        bad(found.iter().map(line).collect::<Vec<_>>().join("\n"))
    })
}

pub(super) fn run(args: &RosterArgs) -> Result<(), Failure> {
    let bad = |text: String| Failure::BadInput(text);
    let roster = read_roster(&args.folder)?;
    let store = open(&args.kept.database()?)?;
    let plan = match args.dry_run {
        true => store.would_change(&roster, now()),
        false => store.take_over(&roster, now()),
    };
    let plan = plan.map_err(|e| bad(e.to_string()))?;
    for change in &plan.changes {
        println!("{:<10} {}", change.what, change.about);
    }
    for aside in &roster.left_aside {
        println!("{:<10} {aside}", "left aside");
    }
    let would = if args.dry_run { "would be " } else { "" };
    println!("{} changes {would}made", plan.changes.len());
    Ok(())
}
