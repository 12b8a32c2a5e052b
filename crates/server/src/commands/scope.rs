//! `cimento scope`.

use std::fmt::Write;

use cimento_bench::instruments::{Acquire, Attenuation, Capture, Probe, Scope, TakeError, capture};
use cimento_model::circuit::Circuit;
use clap::{Args, ValueEnum};

use super::{CircuitArgs, Failure, files};

/// Size of a drawn screen, and the room beside it for its names, in pixels.
const WIDE: f64 = 960.0;
const HIGH: f64 = 160.0;
const BESIDE: f64 = 24.0;

#[derive(Args)]
pub(super) struct ScopeArgs {
    #[command(flatten)]
    circuit: CircuitArgs,
    /// A channel: a test point, RED:BLACK, clamp:WIRE or pickup:LEAD. May be repeated.
    #[arg(long = "channel", required = true)]
    channels: Vec<String>,
    /// Width of the screen in seconds.
    #[arg(long, default_value_t = 0.02)]
    sweep: f64,
    /// The sweep begins when the first channel rises through this level, in volts or amperes.
    #[arg(long, allow_hyphen_values = true)]
    level: Option<f64>,
    /// It begins when the channel falls through the level.
    #[arg(long)]
    falling: bool,
    #[arg(long, value_enum, default_value_t = Format::Csv)]
    format: Format,
}

#[derive(Clone, Copy, ValueEnum)]
enum Format {
    Csv,
    Svg,
}

pub(super) fn run(args: &ScopeArgs) -> Result<(), Failure> {
    let circuit = files::circuit(&args.circuit.file)?;
    let bench = files::bench(&circuit, &args.circuit)?;
    let scope = Scope {
        channels: args.channels.iter().map(|c| probe(&circuit, c)).collect(),
        sweep_s: args.sweep,
        level: args.level,
        falling: args.falling,
        attenuation: Attenuation::Ten,
        acquire: Acquire::Peak,
    };
    let capture = capture(&bench, &scope).map_err(|e| match e {
        TakeError::Bench(e) => Failure::Finding(e.to_string()),
        named => Failure::BadInput(named.to_string()),
    })?;
    match args.format {
        Format::Csv => print!("{}", capture.csv()),
        Format::Svg => print!("{}", svg(&capture)),
    }
    Ok(())
}

fn probe(circuit: &Circuit, text: &str) -> Probe {
    match text.split_once(':') {
        Some(("clamp", wire)) => Probe::Clamp {
            wire: wire.to_owned(),
        },
        Some(("pickup", lead)) => Probe::Pickup {
            lead: lead.to_owned(),
        },
        // A metal's name has a colon of its own.
        Some((red, black)) if red != "metal" => Probe::Leads {
            red: red.to_owned(),
            black: black.to_owned(),
        },
        _ => Probe::Leads {
            red: text.to_owned(),
            black: circuit
                .point_at(0)
                .map_or_else(String::new, |p| p.id.clone()),
        },
    }
}

/// The channels one below the other, each as high as it swings, with what it shows written beside it.
fn svg(capture: &Capture) -> String {
    let all = capture.traces.len() as f64;
    let mut out = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {WIDE} {}\" font-family=\"sans-serif\" font-size=\"14\">\n\
         <rect width=\"100%\" height=\"100%\" fill=\"#fff\"/>\n",
        all * (HIGH + BESIDE)
    );
    for (n, trace) in capture.traces.iter().enumerate() {
        let top = n as f64 * (HIGH + BESIDE);
        let (least, most) = (trace.features.least, trace.features.most);
        let span = (most - least).max(1e-9);
        let y = |v: f64| top + BESIDE + HIGH * (1.0 - (v - least) / span);
        let step = WIDE / trace.columns.len().max(1) as f64;
        let mut path = String::new();
        for (at, [low, high]) in trace.columns.iter().enumerate() {
            let x = step * (at as f64 + 0.5);
            let begin = if at == 0 { 'M' } else { 'L' };
            let _ = write!(path, "{begin}{x:.1} {:.1}L{x:.1} {:.1}", y(*low), y(*high));
        }
        let said = format!("{} · {}", trace.name, trace.features.said.join(" · "));
        let _ = writeln!(
            out,
            "<text x=\"4\" y=\"{:.1}\">{}</text>\n<path d=\"{path}\" fill=\"none\" stroke=\"#123\"/>",
            top + BESIDE - 8.0,
            escaped(&said)
        );
    }
    out + "</svg>\n"
}

/// A text as XML takes it.
fn escaped(text: &str) -> String {
    text.replace('&', "&amp;")
        .replace('<', "&lt;")
        .replace('>', "&gt;")
}
