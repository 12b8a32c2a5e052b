//! `cimento plan`.

use cimento_diagnosis::suspects::{Plan, PlanTree, Reference, plan_tree};
use clap::Args;

use super::{CircuitArgs, Failure, files, print_json};

#[derive(Args)]
pub(super) struct PlanArgs {
    #[command(flatten)]
    circuit: CircuitArgs,
    /// Functions that may be used, such as dc_volts,ohms; all when left out.
    #[arg(long, value_delimiter = ',')]
    functions: Vec<String>,
    /// The whole tree: what to measure next for whatever is read, without knowing the fault.
    #[arg(long)]
    tree: bool,
    #[arg(long)]
    json: bool,
}

pub(super) fn run(args: &PlanArgs) -> Result<(), Failure> {
    let lesson = files::lesson(&args.circuit, &args.functions)?;
    let finding = |e: cimento_bench::BenchError| Failure::Finding(e.to_string());
    let reference = Reference::new(&lesson).map_err(finding)?;
    if args.tree {
        let tree = plan_tree(&reference.after_complaint, &reference.table).map_err(finding)?;
        if args.json {
            print_json(&tree);
        } else {
            branches(&tree, 0);
        }
        return Ok(());
    }
    let plan = &reference.plan;
    if args.json {
        print_json(plan);
    } else {
        table(plan);
    }
    Ok(())
}

fn table(plan: &Plan) {
    println!(
        "After the complaint {} places: {}",
        plan.begin.len(),
        plan.begin.join(", ")
    );
    for (n, step) in plan.steps.iter().enumerate() {
        let m = &step.measure;
        println!(
            "{:>2}. {}: {} {}  ({:.2} bit, {:.1} min) leaves {}: {}",
            n + 1,
            m.sentence(),
            step.shown.text,
            step.shown.unit,
            m.bits,
            m.minutes,
            step.left.len(),
            step.left.join(", ")
        );
    }
    println!(
        "Told apart down to {}: {}",
        plan.group.len(),
        plan.group.join(", ")
    );
    println!(
        "Difficulty: {} readings, {:.1} min, {} false leads",
        plan.steps.len(),
        plan.minutes,
        plan.plausible
    );
}

fn branches(tree: &PlanTree, depth: usize) {
    let indent = "  ".repeat(depth);
    let Some(m) = &tree.measure else {
        println!("{indent}=> {}", tree.left.join(", "));
        return;
    };
    println!(
        "{indent}{} ({} places, {:.2} bit)",
        m.measure.sentence(),
        tree.left.len(),
        m.measure.bits
    );
    for outcome in &m.outcomes {
        println!("{indent}  {}:", outcome.shows);
        branches(&outcome.then, depth + 2);
    }
}
