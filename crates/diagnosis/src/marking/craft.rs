//! How the repair was made.

use super::case::Case;
use super::sheet::Detail;
use super::{Criterion, Judgement};
use crate::attempt::Action;
use crate::attempt::actions::Repair;
use crate::craft::{Choices, Flaw, flaws, questions};
use crate::repairs::RepairKind;
use cimento_bench::BenchError;
use cimento_model::circuit::Place;

/// What is left of a choice that was put right when the machine was back.
const SECOND_TIME: f64 = 0.5;

pub(super) struct Workmanship;

/// How a place was repaired.
struct Made<'a> {
    step: usize,
    how: RepairKind,
    chosen: &'a Choices,
}

impl Criterion for Workmanship {
    fn name(&self) -> &'static str {
        "craft"
    }

    fn title(&self) -> &'static str {
        "Workmanship"
    }

    fn applies(&self, case: &Case<'_>) -> bool {
        case.lesson.craft.is_some()
    }

    fn judge(&self, case: &Case<'_>) -> Result<Judgement, BenchError> {
        let Some(craft) = &case.lesson.craft else {
            return Ok(Judgement {
                share: None,
                details: Vec::new(),
            });
        };
        let mut details = Vec::new();
        for place in case.lesson.faults.iter().map(|f| f.place) {
            let made = made(case, place);
            let circuit = &case.lesson.circuit;
            let id = circuit.place_id(place);
            let wrong = |made: &Made<'_>| flaws(circuit, place, made.chosen, &craft.around);
            let Some(first) = made.first() else {
                // What is exchanged as it comes has no choices; what was not repaired has none that count.
                let asks = |how: &RepairKind| !questions(circuit, place, *how).is_empty();
                if crate::repairs::repairs(circuit, place).iter().any(asks) {
                    let text = format!("{id} was not repaired, so nothing lasts.");
                    details.push(Detail::new(None, text, 0.0, 1.0));
                }
                continue;
            };
            let before = wrong(first)?;
            let after = match made.last() {
                Some(last) if last.step != first.step => Some((last, wrong(last)?)),
                _ => None,
            };
            for question in questions(circuit, place, first.how) {
                let of = |found: &[Flaw]| -> Vec<String> {
                    let of = found.iter().filter(|f| f.question == question.word);
                    of.map(|f| f.text.clone()).collect()
                };
                let said = first.chosen.get(question.word);
                let option = question.options.iter().find(|o| Some(&o.word) == said);
                let option = option.map_or("", |o| o.text.as_str());
                let chosen = format!("{id}, {} {option}", question.asks.to_lowercase());
                let bad = of(&before);
                let (text, earned) = match &after {
                    _ if bad.is_empty() => (format!("{chosen}: it lasts."), 1.0),
                    Some((last, left)) if of(left).is_empty() => (
                        format!(
                            "{chosen}: {}. Put right in step {}.",
                            bad.join("; "),
                            last.step
                        ),
                        SECOND_TIME,
                    ),
                    _ => (format!("{chosen}: {}.", bad.join("; ")), 0.0),
                };
                details.push(Detail::new(Some(first.step), text, earned, 1.0));
            }
        }
        if details.is_empty() {
            return Ok(Judgement {
                share: None,
                details,
            });
        }
        let whole = details.iter().map(|d| d.possible).sum();
        Ok(Judgement::of(details, whole))
    }
}

/// Every repair of a place that was made by choice, in order.
fn made<'a>(case: &Case<'a>, place: Place) -> Vec<Made<'a>> {
    let circuit = &case.lesson.circuit;
    let of = |action: &'a Action| match action {
        Action::Repair(Repair {
            place: at,
            how,
            craft: Some(chosen),
        }) if circuit.place(at) == Some(place) => Some((*how, chosen)),
        _ => None,
    };
    let all = case.steps.iter().filter_map(|step| {
        let (how, chosen) = of(&step.action)?;
        Some(Made {
            step: step.no,
            how,
            chosen,
        })
    });
    all.collect()
}
