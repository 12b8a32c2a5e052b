//! `cimento kinds`: the kinds of parts, and what there is to know of one to write it down.

use cimento_model::faults::ModeSpec;
use cimento_model::part::{ParamKind, ParamSpec, PartKind};
use clap::Args;

use super::Failure;

#[derive(Args)]
pub(super) struct KindsArgs {
    /// A kind, as documents spell it: its terminals, parameters and the ways it fails.
    kind: Option<String>,
}

pub(super) fn run(args: &KindsArgs) -> Result<(), Failure> {
    match &args.kind {
        None => {
            for kind in cimento_parts::ALL {
                println!("{:<20} {}", kind.kind(), kind.title());
            }
        }
        Some(name) => {
            let unknown = || {
                Failure::BadInput(format!(
                    "there is no kind {name}: write one of {}",
                    cimento_parts::kinds()
                ))
            };
            print!("{}", about(cimento_parts::kind(name).ok_or_else(unknown)?));
        }
    }
    Ok(())
}

/// A kind on a page.
fn about(kind: &dyn PartKind) -> String {
    let mut lines = vec![
        format!("{}: {}", kind.kind(), kind.title()),
        format!("ids begin with {}", kind.letters()),
        "terminals".to_owned(),
    ];
    for terminal in kind.terminals() {
        lines.push(format!("  {:<16} {}", terminal.name, terminal.about));
    }
    if !kind.params().is_empty() {
        lines.push("parameters".to_owned());
    }
    lines.extend(kind.params().iter().map(param));
    if !kind.modes().is_empty() {
        lines.push("fails by".to_owned());
    }
    lines.extend(kind.modes().iter().map(mode));
    lines.join("\n") + "\n"
}

fn param(spec: &ParamSpec) -> String {
    let about = match spec.kind {
        ParamKind::Number {
            unit,
            default,
            least,
            most,
        } => {
            let unit = if unit.is_empty() {
                String::new()
            } else {
                format!(" {unit}")
            };
            format!(
                "{}: {default}{unit} unless said, {least} to {most}",
                spec.about
            )
        }
        ParamKind::Table(_) | ParamKind::InTable => spec.about.to_owned(),
    };
    format!("  {:<16} {about}", spec.name)
}

fn mode(spec: &ModeSpec) -> String {
    let severity = spec.severity.map_or(String::new(), |s| {
        format!(
            ", in {}: {} unless said, {} to {}",
            s.unit, s.usual, s.least, s.most
        )
    });
    format!("  {:<16} {}{severity}", spec.name, spec.about)
}
