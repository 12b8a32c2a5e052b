//! Puts documents, files and questions that nobody would make to whatever takes them in.
//!
//! `cargo run --release -p cimento-fuzz -- --seconds 600`

use std::collections::BTreeMap;
use std::error::Error;
use std::process::{Command, ExitCode, Stdio};
use std::time::{Duration, Instant};

use cimento_fuzz::targets;
use cimento_fuzz::watch::{Tally, put};
use clap::Parser;
use peak_alloc::PeakAlloc;

#[global_allocator]
static HEAP: PeakAlloc = PeakAlloc;

#[derive(Parser)]
struct Line {
    /// Seconds in all.
    #[arg(long, default_value_t = 60.0)]
    seconds: f64,
    /// What is drawn follows from it; by the clock, if it is not given.
    #[arg(long)]
    seed: Option<u64>,
    /// One of the targets alone.
    #[arg(long)]
    only: Option<String>,
    /// The first document of a target that is drawn.
    #[arg(long, default_value_t = 0)]
    from: u64,
    /// Longest that one may take, in seconds, where nothing else is going on.
    #[arg(long, default_value_t = 1.0)]
    longest: f64,
    /// Say each document's number before it is put, to find one that ends the program.
    #[arg(long)]
    loud: bool,
    #[arg(long, hide = true)]
    worker: bool,
}

/// Works by oneself and says in the end, as text, what came of it.
fn work(line: &Line, seed: u64) -> Result<ExitCode, Box<dyn Error>> {
    // A panic is told with its document.
    std::panic::set_hook(Box::new(|info| {
        eprintln!("{info}\n{}", std::backtrace::Backtrace::capture())
    }));
    let mut all = targets::all()?;
    if let Some(only) = &line.only {
        all.retain(|t| t.name() == only);
    }
    let mut tallies: Vec<(Tally, u64)> = vec![(Tally::default(), line.from); all.len()];
    let mut broken = 0;
    let ends = Instant::now() + Duration::from_secs_f64(line.seconds);
    while Instant::now() < ends && !all.is_empty() {
        for (target, (tally, nth)) in all.iter_mut().zip(&mut tallies) {
            for _ in 0..target.weight() {
                if line.loud {
                    eprintln!("{} {nth}", target.name());
                }
                if let Err(e) = put(target.as_mut(), &HEAP, (seed, *nth), tally, line.longest) {
                    println!("BROKEN seed {seed} {e}");
                    broken += 1;
                }
                *nth += 1;
            }
        }
    }
    for (target, (tally, _)) in all.iter().zip(&tallies) {
        println!(
            "{}\t{}\t{}\t{}\t{}",
            target.name(),
            tally.taken,
            tally.refused,
            tally.longest_s,
            tally.most_mb
        );
    }
    Ok(match broken {
        0 => ExitCode::SUCCESS,
        _ => ExitCode::FAILURE,
    })
}

/// One program a core, so that what one takes of memory and time is its own.
fn lead(line: &Line, seed: u64) -> Result<ExitCode, Box<dyn Error>> {
    let cores = std::thread::available_parallelism()?.get() as u64;
    let mut workers = Vec::new();
    for n in 0..cores {
        let mut worker = Command::new(std::env::current_exe()?);
        worker.args(["--worker", "--seconds", &line.seconds.to_string()]);
        worker.args(["--seed", &seed.wrapping_add(n).to_string()]);
        worker.args(["--from", &line.from.to_string()]);
        worker.args(["--longest", &line.longest.to_string()]);
        worker.args(line.only.iter().flat_map(|only| ["--only", only]));
        worker.args(line.loud.then_some("--loud"));
        workers.push(worker.stdout(Stdio::piped()).spawn()?);
    }
    let mut tallies: BTreeMap<String, Tally> = BTreeMap::new();
    let mut sound = true;
    for (n, worker) in workers.into_iter().enumerate() {
        let came = worker.wait_with_output()?;
        let mut ended = false;
        for said in String::from_utf8_lossy(&came.stdout).lines() {
            let fields: Vec<&str> = said.split('\t').collect();
            let [name, taken, refused, longest_s, most_mb] = fields[..] else {
                println!("{said}");
                continue;
            };
            ended = true;
            tallies.entry(name.to_owned()).or_default().add(Tally {
                taken: taken.parse()?,
                refused: refused.parse()?,
                longest_s: longest_s.parse()?,
                most_mb: most_mb.parse()?,
            });
        }
        sound &= came.status.success();
        if !ended {
            println!(
                "a worker ended of {}: find it by --worker --loud --seed {}",
                came.status,
                seed.wrapping_add(n as u64)
            );
        }
    }
    println!(
        "{:<12} {:>9} {:>9} {:>10} {:>8}",
        "put", "taken", "refused", "longest ms", "most MB"
    );
    let mut all = Tally::default();
    for (name, tally) in &tallies {
        println!(
            "{name:<12} {:>9} {:>9} {:>10.0} {:>8.1}",
            tally.taken,
            tally.refused,
            1e3 * tally.longest_s,
            tally.most_mb
        );
        all.add(*tally);
    }
    println!("{} in all, from seed {seed}", all.all());
    Ok(match sound {
        true => ExitCode::SUCCESS,
        false => ExitCode::FAILURE,
    })
}

fn main() -> Result<ExitCode, Box<dyn Error>> {
    let line = Line::parse();
    let seed = line.seed.unwrap_or_else(|| fastrand::u64(..) >> 1);
    match line.worker {
        true => work(&line, seed),
        false => lead(&line, seed),
    }
}
