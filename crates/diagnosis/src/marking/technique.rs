//! Technique: how the instruments were used, and what was claimed from them.

use super::case::Case;
use super::sheet::Detail;
use super::slips::slips;
use super::{Criterion, Judgement};
use cimento_bench::BenchError;

/// Weights of slips that together leave nothing.
const WHOLE: f64 = 10.0;

pub(super) struct Technique;

impl Criterion for Technique {
    fn name(&self) -> &'static str {
        "technique"
    }

    fn title(&self) -> &'static str {
        "Technique"
    }

    fn judge(&self, case: &Case<'_>) -> Result<Judgement, BenchError> {
        let measured = !(case.readings.is_empty() && case.screens.is_empty());
        let mut details = vec![match measured {
            true => Detail::new(None, "The instruments were used.".to_owned(), WHOLE, WHOLE),
            false => Detail::new(
                None,
                "No instrument was used, so no technique was shown.".to_owned(),
                0.0,
                WHOLE,
            ),
        }];
        let mut seen = Vec::new();
        for slip in slips(case) {
            // The same slip again counts half.
            let again = seen.contains(&slip.kind);
            seen.push(slip.kind);
            let takes = slip.kind.weight() * if again { 0.5 } else { 1.0 };
            details.push(Detail::new(Some(slip.step), slip.text, -takes, 0.0));
        }
        Ok(Judgement::of(details, WHOLE))
    }
}
