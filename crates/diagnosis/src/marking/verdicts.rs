//! Verdicts: was each reading judged rightly?

use super::case::{Case, Screen, Taken};
use super::coach::Corrected;
use super::sheet::Detail;
use super::{Criterion, Judgement, Marked};
use crate::attempt::Verdict;
use crate::suspects::TELLS_NOTHING_BITS;
use cimento_bench::BenchError;
use cimento_model::units::{Quantity, Unit};

/// Up to this multiple of the tolerance "borderline" is right too.
const BORDERLINE: f64 = 1.5;

pub(super) const VERDICTS: &str = "verdicts";

pub(super) struct Verdicts;

impl Criterion for Verdicts {
    fn name(&self) -> &'static str {
        VERDICTS
    }

    fn title(&self) -> &'static str {
        "Verdicts"
    }

    fn judge(&self, case: &Case<'_>) -> Result<Judgement, BenchError> {
        let readings = case
            .readings
            .iter()
            .map(|t| Marked::new(one(t), t.bits, t.again));
        let screens = case.screens.iter();
        let screens = screens.map(|s| Marked::new(of_a_screen(s), s.bits, s.again));
        Ok(Judgement::carried(case, VERDICTS, readings.chain(screens)))
    }
}

/// What was judged wrongly; nothing of what was not judged.
pub(super) fn wrong(case: &Case<'_>) -> Vec<Corrected> {
    let readings = case.readings.iter();
    let readings = readings.filter_map(|t| Some((t.verdict?.0, one(t))));
    let screens = case.screens.iter();
    let screens = screens.filter_map(|s| Some((s.verdict?.0, of_a_screen(s))));
    let all = readings.chain(screens).filter(|(_, d)| d.earned < 1.0);
    all.map(|(step, detail)| Corrected {
        step,
        text: detail.text,
    })
    .collect()
}

/// A screen is judged beside the healthy machine's.
fn of_a_screen(screen: &Screen<'_>) -> Detail {
    let step = screen.step;
    let Some((_, verdict)) = screen.verdict else {
        let text =
            "The screen was not judged: say whether it is as a healthy machine's.".to_owned();
        return Detail::new(Some(step), text, 0.0, 1.0);
    };
    let differs = screen.differs();
    let tells_nothing = screen.bits.is_some_and(|bits| bits < TELLS_NOTHING_BITS);
    let ok = match verdict {
        Verdict::Normal => differs.is_empty() || tells_nothing,
        Verdict::TellsNothing => tells_nothing,
        _ => !differs.is_empty(),
    };
    let compare = match differs.is_empty() {
        true => "it is as a healthy machine's".to_owned(),
        false => format!("beside a healthy machine's it shows {}", differs.join("; ")),
    };
    let correct = if ok { ": correct" } else { "" };
    let text = format!("Judged {}{correct}; {compare}.", verdict.text());
    Detail::new(Some(step), text, if ok { 1.0 } else { 0.0 }, 1.0)
}

/// "14.2 V ± 0.3 V"; over limit, or a word, is off by nothing.
fn should_be(taken: &Taken<'_>) -> String {
    let unit = taken.reading.function.unit();
    let value = taken.healthy.shown.value.text(unit);
    match taken.healthy.shown.value {
        Quantity::Number(_) if !matches!(unit, Unit::Spark | Unit::Light) => {
            let tolerance = Quantity::Number(taken.tolerance).text(unit);
            format!("{value} ± {tolerance}")
        }
        _ => value,
    }
}

fn one(taken: &Taken<'_>) -> Detail {
    let unit = taken.reading.function.unit();
    let step = taken.step;
    let Some((_, verdict)) = taken.verdict else {
        let text = "The reading was not judged: say whether it is as it should be.".to_owned();
        return Detail::new(Some(step), text, 0.0, 1.0);
    };
    let right = right_verdicts(taken);
    let ok = right.contains(&verdict);
    let read = taken.reading.shown.value.text(unit);
    let should = should_be(taken);
    let compare = format!("{read} against {should}");
    let unpulled =
        taken.nothing_lost && verdict == Verdict::Normal && off(taken).abs() > taken.tolerance;
    let text = if ok && unpulled {
        format!(
            "Judged normal: correct; {compare}, but the battery is not pulled down and nothing is lost on the way."
        )
    } else if ok {
        format!("Judged {}: correct; {compare}.", verdict.text())
    } else {
        let words: Vec<_> = right.iter().map(|v| v.text()).collect();
        let why = match (verdict, taken.bits) {
            (Verdict::TellsNothing, Some(bits)) if bits >= TELLS_NOTHING_BITS => {
                " With some of the suspects it would have been another, so it does tell.".to_owned()
            }
            _ => String::new(),
        };
        format!(
            "Judged {}; {compare} is {}.{why}",
            verdict.text(),
            words.join(" or ")
        )
    };
    Detail::new(Some(step), text, if ok { 1.0 } else { 0.0 }, 1.0)
}

impl Taken<'_> {
    /// The verdicts that are right for the reading.
    pub fn right_verdicts(&self) -> Vec<Verdict> {
        right_verdicts(self)
    }
}

/// How far the reading lies from the healthy one, in volts or ohms.
fn off(taken: &Taken<'_>) -> f64 {
    match (taken.reading.shown.value, taken.healthy.shown.value) {
        (Quantity::OverLimit, Quantity::OverLimit) => 0.0,
        (a, b) => a.number() - b.number(),
    }
}

/// The verdicts that are right for a reading.
fn right_verdicts(taken: &Taken<'_>) -> Vec<Verdict> {
    let (read, healthy) = (&taken.reading.shown, &taken.healthy.shown);
    let mut out = Vec::new();
    let off = off(taken);
    if let (Some(swing), None) = (read.wanders, healthy.wanders) {
        // A wandering reading is abnormal whichever way its swing is called.
        let middle = healthy.value.number();
        if swing.least < middle - taken.tolerance {
            out.push(Verdict::TooLow);
        }
        if swing.most > middle + taken.tolerance {
            out.push(Verdict::TooHigh);
        }
        if out.is_empty() {
            out.push(Verdict::Borderline);
        }
    } else if off.abs() <= taken.tolerance {
        out.push(Verdict::Normal);
    } else {
        out.push(if off < 0.0 {
            Verdict::TooLow
        } else {
            Verdict::TooHigh
        });
        if off.abs() <= BORDERLINE * taken.tolerance {
            out.push(Verdict::Borderline);
        }
        if taken.nothing_lost {
            out.push(Verdict::Normal);
        }
    }
    if taken.bits.is_some_and(|bits| bits < TELLS_NOTHING_BITS) {
        out.push(Verdict::TellsNothing);
        if !out.contains(&Verdict::Normal) {
            out.push(Verdict::Normal);
        }
    }
    out
}
