//! Approach: was the complaint seen, and the supply or the circuit looked at, before anything else?

use super::case::Case;
use super::sheet::Detail;
use super::{Criterion, Judgement};
use crate::attempt::{Action, Answer, Step};
use cimento_bench::BenchError;
use cimento_bench::instruments::Function;

/// Marks of the two parts, out of 5.
const COMPLAINT: f64 = 3.0;
const LOOK: f64 = 2.0;

pub(super) struct Approach;

impl Criterion for Approach {
    fn name(&self) -> &'static str {
        "approach"
    }

    fn title(&self) -> &'static str {
        "Approach"
    }

    fn judge(&self, case: &Case<'_>) -> Result<Judgement, BenchError> {
        let first = |is: &dyn Fn(&Step) -> bool| case.steps.iter().find(|s| is(s)).map(|s| s.no);
        let tried = first(&|s| matches!(s.action, Action::TryComplaint(_)));
        let begun = first(&|s| {
            let repaired = matches!(s.action, Action::Repair(_));
            repaired || matches!(s.answer, Answer::Reading { .. })
        });
        let opened = first(&|s| s.action.kind().opens());
        let looked = first(&|s| looks(case, s));
        let before = |a: Option<usize>, b: Option<usize>| match (a, b) {
            (Some(a), Some(b)) => a < b,
            (a, _) => a.is_some(),
        };
        let complaint = match (before(tried, begun), tried) {
            (true, _) => "The complaint was tried before anything was measured or renewed.",
            (false, Some(_)) => {
                "The complaint was tried only after something had been measured or renewed."
            }
            (false, None) => "The complaint was never tried.",
        };
        let look = match (before(looked, opened), looked) {
            (true, _) => {
                "Battery voltage or a close look came before anything was taken apart or renewed."
            }
            (false, Some(_)) => {
                "Something was taken apart or renewed before battery voltage or a close look."
            }
            (false, None) => "Neither battery voltage was read nor any place looked at.",
        };
        let detail = |ok: bool, step: Option<usize>, text: &str, marks: f64| {
            Detail::new(step, text.to_owned(), if ok { marks } else { 0.0 }, marks)
        };
        Ok(Judgement::of(
            vec![
                detail(before(tried, begun), tried, complaint, COMPLAINT),
                detail(before(looked, opened), looked, look, LOOK),
            ],
            COMPLAINT + LOOK,
        ))
    }
}

/// A close look at a place, or the voltage across the battery.
fn looks(case: &Case<'_>, step: &Step) -> bool {
    let circuit = &case.lesson.circuit;
    match (&step.action, &step.answer) {
        (Action::Inspect(_), _) => true,
        (_, Answer::Reading { reading }) if reading.function == Function::DC_VOLTS => {
            let node = |id: &Option<String>| {
                let point = id.as_deref().and_then(|id| circuit.test_point(id));
                point.map(|p| p.node)
            };
            let posts = [Some(circuit.positive()), Some(0)];
            [node(&reading.red), node(&reading.black)] == posts
        }
        _ => false,
    }
}
