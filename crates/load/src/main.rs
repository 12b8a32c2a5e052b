//! What a server bears: a class at once, one long attempt, or one who floods it.
//!
//! `cargo run --release -p cimento-load -- class --students 1000`

mod attempt;
mod chaos;
mod class;
mod flood;
mod front;
mod person;
mod school;
mod server;
mod telling;

use std::error::Error;
use std::path::PathBuf;

use clap::{Args, Parser, Subcommand};

type Failure = Box<dyn Error + Send + Sync>;

#[derive(Parser)]
struct Line {
    #[command(flatten)]
    program: Program,
    #[command(subcommand)]
    what: What,
}

#[derive(Args)]
struct Program {
    /// The server's program, built in release.
    #[arg(long, default_value = "target/release/cimento", global = true)]
    server: PathBuf,
    #[arg(long, default_value = "web/dist", global = true)]
    web: PathBuf,
    #[arg(long, default_value = "demo/circuits", global = true)]
    circuits: PathBuf,
}

#[derive(Subcommand)]
enum What {
    /// Many students at once: how long each kind of request takes, what fails, what the server uses
    Class(Class),
    /// One student and many readings: what one costs early and late, and how large things are
    Attempt(Attempt),
    /// One student asks each route as fast as they can: what another one notices
    Flood(Flood),
    /// Two faults with one complaint: whether the time of answers tells which it is
    Telling(Telling),
    /// Ends without warning, bad disks and wrong clocks: what is lost, and how long until it serves again
    Chaos(Chaos),
    /// An instructor who watches benches live: what that costs the server
    Watch(Watch),
    /// A book of marks: how long it takes
    Book(Book),
    /// The flood of one route, of low priority
    #[command(hide = true)]
    Flooder(Flooder),
}

#[derive(Args)]
struct Class {
    #[arg(long, default_value_t = 300)]
    students: usize,
    /// Seconds within which all sign in.
    #[arg(long, default_value_t = 60.0)]
    arrive: f64,
    /// Seconds for which they act.
    #[arg(long, default_value_t = 120.0)]
    act: f64,
    /// Seconds between two actions of one student.
    #[arg(long, default_value_t = 5.0)]
    every: f64,
}

#[derive(Args)]
struct Flood {
    /// Seconds for each route.
    #[arg(long, default_value_t = 4.0)]
    seconds: f64,
    /// Seconds of rest between them.
    #[arg(long, default_value_t = 10.0)]
    rest: f64,
    /// Only routes whose method and path hold this.
    #[arg(long, default_value = "")]
    only: String,
}

#[derive(Args)]
struct Chaos {
    /// Ends of the server while it serves.
    #[arg(long, default_value_t = 1000)]
    kills: usize,
    /// Ends of copies, upgrades and restores, of each.
    #[arg(long, default_value_t = 100)]
    copies: usize,
    /// Files that are deleted under the server.
    #[arg(long, default_value_t = 5)]
    gone: usize,
    /// One kind alone: kills, gone, disks or clock.
    #[arg(long, value_parser = ["kills", "gone", "disks", "clock"])]
    only: Option<String>,
}

#[derive(Args)]
struct Telling {
    /// Questions to each pair of faults.
    #[arg(long, default_value_t = 2000)]
    requests: usize,
}

#[derive(Args)]
struct Watch {
    #[arg(long, default_value_t = 30)]
    students: usize,
    /// Seconds for which they act, each time.
    #[arg(long, default_value_t = 30.0)]
    seconds: f64,
    /// Seconds between two actions of one student.
    #[arg(long, default_value_t = 5.0)]
    every: f64,
}

#[derive(Args)]
struct Book {
    #[arg(long, default_value_t = 30)]
    students: usize,
    #[arg(long, default_value_t = 40)]
    assignments: usize,
    /// How often it is opened.
    #[arg(long, default_value_t = 20)]
    times: usize,
}

#[derive(Args)]
struct Flooder {
    #[arg(long)]
    url: String,
    #[arg(long)]
    cookie: String,
    #[arg(long)]
    method: String,
    #[arg(long)]
    path: String,
    #[arg(long)]
    body: Option<String>,
    #[arg(long)]
    seconds: f64,
}

#[derive(Args)]
struct Attempt {
    /// Readings taken one after another; at least 61.
    #[arg(long, default_value_t = 420, value_parser = clap::value_parser!(u16).range(61..))]
    readings: u16,
}

#[tokio::main]
async fn main() -> Result<(), Failure> {
    let line = Line::parse();
    match &line.what {
        What::Class(args) => class::run(&line.program, args).await,
        What::Attempt(args) => attempt::run(&line.program, args).await,
        What::Flood(args) => flood::run(&line.program, args).await,
        What::Chaos(args) => chaos::run(&line.program, args).await,
        What::Telling(args) => telling::run(&line.program, args).await,
        What::Watch(args) => front::watch(&line.program, args).await,
        What::Book(args) => front::book(&line.program, args).await,
        What::Flooder(args) => flood::flooder(args).await,
    }
}
