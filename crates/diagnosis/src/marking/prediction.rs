//! Prediction: did the student know what a healthy circuit would read?

use super::case::{Case, Screen, Taken};
use super::sheet::Detail;
use super::{Criterion, Judgement, Marked};
use crate::suspects::Span;
use cimento_bench::BenchError;
use cimento_bench::instruments::Function;
use cimento_model::units::{Expectation, Quantity, Unit};

/// Below this share of the supply a reading is "near zero", between the others "near supply": a battery that is charged
/// stands a quarter higher.
const NEAR_ZERO: f64 = 0.05;
const NEAR_SUPPLY: f64 = 0.9;
const MOST_SUPPLY: f64 = 1.25;

/// A bound within this share of what it bounds says something; of resistances this small it is enough to say so, in ohms.
const NEAR_BOUND: f64 = 0.15;
const SMALL_OHMS: f64 = 1.0;
/// Where a meter shows that it is more than it goes to, a bound from this share of its widest range on says something.
const NEAR_TOP: f64 = 0.5;
/// What is more than this is taken for open, in ohms; common practice.
const OPEN_OHMS: f64 = 1e6;

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
    if let Some(holds) = wrote.holds(healthy.number(), taken.tolerance) {
        let telling = is_telling(case, taken, wrote, healthy.number());
        return match (holds, telling) {
            (true, true) => detail(
                format!("Expected {said}; a good circuit shows {should}."),
                1.0,
            ),
            (true, false) => detail(
                format!(
                    "Expected {said}; a good circuit shows {should}: true, but it would be true of much else."
                ),
                0.0,
            ),
            (false, _) => detail(
                format!("Expected {said}; a good circuit shows {should}."),
                0.0,
            ),
        };
    }
    let off = (expected.number() - healthy.number()).abs();
    let supply = case.lesson.circuit.doc.system_v;
    match (expected, healthy) {
        (Quantity::OverLimit, Quantity::OverLimit) => {
            detail("Expected OL; a good circuit shows OL.".to_owned(), 1.0)
        }
        (Quantity::Number(_), Quantity::Number(_)) if off <= taken.tolerance => detail(
            format!("Expected {said}; a good circuit shows {should}."),
            1.0,
        ),
        (Quantity::Number(a), Quantity::Number(b))
            if off <= 3.0 * taken.tolerance || same_kind(a, b, supply, taken) =>
        {
            let tolerance = Quantity::Number(taken.tolerance).text(unit);
            let why = match pulled_down(case, taken, a, b) {
                true => {
                    "what draws current here pulls the battery down, so expect less than at rest"
                }
                false => "the right kind, not the value",
            };
            detail(
                format!("Expected {said}; a good circuit shows {should} ± {tolerance}: {why}."),
                0.5,
            )
        }
        _ => detail(
            format!("Expected {said}; a good circuit shows {should}."),
            0.0,
        ),
    }
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
    if wrote.bound.is_some() {
        let holds = |end: f64| wrote.holds(end, taken.tolerance) == Some(true);
        let telling = ends.iter().any(|end| is_telling(case, taken, wrote, *end));
        return match ends.into_iter().all(holds) && telling {
            true => (format!("{fault}, which would read {would}."), 1.0),
            false => (format!("{fault}; it would read {would}."), 0.0),
        };
    }
    let within = |slack: f64| match expected {
        Quantity::OverLimit => span.most.is_infinite(),
        Quantity::Number(v) => v >= span.least - slack && v <= span.most + slack,
    };
    let supply = case.lesson.circuit.doc.system_v;
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

/// A bound says something where it lies near what it bounds: "more than 0 V" does not.
fn is_telling(case: &Case<'_>, taken: &Taken<'_>, wrote: Expectation, healthy: f64) -> bool {
    let (bound, healthy) = (wrote.value.number(), healthy.abs());
    // What shows OL is more than anything: it says something that it is more than a meter takes for a path, or of what is
    // no resistance, about more than the meter goes to.
    if healthy.is_infinite() {
        let function = taken.reading.function;
        let widest = function.ranges().last().map_or(f64::INFINITY, |r| r.0);
        return match function.unit() {
            Unit::Ohm => bound >= OPEN_OHMS,
            _ => bound >= NEAR_TOP * widest,
        };
    }
    let off = (bound.abs() - healthy).abs();
    let small = taken.reading.function.unit() == Unit::Ohm && bound.max(healthy) <= SMALL_OHMS;
    let supply = case.lesson.circuit.doc.system_v;
    small
        || off <= (NEAR_BOUND * healthy).max(3.0 * taken.tolerance)
        || same_kind(bound, healthy, supply, taken)
}

/// Whether somebody expected the battery's own voltage where a load pulls it down.
fn pulled_down(case: &Case<'_>, taken: &Taken<'_>, expected: f64, healthy: f64) -> bool {
    let volts = taken.reading.function == Function::DC_VOLTS;
    volts && healthy > NEAR_SUPPLY * case.lesson.circuit.doc.system_v && expected > healthy
}

/// Of one kind: near zero, near the supply; within a factor of two where it is no voltage.
fn same_kind(a: f64, b: f64, supply: f64, taken: &Taken<'_>) -> bool {
    let (a, b) = (a.abs(), b.abs());
    if taken.reading.function != Function::DC_VOLTS {
        return a.is_finite() && b.is_finite() && a.max(b) <= 2.0 * a.min(b);
    }
    let near_zero = |v: f64| v < NEAR_ZERO * supply;
    let near_supply = |v: f64| (NEAR_SUPPLY * supply..=MOST_SUPPLY * supply).contains(&v);
    near_zero(a) && near_zero(b) || near_supply(a) && near_supply(b)
}
