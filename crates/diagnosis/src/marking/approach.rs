//! Approach: was the complaint seen, and the supply or the circuit looked at, before anything else?

use super::case::{Case, looks};
use super::sheet::Detail;
use super::{Criterion, Judgement};
use crate::attempt::{Answer, Step};
use cimento_bench::BenchError;

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
        let tried = first(
            &|s| matches!(&s.answer, Answer::Complaint { complaint } if complaint.same_as(&case.lesson.symptom)),
        );
        let in_vain = first(&|s| matches!(s.answer, Answer::Complaint { .. }));
        let opened = first(&|s| s.action.kind().opens());
        let looked = first(&|s| looks(&case.lesson.circuit, s));
        let before = |a: Option<usize>, b: Option<usize>| match (a, b) {
            (Some(a), Some(b)) => a < b,
            (a, _) => a.is_some(),
        };
        let check_up = case.lesson.job.is_check_up();
        let complaint = match (before(tried, opened), tried, in_vain) {
            (true, ..) if check_up => {
                "The machine was tried before anything was taken apart or renewed."
            }
            (false, Some(_), _) if check_up => {
                "The machine was tried only after something had been taken apart or renewed: try it first."
            }
            (false, None, None) if check_up => {
                "The machine was never tried: work it once yourself first."
            }
            (true, ..) => "The complaint was seen before anything was taken apart or renewed.",
            (false, Some(_), _) => {
                "The complaint was seen only after something had been taken apart or renewed: try it first."
            }
            (false, None, Some(_)) => {
                "The complaint was tried, but not as it shows: bring about what the customer speaks of, heat, water or movement."
            }
            (false, None, None) => "The complaint was never tried: see it for yourself first.",
        };
        let look = match (before(looked, opened), looked) {
            (true, _) => {
                "Battery voltage, a code or a close look came before anything was taken apart or renewed."
            }
            (false, Some(_)) => {
                "Something was taken apart or renewed before battery voltage, a code or a close look: look first."
            }
            (false, None) => {
                "Neither battery voltage nor a code was read, nor any place looked at: look first."
            }
        };
        let detail = |ok: bool, step: Option<usize>, text: &str, marks: f64| {
            Detail::new(step, text.to_owned(), if ok { marks } else { 0.0 }, marks)
        };
        Ok(Judgement::of(
            vec![
                detail(before(tried, opened), tried, complaint, COMPLAINT),
                detail(before(looked, opened), looked, look, LOOK),
            ],
            COMPLAINT + LOOK,
        ))
    }
}
