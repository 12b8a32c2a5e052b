//! The command line: the main job without a browser, and the server.

mod check;
mod course;
mod demo;
mod files;
mod harness;
mod key;
mod kinds;
mod person;
mod plan;
mod read;
mod restore;
mod roster;
mod scope;
mod serve;
mod settings;
mod spice;
mod suspects;
mod symptom;

use std::io::Write as _;
use std::path::PathBuf;
use std::process::ExitCode;

use clap::{Args, CommandFactory, Parser, Subcommand};
use serde::Serialize;

/// Simulated 12 V circuits for instructors: faults, readings, marks.
#[derive(Parser)]
#[command(name = "cimento", version)]
struct Cli {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Check a circuit or lesson document.
    Check {
        file: PathBuf,
        #[arg(long)]
        json: bool,
    },
    /// Prove every lesson of a course: solvable, safe, true to its complaint, in order.
    Course(course::CourseArgs),
    /// Take one reading.
    Read(read::ReadArgs),
    /// What is noticed while a machine is tried.
    Symptom(symptom::SymptomArgs),
    /// Write the answer key.
    Key(key::KeyArgs),
    /// What could be wrong after the complaint and after each reading.
    Suspects(suspects::SuspectsArgs),
    /// The reference plan: what to measure next until nothing tells any more.
    Plan(plan::PlanArgs),
    /// Write the check sheet of the harnesses: each run with the resistance to expect.
    Harness(harness::HarnessArgs),
    /// List the kinds of parts, or say all about one.
    Kinds(kinds::KindsArgs),
    /// Draw a screen of the oscilloscope, as CSV or SVG.
    Scope(scope::ScopeArgs),
    /// Write a SPICE netlist.
    Spice(spice::SpiceArgs),
    /// Open a school: make its database with the first instructor.
    Init(person::InitArgs),
    /// List, add and retire people, and give passwords.
    Person(person::PersonArgs),
    /// Take over a school's own records of people and classes.
    Roster(roster::RosterArgs),
    /// Serve an existing database.
    Serve(serve::ServeArgs),
    /// Serve the demo school, made when the database is new.
    Demo(demo::DemoArgs),
    /// Write a copy of the database, also while a server works on it.
    Backup(serve::BackupArgs),
    /// Put a copy in the place of the database, which is kept; no server may work on it.
    Restore(restore::RestoreArgs),
    /// Print the API's description.
    Openapi,
    /// Print the manual page.
    Man,
    /// Print the JSON Schema of a document.
    Schema {
        #[arg(value_parser = ["circuit", "lesson", "course", "fault", "state"])]
        document: String,
    },
}

/// A circuit in a state with faults.
#[derive(Args)]
struct CircuitArgs {
    /// The circuit document.
    file: PathBuf,
    /// Controls, such as key=start,clutch=down; what is not named is at rest. Or a state as JSON, or a file of it.
    #[arg(long, default_value = "")]
    state: String,
    /// A fault in short form, such as W8:open, C12.4:high_resistance=2 or
    /// W8:short_to_wire,other=W9,at=0.3,when=hot. Or a fault as JSON. May be repeated.
    #[arg(long = "fault")]
    faults: Vec<String>,
    /// A file of what is done to the machine before: a list of actions as JSON, as attempts are kept.
    #[arg(long)]
    steps: Option<PathBuf>,
}

/// Why a command has nothing to show.
enum Failure {
    /// The question was understood and the answer is no: exit code 1.
    Finding(String),
    /// The question could not be understood: exit code 2.
    BadInput(String),
}

/// Prints something for another program.
fn print_json(what: &(impl Serialize + ?Sized)) {
    println!("{}", serde_json::to_string_pretty(what).unwrap_or_default());
}

/// The manual page: of the program, and of each of its commands.
fn man() -> Result<(), Failure> {
    let cannot = |e: std::io::Error| Failure::BadInput(e.to_string());
    let mut out = std::io::stdout();
    let cli = Cli::command();
    clap_mangen::Man::new(cli.clone())
        .render(&mut out)
        .map_err(cannot)?;
    for command in cli.get_subcommands() {
        let name = command.get_name().to_owned();
        writeln!(out, ".SH \"CIMENTO {}\"", name.to_uppercase()).map_err(cannot)?;
        let command = command.clone().bin_name(format!("cimento {name}"));
        let man = clap_mangen::Man::new(command);
        man.render_synopsis_section(&mut out).map_err(cannot)?;
        man.render_description_section(&mut out).map_err(cannot)?;
        man.render_options_section(&mut out).map_err(cannot)?;
    }
    Ok(())
}

/// Runs the program.
pub fn main() -> ExitCode {
    let command = Cli::parse().command;
    if !matches!(command, Command::Serve(_) | Command::Demo(_)) {
        // What reads the output may stop reading, as `head` does: then so does the command.
        sigpipe::reset();
    }
    let result = match command {
        Command::Check { file, json } => check::run(&file, json),
        Command::Course(args) => course::run(&args),
        Command::Read(args) => read::run(&args),
        Command::Symptom(args) => symptom::run(&args),
        Command::Key(args) => key::run(&args),
        Command::Suspects(args) => suspects::run(&args),
        Command::Plan(args) => plan::run(&args),
        Command::Harness(args) => harness::run(&args),
        Command::Kinds(args) => kinds::run(&args),
        Command::Scope(args) => scope::run(&args),
        Command::Spice(args) => spice::run(&args),
        Command::Init(args) => person::init(&args),
        Command::Person(args) => person::run(&args),
        Command::Roster(args) => roster::run(&args),
        Command::Serve(args) => serve::serve(&args),
        Command::Demo(args) => demo::demo(&args),
        Command::Restore(args) => restore::restore(&args),
        Command::Backup(args) => serve::backup(&args),
        Command::Man => man(),
        Command::Openapi => {
            println!("{}", crate::document());
            Ok(())
        }
        Command::Schema { document } => {
            println!("{}", check::schema(&document));
            Ok(())
        }
    };
    match result {
        Ok(()) => ExitCode::SUCCESS,
        Err(Failure::Finding(text)) => {
            eprintln!("{text}");
            ExitCode::from(1)
        }
        Err(Failure::BadInput(text)) => {
            eprintln!("{text}");
            ExitCode::from(2)
        }
    }
}
