//! Prediction: did the student know what a healthy circuit would read?

use super::case::{Case, Screen, Taken};
use super::expected::{Expected, Measured, NEAR_SUPPLY};
use super::sheet::Detail;
use super::{Criterion, Judgement, Marked};
use crate::suspects::Span;
use cimento_bench::BenchError;
use cimento_bench::instruments::Function;
use cimento_model::units::{Expectation, Quantity};

pub(super) const PREDICTION: &str = "prediction";

pub(super) struct Prediction;

impl Criterion for Prediction {
    fn name(&self) -> &'static str {
        PREDICTION
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
        let readings = case
            .readings
            .iter()
            .map(|t| Marked::new(one(case, t), t.bits, t.again));
        let screens = case.screens.iter();
        let screens = screens.map(|s| Marked::new(of_a_screen(s), s.bits, s.again));
        Ok(Judgement::carried(
            case,
            PREDICTION,
            readings.chain(screens),
        ))
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
    let Ok(wrote) = Expectation::parse(written, unit) else {
        return detail(
            format!("Nothing was predicted; a good circuit shows {should}."),
            0.0,
        );
    };
    let (said, expected) = (wrote.text(unit), wrote.value);
    if let Some((fault, span)) = taken.supposing {
        let (text, earned) = supposed(case, taken, wrote, &fault.text(), span);
        return detail(format!("Expected {said} with {text}"), earned);
    }
    if taken.reading.function.feeds() && taken.is_live() {
        let text = format!(
            "Expected {said}, with voltage between the probes: there the figure of an ohmmeter means nothing."
        );
        return detail(text, 0.0);
    }
    let measured = taken.measured(case);
    let judged = measured.judge(wrote, healthy);
    let stands = format!("Expected {said}; a good circuit shows {should}");
    let text = match (judged, expected, healthy) {
        (Expected::TrueOfMuch, ..) => format!("{stands}: true, but it would be true of much else."),
        (Expected::Alike, Quantity::Number(a), Quantity::Number(b)) => {
            let tolerance = Quantity::Number(taken.tolerance).text(unit);
            let why = match pulled_down(case, taken, a, b) {
                true => {
                    "what draws current here pulls the battery down, so expect less than at rest"
                }
                false => "the right kind, not the value",
            };
            format!("{stands} ± {tolerance}: {why}.")
        }
        _ => format!("{stands}."),
    };
    detail(text, judged.earned())
}

/// A prediction for a fault that the student supposes, against what that fault would show.
fn supposed(
    case: &Case<'_>,
    taken: &Taken<'_>,
    wrote: Expectation,
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
    let expected = wrote.value;
    let ends = [span.least, span.most];
    let measured = taken.measured(case);
    if wrote.bound.is_some() {
        let holds = |end: f64| wrote.holds(end, taken.tolerance) == Some(true);
        let telling = ends.iter().any(|end| measured.is_telling(wrote, *end));
        return match ends.into_iter().all(holds) && telling {
            true => (format!("{fault}, which would read {would}."), 1.0),
            false => (format!("{fault}; it would read {would}."), 0.0),
        };
    }
    let within = |slack: f64| match expected {
        Quantity::OverLimit => span.most.is_infinite(),
        Quantity::Number(v) => v >= span.least - slack && v <= span.most + slack,
    };
    let alike = || {
        ends.iter()
            .any(|end| measured.alike(expected.number(), *end))
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

/// Whether somebody expected the battery's own voltage where a load pulls it down.
fn pulled_down(case: &Case<'_>, taken: &Taken<'_>, expected: f64, healthy: f64) -> bool {
    let volts = taken.reading.function == Function::DC_VOLTS;
    volts && healthy > NEAR_SUPPLY * case.lesson.circuit.doc.system_v && expected > healthy
}

impl Taken<'_> {
    fn measured(&self, case: &Case<'_>) -> Measured {
        Measured {
            function: self.reading.function,
            tolerance: self.tolerance,
            supply_v: case.lesson.circuit.doc.system_v,
        }
    }
}
