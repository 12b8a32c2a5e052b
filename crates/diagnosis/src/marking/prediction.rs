//! Prediction: did the student know what a healthy circuit would read?

use super::case::{Case, Screen, Taken};
use super::sheet::Detail;
use super::{Criterion, Judgement};
use crate::suspects::Span;
use cimento_bench::BenchError;
use cimento_model::units::Quantity;

/// Below this share of the supply a reading is "near zero", above the other "near supply".
const NEAR_ZERO: f64 = 0.05;
const NEAR_SUPPLY: f64 = 0.9;

pub(super) struct Prediction;

impl Criterion for Prediction {
    fn name(&self) -> &'static str {
        "prediction"
    }

    fn title(&self) -> &'static str {
        "Prediction"
    }

    fn judge(&self, case: &Case<'_>) -> Result<Judgement, BenchError> {
        if !case.lesson.predictions {
            return Ok(Judgement {
                share: None,
                details: Vec::new(),
            });
        }
        let mut details: Vec<Detail> = case.readings.iter().map(|t| one(case, t)).collect();
        details.extend(case.screens.iter().map(of_a_screen));
        details.sort_by_key(|d| d.step);
        let sum: f64 = details.iter().map(|d| d.earned).sum();
        let share = if details.is_empty() {
            0.0
        } else {
            sum / details.len() as f64
        };
        let details = if details.is_empty() {
            vec![Detail::new(
                None,
                "No reading was taken, so nothing was predicted.".to_owned(),
                0.0,
                1.0,
            )]
        } else {
            details
        };
        Ok(Judgement {
            share: Some(share),
            details,
        })
    }
}

/// As much for how the trace goes as for how far and, where it was said, how often; the mean over the channels.
fn of_a_screen(screen: &Screen<'_>) -> Detail {
    let traces = screen.healthy.traces.iter();
    let (mut earned, mut said) = (0.0, Vec::new());
    for (n, trace) in traces.enumerate() {
        let so = trace.features.looks;
        let (name, unit) = (&trace.name, trace.measures());
        said.push(match screen.expected.get(n) {
            Some(looks) => {
                earned += looks.right(so);
                let (said, so) = (looks.text(unit), so.as_said_by(*looks).text(unit));
                format!("{name}: predicted {said}; healthy {so}")
            }
            None => format!("{name}: nothing was predicted; healthy {}", so.text(unit)),
        });
    }
    let earned = earned / screen.healthy.traces.len().max(1) as f64;
    Detail::new(
        Some(screen.step),
        format!("{}.", said.join(". ")),
        earned,
        1.0,
    )
}

fn one(case: &Case<'_>, taken: &Taken<'_>) -> Detail {
    let unit = taken.reading.function.unit();
    let written = taken.expected.unwrap_or_default();
    let healthy = taken.healthy.shown.value;
    let should = healthy.text(unit);
    let detail = |text: String, earned: f64| Detail::new(Some(taken.step), text, earned, 1.0);
    let Ok(expected) = Quantity::parse(written, unit) else {
        return detail(
            format!("Nothing was predicted; a healthy circuit reads {should}."),
            0.0,
        );
    };
    let said = expected.text(unit);
    if let Some((fault, span)) = taken.supposing {
        let (text, earned) = supposed(case, taken, expected, &fault.text(), span);
        return detail(format!("Predicted {said} with {text}"), earned);
    }
    let off = (expected.number() - healthy.number()).abs();
    let supply = case.lesson.circuit.doc.system_v;
    match (expected, healthy) {
        (Quantity::OverLimit, Quantity::OverLimit) => {
            detail("Predicted OL, and it is OL.".to_owned(), 1.0)
        }
        (Quantity::Number(_), Quantity::Number(_)) if off <= taken.tolerance => {
            detail(format!("Predicted {said}; healthy is {should}."), 1.0)
        }
        (Quantity::Number(a), Quantity::Number(b))
            if off <= 3.0 * taken.tolerance || same_kind(a, b, supply, taken) =>
        {
            let tolerance = Quantity::Number(taken.tolerance).text(unit);
            detail(
                format!(
                    "Predicted {said}; healthy is {should} ± {tolerance}: the right kind, not the value."
                ),
                0.5,
            )
        }
        _ => detail(
            format!("Predicted {said}; a healthy circuit reads {should}."),
            0.0,
        ),
    }
}

/// A prediction for a fault that the student supposes, against what that fault would show.
fn supposed(
    case: &Case<'_>,
    taken: &Taken<'_>,
    expected: Quantity,
    fault: &str,
    span: Option<Span>,
) -> (String, f64) {
    let Some(span) = span else {
        return (
            format!("{fault}, which is no single fault of this circuit."),
            0.0,
        );
    };
    let unit = taken.reading.function.unit();
    let would = span.text(unit);
    let within = |slack: f64| match expected {
        Quantity::OverLimit => span.most.is_infinite(),
        Quantity::Number(v) => v >= span.least - slack && v <= span.most + slack,
    };
    let supply = case.lesson.circuit.doc.system_v;
    let ends = [span.least, span.most];
    let alike = || {
        ends.iter()
            .any(|end| same_kind(expected.number(), *end, supply, taken))
    };
    if within(taken.tolerance) {
        (format!("{fault}, which would read {would}."), 1.0)
    } else if within(3.0 * taken.tolerance) || alike() {
        (
            format!("{fault}; it would read {would}: the right kind, not the value."),
            0.5,
        )
    } else {
        (format!("{fault}; it would read {would}."), 0.0)
    }
}

fn same_kind(a: f64, b: f64, supply: f64, taken: &Taken<'_>) -> bool {
    if taken.reading.function != cimento_bench::instruments::Function::DC_VOLTS {
        return a.abs() < 1.0 && b.abs() < 1.0;
    }
    let (low, high) = (NEAR_ZERO * supply, NEAR_SUPPLY * supply);
    (a.abs() < low && b.abs() < low) || (a > high && b > high)
}
