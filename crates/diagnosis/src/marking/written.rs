//! Written reasoning: the student's own words, marked by the instructor alone. Off unless a lesson
//! gives it weight.

use super::case::Case;
use super::sheet::Detail;
use super::{Criterion, Judgement};
use crate::attempt::Action;
use crate::attempt::actions::Note;
use cimento_bench::BenchError;

pub(super) struct Written;

impl Criterion for Written {
    fn name(&self) -> &'static str {
        "written"
    }

    fn title(&self) -> &'static str {
        "Written reasoning"
    }

    fn judge(&self, case: &Case<'_>) -> Result<Judgement, BenchError> {
        let mut details = vec![Detail::new(
            None,
            "Waits for the instructor's mark.".to_owned(),
            0.0,
            1.0,
        )];
        for step in case.steps {
            if let Action::Note(Note { text, .. }) = &step.action {
                details.push(Detail::new(Some(step.no), text.clone(), 0.0, 0.0));
            }
        }
        Ok(Judgement {
            share: Some(0.0),
            details,
        })
    }
}
