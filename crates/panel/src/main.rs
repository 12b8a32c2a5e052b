//! Prints what the panel's attempts and the bots get.
//!
//! `cargo run --release -p cimento-panel -- attempts` holds the attempts against their bands and pairs,
//! `… -- bots` lets every bot work every lesson.

use std::error::Error;
use std::fs::File;
use std::io::BufWriter;
use std::path::PathBuf;

use cimento_diagnosis::attempt::Session;
use cimento_diagnosis::marking::{Case, MarkSheet, sheet};
use cimento_diagnosis::suspects::Reference;
use cimento_panel::bots::{BOTS, RUNS, rank_correlation, row, sensible_by_chance};
use cimento_panel::{DEMO, LESSONS, Setting, attempts, lesson, term, write_script};
use clap::{Parser, Subcommand};
use flate2::Compression;
use flate2::write::GzEncoder;

// As the program itself: a quarter of a reference is taking and freeing memory.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

#[derive(Parser)]
struct Args {
    #[command(subcommand)]
    command: Command,
    /// One lesson alone.
    #[arg(long, global = true)]
    lesson: Option<String>,
    /// Lessons whose reference takes long, too.
    #[arg(long, global = true)]
    slow: bool,
    /// Attempts of a bot that goes by chance.
    #[arg(long, global = true, default_value_t = RUNS)]
    runs: u64,
}

#[derive(Subcommand)]
enum Command {
    /// The panel's attempts: marks, bands, pairs.
    Attempts,
    /// Every bot at every lesson.
    Bots,
    /// One bot's attempt as a script.
    Write { bot: String },
    /// What there is to know of a lesson.
    Facts,
    /// Let a class of bots work through the demo school's term, and write it down.
    Term { to: PathBuf },
    /// The mark sheet of one attempt, line by line.
    Sheet { who: String },
}

type Said = Result<(), Box<dyn Error>>;

fn main() -> Said {
    let args = Args::parse();
    let asked = |s: &&Setting| match &args.lesson {
        Some(name) => s.name == name,
        None => args.slow || !s.slow,
    };
    // The panel has not looked at what the demo gives out beside its own lessons.
    let shown: &[Setting] = match args.command {
        Command::Bots | Command::Facts | Command::Write { .. } => DEMO,
        _ => &[],
    };
    let settings: Vec<&Setting> = LESSONS.iter().chain(shown).filter(asked).collect();
    match &args.command {
        Command::Attempts => of_attempts(&settings),
        Command::Bots => of_bots(&settings, args.runs),
        Command::Write { bot } => each(&settings, |reference| {
            let bot = BOTS.iter().find(|b| b.name == bot);
            let bot = bot.ok_or_else(|| "no such bot".to_owned())?;
            print!("{}", write_script(&bot.work(reference, 0)?));
            Ok(())
        }),
        Command::Facts => each(&settings, |reference| {
            facts(reference);
            Ok(())
        }),
        Command::Term { to } => {
            let file = GzEncoder::new(File::create(to)?, Compression::best());
            let mut file = BufWriter::new(file);
            serde_json::to_writer(&mut file, &term()?)?;
            file.into_inner()?.finish()?;
            Ok(())
        }
        Command::Sheet { who } => each(&settings, |reference| {
            for attempt in attempts(&reference.lesson.title)? {
                if attempt.who == *who {
                    let session = Session::replay(&reference.lesson, &attempt.actions)?;
                    print_sheet(&sheet(&Case::new(reference, session.steps())?)?);
                }
            }
            Ok(())
        }),
    }
}

fn each(settings: &[&Setting], mut with: impl FnMut(&Reference) -> Said) -> Said {
    for setting in settings {
        with(&reference(setting)?)?;
    }
    Ok(())
}

fn reference(setting: &Setting) -> Result<Reference, Box<dyn Error>> {
    let lesson = lesson(setting).map_err(|e| format!("{}: {e:?}", setting.name))?;
    Ok(Reference::new(&lesson)?)
}

fn facts(reference: &Reference) {
    let lesson = &reference.lesson;
    let plan = &reference.plan;
    println!("# {}: {}", lesson.title, lesson.symptom.text);
    println!("{} places: {}", plan.begin.len(), plan.begin.join(" "));
    for step in &plan.steps {
        let left = step.left.join(" ");
        println!(
            "{} ({:.2} bit, {:.1} min): {} {}; left {left}",
            step.measure.sentence(),
            step.measure.bits,
            step.measure.minutes,
            step.shown.text,
            step.shown.unit
        );
    }
    println!("group {}; {:.2} bits", plan.group.join(" "), plan.bits);
    for (place, mode) in &reference.modes {
        println!("alike: {} {mode}", lesson.circuit.place_id(*place));
    }
}

fn print_sheet(sheet: &MarkSheet) {
    println!("total {}", sheet.total);
    for line in &sheet.lines {
        println!("{} {} of {}", line.criterion, line.marks, line.out_of);
        for detail in &line.details {
            let step = detail.step.map_or(String::new(), |s| format!("step {s}: "));
            println!("    {step}{} [{:.2}]", detail.text, detail.earned);
        }
    }
    for event in &sheet.safety {
        println!("safety, step {}: {}", event.step, event.text);
    }
}

fn of_attempts(settings: &[&Setting]) -> Said {
    let (mut held, mut bands, mut agreed, mut pairs, mut count) = (0, 0, 0, 0, 0);
    each(settings, |reference| {
        let mut totals: Vec<(String, f64)> = Vec::new();
        let all = attempts(&reference.lesson.title)?;
        for attempt in &all {
            let session = Session::replay(&reference.lesson, &attempt.actions)
                .map_err(|e| format!("{}, {}: {e}", attempt.lesson, attempt.who))?;
            let sheet = sheet(&Case::new(reference, session.steps())?)?;
            let marks: Vec<String> = sheet
                .lines
                .iter()
                .map(|l| format!("{} {}", l.criterion, l.marks))
                .collect();
            println!(
                "{} | {} | {} | {} | safety −{}",
                attempt.lesson,
                attempt.who,
                sheet.total,
                marks.join(", "),
                sheet.safety_takes
            );
            for band in &attempt.bands {
                let marks = of(&sheet, &band.of);
                bands += 1;
                if (band.least..=band.most).contains(&marks) {
                    held += 1;
                } else {
                    println!(
                        "    {} is {marks}: {} to {}",
                        band.of, band.least, band.most
                    );
                }
            }
            totals.push((attempt.who.clone(), sheet.total));
            count += 1;
        }
        let total = |who: &str| totals.iter().find(|(name, _)| name == who).map(|(_, t)| *t);
        for attempt in &all {
            for worse in &attempt.better_than {
                pairs += 1;
                match (total(&attempt.who), total(worse)) {
                    (Some(a), Some(b)) if a > b => agreed += 1,
                    (a, b) => println!("    {} {a:?} is not above {worse} {b:?}", attempt.who),
                }
            }
        }
        Ok(())
    })?;
    println!("{count} attempts; {held} of {bands} bands hold; {agreed} of {pairs} pairs agreed");
    Ok(())
}

fn of(sheet: &MarkSheet, criterion: &str) -> f64 {
    let line = sheet.lines.iter().find(|l| l.criterion == criterion);
    match criterion {
        "total" => sheet.total,
        "safety" => -sheet.safety_takes,
        _ => line.map_or(f64::NAN, |l| l.marks),
    }
}

fn of_bots(settings: &[&Setting], runs: u64) -> Said {
    let mut sums = vec![(0.0, f64::INFINITY); BOTS.len()];
    let mut levels: Vec<Vec<f64>> = Vec::new();
    let heads: Vec<&str> = BOTS.iter().map(|b| b.name).collect();
    println!("| lesson | {} | sensible by chance |", heads.join(" | "));
    println!("|{}", "---|".repeat(heads.len() + 2));
    each(settings, |reference| {
        let mut cells = Vec::new();
        for (bot, sum) in BOTS.iter().zip(&mut sums) {
            let row = row(bot, reference, runs)?;
            cells.push(format!("{:.1}", row.mean));
            *sum = (
                sum.0 + row.mean / settings.len() as f64,
                sum.1.min(row.mean),
            );
        }
        let by_chance = sensible_by_chance(reference, runs)?;
        let text: Vec<String> = by_chance.iter().map(|m| format!("{m:.0}")).collect();
        println!(
            "| {} | {} | {} |",
            reference.lesson.title,
            cells.join(" | "),
            text.join(" ")
        );
        levels.push(by_chance);
        Ok(())
    })?;
    let means: Vec<String> = sums
        .iter()
        .map(|(mean, least)| format!("{mean:.1} ({least:.1})"))
        .collect();
    let count = levels.len() as f64;
    let level = |n: usize| levels.iter().map(|l| l[n]).sum::<f64>() / count;
    let mean: Vec<f64> = (0..levels.first().map_or(0, Vec::len)).map(level).collect();
    println!(
        "| mean (least) | {} | rank correlation {:.3} |",
        means.join(" | "),
        rank_correlation(&mean)
    );
    Ok(())
}
